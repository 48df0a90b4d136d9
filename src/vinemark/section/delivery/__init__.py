"""Between the store and the registrar: one typed answer for each call, and what goes out, under one key each."""
