"""Who looked at students' records."""
