-- What a grader is limited to, as JSON with items and students; NULL for nothing left out.
ALTER TABLE section_person ADD COLUMN part_limit TEXT;
ALTER TABLE waiting_role ADD COLUMN part_limit TEXT;
