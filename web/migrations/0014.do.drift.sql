-- How far stored values are from what the live standing rules would give: looked at by a job, record by record.
create table drift_runs (
  id bigint generated always as identity primary key,
  release integer not null,
  asked_by bigint not null references users,
  asked_at timestamptz not null default now(),
  ended_at timestamptz,
  -- waiting, running, done, cancelled, failed
  state text not null default 'waiting',
  total integer not null,
  done integer not null default 0,
  -- Record type and id that were looked at last.
  last_type text not null default '',
  last_id bigint not null default 0
);
create table drift_values (
  run_id bigint not null references drift_runs on delete cascade,
  type text not null,
  record_id bigint not null,
  field text not null,
  stored jsonb,
  settled jsonb,
  rule text,
  -- A person set the value last, and it is held.
  held boolean not null,
  -- The release under which it was last written; null where no write is known.
  since integer,
  primary key (run_id, type, record_id, field)
);
