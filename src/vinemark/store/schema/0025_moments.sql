-- Moments are kept with their offset from UTC from here on; one without is by the college's clock. What decides when
-- something is tried again is forgotten once, so that no old time is waited for.
UPDATE sending SET tried_at = NULL, send_after = NULL WHERE state = 'waiting';
UPDATE grade_change SET tried_at = NULL WHERE state = 'waiting';
DELETE FROM lease;
