-- An attempt went out and the registrar has said nothing of it under its key: it may be there.
ALTER TABLE sending ADD COLUMN unconfirmed INTEGER NOT NULL DEFAULT 0;
UPDATE sending SET unconfirmed = 1 WHERE state = 'waiting' AND send_after IS NULL;

-- The latest sending whose rows the registrar's copy can show: those answered before it was asked.
ALTER TABLE read_back ADD COLUMN covers INTEGER NOT NULL DEFAULT 0;
UPDATE read_back SET covers = coalesce(
    (SELECT max(d.id) FROM sending d JOIN signing g ON g.id = d.signing_id
      WHERE g.section_id = read_back.section_id AND g.run = read_back.run
        AND d.receipt IS NOT NULL AND d.answered_at <= read_back.read_at), 0);
