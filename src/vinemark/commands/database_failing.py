"""What a command says where the database cannot be opened, read or written."""

from vinemark.settings import from_environment
from vinemark.store.trouble import DatabaseError, what_to_do


def said_of_database(error: Exception) -> str | None:
    """What to do about an error of the database; None for any other error."""
    return what_to_do(error, from_environment().database) if isinstance(error, DatabaseError) else None
