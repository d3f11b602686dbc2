-- A write is settled on what it read, then stored by one call that first meets whoever reads or writes the same: it
-- takes the points that it shares with others, looks whether what it read still stands, and stores all or nothing.

-- Takes the named points until the transaction ends, in one order for all. Shared with those who only read there;
-- whoever names very many, or everyone, is alone.
create function meet(shared text[], alone text[]) returns void language plpgsql as $$
declare
  everyone constant bigint := 46500002;
  most constant integer := 500;
  point record;
begin
  if cardinality(shared) + cardinality(alone) > most or 'everyone' = any (alone) then
    perform pg_advisory_xact_lock(everyone);
    return;
  end if;
  perform pg_advisory_xact_lock_shared(everyone);
  for point in
    select hashtextextended(name, 4650) as id, bool_or(is_alone) as is_alone
      from (select unnest(shared) as name, false as is_alone union all select unnest(alone), true) as named
     group by 1 order by 1
  loop
    if point.is_alone then
      perform pg_advisory_xact_lock(point.id);
    else
      perform pg_advisory_xact_lock_shared(point.id);
    end if;
  end loop;
end $$;

create function live_release() returns integer language sql stable as $$
  select release from activations order by id desc limit 1
$$;

-- The next id of a record type. An id is gone once it is taken, whatever becomes of the record; nobody waits for the
-- disk to have one.
create function take_record_id(of_type text) returns bigint language plpgsql as $$
declare
  taken bigint;
begin
  perform set_config('synchronous_commit', 'off', true);
  insert into record_ids as ids (type, last) values (of_type, 1)
  on conflict (type) do update set last = ids.last + 1 returning last into taken;
  return taken;
end $$;

create function overtaken(what text) returns void language plpgsql as $$
begin
  raise exception 'overtaken: %', what using errcode = 'RR001';
end $$;

-- Whether what a write read still stands: { release, read: [{ type, id, version }], found: [{ type, field, mode, key,
-- ids }] }. Version 0: there was no such record.
create function still_stands(work jsonb) returns void language plpgsql
  set enable_hashjoin = off set enable_mergejoin = off as $$
begin
  if live_release() is distinct from (work ->> 'release')::integer then
    perform overtaken('release');
  end if;
  if jsonb_array_length(work -> 'read') > 0 and exists (
    select from jsonb_to_recordset(work -> 'read') as r (type text, id bigint, version integer)
      left join records as now on now.type = r.type and now.id = r.id
     where coalesce(now.version, 0) <> r.version)
  then
    perform overtaken('record');
  end if;
  if jsonb_array_length(work -> 'found') > 0 and exists (
    select from jsonb_to_recordset(work -> 'found') as f (type text, field text, mode text, key text, ids bigint[])
     where f.ids is distinct from coalesce(
       (select array_agg(k.id order by k.id) from match_keys as k
         where k.type = f.type and k.field = f.field and k.mode = f.mode and k.key = f.key), '{}'))
  then
    perform overtaken('match');
  end if;
end $$;

-- Stores a settled write: { shared, alone, release, read, found, indexes, records, gone, come, writes, notifications,
-- follow }. `indexes`: those that `gone` and `come` were worked out for. Raises RR001 where the write has to be
-- settled again.
create function store_write(work jsonb) returns void language plpgsql
  set enable_hashjoin = off set enable_mergejoin = off as $$
declare
  stored integer;
begin
  perform meet(array(select jsonb_array_elements_text(work -> 'shared')),
               array(select jsonb_array_elements_text(work -> 'alone')));
  perform still_stands(work);

  if jsonb_array_length(work -> 'records') > 0 then
    with given as materialized (
      select * from jsonb_to_recordset(work -> 'records') as r (type text, id bigint, version integer, data jsonb, held text[])
    ), changed as (
      update records as now
         set data = given.data, held = given.held, version = now.version + 1, changed_at = now()
        from given
       where now.type = given.type and now.id = given.id and now.version = given.version
      returning 1
    ), made as (
      insert into records (type, id, data, held) select type, id, data, held from given where version = 0 returning 1
    )
    select (select count(*) from changed) + (select count(*) from made) into stored;
    if stored <> jsonb_array_length(work -> 'records') then
      perform overtaken('written');
    end if;
    -- Whoever makes an index holds the table of records: by now it is whole, or not begun.
    if (select coalesce(jsonb_agg(jsonb_build_array(i.type, i.field, i.mode) order by i.type, i.field, i.mode), '[]')
          from match_indexes as i
         where i.type in (select r ->> 'type' from jsonb_array_elements(work -> 'records') as r))
       <> work -> 'indexes'
    then
      perform overtaken('indexes');
    end if;
    delete from match_keys as k
     using jsonb_to_recordset(work -> 'gone') as g (type text, field text, mode text, key text, id bigint)
     where k.type = g.type and k.field = g.field and k.mode = g.mode and k.key = g.key and k.id = g.id;
    insert into match_keys (type, field, mode, key, id)
    select type, field, mode, key, id
      from jsonb_to_recordset(work -> 'come') as c (type text, field text, mode text, key text, id bigint);
  end if;

  insert into record_writes
         (type, record_id, version, user_id, token_id, entry_point, moment, release, changes, trace)
  select type, record_id, version, user_id, token_id, entry_point, moment, (work ->> 'release')::integer, changes, trace
    from jsonb_to_recordset(work -> 'writes') as w (type text, record_id bigint, version integer, user_id bigint,
                                                    token_id bigint, entry_point text, moment text, changes jsonb, trace jsonb);

  if jsonb_array_length(work -> 'notifications') > 0 then
    insert into outbox (type, record_id, release, rule, channel, recipient, subject, body, due)
    select type, record_id, (work ->> 'release')::integer, rule, channel, "to", subject, body, due
      from jsonb_to_recordset(work -> 'notifications')
        as n (type text, record_id bigint, rule text, channel text, "to" text, subject text, body text, due date);
  end if;

  if work -> 'follow' is not null then
    perform queue_follow_up(work -> 'follow', 0);
  end if;
end $$;

-- Work that a write leaves behind, and the job that does it; a later priority lets others go first.
create function queue_follow_up(given jsonb, priority integer) returns void language plpgsql as $$
declare
  queued bigint;
begin
  insert into follow_ups (work) values (given) returning id into queued;
  perform graphile_worker.add_job('follow', json_build_object('id', queued), priority => priority, max_attempts => 6,
                                   job_key => 'follow:' || queued);
end $$;

alter table dependant_jobs rename to follow_ups;
create index follow_ups_failed on follow_ups (id) where failures is not null;
create index follow_ups_waiting on follow_ups (id) where failures is null;

-- Processes that work on the queue. One that was killed is seen no more: what it had taken is given back.
create table queue_nodes (
  id uuid primary key,
  worker_ids text[] not null,
  seen_at timestamptz not null default now()
);
