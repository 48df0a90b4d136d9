"""The college, for its administrators."""
