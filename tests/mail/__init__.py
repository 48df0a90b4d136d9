"""Sending letters, and the mail server that takes them."""
