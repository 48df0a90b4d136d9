"""Moving students to another section."""
