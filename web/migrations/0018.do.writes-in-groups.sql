-- Writes that meet nowhere are stored in groups: one call, one transaction and one wait for the disk for all of a group.
-- Each is stored whole or not at all; one that was overtaken keeps none of the others from being stored. (`store_write`,
-- `still_stands` and `take_record_id` stay for nodes of the version before.)

-- Numbers of the works whose reads stand no longer: { works: [{ n, release }], read: [{ n, type, id, version }],
-- found: [{ n, type, field, mode, key, ids }] }. Version 0: there was no such record.
create function overtaken_works(given jsonb) returns integer[] language plpgsql
  set enable_hashjoin = off set enable_mergejoin = off as $$
declare
  live integer := live_release();
begin
  return array(
    select w.n from jsonb_to_recordset(given -> 'works') as w (n integer, release integer)
     where w.release is distinct from live
    union all
    select r.n from jsonb_to_recordset(given -> 'read') as r (n integer, type text, id bigint, version integer)
      left join records as now on now.type = r.type and now.id = r.id
     where coalesce(now.version, 0) <> r.version
    union all
    select f.n
      from jsonb_to_recordset(given -> 'found') as f (n integer, type text, field text, mode text, key text, ids bigint[])
     where f.ids is distinct from coalesce(
       (select array_agg(k.id order by k.id) from match_keys as k
         where k.type = f.type and k.field = f.field and k.mode = f.mode and k.key = f.key), '{}'));
end $$;

-- Stores a group of settled writes, no two of which write or read what another one writes: as for `overtaken_works`, and
-- { shared, alone, indexes: [{ n, type, indexes }], records, gone, come, writes, notifications, follow }, each entry with
-- the `n` of its work. `indexes`: those of a type that `gone` and `come` were worked out for. Gives the numbers of those
-- that have to be settled again, of which nothing is stored.
create function store_writes(given jsonb) returns integer[] language plpgsql
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
                             from match_indexes as m where m.type = i.type));

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

-- The last of so many new ids of a record type; the others are those before it. An id is gone once it is taken, whatever
-- becomes of the record; nobody waits for the disk to have one.
create function take_record_ids(of_type text, many integer) returns bigint language plpgsql as $$
declare
  taken bigint;
begin
  perform set_config('synchronous_commit', 'off', true);
  insert into record_ids as ids (type, last) values (of_type, many)
  on conflict (type) do update set last = ids.last + many returning last into taken;
  return taken;
end $$;
