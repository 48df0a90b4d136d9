"""Tables of a PDF whose cells have lines drawn around them."""

from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Any, NamedTuple

from vinemark.exchange.syllabus_tables import MOST_ROWS_READ, MOST_TABLE_COLUMNS, cell_line

Word = dict[str, Any]
Bounds = tuple[float, float, float, float]
"""Left, top, right, bottom."""
MOST_LINES_DRAWN = 3_000
"""A page with more of them is a drawing."""
MOST_CROSSINGS = 4_000
SEVERAL_LINES = 3
MOST_BOXES = 50
A_HAIR = 2.0


class RuledTable(NamedTuple):
    """A table with the words of each place, row by row; a cell over several places is in each of them."""

    box: Bounds
    rows: list[list[list[list[Word]]]]
    """Of a row its places, of a place its lines, of a line its words."""

    @property
    def arranges(self) -> bool:
        """Whether it only arranges the page: a cell holds several lines that were broken on purpose."""
        return any(_breaks(cell) >= SEVERAL_LINES for row in self.rows for cell in row)

    @property
    def stands_beside(self) -> bool:
        """Whether it is a box of one cell, with the running text beside it."""
        return len(self.rows) == 1 and len(self.rows[0]) == 1

    def leaves(self, words: Sequence[Word]) -> list[Word]:
        """The words that come after it: those below, and those beside a box."""
        held = {id(word) for cell in self.cells() for word in cell} if self.stands_beside else set()
        top = self.box[1] if self.stands_beside else self.box[3]
        return [word for word in words if height_of(word) > top and id(word) not in held]

    def texts(self) -> Iterator[list[str]]:
        """The rows as text; a line of its own in a cell is told from the one above it."""
        for row in self.rows:
            yield [cell_line("\n".join(_joined(cell))) for cell in row]

    def cells(self) -> Iterator[list[Word]]:
        """The words of each cell once, row by row."""
        seen: list[int] = []
        for cell in (cell for row in self.rows for cell in row):
            words = [word for line in cell for word in line]
            if words and id(words[0]) not in seen:
                seen.append(id(words[0]))
                yield words


def word_rows(words: Sequence[Word]) -> list[list[Word]]:
    """Words as lines, from the top down and from left to right."""
    rows: list[list[Word]] = []
    for word in sorted(words, key=lambda w: (w["top"], w["x0"])):
        if rows and rows[-1][0]["top"] - 1 <= height_of(word) <= rows[-1][0]["bottom"] + 1:
            rows[-1].append(word)
        else:
            rows.append([word])
    return [sorted(row, key=lambda w: float(w["x0"])) for row in rows]


def height_of(word: Word) -> float:
    """Where the middle of a word stands, from the top."""
    return float(word["top"] + word["bottom"]) / 2


def ruled_tables(page: Any, words: Sequence[Word]) -> list[RuledTable]:
    """The tables of a page that hold every word at their height, from the top down."""
    if len(page.lines) + len(page.rects) + len(page.curves) > MOST_LINES_DRAWN or _crossings(page) > MOST_CROSSINGS:
        return []
    filled = [_filled(table, words) for table in page.find_tables()]
    found = [table for table in filled if table is not None]
    for rect in page.rects[:MOST_BOXES]:
        bounds = (float(rect["x0"]), float(rect["top"]), float(rect["x1"]), float(rect["bottom"]))
        alone = all(table.box[3] < bounds[1] or bounds[3] < table.box[1] for table in found)
        box = _box(bounds, words) if alone else None
        found += [box] if box is not None else []
    return sorted(found, key=lambda table: table.box[1])


def _crossings(page: Any) -> int:
    """At most so many places where lines across and down can meet."""
    down = {round(edge["x0"]) for edge in page.edges if edge["orientation"] == "v"}
    across = {round(edge["top"]) for edge in page.edges if edge["orientation"] == "h"}
    return len(down) * len(across)


def _filled(table: Any, words: Sequence[Word]) -> RuledTable | None:
    inner = [word for word in words if table.bbox[1] <= height_of(word) <= table.bbox[3]]
    rows = table.rows[:MOST_ROWS_READ]
    if len(rows) < 2 or not 2 <= len(rows[0].cells) <= MOST_TABLE_COLUMNS:
        return None
    columns = [_middle([row.cells[c] for row in rows]) for c in range(len(rows[0].cells))]
    lines = {cell: word_rows([word for word in inner if _in(cell, word)]) for cell in table.cells}
    filled = []
    for row in rows:
        y = (row.bbox[1] + row.bbox[3]) / 2
        filled.append([lines.get(cell, []) for cell in (_cell_at(table.cells, x, y) for x in columns)])
    held = {id(word) for row in filled for cell in row for line in cell for word in line}
    return RuledTable(table.bbox, filled) if held and all(id(word) in held for word in inner) else None


def _box(bounds: Bounds, words: Sequence[Word]) -> RuledTable | None:
    """A box with lines of its own beside running text; None where it holds a line or two, or nothing stands beside."""
    inner = [word for word in words if bounds[1] <= height_of(word) <= bounds[3]]
    lines = word_rows([word for word in inner if _in(bounds, word)])
    beside = word_rows([word for word in inner if not _in(bounds, word)])
    cut = any(word["x0"] < edge < word["x1"] for word in inner for edge in (bounds[0], bounds[2]))
    return None if cut or min(len(lines), len(beside)) < SEVERAL_LINES else RuledTable(bounds, [[lines]])


def _middle(cells: Sequence[Bounds | None]) -> float:
    """The middle of the narrowest of some cells, from the left; outside where there is none."""
    return min(((right - left, (left + right) / 2) for left, _, right, _ in filter(None, cells)), default=(0, -1.0))[1]


def _cell_at(cells: Sequence[Bounds], x: float, y: float) -> Bounds | None:
    return next((cell for cell in cells if cell[0] <= x <= cell[2] and cell[1] <= y <= cell[3]), None)


def _in(box: Bounds | None, word: Word) -> bool:
    if box is None:
        return False
    return bool(box[0] <= (word["x0"] + word["x1"]) / 2 <= box[2] and box[1] <= height_of(word) <= box[3])


def _breaks(cell: Sequence[list[Word]]) -> int:
    """How many lines of a cell end before they had to."""
    return sum(_ends_early(cell, above, below) for above, below in pairwise(cell))


def _ends_early(cell: Sequence[list[Word]], above: list[Word], below: list[Word]) -> bool:
    """Whether the first word below would have had room at the end of the line above."""
    right = max(float(line[-1]["x1"]) for line in cell)
    first = float(below[0]["x1"] - below[0]["x0"])
    air = float(above[0]["bottom"] - above[0]["top"]) / 3
    return float(above[-1]["x1"]) + air + first < right - A_HAIR


def _joined(cell: Sequence[list[Word]]) -> Iterator[str]:
    """The lines of a cell, wrapped ones put together."""
    text = ""
    for place, line in enumerate(cell):
        words = " ".join(str(word["text"]) for word in line)
        if place and _ends_early(cell, cell[place - 1], line):
            yield text
            text = words
        else:
            text = f"{text} {words}".strip()
    yield text
