-- A dry run on live records, looked at by a job and read only: what was asked, how far it is, and what was found.
create table live_dry_runs (
  id bigint generated always as identity primary key,
  asked_by bigint not null references users,
  asked_at timestamptz not null default now(),
  ended_at timestamptz,
  -- waiting, running, done, cancelled, failed
  state text not null default 'waiting',
  total integer not null,
  done integer not null default 0,
  -- Record type and id that were looked at last.
  last_type text not null default '',
  last_id bigint not null default 0,
  -- How records meet the rules; key of the rule that is switched off, '' for none.
  way text not null,
  without text not null,
  -- What is tried, as it stood when it was asked for, with its SHA-256.
  rulebook jsonb not null,
  sha256 text not null,
  -- Number of the release that it is compared with; null: what is stored.
  against integer,
  -- The moment for which all of it is worked out.
  now text not null,
  -- By record type: how many records there are, and the figures so far.
  counts jsonb not null,
  figures jsonb not null default '{}'
);
-- The records behind the numbers. A message that newly stops a record has no field, and stands in to_text.
create table live_dry_run_records (
  run_id bigint not null references live_dry_runs on delete cascade,
  type text not null,
  field text,
  from_text text not null,
  to_text text not null,
  record_id bigint not null,
  before jsonb,
  after jsonb,
  rule text
);
create index live_dry_run_records_of on live_dry_run_records (run_id, type, field, record_id);
