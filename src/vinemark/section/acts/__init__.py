"""The acts of the application: each one transaction over the section as it is then, with a typed outcome."""
