-- Yes and no have keys as well, lists have none: the keys are made anew when they are next asked for.
delete from match_keys;
delete from match_indexes;
