-- A second step of signing in: the secret shared with the person's authenticator, the last step of time it was used
-- in, and the hashes of the codes for when the authenticator is lost.
ALTER TABLE person ADD COLUMN second_step TEXT;
ALTER TABLE person ADD COLUMN second_step_used INTEGER NOT NULL DEFAULT 0;
ALTER TABLE person ADD COLUMN recovery TEXT NOT NULL DEFAULT '[]';
