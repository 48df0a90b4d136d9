"""What a student sees of a section: scores that are visible, rules in words, the grade so far from them alone."""
