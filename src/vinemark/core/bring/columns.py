"""What each column of a file becomes in a section: as it is read, and as a person says."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from fractions import Fraction
from typing import Literal, get_args

from vinemark.core.base.names import same_name, singular
from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import Refused, above_zero, number
from vinemark.core.bring.naming import category_names
from vinemark.core.plan.plan import Plan
from vinemark.core.table.columns import TableRole
from vinemark.core.table.read import TableColumn, TableReading

Use = Literal["new", "score", "total", "letter", "remark", "person", "leave"]
PERSON_ROLES: tuple[TableRole, ...] = ("id", "name", "family_name", "given_name", "email", "status")
TABLE_ROLES: tuple[TableRole, ...] = get_args(TableRole)
_ROUND = tuple(Fraction(n) for n in (1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 75, 80, 100))


@dataclass(frozen=True)
class BroughtColumn:
    """A column and its use: a new item with name, points and category, the scores of an item of the plan, a figure to
    compare with, a remark, something of the student, or nothing.

    `sure` says whether its points are written in the file; else they are taken from the highest score. `asked` is a
    column for which two readings are equally good: a person has to say.
    """

    column: int
    heading: str
    samples: Sequence[str]
    role: TableRole
    use: Use
    item_id: str = ""
    name: str = ""
    points: Fraction | None = None
    sure: bool = True
    category: str = ""
    extra: bool = False
    weight: Fraction | None = None
    due: date | None = None
    unit: Literal["points", "percent"] | None = None
    asked: bool = False

    @property
    def target(self) -> str:
        """Its use as one word for a form: 'new', 'score i3', 'total', 'person email', 'leave' …"""
        more = {"score": self.item_id, "person": self.role}.get(self.use, "")
        return f"{self.use} {more}".strip()


@dataclass(frozen=True)
class ColumnChoice:
    """What a person says of a column: its use as one word, and of a new item name, points and category."""

    target: str
    name: str = ""
    points: str = ""
    category: str = ""


Choices = Mapping[int, ColumnChoice]
NO_CHOICES: Choices = {}


@dataclass
class _Drafting:
    """Columns of a reading as they come one after the other."""

    reading: TableReading
    plan: Plan
    taken: set[str] = field(default_factory=set)


def roles_said(choices: Choices) -> dict[int, TableRole]:
    """The roles that a reader must take for given, from what a person chose."""
    found: dict[int, TableRole] = {}
    for column, choice in choices.items():
        use, _, more = choice.target.partition(" ")
        said = {"new": "item", "score": "item", "leave": "other"}.get(use, more or use)
        role = next((role for role in TABLE_ROLES if role == said), None)
        if role is not None:
            found[column] = role
    return found


def first_columns(reading: TableReading, plan: Plan) -> list[BroughtColumn]:
    """Every column with the use that its reading gives it."""
    drafting = _Drafting(reading, plan)
    found = [_first(one, drafting) for one in reading.columns]
    return _with_categories(found, reading, plan)


def _first(one: TableColumn, drafting: _Drafting) -> BroughtColumn:
    heading = drafting.reading.headings.get(one.column, "")
    samples = drafting.reading.samples.get(one.column, ())
    made = BroughtColumn(one.column, heading, samples, one.role, "leave", unit=one.unit, points=one.points,
                         asked=one.column in dict(drafting.reading.unsure))  # fmt: skip
    if one.role in PERSON_ROLES:
        return replace(made, use="person")
    if one.role == "total":
        return replace(made, use="total")
    if one.role in {"letter", "remark"}:
        return replace(made, use="letter" if one.role == "letter" else "remark")
    if one.role != "item":
        return made
    known = _item_named(drafting, one.name)
    if known:
        drafting.taken.add(known)
        return replace(made, use="score", item_id=known, name=one.name)
    points, sure = (one.points, True) if one.points is not None else (_round_above(drafting.reading, one.column), False)
    lettered = points is None and _any_text(drafting.reading, one.column)
    return replace(
        made, use="leave" if lettered else "new", name=one.name or f"Column {one.column}", points=points, sure=sure,
        extra=one.extra, weight=one.weight, due=one.due,
    )  # fmt: skip


def _item_named(drafting: _Drafting, name: str) -> str:
    """The item of the plan with this name or label, where one alone has it and no column took it yet."""
    keys = {same_name(name)} - {""}
    fits = [
        item.id for item in drafting.plan.columns.values()
        if {same_name(item.name), same_name(item.heading)} & keys and item.id not in drafting.taken
    ]  # fmt: skip
    return fits[0] if len(fits) == 1 else ""


def _numbers(reading: TableReading, column: int) -> list[Fraction]:
    cells = [row[column] for row in reading.cells.values() if column in row]
    return [cell.number for cell in cells if cell.number is not None]


def _any_text(reading: TableReading, column: int) -> bool:
    return any(column in row for row in reading.cells.values())


def _round_above(reading: TableReading, column: int) -> Fraction | None:
    """The roundest number that no score exceeds; None without a score."""
    highest = max(_numbers(reading, column), default=None)
    if highest is None:
        return None
    fit = next((n for n in _ROUND if n >= highest), None)
    return fit if fit is not None else Fraction(-(-highest // 10) * 10)


def _with_categories(columns: Sequence[BroughtColumn], reading: TableReading, plan: Plan) -> list[BroughtColumn]:
    """New items with a category: the group they stand in, what their names share, or one of the plan that is alike."""
    groups = {one.column: one.group or "" for one in reading.columns}
    new = [one for one in columns if one.use == "new"]
    names = category_names([(groups.get(one.column, ""), one.name) for one in new])
    ours = {same_name(singular(c.name)): c.name for c in plan.categories}
    found = {one.column: ours.get(same_name(singular(name)), name) for one, name in zip(new, names, strict=True)}
    return [replace(one, category=found.get(one.column, "")) for one in columns]


def chosen_columns(columns: Sequence[BroughtColumn], choices: Choices, plan: Plan) -> list[BroughtColumn]:
    """The columns as a person says. Raises Refused at 'points-4' or 'name-4', by the column."""
    made = [_chosen(one, choices.get(one.column), plan) for one in columns]
    taken: dict[str, int] = {}
    for one in made:
        if one.use == "score":
            if one.item_id in taken:
                raise Refused(f"target-{one.column}", f"is the same item as column {taken[one.item_id]}")
            taken[one.item_id] = one.column
    return made


def _chosen(one: BroughtColumn, choice: ColumnChoice | None, plan: Plan) -> BroughtColumn:
    if choice is None:
        return one
    one = replace(one, asked=False)
    use, _, more = choice.target.partition(" ")
    found: Use | None = next((known for known in get_args(Use) if known == use), None)
    if found is None or (found == "score" and more not in plan.columns):
        raise Refused(f"target-{one.column}", "is no choice")
    if found != "new":
        return replace(one, use=found, item_id=more if found == "score" else "")
    name = " ".join(choice.name.split()) or one.name or one.heading
    if not name:
        raise Refused(f"name-{one.column}", "type a name")
    points = above_zero(number)(choice.points.strip(), f"points-{one.column}")
    same = one.points is not None and points == one.points
    category = " ".join(choice.category.split()) or one.category or name
    return replace(one, use="new", name=name, points=points, sure=one.sure or not same, category=category)


def points_text(one: BroughtColumn) -> str:
    """Points as they are typed."""
    return "" if one.points is None else exact_text(one.points)
