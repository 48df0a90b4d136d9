"""A chair's board."""
