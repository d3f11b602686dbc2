-- The one working copy, part by part; each part has a version of its own.
create table draft_parts (
  kind text not null,
  key text not null,
  position integer not null,
  version integer not null default 1,
  body jsonb not null,
  changed_by bigint references users,
  changed_at timestamptz not null default now(),
  primary key (kind, key)
);

create table draft_edits (
  id bigint generated always as identity primary key,
  kind text not null,
  key text not null,
  version integer not null,
  operations jsonb not null,
  inverse jsonb not null,
  user_id bigint not null references users,
  at timestamptz not null default now()
);
create index draft_edits_part on draft_edits (kind, key, version);

-- Immutable snapshots. `snapshot` is canonical JSON as text: the bytes that the digest is of.
create table releases (
  number integer primary key,
  note text not null,
  snapshot text not null,
  sha256 text not null,
  released_by bigint references users,
  released_at timestamptz not null default now()
);

-- Which release went live when; the newest row is the one that acts.
create table activations (
  id bigint generated always as identity primary key,
  release integer not null references releases,
  note text not null default '',
  activated_by bigint references users,
  activated_at timestamptz not null default now()
);

create function refuse_change() returns trigger language plpgsql as $$
begin
  raise exception '% is append-only', tg_table_name;
end $$;
create trigger releases_immutable before update or delete on releases for each row execute function refuse_change();
create trigger activations_immutable before update or delete on activations for each row execute function refuse_change();
create trigger audit_log_immutable before update or delete on audit_log for each row execute function refuse_change();
