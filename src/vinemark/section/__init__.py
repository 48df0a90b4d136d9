"""A section as the application works with it: what is worked out about it, the acts on it, and its deliveries."""
