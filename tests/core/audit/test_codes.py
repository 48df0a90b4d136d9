"""Every code declared once: its level, its step and its fix."""

import re

from tests.builders import course
from tests.core.audit.looked_at import GOOD
from vinemark.core.audit.codes import CODES, fixes_of
from vinemark.core.audit.finding import LEVELS, Finding, FixFacts


def test_every_code_says_what_it_is() -> None:
    assert len(CODES) == 103
    for name, code in CODES.items():
        assert re.fullmatch(r"[a-z]+(-[a-z]+)*", name)
        assert code.level in LEVELS
        assert code.check.__doc__
        assert code.name[0].isupper()


def test_a_step_follows_from_where_the_check_looks() -> None:
    steps = {name: CODES[name].step for name in ("weights-off", "blank-waits", "twin", "unsettled")}
    assert steps == {"weights-off": "plan", "blank-waits": "scores", "twin": "settle", "unsettled": "settle"}


def test_a_code_without_a_fix_has_to_be_looked_at() -> None:
    of = course(GOOD, {"ada": ["9", "8"]})

    def finding(code: str, facts: FixFacts) -> Finding:
        return Finding("", code=code, level="look", step="plan", category="c-i", item="i0", facts=facts)

    assert fixes_of(of, finding("twin", FixFacts())) == []
    assert fixes_of(of, finding("misfiled", FixFacts("gone"))) == []
    (fix,) = fixes_of(of, finding("misfiled", FixFacts("c-i")))
    assert fix.words == "Move it to Category i"
