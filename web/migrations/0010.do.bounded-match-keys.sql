-- Keys are bounded from now on, and indexes are made by releases, never by readers: they begin anew, for the release
-- that is live, when the application starts.
delete from match_keys;
delete from match_indexes;
