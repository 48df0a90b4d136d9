"""The page of a grader who is limited to some items or students."""
