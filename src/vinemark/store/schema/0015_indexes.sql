-- What undid an entry, what a run was signed with, what waits to be sent: found without reading whole tables.
CREATE INDEX history_undoes ON history (undoes) WHERE undoes IS NOT NULL;
CREATE INDEX signing_section ON signing (section_id, run);
CREATE INDEX match_signing_section ON match_signing (section_id);
CREATE INDEX sending_state ON sending (state);
CREATE INDEX grade_change_state ON grade_change (state);
CREATE INDEX file_looked_at_section ON file_looked_at (section_id, person_id);
CREATE INDEX file_looked_at_time ON file_looked_at (at);
CREATE INDEX file_taken_section ON file_taken (section_id);
CREATE INDEX saved_scale_person ON saved_scale (person_id);
CREATE INDEX sign_in_failure_time ON sign_in_failure (at);
