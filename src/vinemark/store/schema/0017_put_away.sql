-- A section that is over is put away: it leaves the Desk's list and stays as it is.
ALTER TABLE section ADD COLUMN put_away_at TEXT;
