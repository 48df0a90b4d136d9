-- Which of a college's databases this is, and the id that the next section gets: none is given twice.
CREATE TABLE numbered (number INTEGER NOT NULL, next_section INTEGER NOT NULL) STRICT;

INSERT INTO numbered SELECT 0, coalesce(max(id), 0) + 1 FROM section;

-- The sentence left for the next page of a sign-in. In every database, as sections are; sign-ins are in one.
CREATE TABLE notice (
    key_digest TEXT PRIMARY KEY,
    notice TEXT NOT NULL,
    at REAL NOT NULL
) STRICT;

CREATE INDEX notice_at ON notice (at);

ALTER TABLE signed_in DROP COLUMN notice;
