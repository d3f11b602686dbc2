create table users (
  id bigint generated always as identity primary key,
  email text not null unique check (email = lower(email)),
  name text not null,
  role text not null,
  password_hash text not null,
  created_at timestamptz not null default now()
);

create table sessions (
  token_hash bytea primary key,
  user_id bigint not null references users on delete cascade,
  created_at timestamptz not null default now(),
  expires_at timestamptz not null
);
create index sessions_user on sessions (user_id);
create index sessions_expiry on sessions (expires_at);

-- Failed sign-ins, for the rate limit; swept as they age.
create table sign_in_failures (
  id bigint generated always as identity primary key,
  subject text not null,
  at timestamptz not null default now()
);
create index sign_in_failures_subject on sign_in_failures (subject, at);

create table api_tokens (
  id bigint generated always as identity primary key,
  token_hash bytea not null unique,
  name text not null,
  created_by bigint not null references users,
  created_at timestamptz not null default now(),
  last_used_at timestamptz,
  revoked_at timestamptz
);

-- Append-only: who did what. Nothing updates or deletes a row.
create table audit_log (
  id bigint generated always as identity primary key,
  at timestamptz not null default now(),
  user_id bigint references users,
  action text not null,
  detail jsonb not null default '{}'
);
