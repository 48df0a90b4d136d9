"""The college: departments, terms, what is decided for all, parts in it, accounts, and people who are invited."""

from collections.abc import Mapping, Sequence

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.core.base.refused import Refused
from vinemark.core.college.college import COLLEGE_ROLE_WORDS, COLLEGE_ROLES
from vinemark.core.college.people_list import ListedPerson
from vinemark.exchange.apart import read_apart
from vinemark.exchange.csv_text import csv_text
from vinemark.exchange.people_file import people_of_file
from vinemark.section.acts import college as acts
from vinemark.section.outcome import Outcome
from vinemark.store import college
from vinemark.store.college import CollegePerson
from vinemark.store.security_log import EventKind
from vinemark.web.databases import home
from vinemark.web.events import tell_log
from vinemark.web.people.links import invitation_to, password_link, sends_mail
from vinemark.web.request import my_email, new_act, require_sign_in, settings, take_notice, tell_without_undo

blueprint = Blueprint("college", __name__, url_prefix="/college")
blueprint.before_request(require_sign_in)


@blueprint.before_request
def require_administrator() -> None:
    """Nothing of it is anybody else's."""
    if not current_user.part.administrator:
        abort(403)


@blueprint.get("")
def show() -> ResponseReturnValue:
    """Everything, with the accounts that are looked for."""
    return _page()


def _page(refused: Refused | None = None, listed: Sequence[ListedPerson] = ()) -> ResponseReturnValue:
    people = college.college_people(home())
    found = college.accounts(home(), request.args.get("find", ""))
    return render_template(
        "college/page.html",
        now=settings().clock.now(),
        notice=take_notice(),
        departments=college.departments(home()),
        terms=college.college_terms(home()),
        choices=college.college_choices(home()),
        people=people,
        roles=COLLEGE_ROLE_WORDS,
        by_setting=sorted(settings().administrators),
        accounts=found,
        most=college.ACCOUNTS_SHOWN,
        find=request.args.get("find", ""),
        parts=_parts_by_address(people),
        mail=sends_mail(),
        listed=listed,
        lines=_lines(listed),
        refused=refused,
        typed=request.form,
    ), 422 if refused else 200


def _parts_by_address(people: Sequence[CollegePerson]) -> Mapping[str, Sequence[CollegePerson]]:
    found: dict[str, list[CollegePerson]] = {}
    for one in people:
        found.setdefault(one.email.casefold(), []).append(one)
    return found


def _lines(listed: Sequence[ListedPerson]) -> str:
    """A list that was looked at, as it is sent with the yes to it."""
    heading = ("email", "name", "role", "department")
    return csv_text(heading, [(one.email, one.name, one.role or "", one.department) for one in listed if not one.wrong])


def _answer(outcome: Outcome, place: str, log: tuple[EventKind, str] | None = None) -> ResponseReturnValue:
    """Back to the page; what is logged is so once it is done."""
    if isinstance(outcome, Refused):
        return _page(outcome)
    if log is not None:
        tell_log(*log)
    tell_without_undo(outcome)
    return redirect(url_for("college.show", _anchor=place))


@blueprint.post("/department")
def save_department() -> ResponseReturnValue:
    """Add a department or change one."""
    form = request.form
    before, name, subjects = form.get("before", ""), form.get("name", ""), form.get("subjects", "")
    return _answer(acts.save_department(home(), new_act(), before, name, subjects), "departments")


@blueprint.post("/department/remove")
def remove_department() -> ResponseReturnValue:
    """Remove a department."""
    return _answer(acts.remove_department(home(), new_act(), request.form.get("before", "")), "departments")


@blueprint.post("/term")
def save_term() -> ResponseReturnValue:
    """Add a term or change one."""
    typed = [request.form.get(name, "") for name in ("term", "starts", "ends")]
    return _answer(acts.save_term(home(), new_act(), request.form.get("before", ""), typed), "terms")


@blueprint.post("/term/remove")
def remove_term() -> ResponseReturnValue:
    """Remove a term."""
    return _answer(acts.remove_term(home(), new_act(), request.form.get("before", "")), "terms")


@blueprint.post("/choices")
def save_choices() -> ResponseReturnValue:
    """Decide what holds for all."""
    form = request.form
    opens = form.get("chairs_open") == "1"
    return _answer(acts.save_choices(home(), new_act(), opens, form.get("kept_terms", "")), "choices")


@blueprint.post("/part")
def give_part() -> ResponseReturnValue:
    """Give somebody a part in the college."""
    form = request.form
    email, role, department = form.get("email", ""), form.get("role", ""), form.get("department", "")
    outcome = acts.give_college_role(home(), new_act(), email, role, department)
    return _answer(outcome, "parts", ("part given", f"{role} {department}".strip() + f" to {email}"))


@blueprint.post("/part/remove")
def take_part() -> ResponseReturnValue:
    """Take a part in the college from somebody."""
    form = request.form
    role = next((one for one in COLLEGE_ROLES if one == form.get("role")), None)
    if role is None:
        abort(404)
    who = CollegePerson(form.get("who", ""), role, form.get("department", ""))
    outcome = acts.take_college_role(home(), new_act(), who, my_email())
    return _answer(outcome, "parts", ("part taken", f"{who.role} {who.department}".strip() + f" from {who.email}"))


@blueprint.post("/account/<int:account_id>/close")
def close(account_id: int) -> ResponseReturnValue:
    """Close an account."""
    outcome = acts.close_account_of(home(), new_act(), account_id)
    return _answer(outcome, "accounts", ("account closed", f"account {account_id}"))


@blueprint.post("/account/<int:account_id>/open")
def open_again(account_id: int) -> ResponseReturnValue:
    """Open a closed account again."""
    return _answer(
        acts.open_account_of(home(), new_act(), account_id, password_link if sends_mail() else None), "accounts"
    )


@blueprint.post("/people/look")
def look() -> ResponseReturnValue:
    """What a file, or lines that were pasted, would bring."""
    upload, pasted = request.files.get("file"), request.form.get("pasted", "").strip()
    if upload is not None and upload.filename:
        data = upload.read()
        upload.close()
    elif pasted:
        data = (pasted if "email" in pasted.partition("\n")[0].casefold() else f"email,name\n{pasted}").encode()
    else:
        return _page(Refused("file", "is to be chosen, or lines are to be pasted"))
    try:
        return _page(listed=read_apart(people_of_file, data, _department_names()))
    except Refused as refused:
        return _page(refused)


def _department_names() -> list[str]:
    return [one.name for one in college.departments(home())]


@blueprint.post("/people/invite")
def invite() -> ResponseReturnValue:
    """Invite those who were looked at."""
    link = invitation_to(url_for("desk.show"))
    if link is None:
        abort(404)
    try:
        listed = people_of_file(request.form.get("lines", "").encode(), _department_names())
    except Refused as refused:
        return _page(refused)
    return _answer(acts.invite_people(home(), new_act(), listed, link, settings().college), "accounts")
