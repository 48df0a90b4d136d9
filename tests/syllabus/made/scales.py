"""How a scale may be printed: of letters and lowest values, in two halves that share no layout."""

from collections.abc import Callable, Mapping, Sequence
from random import Random

Rows = Sequence[tuple[str, int]]
Drawn = tuple[str, bool]
"""The text, and whether it says that F begins at 0."""
WORDS = {50: "fifty", 60: "sixty", 70: "seventy", 80: "eighty", 90: "ninety"}


def _top(rows: Rows, n: int, whole: int) -> int:
    return whole if n == 0 else rows[n - 1][1] - 1


def ranges(rows: Rows, whole: int, random: Random) -> Drawn:
    """'A 93-100', a row a line."""
    lines = [f"{letter}  {low}-{_top(rows, n, whole)}" for n, (letter, low) in enumerate(rows)]
    return "\n".join([*lines, f"F  below {rows[-1][1]}"]), True


def one_line(rows: Rows, whole: int, random: Random) -> Drawn:
    """'A: 93 and above; B: 83-92', in one sentence."""
    parts = [f"{letter}: {low}-{_top(rows, n, whole)}" for n, (letter, low) in enumerate(rows)]
    parts[0] = f"{rows[0][0]}: {rows[0][1]} and above"
    return "; ".join(parts) + ".", False


def bars(rows: Rows, whole: int, random: Random) -> Drawn:
    """A table with letters first."""
    lines = [f"| {letter} | {low} - {_top(rows, n, whole)} |" for n, (letter, low) in enumerate(rows)]
    return "\n".join(["| Letter | Range |", "|---|---|", *lines, f"| F | 0 - {rows[-1][1] - 1} |"]), True


def equals(rows: Rows, whole: int, random: Random) -> Drawn:
    """'A = 93, A- = 90'."""
    return "Cutoffs: " + ", ".join(f"{letter} = {low}" for letter, low in rows) + ".", False


def sentence(rows: Rows, whole: int, random: Random) -> Drawn:
    """'An A starts at 93, a B at 83'."""
    (first, low), *rest = rows
    return f"An {first} starts at {low}, " + ", ".join(f"a {a} at {b}" for a, b in rest) + ".", False


def two_pairs(rows: Rows, whole: int, random: Random) -> Drawn:
    """Two columns of letters and lowest values side by side."""
    half = (len(rows) + 1) // 2
    left, right = list(rows[:half]), [*rows[half:], ("F", 0)]
    lines = []
    for n in range(max(len(left), len(right))):
        cells = [*map(str, left[n] if n < len(left) else ("", "")), *map(str, right[n] if n < len(right) else ("", ""))]
        lines.append("| " + " | ".join(cells) + " |")
    return "\n".join(["| Grade | Minimum | Grade | Minimum |", "|---|---|---|---|", *lines]), True


def value_first(rows: Rows, whole: int, random: Random) -> Drawn:
    """'93% or better A', the value before the letter."""
    lines = [f"{low} or better ..... {letter}" for letter, low in rows]
    return "\n".join([*lines, f"under {rows[-1][1]} ..... F"]), True


def downwards(rows: Rows, whole: int, random: Random) -> Drawn:
    """'A: 100-93', ranges that run downwards."""
    lines = [f"{letter}: {_top(rows, n, whole)}-{low}" for n, (letter, low) in enumerate(rows)]
    return "\n".join(lines), False


def across(rows: Rows, whole: int, random: Random) -> Drawn:
    """Letters in one row, lowest values in the next."""
    head = "| " + " | ".join(letter for letter, _ in rows) + " | F |"
    line = "| " + " | ".join(f"{low}+" for _, low in rows) + f" | <{rows[-1][1]} |"
    return "\n".join([head, "|" + "---|" * (len(rows) + 1), line]), True


def sentence_back(rows: Rows, whole: int, random: Random) -> Drawn:
    """'You need 93 for an A, 83 for a B'."""
    parts = [f"{low} for an {letter}" if letter[0] == "A" else f"{low} for a {letter}" for letter, low in rows]
    return "You need " + ", ".join(parts[:-1]) + f" and {parts[-1]}; anything less is an F.", True


def inequality(rows: Rows, whole: int, random: Random) -> Drawn:
    """'83 <= B < 93'."""
    parts = [f"{low} <= {letter} < {_top(rows, n, whole) + 1}" for n, (letter, low) in enumerate(rows)]
    return ",  ".join([f"{rows[0][0]} >= {rows[0][1]}", *parts[1:]]), False


def half_open(rows: Rows, whole: int, random: Random) -> Drawn:
    """'A  100% to 93%', 'B  < 93% to 83%'."""
    lines = [
        f"| {a} | {'' if n == 0 else '< '}{_top(rows, n, whole) + (n > 0)}% to {b}% |" for n, (a, b) in enumerate(rows)
    ]
    return "\n".join(["| Letter grade | Percent |", "|---|---|", *lines, f"| F | < {rows[-1][1]}% |"]), True


def in_words(rows: Rows, whole: int, random: Random) -> Drawn:
    """'Ninety percent earns an A', where the values have such words."""
    if any(low not in WORDS for _, low in rows):
        return sentence_back(rows, whole, random)
    (first, low), *rest = rows
    return f"{WORDS[low].title()} percent or more earns an {first}, " + ", ".join(
        f"{WORDS[b]} a {a}" for a, b in rest
    ) + ".", False


def three_columns(rows: Rows, whole: int, random: Random) -> Drawn:
    """Value first, letter, grade points."""
    lines = [f"| {b}-{_top(rows, n, whole)} | {a} | {4.0 - n / 3:.2f} |" for n, (a, b) in enumerate(rows)]
    return "\n".join(["| Score | Grade | GPA |", "|---|---|---|", *lines, f"| Below {rows[-1][1]} | F | 0.00 |"]), True


def side_by_side(rows: Rows, whole: int, random: Random) -> Drawn:
    """Points of 500 beside percent: the percent counts."""
    lines = [
        f"| {a} | {b * 5}-{(_top(rows, n, whole) + (n > 0)) * 5 - (n > 0)} | {b}-{_top(rows, n, whole)}% |"
        for n, (a, b) in enumerate(rows)
    ]
    return "\n".join(
        ["| | Points | Percent |", "|---|---|---|", *lines, f"| F | 0-{rows[-1][1] * 5 - 1} | 0-{rows[-1][1] - 1}% |"]
    ), True


def letters_last(rows: Rows, whole: int, random: Random) -> Drawn:
    """'from 93 up: A / from 83 up: B', the lowest first."""
    parts = [f"from {b} up: {a}" for a, b in reversed(rows)]
    return " / ".join([f"up to {rows[-1][1] - 1}: F", *parts]), True


def parted(rows: Rows, whole: int, random: Random) -> Drawn:
    """'A (93-100), A- (90-92)', in a sentence."""
    parts = [f"{a} ({b}-{_top(rows, n, whole)})" for n, (a, b) in enumerate(rows)]
    return "The letters are " + ", ".join(parts) + f" and F (anything below {rows[-1][1]}).", True


def three_abreast(rows: Rows, whole: int, random: Random) -> Drawn:
    """Typed columns, three letters to a line."""
    cells = [f"{a:<3}{b}-{_top(rows, n, whole)}" for n, (a, b) in enumerate(rows)] + [f"F  0-{rows[-1][1] - 1}"]
    lines = ["".join(f"{c:<18}" for c in cells[n : n + 3]).rstrip() for n in range(0, len(cells), 3)]
    return "\n".join(lines), True


def at_least(rows: Rows, whole: int, random: Random) -> Drawn:
    """'At least 93: A', the value in words before the letter."""
    lines = [f"* at least {b}%: {a}" for a, b in rows]
    return "\n".join([*lines, f"* less than {rows[-1][1]}%: F"]), True


def spoken(rows: Rows, whole: int, random: Random) -> Drawn:
    """'For an A I expect 93 or more, for a B 83'."""
    (first, low), *rest = rows
    said = [f"for a {a} {b}" for a, b in rest]
    return f"For an {first} I expect {low} or more, " + ", ".join(said) + ". Below that, the grade is an F.", True


def minimums(rows: Rows, whole: int, random: Random) -> Drawn:
    """A table with the letters in the middle and words around."""
    lines = [f"| {'To earn' if n == 0 else 'or'} | {a} | you need at least | {b} |" for n, (a, b) in enumerate(rows)]
    return "\n".join(["| | Letter | | Out of 100 |", "|---|---|---|---|", *lines]), False


def colons_back(rows: Rows, whole: int, random: Random) -> Drawn:
    """'93-100: A', a line each."""
    lines = [f"{b}-{_top(rows, n, whole)}: {a}" for n, (a, b) in enumerate(rows)]
    return "\n".join([*lines, f"{rows[-1][1] - 1} or less: F"]), True


def dollars(rows: Rows, whole: int, random: Random) -> Drawn:
    """'A >= 93 > A- >= 90', a chain."""
    return "Letters follow this list. " + " ".join(f"{a} >= {b}," for a, b in rows)[:-1] + ".", False


def plus_signs(rows: Rows, whole: int, random: Random) -> Drawn:
    """'93+ = A'."""
    return " | ".join(f"{b}+ = {a}" for a, b in rows) + f" | under {rows[-1][1]} = F", True


def said_minus(rows: Rows, whole: int, random: Random) -> Drawn:
    """'93 percent is an A, 90 percent an A minus'."""
    named = [(a.replace("-", " minus").replace("+", " plus"), b) for a, b in rows]
    (first, low), *rest = named
    return f"{low} percent is an {first}, " + ", ".join(
        f"{b} percent {'an' if a[0] == 'A' else 'a'} {a}" for a, b in rest
    ) + ".", False


def slashes(rows: Rows, whole: int, random: Random) -> Drawn:
    """'A/93, A-/90', strokes between letter and value."""
    return ", ".join(f"{a}/{b}" for a, b in rows) + f", F/below {rows[-1][1]}", True


def grid(rows: Rows, whole: int, random: Random) -> Drawn:
    """Value and letter in one cell, three cells to a row."""
    cells = [f"{b}-{_top(rows, n, whole)} {a}" for n, (a, b) in enumerate(rows)]
    lines = ["| " + " | ".join(cells[n : n + 3]) + " |" for n in range(0, len(cells), 3)]
    return "\n".join(lines), False


def minimum_of(rows: Rows, whole: int, random: Random) -> Drawn:
    """'the minimum for an A is 93, for a B 83'."""
    (first, low), *rest = rows
    return f"The minimum for an {first} is {low}, " + ", ".join(f"for a {a} {b}" for a, b in rest) + ".", False


Layout = Callable[[Rows, int, Random], Drawn]
SEEN: Sequence[Layout] = (
    ranges, one_line, bars, equals, sentence, value_first, two_pairs, downwards, across, sentence_back, inequality,
    half_open, in_words, three_columns, side_by_side, letters_last, parted, three_abreast, at_least, spoken, minimums,
    colons_back, dollars, plus_signs, said_minus,
)  # fmt: skip
UNSEEN: Sequence[Layout] = (slashes, grid, minimum_of)
PERCENT_ONLY = frozenset(
    {"half_open", "in_words", "three_columns", "side_by_side", "at_least", "said_minus", "minimums"}
)
SCALES: Mapping[str, Rows] = {
    "tens": [("A", 90), ("B", 80), ("C", 70), ("D", 60)],
    "fine": [("A", 93), ("A-", 90), ("B+", 87), ("B", 83), ("B-", 80), ("C+", 77), ("C", 73), ("C-", 70), ("D", 60)],
    "hard": [("A", 94), ("B", 86), ("C", 78), ("D", 70)],
    "plus": [("A+", 97), ("A", 92), ("B+", 86), ("B", 82), ("C+", 76), ("C", 71), ("D", 64)],
}
