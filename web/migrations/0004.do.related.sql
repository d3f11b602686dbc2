-- Keys by which rules find records: lookups and fields that match-a-record rules search. An index begins when it is
-- first asked for and is kept from then on.
create table match_indexes (
  type text not null,
  field text not null,
  mode text not null,
  primary key (type, field, mode)
);

create table match_keys (
  type text not null,
  field text not null,
  mode text not null,
  key text not null,
  id bigint not null,
  primary key (type, field, mode, key, id)
);
create index match_keys_record on match_keys (type, id);

-- Where notifications land, and no further.
create table outbox (
  id bigint generated always as identity primary key,
  at timestamptz not null default now(),
  type text not null,
  record_id bigint not null,
  release integer references releases,
  rule text not null,
  channel text not null,
  recipient text not null,
  subject text not null,
  body text not null,
  due date
);

-- Records that have to be settled because another one changed; queued in the transaction of their cause.
create table dependant_jobs (
  id bigint generated always as identity primary key,
  queued_at timestamptz not null default now(),
  work jsonb not null,
  failures jsonb
);
