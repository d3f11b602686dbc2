-- A part is moved between two others by giving it a position between theirs.
alter table draft_parts alter column position type double precision;
