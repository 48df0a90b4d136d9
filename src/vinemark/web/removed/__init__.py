"""What is left of sections that were archived and removed."""
