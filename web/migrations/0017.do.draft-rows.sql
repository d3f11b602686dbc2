-- Rows of long mapping tables stand apart from their table, in pieces and in order, so that an edit of one row reads and
-- writes one piece. A table has its rows either in its body or here. `state` is another with each writing of a piece.
create sequence draft_rows_state;
create table draft_rows (
  kind text not null default 'table' check (kind = 'table'),
  key text not null,
  n double precision not null,
  count integer not null check (count > 0),
  state bigint not null default nextval('draft_rows_state'),
  rows jsonb not null,
  primary key (key, n),
  foreign key (kind, key) references draft_parts on delete cascade
);
