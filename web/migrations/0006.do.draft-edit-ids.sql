-- A page that was closed while it saved sends the same edit again: it is known by its id, and done once.
alter table draft_edits add column edit_id uuid unique;
