"""What a person reads while the disk is full, cannot be written or fails: that nothing was saved, and that it is no
fault of theirs. The browser keeps what was typed and sends it again, since no such answer is the application's no."""

import logging

from flask import g
from flask.typing import ResponseReturnValue
from flask_login import AnonymousUserMixin

from vinemark.store.trouble import DatabaseError, DiskTrouble, trouble_of, what_to_do
from vinemark.web.databases import file_here
from vinemark.web.request import show_error
from vinemark.web.request_log import request_id

_log = logging.getLogger("vinemark.requests")
KEEP = "Nothing was changed, and all that was saved before is there. Leave this window open and try again later."
TELL = "Tell whoever runs Vine Mark here"
_SAID: dict[DiskTrouble, tuple[int, str, str]] = {
    "full": (507, "The disk is full", f"Nothing can be saved just now, but pages can be read. {KEEP} {TELL}."),
    "read-only": (507, "Nothing can be saved", f"The database cannot be written. {KEEP} {TELL}."),
    "busy": (503, "Too much at once", f"Others are saving. {KEEP}"),
    "damaged": (500, "The database is damaged", f"Part of it cannot be read. {TELL}: there are backups."),
    "not there": (503, "The database cannot be opened", f"{KEEP} {TELL}."),
    "failing": (507, "The disk fails", f"What you did could not be saved or read. {KEEP} {TELL}."),
}


def on_database_error(error: DatabaseError) -> ResponseReturnValue:
    """An error of the disk in words; any other one is a fault of the program, and goes on as it came."""
    trouble = trouble_of(error)
    if trouble not in _SAID:
        raise error
    _log.error("request %s: %s", request_id(), what_to_do(error, str(file_here())))
    if "_login_user" not in g:
        # Who is signed in cannot be asked: the page of the error is shown to whoever it is.
        g._login_user = AnonymousUserMixin()
    return show_error(*_SAID[trouble])
