"""The statement of a student."""
