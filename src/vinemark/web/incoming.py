"""What a request may look like, in one place: addresses, bodies and their sizes, before any view sees them."""

from collections.abc import Mapping
from typing import Final

from flask import Flask, abort, g, request
from werkzeug.exceptions import BadRequest, RequestEntityTooLarge
from werkzeug.routing import IntegerConverter, UnicodeConverter

LARGEST_NUMBER: Final = 2**63 - 1
LONGEST_STEP: Final = 400
LARGEST_BODY: Final = 2 * 1024 * 1024
LARGEST_FILE: Final = 12 * 1024 * 1024
LARGEST_ARCHIVE: Final = 32 * 1024 * 1024
"""Evidence of several changes of grade may lie in one."""
SMALL_BODY: Final = 16 * 1024
_LARGER: Final = {
    "desk.create_section": LARGEST_ARCHIVE,
    **dict.fromkeys(
        ("syllabus.put_in", "score_files.put_in", "outside_totals.look", "after.ask",
         "submit.take_answer", "scores.cells", "scores.paste", "college.look"),
        LARGEST_FILE,
    ),
}  # fmt: skip
"""Places that take files, or a whole sheet of cells."""
_OF_STRANGERS: Final = (
    "people.try_sign_in", "people.make_first_account", "people.sign_out", "second_step.check", "identity.signed_out",
    "forgotten.send", "forgotten.change", "invitations.accept", "own_email.change",
)  # fmt: skip
BODY_LIMITS: Final = {**_LARGER, **dict.fromkeys(_OF_STRANGERS, SMALL_BODY)}
"""The most bytes of a body by endpoint, where it is not LARGEST_BODY; what anybody may send is small."""


class NumberInAddress(IntegerConverter):
    """A whole number that the database can hold."""

    def __init__(self, url_map: object) -> None:
        super().__init__(url_map, max=LARGEST_NUMBER)  # type: ignore[arg-type]


class TextInAddress(UnicodeConverter):
    """A step of an address that is no longer than an id may be, of signs that an id may have."""

    def __init__(self, url_map: object) -> None:
        super().__init__(url_map, maxlength=LONGEST_STEP)  # type: ignore[arg-type]


def check_requests(app: Flask) -> None:
    """Hold every request of an application to these bounds; before anything else of it looks at one."""
    app.url_map.converters.update(int=NumberInAddress, string=TextInAddress, default=TextInAddress)
    app.config.update(MAX_CONTENT_LENGTH=LARGEST_ARCHIVE, MAX_FORM_MEMORY_SIZE=LARGEST_BODY, MAX_FORM_PARTS=3_000)
    app.before_request(_check)


def _check() -> None:
    request.max_content_length = _largest()
    if (request.content_length or 0) > _largest():
        raise RequestEntityTooLarge
    if request.is_json:
        g.body = _object()
    for typed in (request.args, request.form):
        if any("\0" in text or "\0" in name for name, texts in typed.lists() for text in texts):
            raise BadRequest("A sign in it is none that can be kept.")


def _largest() -> int:
    return BODY_LIMITS.get(request.endpoint or "", LARGEST_BODY)


def _object() -> Mapping[str, object]:
    try:
        found = request.get_json(silent=True)
        if isinstance(found, dict) and _is_plain(found):
            return found
    except RecursionError:
        pass
    raise BadRequest("What was sent is no object of values.")


def _is_plain(value: object) -> bool:
    """Whether all texts can be kept as UTF-8 and all whole numbers in the database."""
    if isinstance(value, str):
        return "\0" not in value and not any("\ud800" <= sign <= "\udfff" for sign in value)
    if isinstance(value, dict):
        return all(_is_plain(key) and _is_plain(one) for key, one in value.items())
    if isinstance(value, list):
        return all(_is_plain(one) for one in value)
    return not isinstance(value, int) or abs(value) <= LARGEST_NUMBER


def sent_object() -> Mapping[str, object]:
    """The object that was sent as JSON; 400 where none was."""
    found: Mapping[str, object] | None = g.get("body")
    if found is None:
        abort(400)
    return found


def sent_text(name: str) -> str | None:
    """A text of the form, or of the object that was sent; None where it is no text."""
    found = request.form.get(name) or g.get("body", {}).get(name)
    return found if isinstance(found, str) else None
