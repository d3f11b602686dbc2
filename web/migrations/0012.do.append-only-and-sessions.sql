-- What tells of the past only grows: for everyone by triggers, for the role that the application connects with by what
-- it is granted as well.
create trigger record_writes_immutable before update or delete on record_writes for each row execute function refuse_change();
create trigger draft_edits_immutable before update or delete on draft_edits for each row execute function refuse_change();
create trigger record_writes_kept before truncate on record_writes for each statement execute function refuse_change();
create trigger draft_edits_kept before truncate on draft_edits for each statement execute function refuse_change();
create trigger releases_kept before truncate on releases for each statement execute function refuse_change();
create trigger activations_kept before truncate on activations for each statement execute function refuse_change();
create trigger audit_log_kept before truncate on audit_log for each statement execute function refuse_change();

-- A session can be told from others and ended; one that nobody uses ends by itself.
alter table sessions
  add column id bigint generated always as identity unique,
  add column seen_at timestamptz not null default now(),
  add column place text not null default '',
  add column agent text not null default '';

-- What a token may do, and until when. Those from before go on for a year.
alter table api_tokens
  add column may_write boolean not null default true,
  add column expires_at timestamptz not null default now() + interval '1 year';
alter table api_tokens alter column may_write drop default, alter column expires_at drop default;
