"""A file brought into a section: what its columns and rows become, the plan drafted from it, its own totals."""
