"""Files in the making: asked for once, seen by one person, gone after an hour."""

from tests.store.conftest import Kept
from vinemark.store.made_files import (
    KEPT_SECONDS,
    SILENT_SECONDS,
    Wanted,
    ask,
    content_of,
    files_of,
    finish,
    forget_old,
    made_file,
    note_progress,
)

WANTED = Wanted("Audit as PDF", "7 final audit", "audit.pdf", "application/pdf")
AT = 1_000_000.0


def asked(kept: Kept, at: float = AT, role: str = "instructor", wanted: Wanted = WANTED) -> tuple[str, bool]:
    return ask(kept.connection, kept.owner, kept.section, role, wanted, at)


def test_what_is_asked_for_again_is_made_once(kept: Kept) -> None:
    token, new = asked(kept)
    assert new
    assert asked(kept, AT + 5) == (token, False)
    assert asked(kept, AT + 5, "grader")[0] != token
    finish(kept.connection, token, b"%PDF", None)
    assert asked(kept, AT + KEPT_SECONDS - 1) == (token, False)
    assert content_of(kept.connection, kept.owner, token) == b"%PDF"
    assert content_of(kept.connection, kept.owner + 1, token) == b""


def test_after_an_hour_it_is_gone(kept: Kept) -> None:
    token, _ = asked(kept)
    finish(kept.connection, token, b"%PDF", None)
    assert [file.token for file in files_of(kept.connection, kept.owner, kept.section, AT + KEPT_SECONDS)] == [token]
    assert files_of(kept.connection, kept.owner, kept.section, AT + KEPT_SECONDS + 1) == []
    assert asked(kept, AT + KEPT_SECONDS + 1)[1]
    assert content_of(kept.connection, kept.owner, token) == b""


def test_an_old_one_is_removed_and_not_found_by_its_token(kept: Kept) -> None:
    token, _ = asked(kept)
    finish(kept.connection, token, b"%PDF", None)
    assert made_file(kept.connection, kept.owner, kept.section, token, AT + KEPT_SECONDS + 1) is None
    forget_old(kept.connection, AT + KEPT_SECONDS)
    assert content_of(kept.connection, kept.owner, token) == b"%PDF"
    forget_old(kept.connection, AT + KEPT_SECONDS + 1)
    assert content_of(kept.connection, kept.owner, token) == b""


def test_one_that_is_refused_or_falls_silent_is_made_anew(kept: Kept) -> None:
    token, _ = asked(kept)
    note_progress(kept.connection, token, "page 3", AT + 10)
    seen = made_file(kept.connection, kept.owner, kept.section, token, AT + 11)
    assert seen is not None
    assert (seen.progress, seen.going) == ("page 3", True)
    late = AT + 10 + SILENT_SECONDS
    silent = made_file(kept.connection, kept.owner, kept.section, token, late)
    assert silent is not None
    assert silent.interrupted
    again, new = asked(kept, late)
    assert new
    assert again != token
    finish(kept.connection, again, None, "It takes too long.")
    refused = made_file(kept.connection, kept.owner, kept.section, again, late)
    assert refused is not None
    assert (refused.refused, refused.going) == ("It takes too long.", False)
    assert asked(kept, late)[1]


def test_another_persons_is_not_there(kept: Kept) -> None:
    token, _ = asked(kept)
    assert made_file(kept.connection, kept.owner + 1, kept.section, token, AT) is None
    assert made_file(kept.connection, kept.owner, kept.section + 1, token, AT) is None
