"""Mail: how letters go out over SMTP, and the simulated mail server that ships with Vine Mark and shows them."""
