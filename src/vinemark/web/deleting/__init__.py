"""Deleting a section."""
