-- Jobs for what writes leave behind are made in one call for many of them, once the writes are done, and not within each:
-- that took a third of the time of a write, and PostgreSQL has those who notify others commit one after the other.
-- The work itself is stored with the write as before; work without a job is found and gets one.

-- As before (0021), without jobs. `late`: numbers of the works that have to be settled again; `queued`: the follow-ups
-- that jobs are wanted for.
create function put_writes(given jsonb, out late integer[], out queued bigint[]) language plpgsql
  set enable_hashjoin = off set enable_mergejoin = off as $$
declare
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
  if given -> 'keys' <> '[]' then
    late := late || array(
      select k.n from jsonb_to_recordset(given -> 'keys') as k (n integer, key text)
        join write_keys as known on known.key = decode(k.key, 'hex'));
  end if;

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

  if given -> 'gone' <> '[]' then
    delete from match_keys as k
     using jsonb_to_recordset(given -> 'gone') as g (n integer, type text, field text, mode text, key text, id bigint)
     where g.n <> all (late)
       and k.type = g.type and k.field = g.field and k.mode = g.mode and k.key = g.key and k.id = g.id;
  end if;
  if given -> 'come' <> '[]' then
    insert into match_keys (type, field, mode, key, id)
    select c.type, c.field, c.mode, c.key, c.id
      from jsonb_to_recordset(given -> 'come') as c (n integer, type text, field text, mode text, key text, id bigint)
     where c.n <> all (late);
  end if;

  insert into record_writes
         (type, record_id, version, user_id, token_id, entry_point, moment, release, changes, trace)
  select w.type, w.record_id, w.version, w.user_id, w.token_id, w.entry_point, w.moment, w.release, w.changes, w.trace
    from jsonb_to_recordset(given -> 'writes')
           as w (n integer, type text, record_id bigint, version integer, user_id bigint, token_id bigint,
                 entry_point text, moment text, release integer, changes jsonb, trace jsonb)
   where w.n <> all (late);

  if given -> 'keys' <> '[]' then
    insert into write_keys (key, request, type, record_id, version, messages)
    select decode(k.key, 'hex'), decode(k.request, 'hex'), k.type, k.record_id, k.version, coalesce(k.messages, '[]')
      from jsonb_to_recordset(given -> 'keys')
             as k (n integer, key text, request text, type text, record_id bigint, version integer, messages jsonb)
     where k.n <> all (late);
  end if;
  if given -> 'notifications' <> '[]' then
    insert into outbox (type, record_id, release, rule, channel, recipient, subject, body, due)
    select o.type, o.record_id, o.release, o.rule, o.channel, o."to", o.subject, o.body, o.due
      from jsonb_to_recordset(given -> 'notifications')
             as o (n integer, type text, record_id bigint, release integer, rule text, channel text, "to" text,
                   subject text, body text, due date)
     where o.n <> all (late);
  end if;
  if given -> 'follow' <> '[]' then
    with made as (
      insert into follow_ups (work)
      select f.work from jsonb_to_recordset(given -> 'follow') as f (n integer, work jsonb) where f.n <> all (late)
      returning id
    )
    select array_agg(id) into queued from made;
  end if;
end $$;

-- For nodes of the version before.
create or replace function store_writes(given jsonb) returns integer[] language plpgsql as $$
declare
  done record;
begin
  select * into done from put_writes(given);
  if done.queued is not null then
    perform ask_follow_ups(done.queued, 0);
  end if;
  return done.late;
end $$;

-- Its statements are planned once: planning them took longer than they do.
alter function ask_follow_ups set plan_cache_mode = force_generic_plan;

-- Follow-ups older than some seconds that no job is going to do: whoever stored them ended before it asked, the queue was
-- lost with a restored database, or a job gave up while it could not say so.
create function follow_ups_without_job(silence double precision) returns setof bigint language plpgsql stable as $$
begin
  return query select f.id from follow_ups as f
   where f.failures is null and f.queued_at <= now() - make_interval(secs => silence)
     and not exists (
       select from graphile_worker.jobs as j where j.key = 'follow:' || f.id and j.attempts < j.max_attempts);
end $$;

-- As before (0020); what is live is asked once, not for each work.
create or replace function overtaken_works(given jsonb) returns integer[] language plpgsql
  set enable_hashjoin = off set enable_mergejoin = off as $$
declare
  live integer := live_release();
  late integer[] := array(
    select w.n from jsonb_to_recordset(given -> 'works') as w (n integer, release integer)
     where w.release is distinct from live);
begin
  if given -> 'read' <> '[]' then
    late := late || array(
      select r.n from jsonb_to_recordset(given -> 'read') as r (n integer, type text, id bigint, version integer)
        left join records as now on now.type = r.type and now.id = r.id
       where coalesce(now.version, 0) <> r.version);
  end if;
  if given -> 'found' <> '[]' then
    late := late || array(
      select f.n
        from jsonb_to_recordset(given -> 'found')
               as f (n integer, type text, field text, mode text, key text, ids bigint[])
       where f.ids is distinct from coalesce(
         (select array_agg(k.id order by k.id) from match_keys as k
           where k.type = f.type and k.field = f.field and k.mode = f.mode and k.key = f.key), '{}'));
  end if;
  return late;
end $$;

-- What is live and records as they stand, all at one moment; planned once, as above.
create function begin_changes(types text[], ids bigint[])
  returns table (release integer, id bigint, data jsonb, held text[], version integer, "changedAt" timestamptz)
  language plpgsql stable set plan_cache_mode = force_generic_plan as $$
begin
  return query
    select (select live_release()), r.id, r.data, r.held, r.version, r.changed_at
      from unnest(types, ids) with ordinality as k (type, id, n)
      left join records as r on r.type = k.type and r.id = k.id
     order by k.n;
end $$;
