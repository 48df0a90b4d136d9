-- Letters by email: what waits, and what became of it. The text goes once it is out, since links in it open things.
CREATE TABLE letter (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    made_at TEXT NOT NULL,
    section_id INTEGER REFERENCES section (id) ON DELETE CASCADE,
    entry_id INTEGER,
    recipient TEXT NOT NULL COLLATE NOCASE,
    subject TEXT NOT NULL,
    text TEXT,
    due_at TEXT NOT NULL,
    tries INTEGER NOT NULL DEFAULT 0,
    state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'sent', 'recalled', 'not delivered')),
    said TEXT NOT NULL DEFAULT '',
    ended_at TEXT
) STRICT;

CREATE INDEX letter_waiting ON letter (due_at) WHERE state = 'waiting';
CREATE INDEX letter_section ON letter (section_id, recipient);
CREATE INDEX letter_made ON letter (made_at);

-- Whether nobody may sign in any more; an account without a password may be signed in elsewhere.
ALTER TABLE person ADD COLUMN closed INTEGER NOT NULL DEFAULT 0;
UPDATE person SET closed = 1 WHERE password_hash = '';
