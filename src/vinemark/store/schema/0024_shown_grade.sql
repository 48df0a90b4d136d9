-- Which final figure students see: the settled grade as it stands, or the computed one as it follows their scores.
ALTER TABLE grades_opened ADD COLUMN shows TEXT NOT NULL DEFAULT 'settled' CHECK (shows IN ('settled', 'computed'));
