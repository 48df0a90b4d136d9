"""The college: departments, terms, choices, parts in it, accounts and invitations. In the database with the people."""

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date

from vinemark.core.base.moments import stamp
from vinemark.core.college.college import (
    NO_PART,
    CollegeChoices,
    CollegePart,
    CollegeRole,
    Department,
    choices_of,
)
from vinemark.core.course.course import Term
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing

ACCOUNTS_SHOWN = 200


@dataclass(frozen=True)
class CollegePerson:
    """Somebody with a part in the college, by their address."""

    email: str
    role: CollegeRole
    department: str


@dataclass(frozen=True)
class Account:
    """An account, or an invitation that nobody has taken yet, which has no id; how many sections somebody teaches in
    this database."""

    id: int | None
    name: str
    email: str
    closed: bool
    teaches: int


def departments(connection: Connection) -> Sequence[Department]:
    """All departments, by name."""
    rows = connection.execute("SELECT name, subjects FROM department ORDER BY name").fetchall()
    return [Department(row["name"], frozenset(json.loads(row["subjects"]))) for row in rows]


def write_department(connection: Connection, act: Act, before: str, department: Department | None) -> None:
    """Put a department in the place of the one of a name, or of none; with None take that one away with its chairs."""
    with writing(connection, act, "college") as entry:
        connection.execute("DELETE FROM department WHERE name = ?", (before,))
        if department is None:
            connection.execute("DELETE FROM college_role WHERE department = ? AND role = 'chair'", (before,))
            entry.what = f"department {before} removed"
            return
        connection.execute(
            "INSERT INTO department VALUES (?, ?)", (department.name, json.dumps(sorted(department.subjects)))
        )
        connection.execute(
            "UPDATE college_role SET department = ? WHERE department = ? AND role = 'chair'", (department.name, before)
        )
        entry.what = f"department {department.name}: {department.subject_words}"


def college_terms(connection: Connection) -> Sequence[Term]:
    """The college's terms, the latest first."""
    rows = connection.execute("SELECT name, starts, ends FROM college_term ORDER BY starts DESC, name").fetchall()
    return [Term(row["name"], date.fromisoformat(row["starts"]), date.fromisoformat(row["ends"])) for row in rows]


def write_college_term(connection: Connection, act: Act, before: str, term: Term | None) -> None:
    """Put a term in the place of the one of a name, or of none; with None take that one away. Sections keep theirs."""
    with writing(connection, act, "college") as entry:
        connection.execute("DELETE FROM college_term WHERE name = ?", (before,))
        entry.what = f"term {before} removed"
        if term is not None:
            days = (term.starts.isoformat(), term.ends.isoformat())
            connection.execute("INSERT OR REPLACE INTO college_term VALUES (?, ?, ?)", (term.name, *days))
            entry.what = f"term {term.name}: {days[0]} to {days[1]}"


def college_choices(connection: Connection) -> CollegeChoices:
    """What the college decides for all."""
    rows = connection.execute("SELECT name, value FROM college_choice").fetchall()
    return choices_of({row["name"]: json.loads(row["value"]) for row in rows})


def write_college_choices(connection: Connection, act: Act, choices: CollegeChoices) -> None:
    """Decide."""
    with writing(connection, act, "college") as entry:
        entry.before, entry.after = asdict(college_choices(connection)), asdict(choices)
        for name, value in asdict(choices).items():
            connection.execute("INSERT OR REPLACE INTO college_choice VALUES (?, ?)", (name, json.dumps(value)))
        entry.what = "choices of the college saved"


def college_part(connection: Connection, email: str) -> CollegePart:
    """What somebody has to do with the college."""
    rows = connection.execute(
        "SELECT role, department FROM college_role WHERE email = :email UNION SELECT r.role, r.department"
        " FROM claimed_role r JOIN person p ON p.id = r.person_id WHERE p.email = :email",
        {"email": email},
    ).fetchall()
    if not rows:
        return NO_PART
    chaired = {row["department"].casefold() for row in rows if row["role"] == "chair"}
    chairs = [one for one in departments(connection) if one.name.casefold() in chaired] if chaired else []
    opens = college_choices(connection).chairs_open if chairs else False
    return CollegePart(any(row["role"] == "administrator" for row in rows), chairs, opens)


def college_people(connection: Connection) -> Sequence[CollegePerson]:
    """Everybody with a part in the college."""
    rows = connection.execute("SELECT email, role, department FROM college_role ORDER BY role, department, email")
    return [CollegePerson(row["email"], row["role"], row["department"]) for row in rows]


def write_college_role(connection: Connection, act: Act, who: CollegePerson, given: bool) -> None:
    """Give somebody a part in the college, or take it."""
    with writing(connection, act, "college") as entry:
        put_college_role(connection, who, given)
        of = f" of {who.department}" if who.department else ""
        entry.what = f"{who.email} is {who.role}{of}" if given else f"{who.email} is no longer {who.role}{of}"


def put_college_role(connection: Connection, who: CollegePerson, given: bool) -> None:
    """The same inside another write."""
    place = (who.email, who.role, who.department)
    connection.execute("DELETE FROM college_role WHERE email = ? AND role = ? AND department = ?", place)
    if given:
        connection.execute("INSERT INTO college_role VALUES (?, ?, ?)", place)


def write_invited(
    connection: Connection, act: Act, people: Sequence[tuple[str, str]], parts: Sequence[CollegePerson], what: str
) -> None:
    """Note who was invited, by address and name, and give the parts that they come with."""
    with writing(connection, act, "college") as entry:
        connection.executemany(
            "INSERT OR REPLACE INTO invited VALUES (?, ?, ?)", [(*one, stamp(act.at)) for one in people]
        )
        for part in parts:
            put_college_role(connection, part, True)
        entry.what = what


def invited_name(connection: Connection, email: str) -> str:
    """The name that somebody was invited by; empty where nobody gave one."""
    row = connection.execute("SELECT name FROM invited WHERE email = ?", (email,)).fetchone()
    return str(row["name"]) if row else ""


def parts_in_words(connection: Connection) -> Sequence[tuple[str, str, str]]:
    """Everybody who can sign in with name, address and what they are, for the sign-in page of a demo."""
    rows = connection.execute(
        "SELECT p.name, p.email, (SELECT group_concat(r.role || CASE r.department WHEN '' THEN '' ELSE ' of ' ||"
        " r.department END, ', ') FROM college_role r WHERE r.email = p.email) AS part,"
        " (SELECT group_concat(DISTINCT CASE WHEN s.part_limit IS NULL THEN '' ELSE 'limited ' END || s.role)"
        " FROM section_person s WHERE s.person_id = p.id) AS roles,"
        " EXISTS (SELECT 1 FROM student t WHERE t.email = p.email COLLATE NOCASE) AS studies"
        " FROM person p WHERE p.password_hash <> '' AND p.closed = 0 ORDER BY p.name"
    ).fetchall()
    words = [", ".join([*filter(None, (row["part"], row["roles"])), *["student"] * row["studies"]]) for row in rows]
    return [(row["name"], row["email"], said) for row, said in zip(rows, words, strict=True)]


def accounts(connection: Connection, wanted: str = "") -> Sequence[Account]:
    """Accounts and invitations whose name or address has some words, by name; the first of them."""
    like = f"%{wanted.strip()}%"
    rows = connection.execute(
        "SELECT p.id, p.name, p.email, p.closed, (SELECT count(*) FROM section_person s WHERE s.person_id = p.id"
        " AND s.role = 'instructor') AS teaches FROM person p WHERE p.email LIKE '%@%' AND (p.name LIKE :like"
        " OR p.email LIKE :like) UNION ALL SELECT NULL, i.name, i.email, 0, 0 FROM invited i WHERE (i.name LIKE :like"
        " OR i.email LIKE :like) AND NOT EXISTS (SELECT 1 FROM person q WHERE q.email = i.email)"
        " ORDER BY 2 COLLATE NOCASE, 3 LIMIT :most",
        {"like": like, "most": ACCOUNTS_SHOWN},
    ).fetchall()
    return [Account(row[0], row["name"] or row["email"], row["email"], bool(row["closed"]), row["teaches"])
            for row in rows]  # fmt: skip


def known_addresses(connection: Connection, emails: Sequence[str]) -> frozenset[str]:
    """Those of some addresses, in small letters, that have an account."""
    rows = connection.execute(
        "SELECT lower(email) AS email FROM person WHERE email IN (SELECT value FROM json_each(?))",
        (json.dumps(list(emails)),),
    ).fetchall()
    return frozenset(row["email"] for row in rows)
