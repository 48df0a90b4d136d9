"""Where the match of syllabus and plan stands: rules with their notes, what is still open, whether it is signed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.plan.plan import Plan
from vinemark.core.syllabus.compare.match import Rule, compare_rules
from vinemark.core.syllabus.compare.promises import held_by
from vinemark.core.syllabus.facts import About, Reading, Unread


@dataclass(frozen=True)
class Noted:
    """A rule, and the note that stands on it while it says the same."""

    rule: Rule
    note: str = ""

    @property
    def open(self) -> bool:
        """Still to be looked at: it does not agree and nothing is noted."""
        return self.rule.state != "agrees" and not self.note


ABOUT_WORDS: Mapping[About, str] = {
    "late": "late work",
    "replacement": "replaced score",
    "alternative": "other weights",
    "requirement": "requirement",
    "attendance": "attendance",
    "curve": "curve",
}
"""What a rule that no plan holds yet is about, in words."""


@dataclass(frozen=True)
class UnreadNoted:
    """A clause that no fact can hold: how it is handled, and whether the plan has a rule of its kind."""

    clause: Unread
    note: str = ""
    held: bool = False

    @property
    def open(self) -> bool:
        """Still a promise of which neither a rule nor a remark takes care."""
        return self.clause.about is not None and not self.held and not self.note

    @property
    def key(self) -> str:
        """What its note is kept under."""
        return f"unread:{self.clause.text[:80]}"


@dataclass(frozen=True)
class Agreed:
    """Rules of one category (or of the course) that agree, and the clause they rest on."""

    category: str
    names: Sequence[str]
    keys: Sequence[str]
    clause: str


def _clause(rule: Rule) -> str:
    return rule.clauses[0].text if rule.clauses else ""


@dataclass(frozen=True)
class Match:
    """All rules and clauses with their notes."""

    rules: Sequence[Noted]
    unread: Sequence[UnreadNoted]

    @property
    def open(self) -> list[Noted]:
        """Rules that do not agree and are not noted."""
        return [found for found in self.rules if found.open]

    @property
    def waiting(self) -> list[UnreadNoted]:
        """Sentences that no rule of the plan holds and no remark takes care of."""
        return [found for found in self.unread if not found.note and not found.held]

    @property
    def agreed(self) -> list["Agreed"]:
        """Rules that agree, those of one category together."""
        found: list[Agreed] = []
        for rule in (noted.rule for noted in self.rules if noted.rule.state == "agrees"):
            last = found[-1] if found else None
            if last is not None and rule.said_category is not None and last.category == rule.said_category:
                found[-1] = Agreed(
                    last.category, [*last.names, rule.name], [*last.keys, rule.key], last.clause or _clause(rule)
                )
            else:
                found.append(Agreed(rule.said_category or "", [rule.name], [rule.key], _clause(rule)))
        return found

    @property
    def agreeing(self) -> int:
        """How many rules agree."""
        return sum(found.rule.state == "agrees" for found in self.rules)

    @property
    def open_words(self) -> list[str]:
        """The open differences as lines."""
        return [difference(found.rule) for found in self.open]


def difference(rule: Rule) -> str:
    """A rule that does not agree, in words: 'Survey report, weight: the syllabus says 30%, the plan has 25%'."""
    what = (
        f"{rule.said_category}, {rule.name}"
        if rule.said_category and rule.name != "category"
        else rule.name.capitalize()
    )
    if rule.state == "not in the syllabus":
        return f"{what}: {rule.has}; the syllabus says nothing of it"
    if rule.state == "not in the plan":
        return f"{rule.said}: the plan has no such category"
    return f"{what}: the syllabus says {rule.said}, the plan has {rule.has}"


def said_of(rule: Rule) -> str:
    """What a note on a rule rests on: it counts only while both sides stay the same."""
    return f"{rule.state}|{rule.said}|{rule.has}"


def match_plan(plan: Plan, reading: Reading, notes: Mapping[str, tuple[str, str]], adjusted: bool = False) -> Match:
    """The match with its notes, each (said, note) by key; `adjusted`: whether any student has an adjustment."""
    rules = [Noted(rule, _note(notes, rule.key, said_of(rule))) for rule in compare_rules(plan, reading)]
    unread = [
        UnreadNoted(
            u, _note(notes, UnreadNoted(u).key, u.text), u.about is not None and held_by(plan, u.about, adjusted)
        )
        for u in reading.unread
    ]
    return Match(rules, unread)


def _note(notes: Mapping[str, tuple[str, str]], key: str, said: str) -> str:
    kept, note = notes.get(key, ("", ""))
    return note if kept == said else ""
