-- Sample records are found by what their fields hold: those that link to another, or that hold an exact value.
create index sample_records_values on sample_records using gin (data jsonb_path_ops);
