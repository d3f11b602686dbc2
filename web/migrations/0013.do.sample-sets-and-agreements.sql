-- Samples come in sets, which belong to the installation and not to the draft.
create table sample_sets (
  id bigint generated always as identity primary key,
  name text not null unique,
  -- How it came to be: imported, generated, copied from live records.
  source text not null,
  made_by bigint references users,
  made_at timestamptz not null default now(),
  -- Columns of files as they were matched with fields, for the next file: by record type.
  columns jsonb not null default '{}'
);
insert into sample_sets (name, source) select 'Samples', 'from the beginning' where exists (select from sample_records);
alter table sample_records add column set_id bigint references sample_sets on delete cascade;
update sample_records set set_id = (select id from sample_sets);
alter table sample_records alter column set_id set not null, drop constraint sample_records_pkey,
  add primary key (set_id, type, id);

-- What somebody has agreed that the draft does to records: this field, from this to that, up to so many.
create table agreements (
  id bigint generated always as identity primary key,
  record_type text not null,
  field text not null,
  from_text text not null,
  to_text text not null,
  most integer not null,
  -- SHA-256 of the rules that it covers, as they were: another one, and it has lapsed.
  covers text not null,
  agreed_by bigint not null references users,
  agreed_at timestamptz not null default now(),
  unique (record_type, field, from_text, to_text)
);
