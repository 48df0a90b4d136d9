"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

import pytest

from vinemark.core.syllabus.read.normal import Saying
from vinemark.core.syllabus.read.policies import NONE_ROUNDED, TO_PLACE, UNREAD


@pytest.mark.parametrize("policy", [*NONE_ROUNDED, *(p for p, _ in TO_PLACE), *UNREAD], ids=lambda p: p.example)
def test_each_policy_reads_its_example(policy: Saying) -> None:
    assert policy.pattern.search(policy.example.lower())
