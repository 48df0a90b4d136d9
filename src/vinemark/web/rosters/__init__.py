"""The registrar's rosters of a section that is cross-listed."""
