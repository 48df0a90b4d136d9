"""The seed of what is drawn in a test: its own, or another one for a run that wants to see something new."""

import os


def seed(own: int) -> int:
    """A test's seed, moved by VINEMARK_TEST_SEED where that is set."""
    return own + int(os.environ.get("VINEMARK_TEST_SEED", "0"))
