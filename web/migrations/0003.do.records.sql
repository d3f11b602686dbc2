create table records (
  type text not null,
  id bigint not null,
  data jsonb not null,
  held text[] not null default '{}',
  version integer not null default 1,
  created_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  primary key (type, id)
);

-- The next id of each record type; taken inside the writing transaction.
create table record_ids (
  type text primary key,
  last bigint not null
);

-- One row a write: what changed, who, how it came in, under which release, and what the rules did.
create table record_writes (
  id bigint generated always as identity primary key,
  type text not null,
  record_id bigint not null,
  version integer not null,
  at timestamptz not null default now(),
  user_id bigint references users,
  token_id bigint references api_tokens,
  entry_point text not null,
  moment text not null,
  release integer references releases,
  changes jsonb not null,
  trace jsonb not null
);
create index record_writes_record on record_writes (type, record_id, version desc);

create table sample_records (
  type text not null,
  id bigint not null,
  data jsonb not null,
  primary key (type, id)
);
