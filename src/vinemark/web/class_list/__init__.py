"""The class list."""
