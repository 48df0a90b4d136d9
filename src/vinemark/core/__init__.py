"""Rules and computation: plain data in, plain data out; no web, SQL or files."""
