"""What is kept: SQLite, plain SQL, one transaction and one history entry for each write."""
