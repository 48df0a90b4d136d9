"""Whether the application answers, for a proxy."""
