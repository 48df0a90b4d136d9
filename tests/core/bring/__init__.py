"""Bringing a file in."""
