"""Who has a part in a section."""
