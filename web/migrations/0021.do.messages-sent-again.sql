-- What was told of a write is told again to who sends it again. Nodes of the version before do not say it yet.
alter table write_keys add column messages jsonb not null default '[]';

-- As before (0020).
create or replace function store_writes(given jsonb) returns integer[] language plpgsql
  set enable_hashjoin = off set enable_mergejoin = off as $$
declare
  late integer[];
  wanted integer;
  stored integer;
  queued bigint[];
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
    perform ask_follow_ups(coalesce(queued, '{}'), 0);
  end if;
  return late;
end $$;
