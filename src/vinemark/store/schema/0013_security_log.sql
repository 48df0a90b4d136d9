-- What an administrator looks through: who came in, who was kept out, what was taken out. No score stands in it.
CREATE TABLE security_event (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    kind TEXT NOT NULL,
    email TEXT NOT NULL,
    address TEXT NOT NULL,
    what TEXT NOT NULL
) STRICT;
CREATE INDEX security_event_at ON security_event (at);
