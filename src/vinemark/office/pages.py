"""The registrar's plain pages: terms and windows, rules, rosters, received and posted grades, changes, weather."""

import io
import json
import re
from collections.abc import Mapping
from datetime import date, datetime
from typing import Any

from flask import Blueprint, Response, abort, redirect, render_template, request, send_file, session, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.course.course import GRADING_BASES, RUNS, STATUSES
from vinemark.office import grade_file, ledger, ledger_grades, ledger_registrars
from vinemark.office.context import database, found_section, now, settings
from vinemark.office.ledger import Weather
from vinemark.office.schools import SAMPLES

blueprint = Blueprint("pages", __name__)
SLOWEST = 30
LONGEST_NAME = 100


DEMO_REGISTRAR = "Bronwen Achterberg"
OF_EACH = {
    "choose_school": "chose a school", "transfers": "set the transfers", "window": "set a window",
    "add_term": "added a term", "add_section": "added a section", "weather": "turned the weather",
    "enrol": "changed the roster", "post": "posted grades", "answer": "answered a change of grade",
    "take_file": "took a file of grades",
}  # fmt: skip


def registrar() -> str:
    """Who is at these pages; empty for nobody."""
    return str(session.get("registrar", "")) if settings().code else DEMO_REGISTRAR


@blueprint.before_request
def require_registrar() -> ResponseReturnValue | None:
    """Nothing opens before somebody signed in."""
    if registrar() or request.endpoint in {"pages.sign_in", "pages.try_sign_in"}:
        return None
    return redirect(url_for("pages.sign_in"))


@blueprint.after_request
def note_what_was_done(response: Response) -> Response:
    """Every act that was done has a name beside it."""
    act = OF_EACH.get((request.endpoint or "").removeprefix("pages."))
    if act and request.method == "POST" and response.status_code == 302 and registrar():
        place = " ".join(str(value) for value in (request.view_args or {}).values())
        ledger_registrars.note_act(database(), now(), registrar(), f"{act} {place}".strip())
    return response


@blueprint.get("/sign-in")
def sign_in() -> ResponseReturnValue:
    """The form for a name and the registrar's code."""
    return _sign_in_page()


def _sign_in_page(name: str = "", trouble: str = "", status: int = 200) -> ResponseReturnValue:
    school = ledger.school(database())
    return render_template("office/sign_in.html", school=school, now=now(), name=name, trouble=trouble), status


@blueprint.post("/sign-in")
def try_sign_in() -> ResponseReturnValue:
    """Sign in under a name."""
    name, typed = " ".join(request.form.get("name", "").split())[:LONGEST_NAME], request.form.get("code", "")
    right = ledger_registrars.right_code(database(), typed, settings().code) if name else False
    if not right:
        trouble = "Too many wrong codes; try again in a quarter of an hour." if right is None else (
            "This is not the registrar’s code." if name else "Type your name: it stands beside what you do."
        )  # fmt: skip
        return _sign_in_page(name, trouble, 429 if right is None else 422)
    session.clear()
    session["registrar"] = name
    return redirect(url_for("pages.index"))


@blueprint.post("/sign-out")
def sign_out() -> ResponseReturnValue:
    """Sign out."""
    session.clear()
    return redirect(url_for("pages.sign_in"))


@blueprint.get("/")
def index() -> ResponseReturnValue:
    """Terms, sections, rules, weather."""
    return _index()


def _index(trouble: str = "") -> ResponseReturnValue:
    return render_template(
        "office/index.html",
        school=ledger.school(database()),
        samples=SAMPLES,
        terms=ledger.terms(database()),
        sections=ledger.sections(database()),
        weather=ledger.weather(database()),
        now=now(),
        trouble=trouble,
        acts=ledger_registrars.acts(database()),
    ), 422 if trouble else 200


@blueprint.get("/sections/<ref>")
def section(ref: str) -> ResponseReturnValue:
    """One section: roster, grades held, sendings, changes of grade."""
    return _section(ref)


def _section(ref: str, trouble: str = "") -> ResponseReturnValue:
    held = {run: {g["id"]: g for g in ledger_grades.held(database(), ref, run)} for run in RUNS}
    return render_template(
        "office/section.html",
        school=ledger.school(database()),
        section=found_section(ref),
        roster=ledger.roster(database(), ref),
        held=held,
        fallen={row["id"]: row for row in ledger_grades.fallen_back(database(), ref)},
        submissions=ledger_grades.received(database(), ref),
        changes=ledger_grades.changes(database(), ref),
        names={p["id"]: f"{p['given_name']} {p['family_name']}".strip() for p in ledger.roster(database(), ref)},
        now=now(),
        trouble=trouble,
    ), 422 if trouble else 200


def _back(ref: str, place: str = "") -> ResponseReturnValue:
    return redirect(url_for("pages.section", ref=ref, _anchor=place or None))


@blueprint.post("/school")
def choose_school() -> ResponseReturnValue:
    """Put one of the sample schools' rules in force."""
    sample = SAMPLES.get(request.form.get("school", ""))
    if sample is None:
        abort(400)
    ledger.set_school(database(), sample)
    return redirect(url_for("pages.index"))


@blueprint.post("/transfers")
def transfers() -> ResponseReturnValue:
    """Set the daily transfers, typed as '12:00-12:20, 23:30-00:15'."""
    school = ledger.school(database())
    pieces = [piece.strip() for piece in request.form.get("transfers", "").split(",") if piece.strip()]
    found = [re.fullmatch(r"([01]\d|2[0-3]):([0-5]\d)\s*-\s*([01]\d|2[0-3]):([0-5]\d)", piece) for piece in pieces]
    if not all(found):
        return _index("Type transfers as 12:00-12:20, 23:30-00:15.")
    times = [[f"{m[1]}:{m[2]}", f"{m[3]}:{m[4]}"] for m in found if m]
    ledger.set_school(database(), {**school, "arrangements": {**school["arrangements"], "transfers": times}})
    return redirect(url_for("pages.index"))


@blueprint.post("/terms/<code>/runs/<run>")
def window(code: str, run: str) -> ResponseReturnValue:
    """Set when a run opens and is due."""
    if run not in RUNS or code not in {term["code"] for term in ledger.terms(database())}:
        abort(404)
    try:
        opens, due = (datetime.fromisoformat(request.form.get(key, "")) for key in ("opens", "due"))
    except ValueError:
        return _index("Type both times of the window.")
    if due <= opens:
        return _index("A run must be due after it opens.")
    ledger.set_window(database(), code, run, opens.isoformat(timespec="seconds"), due.isoformat(timespec="seconds"))
    return redirect(url_for("pages.index"))


@blueprint.post("/terms")
def add_term() -> ResponseReturnValue:
    """A new term; its runs are added by their windows."""
    form = {key: " ".join(request.form.get(key, "").split()) for key in ("code", "name", "starts", "ends")}
    if not re.fullmatch(r"[0-9A-Za-z-]{1,20}", form["code"]) or not form["name"]:
        return _index("A term needs a code of letters and digits, and a name.")
    if form["code"] in {term["code"] for term in ledger.terms(database())}:
        return _index("There is a term of this code already.")
    try:
        starts, ends = date.fromisoformat(form["starts"]), date.fromisoformat(form["ends"])
    except ValueError:
        return _index("Type both days of the term.")
    if ends <= starts:
        return _index("A term must end after it starts.")
    ledger.add_term(database(), form, {})
    return redirect(url_for("pages.index"))


@blueprint.post("/sections")
def add_section() -> ResponseReturnValue:
    """A new section with an empty roster."""
    keys = ("term", "course", "title", "number", "instructor")
    form = {key: " ".join(request.form.get(key, "").split()) for key in keys}
    if form["term"] not in {term["code"] for term in ledger.terms(database())}:
        return _index("Choose a term.")
    if not form["course"] or not form["title"] or "@" not in form["instructor"]:
        return _index("A section needs a course, a title and the instructor’s email.")
    ref = re.sub(r"[^0-9A-Za-z-]", "", f"{form['term']}-{form['course']}-{form['number']}").strip("-")
    if ledger.section(database(), ref) is not None:
        return _index("There is a section of this name already.")
    ledger.add_section(database(), {**form, "ref": ref}, [])
    return redirect(url_for("pages.section", ref=ref))


@blueprint.post("/weather")
def weather() -> ResponseReturnValue:
    """Turn the switches of the weather."""
    form = request.form
    slow = form.get("slow_seconds", "0")
    if not slow.isascii() or not slow.isdigit() or int(slow) > SLOWEST:
        return _index(f"Slow is a whole number of seconds, {SLOWEST} at most.")
    ledger.set_weather(
        database(), Weather(int(slow), "down" in form, "lose_answers" in form, "refuse_at_random" in form)
    )
    return redirect(url_for("pages.index"))


@blueprint.post("/sections/<ref>/roster")
def enrol(ref: str) -> ResponseReturnValue:
    """Enrol a person, or change one: name, status, basis."""
    found_section(ref)
    form = {key: " ".join(request.form.get(key, "").split()) for key in ledger.PERSON}
    trouble = _person_trouble(form)
    if trouble:
        return _section(ref, trouble)
    known = next((p for p in ledger.roster(database(), ref) if p["id"] == form["id"]), None)
    email = form["email"] or (known["email"] if known else None)
    ledger.enrol(database(), ref, {**form, "email": email})
    return _back(ref, f"person-{form['id']}")


def _person_trouble(form: Mapping[str, str]) -> str:
    if not form["id"] or not form["family_name"]:
        return "A person needs an id and a family name."
    if form["status"] not in STATUSES or form["basis"] not in GRADING_BASES:
        return "Choose a status and a basis."
    return ""


@blueprint.post("/sections/<ref>/runs/<run>/post")
def post(ref: str, run: str) -> ResponseReturnValue:
    """Post the grades held."""
    runs: Any = found_section(ref)["runs"]
    if run not in runs:
        abort(404)
    ledger_grades.post(database(), ref, run, now())
    return _back(ref)


@blueprint.post("/sections/<ref>/changes/<int:number>")
def answer(ref: str, number: int) -> ResponseReturnValue:
    """Grant or refuse a change of grade, with a word."""
    found_section(ref)
    word = " ".join(request.form.get("word", "").split())
    if request.form.get("answer") not in {"grant", "refuse"}:
        abort(400)
    granted = request.form["answer"] == "grant"
    if not granted and not word:
        return _section(ref, "Say in a word why the change is refused.")
    ledger_grades.answer_change(database(), ref, number, granted, word, now())
    return _back(ref, "changes")


@blueprint.get("/sections/<ref>/changes/<int:number>/evidence")
def evidence(ref: str, number: int) -> ResponseReturnValue:
    """The file that came with a change of grade: to be saved, never shown as a page of this site."""
    found = ledger_grades.evidence_of(database(), ref, number)
    if found is None:
        abort(404)
    name, content = found
    return send_file(io.BytesIO(content), "application/octet-stream", as_attachment=True, download_name=name)


@blueprint.post("/sections/<ref>/runs/<run>/file")
def take_file(ref: str, run: str) -> ResponseReturnValue:
    """Take a file of grades in the registrar's layout; what was taken can then be fetched as the answer file."""
    section_found = found_section(ref)
    layout, upload = ledger.school(database())["arrangements"]["file"], request.files.get("file")
    if layout is None or upload is None or not upload.filename:
        return _section(ref, "Choose a file of grades.")
    try:
        body = grade_file.read(upload.read(), layout, ref)
        signed = {**body, "signed_by": section_found["instructor"]}
        ledger_grades.receive(database(), ref, run, signed, now())
    except (grade_file.UnreadableError, ledger_grades.NotTakenError, ledger_grades.BusyError) as error:
        return _section(ref, f"The file was not taken: {error}.")
    return _back(ref, "sendings")


@blueprint.get("/sections/<ref>/sendings/<int:number>/answer.csv")
def answer_file(ref: str, number: int) -> ResponseReturnValue:
    """The answer to a sending as a file, for the instructor."""
    row = ledger_grades.receipt_of(database(), ref, number)
    if row is None:
        abort(404)
    name = f"answer-{ref}-{number}.csv"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(grade_file.answer(row["key"], _receipt(row)), mimetype="text/csv", headers=headers)


@blueprint.get("/sections/<ref>/receipts.csv")
def receipts_file(ref: str) -> ResponseReturnValue:
    """All receipts of a section as a file, to hold an archive against."""
    found_section(ref)
    rows = ledger_grades.received(database(), ref)
    text = grade_file.receipts((row["run"], row["signed_by"], _receipt(row)) for row in reversed(rows))
    headers = {"Content-Disposition": f'attachment; filename="receipts-{ref}.csv"'}
    return Response(text, mimetype="text/csv", headers=headers)


def _receipt(row: Any) -> dict[str, Any]:
    """A kept receipt; those kept before codes stood in them lack the code."""
    receipt: dict[str, Any] = json.loads(row["receipt"])
    return {**receipt, "rows": [{"code": "", **entry} for entry in receipt["rows"]]}
