"""How the grading part may be laid out as a table or list, in two halves that share no layout."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from random import Random


@dataclass
class Part:
    """A category as it is drawn."""

    name: str
    one: str
    weight: int | None = None
    count: int | None = None
    points_each: int | None = None
    points: int | None = None
    drop: int = 0
    best: int | None = None
    told: bool = False
    """Whether the layout has said its drop."""
    counted: bool = False
    """Whether the layout has said its count."""
    each_told: bool = False
    total_told: bool = True


Layout = Callable[[Sequence[Part], Random], tuple[str, str]]
"""Gives the end of the file's name and the text."""


def _tell(part: Part, count: bool = True, drop: bool = False, each: bool = False, total: bool = True) -> None:
    part.counted, part.told, part.each_told, part.total_told = part.counted or count, part.told or drop, each, total


def _amount(part: Part) -> str:
    return f"{part.weight}%" if part.weight is not None else f"{part.points} points"


def _bars(head: Sequence[str], rows: Sequence[Sequence[object]]) -> str:
    lines = ["| " + " | ".join(head) + " |", "|" + "---|" * len(head)]
    return "\n".join([*lines, *("| " + " | ".join(map(str, row)) + " |" for row in rows)])


def plain_bars(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Name, number, weight."""
    for part in parts:
        _tell(part)
    rows = [(p.name, p.count or "", _amount(p)) for p in parts]
    return ".md", _bars(["Component", "Number", "Weight" if parts[0].weight is not None else "Points"], rows)


def bullets(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """'- Labs (10): 20%'."""
    for part in parts:
        _tell(part)
    return ".txt", "\n".join(f"- {p.name}{f' ({p.count})' if p.count else ''}: {_amount(p)}" for p in parts)


def dotted(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """'Labs ........ 20%'."""
    for part in parts:
        _tell(part, count=False)
    return ".txt", "\n".join(f"{p.name} {'.' * (40 - len(p.name))} {_amount(p)}" for p in parts)


def with_total(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """A table with a total row."""
    for part in parts:
        _tell(part, count=False)
    total = sum((p.weight if p.weight is not None else p.points) or 0 for p in parts)
    rows = [*((p.name, _amount(p)) for p in parts), ("Total", f"{total}%" if parts[0].weight is not None else total)]
    return ".md", _bars(["Category", "Worth"], rows)


def amount_first(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """'20%  Labs, 10 of them'."""
    for part in parts:
        _tell(part)
    return ".txt", "\n".join(f"  {_amount(p):>10}   {p.name}{f', {p.count} of them' if p.count else ''}" for p in parts)


def odd_headings(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Headings that no list has, a rule for each row."""
    for part in parts:
        _tell(part, drop=True)
    rows = [(p.name, p.count or "one", _amount(p), _rule(p)) for p in parts]
    return ".md", _bars(["What you turn in", "Pieces", "Slice of the pie", "Good to know"], rows)


def _rule(part: Part) -> str:
    if part.best:
        return f"top {part.best} kept"
    return f"{part.drop} lowest of {part.count} dropped" if part.drop else "see below"


def product_cells(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Number, of each, of all; nothing has a unit for points."""
    if parts[0].weight is not None:
        return odd_headings(parts, random)
    for part in parts:
        _tell(part, each=part.points_each is not None)
    rows = [(p.name, p.count or 1, p.points_each or p.points, p.points) for p in parts]
    total = sum(p.points or 0 for p in parts)
    return ".md", _bars(["Requirement", "How many", "Pts", "Total"], [*rows, ("All together", "", "", total)])


def spanned_html(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Two groups whose cells span their rows, in a page laid out by a table."""
    for part in parts:
        _tell(part, drop=True)
    half = len(parts) // 2
    groups = [("In class", parts[:half]), ("At home", parts[half:])]
    rows = []
    for title, members in groups:
        for n, part in enumerate(members):
            lead = f'<td rowspan="{len(members)}">{title}</td>' if n == 0 else ""
            named = f"{part.name} ({part.count})" if part.count else part.name
            rows.append(
                f"<tr>{lead}<td>{named}</td><td>{_amount(part)}</td>"
                f"<td>{_rule(part) if part.drop or part.best else ''}</td></tr>"
            )
    return ".html", "<table><tr><th>Group</th><th>Component</th><th>Worth</th><th>Remarks</th></tr>" + "".join(
        rows
    ) + "</table>"


def definition_html(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """A list of definitions: the name, then its amount and rule."""
    for part in parts:
        _tell(part, drop=True)
    items = []
    for part in parts:
        words = [
            f"{part.count} in all" if part.count else "",
            _amount(part),
            _rule(part) if part.drop or part.best else "",
        ]
        items.append(f"<dt>{part.name}</dt><dd>{'; '.join(w for w in words if w)}</dd>")
    return ".html", f"<dl>{''.join(items)}</dl>"


def nested_bullets(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Items with deeper items for number and rule."""
    for part in parts:
        _tell(part, drop=True)
    lines = []
    for part in parts:
        lines.append(f"* **{part.name}** - {_amount(part)}")
        if part.count:
            lines.append(f"    * {part.count} over the term")
        if part.drop or part.best:
            lines.append(f"    * {_rule(part)}")
    return ".md", "\n".join(lines)


def gap_columns(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Typed columns with wide gaps, the amount in the middle."""
    for part in parts:
        _tell(part, drop=True)
    lines = [f"{'Work':<34}{'Share':<14}Notes"]
    for part in parts:
        notes = "; ".join(
            w
            for w in (f"{part.count} in all" if part.count else "", _rule(part) if part.drop or part.best else "")
            if w
        )
        lines.append(f"{part.name:<34}{_amount(part):<14}{notes}".rstrip())
    return ".txt", "\n".join(lines)


def transposed(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """The work across, its numbers below."""
    for part in parts:
        _tell(part)
    rows = [("How many", *(p.count or 1 for p in parts)), ("Worth", *(_amount(p) for p in parts))]
    return ".md", _bars(["", *(p.name for p in parts)], rows)


def grouped_list(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Group lines with their sums, members below."""
    for part in parts:
        _tell(part)
    half = len(parts) // 2
    lines = []
    for title, members in (("During the term", parts[:half]), ("Towards the end", parts[half:])):
        amounts = [(p.weight if p.weight is not None else p.points) or 0 for p in members]
        unit = "%" if members[0].weight is not None else " points"
        lines.append(f"- {title}: {sum(amounts)}{unit}")
        lines += [f"    - {p.name}{f' x {p.count}' if p.count else ''}: {_amount(p)}" for p in members]
    return ".txt", "\n".join(lines)


def heading_rows_html(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Rows across the whole table name the groups; nothing says what the columns are."""
    for part in parts:
        _tell(part, drop=True)
    half = len(parts) // 2
    rows = []
    for title, members in (("Learning", parts[:half]), ("Showing", parts[half:])):
        rows.append(f'<tr><th colspan="3">{title}</th></tr>')
        for p in members:
            number = f"{p.count} of them" if p.count else ""
            rows.append(
                f"<tr><td>{p.name}</td><td>{'; '.join(w for w in (number, _told(p)) if w)}</td>"
                f"<td>{_amount(p)}</td></tr>"
            )
    return ".html", f"<table>{''.join(rows)}</table>"


def _told(part: Part) -> str:
    if part.best:
        return f"{part.best} best taken"
    return f"minus the {part.drop} worst" if part.drop else ""


def each_column(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Count, weight of one, weight of all; for points the like."""
    for part in parts:
        _tell(part, each=part.points_each is not None)
    rows = []
    for p in parts:
        one = p.points_each or p.points if p.weight is None else f"{p.weight / (p.count or 1):g}%"
        rows.append((p.name, f"{p.count or 1} x {one}", _amount(p)))
    if any(p.weight is not None and p.count and p.weight * 10 % p.count for p in parts):
        return paragraph_labels(parts, random)
    return ".md", _bars(["Assignment", "Breakdown", "Sum"], rows)


def paragraph_labels(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """'**Labs (20%).** Ten of them', a paragraph each."""
    for part in parts:
        _tell(part)
    texts = [
        f"**{p.name} ({_amount(p)}).** {f'There are {p.count} of these.' if p.count else 'More will follow in class.'}"
        for p in parts
    ]
    return ".md", "\n\n".join(texts)


def numbered(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """'1. Labs = 20%'."""
    for part in parts:
        _tell(part)
    return ".txt", "\n".join(
        f"{n}. {f'{p.count} ' if p.count else ''}{p.name} = {_amount(p)}" for n, p in enumerate(parts, 1)
    )


def weight_middle(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """The number of items in words in the last column, a letter for each row in the first."""
    for part in parts:
        _tell(part)
    rows = [
        (chr(97 + n) + ")", p.name, _amount(p), f"{p.count} pieces" if p.count else "-") for n, p in enumerate(parts)
    ]
    return ".md", _bars(["", "Graded work", "Portion", "Volume"], rows)


def sentences_in_cells(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """A column of text that says number and rule."""
    for part in parts:
        _tell(part, drop=True)
    rows = []
    for p in parts:
        said = f"There are {p.count} of them. " if p.count else "Details in class. "
        said += f"Your best {p.best} count." if p.best else f"The {p.drop} lowest are dropped." if p.drop else ""
        rows.append((p.name, said.strip(), _amount(p)))
    return ".md", _bars(
        ["Element", "Description", "% of total" if parts[0].weight is not None else "Max. points"], rows
    )


def ordered_html(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """An ordered list, the amounts in bold first."""
    for part in parts:
        _tell(part)
    items = [f"<li><b>{_amount(p)}</b>: {p.name}{f', {p.count} in total' if p.count else ''}</li>" for p in parts]
    return ".html", f"<ol>{''.join(items)}</ol>"


def plain_lines(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """'Labs (10 of them) 20%', lines without a mark."""
    for part in parts:
        _tell(part)
    return ".txt", "\n".join(f"{p.name}{f' ({p.count} of them)' if p.count else ''} {_amount(p)}" for p in parts)


def total_in_heading(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Bare numbers; the heading says what they are and that they make a whole."""
    for part in parts:
        _tell(part)
    whole = sum((p.weight if p.weight is not None else p.points) or 0 for p in parts)
    unit = "Percent (of 100)" if parts[0].weight is not None else f"Points (of {whole})"
    rows = [(p.name, p.count or 1, p.weight if p.weight is not None else p.points) for p in parts]
    return ".md", _bars(["Work", "Count", unit], rows)


def run_on(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """'The grade: Labs (10) 20%, essay 30% and so on', in one sentence."""
    for part in parts:
        _tell(part)
    said = [f"{f'{p.count} ' if p.count else ''}{p.name[0].lower() + p.name[1:]} ({_amount(p)})" for p in parts]
    return ".txt", "The grade is made up of " + ", ".join(said[:-1]) + f" and {said[-1]}."


def weight_in_name(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """The amount in brackets behind the name, the number in a column of its own."""
    for part in parts:
        _tell(part)
    return ".md", _bars(
        ["Part of the course", "Times"], [(f"{p.name} ({_amount(p)})", p.count or "once") for p in parts]
    )


def lead_in_list(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Items that are whole sentences."""
    for part in parts:
        _tell(part)
    lines = []
    for p in parts:
        named = f"The {p.count} {p.name.lower()}" if p.count else p.name
        lines.append(
            f"- {named} - in sum {_amount(p)} - {'are due on Fridays' if p.count else 'comes late in the term'}."
        )
    return ".md", "\n".join(lines)


def two_line_cells(parts: Sequence[Part], random: Random) -> tuple[str, str]:
    """Cells with a second line that tells the number and the rule."""
    for part in parts:
        _tell(part, drop=True)
    rows = []
    for p in parts:
        below = "; ".join(
            w for w in (f"{p.count} of them" if p.count else "", _rule(p) if p.drop or p.best else "") if w
        )
        rows.append(f"<tr><td>{p.name}<br>{below}</td><td>{_amount(p)}</td></tr>")
    return ".html", f"<table><tr><th>Task</th><th>Value</th></tr>{''.join(rows)}</table>"


SEEN: Sequence[Layout] = (
    plain_bars, bullets, dotted, with_total, amount_first, odd_headings, product_cells, spanned_html, definition_html,
    nested_bullets, gap_columns, transposed, grouped_list, heading_rows_html, each_column, paragraph_labels, numbered,
    weight_middle, sentences_in_cells, ordered_html, plain_lines, total_in_heading, run_on,
)  # fmt: skip
UNSEEN: Sequence[Layout] = (weight_in_name, lead_in_list, two_line_cells)
