"""The simulated registrar's office, an application of its own, and the client that speaks to it."""
