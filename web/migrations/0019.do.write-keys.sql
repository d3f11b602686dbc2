-- Writes that came with a key of whoever sent them: what is sent again since no answer came is not done again.
create table write_keys (
  -- SHA-256 of who sent it and of their key.
  key bytea primary key check (length(key) = 32),
  -- SHA-256 of what was sent.
  request bytea not null check (length(request) = 32),
  -- What it wrote.
  type text not null,
  record_id bigint not null,
  version integer not null,
  at timestamptz not null default now()
);
-- They are forgotten after some days.
create index write_keys_at on write_keys (at);

-- Stores a group of settled writes, no two of which write or read what another one writes: as for `overtaken_works`, and
-- { shared, alone, indexes: [{ n, type, indexes }], records, gone, come, writes, notifications, follow, keys }, each entry
-- with the `n` of its work. `indexes`: those of a type that `gone` and `come` were worked out for. Gives the numbers of those
-- that have to be settled again, of which nothing is stored.
create or replace function store_writes(given jsonb) returns integer[] language plpgsql
  set enable_hashjoin = off set enable_mergejoin = off as $$
declare
  late integer[];
  wanted integer;
  stored integer;
begin
  perform meet(array(select jsonb_array_elements_text(given -> 'shared')),
               array(select jsonb_array_elements_text(given -> 'alone')));
  -- Whoever makes an index holds the table of records: by now it is whole, or not begun.
  lock table records in row exclusive mode;
  late := overtaken_works(given)
    || array(
      select r.n from jsonb_to_recordset(given -> 'records') as r (n integer, type text, id bigint, version integer)
        left join records as now on now.type = r.type and now.id = r.id
       where coalesce(now.version, 0) <> r.version)
    || array(
      select i.n from jsonb_to_recordset(given -> 'indexes') as i (n integer, type text, indexes jsonb)
       where i.indexes <> (select coalesce(jsonb_agg(jsonb_build_array(m.field, m.mode) order by m.field, m.mode), '[]')
                             from match_indexes as m where m.type = i.type))
    || array(
      select k.n from jsonb_to_recordset(given -> 'keys') as k (n integer, key text)
        join write_keys as known on known.key = decode(k.key, 'hex'));

  with given_records as materialized (
    select * from jsonb_to_recordset(given -> 'records')
                    as r (n integer, type text, id bigint, version integer, data jsonb, held text[])
     where r.n <> all (late)
  ), changed as (
    update records as now
       set data = g.data, held = g.held, version = now.version + 1, changed_at = now()
      from given_records as g
     where now.type = g.type and now.id = g.id and now.version = g.version
    returning 1
  ), made as (
    insert into records (type, id, data, held)
    select type, id, data, held from given_records where version = 0 returning 1
  )
  select (select count(*) from given_records), (select count(*) from changed) + (select count(*) from made)
    into wanted, stored;
  if stored <> wanted then
    perform overtaken('written');
  end if;

  delete from match_keys as k
   using jsonb_to_recordset(given -> 'gone') as g (n integer, type text, field text, mode text, key text, id bigint)
   where g.n <> all (late)
     and k.type = g.type and k.field = g.field and k.mode = g.mode and k.key = g.key and k.id = g.id;
  insert into match_keys (type, field, mode, key, id)
  select c.type, c.field, c.mode, c.key, c.id
    from jsonb_to_recordset(given -> 'come') as c (n integer, type text, field text, mode text, key text, id bigint)
   where c.n <> all (late);

  insert into record_writes
         (type, record_id, version, user_id, token_id, entry_point, moment, release, changes, trace)
  select w.type, w.record_id, w.version, w.user_id, w.token_id, w.entry_point, w.moment, w.release, w.changes, w.trace
    from jsonb_to_recordset(given -> 'writes')
           as w (n integer, type text, record_id bigint, version integer, user_id bigint, token_id bigint,
                 entry_point text, moment text, release integer, changes jsonb, trace jsonb)
   where w.n <> all (late);

  insert into write_keys (key, request, type, record_id, version)
  select decode(k.key, 'hex'), decode(k.request, 'hex'), k.type, k.record_id, k.version
    from jsonb_to_recordset(given -> 'keys')
           as k (n integer, key text, request text, type text, record_id bigint, version integer)
   where k.n <> all (late);

  insert into outbox (type, record_id, release, rule, channel, recipient, subject, body, due)
  select o.type, o.record_id, o.release, o.rule, o.channel, o."to", o.subject, o.body, o.due
    from jsonb_to_recordset(given -> 'notifications')
           as o (n integer, type text, record_id bigint, release integer, rule text, channel text, "to" text,
                 subject text, body text, due date)
   where o.n <> all (late);

  with queued as (
    insert into follow_ups (work)
    select f.work from jsonb_to_recordset(given -> 'follow') as f (n integer, work jsonb) where f.n <> all (late)
    returning id
  ), asked as (
    -- The members of a job: task, payload, queue, when, attempts, key, priority, flags.
    select array_agg(('follow', json_build_object('id', id), null, null, 6, 'follow:' || id, 0, null)::graphile_worker.job_spec)
             as jobs
      from queued having count(*) > 0
  )
  select count(*) into stored from asked, graphile_worker.add_jobs(asked.jobs);
  return late;
end $$;
