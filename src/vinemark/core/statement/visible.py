"""A section as one student may see it: their own row, and nothing in it that is hidden or came from it."""

from collections.abc import Collection, Sequence
from dataclasses import replace

from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.rules import Requirement


def visible_course(course: Course, student_id: str, visible: Collection[str]) -> Course:
    """The course with this one student, whose hidden work does not count yet and has no scores.

    What is worked out of it stands on visible scores alone: with other hidden scores it is the same.
    """
    student = course.student(student_id)
    cells = {item: cell for item, cell in course.scores.get(student_id, {}).items() if item in visible}
    own = course.plan_of(student_id)
    return replace(
        course,
        plan=visible_plan(own, visible),
        students=(student,) if student else (),
        scores={student_id: cells},
        syllabus=None,
        records=None,
        settled={},
        midterm={},
        adjustments={s: one for s, one in course.adjustments.items() if s == student_id},
        extensions={},
    )


def visible_plan(plan: Plan, visible: Collection[str]) -> Plan:
    """The plan with hidden items that do not count yet, without requirements that look at one of them."""
    return replace(
        plan,
        categories=tuple(_visible_category(category, visible) for category in plan.categories),
        requirements=tuple(one for one in plan.requirements if not _looks_at_hidden(one, visible)),
    )


def _visible_category(category: Category, visible: Collection[str]) -> Category:
    return replace(category, items=tuple(_visible_item(item, visible) for item in category.items))


def _visible_item(item: Item, visible: Collection[str]) -> Item:
    return item if item.id in visible else replace(item, counts=False)


def _looks_at_hidden(requirement: Requirement, visible: Collection[str]) -> bool:
    item = requirement.condition.item
    return item is not None and item not in visible


def left_out(plan: Plan, visible: Collection[str]) -> Sequence[Requirement]:
    """Requirements that cannot be looked at yet."""
    return [one for one in plan.requirements if _looks_at_hidden(one, visible)]
