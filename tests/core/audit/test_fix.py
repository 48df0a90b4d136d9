"""The one act that mends a finding."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

from tests.builders import category, course, plan
from tests.core.audit.looked_at import FULL, GOOD
from vinemark.core.audit import fix
from vinemark.core.audit.finding import Finding, FixFacts
from vinemark.core.course.course import Settled
from vinemark.core.plan.plan import Plan

CLASS = course(GOOD, FULL, settled={"ada": Settled("F", "reason")})


def finding(**options: object) -> Finding:
    return Finding("", code="x", level="look", step="plan", **options)  # type: ignore[arg-type]


def edited(found: fix.Fix | None, of: Plan = GOOD) -> Plan:
    assert found is not None
    assert found.plan is not None
    return found.plan(of)


def test_what_is_open_is_given_to_the_one_category_that_lacks_it() -> None:
    of = plan(category("10", weight="60"), category("10", weight=None, prefix="j"))
    facts = FixFacts(target="c-j", amount=Fraction(40))
    found = fix.give_what_is_open(replace(CLASS, plan=of), finding(facts=facts))
    assert found is not None
    assert found.words == "Give 40 to Category j"
    assert [c.weight for c in edited(found, of).categories] == [60, 40]
    assert fix.give_what_is_open(CLASS, finding()) is None
    assert fix.give_what_is_open(CLASS, finding(facts=FixFacts(target="c-i"))) is None


def test_blanks_become_0_everywhere_but_in_extra_credit() -> None:
    bonus = replace(category("5", prefix="x"), extra=True)
    of = plan(*GOOD.categories, bonus)
    assert [c.blanks for c in edited(fix.count_blanks_as_zero(CLASS, finding()), of).categories] == ["zero", "wait"]


def test_an_item_counts_is_extra_or_is_only_planned() -> None:
    here = finding(category="c-i", item="i1")
    for make, flags in (
        (fix.let_item_count, (False, True)),
        (fix.make_item_extra, (True, True)),
        (fix.make_item_planned, (False, False)),
    ):
        one, two = edited(make(CLASS, here)).categories[0].items
        assert one == GOOD.categories[0].items[0]
        assert (two.extra, two.counts) == flags
    assert fix.make_item_extra(CLASS, finding(category="c-i")) is None


def test_cells_and_settled_grades() -> None:
    assert fix.write_amount(CLASS, finding(student="ada", item="i0", facts=FixFacts(amount=Fraction(17, 2)))).cells == {
        ("ada", "i0"): Fraction(17, 2)
    }
    assert fix.remove_grade(CLASS, finding(student="ada")).settled == {"ada": None}
    settled = fix.settle_as_computed(CLASS, finding(student="ada", facts=FixFacts(target="B")))
    assert settled is not None
    assert (settled.words, settled.settled) == ("Settle as computed: B", {"ada": Settled("B")})
    assert fix.settle_as_computed(CLASS, finding(student="ada")) is None
    assert fix.adding_from_roster(CLASS, finding(student="cy")).add == "cy"


def test_the_last_day_of_work_or_never() -> None:
    day = fix.write_last_attended(CLASS, finding(student="ada", facts=FixFacts(day=date(2026, 10, 2))))
    assert day.words == "Last attended Oct 2, 2026"
    assert day.settled == {"ada": Settled("F", "reason", date(2026, 10, 2))}
    never = fix.write_last_attended(CLASS, finding(student="ada"))
    assert never.settled == {"ada": Settled("F", "reason", never_attended=True)}


def test_the_blanks_of_one_student_become_missing_or_exempt() -> None:
    one, several = (finding(student="ada", facts=FixFacts(items=items)) for items in (["i1"], ["i0", "i1"]))
    missing, exempt = fix.make_blanks_missing(CLASS, one), fix.make_blanks_exempt(CLASS, several)
    assert (missing.words, missing.cells) == ("Make it missing", {("ada", "i1"): "missing"})
    assert (exempt.words, len(exempt.cells)) == ("Make all 2 exempt", 2)
    assert missing.plan is None
