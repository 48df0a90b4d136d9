"""What a command says where a setting is wrong, or the database cannot be opened, read or written."""

from vinemark.core.base.refused import Refused
from vinemark.settings import from_environment
from vinemark.store.trouble import DatabaseError, what_to_do


def said_of_unforeseen(error: Exception) -> str | None:
    """What to do about an error; None where it is a fault of the program."""
    if isinstance(error, DatabaseError):
        return what_to_do(error, from_environment().database)
    return str(error) if isinstance(error, Refused) else None
