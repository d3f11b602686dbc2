-- Places from which somebody signed in rightly: there, guesses made elsewhere never shut them out.
create table sign_in_places (
  user_id bigint not null references users,
  place text not null,
  at timestamptz not null default now(),
  primary key (user_id, place)
);
