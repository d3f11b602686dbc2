-- What failed names its record, so that it is told there and can be gone to.
update dependant_jobs
   set failures = (select jsonb_agg(jsonb_build_object('text', f)) from jsonb_array_elements_text(failures) as f)
 where failures is not null;
