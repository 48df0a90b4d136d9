"""Files that take long to make: given at once where they are ready soon, else a page that shows how far they are."""

import time
from collections.abc import Callable

from flask import Blueprint, abort, current_app, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.section.making import Making, Wanted
from vinemark.section.state import SectionState
from vinemark.store import made_files
from vinemark.store.made_files import MadeFile
from vinemark.web.databases import database, file_here
from vinemark.web.request import any_section, download, page, person_id, require_sign_in, show_error

blueprint = Blueprint("made", __name__, url_prefix="/s/<int:section_id>/made")
blueprint.before_request(require_sign_in)

PDF = "application/pdf"


def making() -> Making:
    """What this process makes."""
    found: Making = current_app.extensions["vinemark.making"]
    return found


def make_file(
    section: SectionState, what: str, name: str, kind: str, maker: Callable[..., bytes], *args: object
) -> ResponseReturnValue:
    """A file of the section as it is now: itself where it is soon ready, else the page that waits for it."""
    # Its address names the student or the receipt; two people may share a name, and files of theirs one file name.
    of = f"{section.snapshot.version} {section.now.date()} {section.as_of} {section.run} {request.path}"
    wanted = Wanted(what, of, name, kind)
    token, new = made_files.ask(database(), person_id(), section.id, section.role, wanted, time.time())
    if new:
        making().wait(making().make(file_here(), token, maker, *args))
    made = _file(section, token)
    if made.ready:
        return _given(made)
    if made.refused:
        return show_error(503, f"{what}: not made", made.refused)
    return redirect(url_for("made.show", section_id=section.id, token=token))


def files_in_the_making(section: SectionState) -> list[MadeFile]:
    """This person's files of the section of the last hour, as their role still is."""
    found = made_files.files_of(database(), person_id(), section.id, time.time())
    return [file for file in found if file.role == section.role]


def _file(section: SectionState, token: str) -> MadeFile:
    made = made_files.made_file(database(), person_id(), section.id, token, time.time())
    if made is None or made.role != section.role:
        abort(404)
    return made


def _given(made: MadeFile) -> ResponseReturnValue:
    where = "inline" if made.wanted.kind == PDF else "attachment"
    return download(
        made_files.content_of(database(), person_id(), made.token), made.wanted.name, made.wanted.kind, where
    )


@blueprint.get("/<token>")
def show(section_id: int, token: str) -> ResponseReturnValue:
    """How far a file is; the page asks again until it is made, and then opens it."""
    section = any_section(section_id)
    made = _file(section, token)
    return page("exports", section, folder="made", made=made)


@blueprint.get("/<token>/progress")
def progress(section_id: int, token: str) -> ResponseReturnValue:
    """The part of that page that changes."""
    section = any_section(section_id)
    return render_template("made/_progress.html", section=section, made=_file(section, token))


@blueprint.get("/<token>/file")
def give(section_id: int, token: str) -> ResponseReturnValue:
    """The file."""
    made = _file(any_section(section_id), token)
    if not made.ready:
        abort(404)
    return _given(made)
