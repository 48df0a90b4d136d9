"""Single sign-on: the simulated identity provider that ships with Vine Mark."""
