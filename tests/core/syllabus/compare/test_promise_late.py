"""Rules for late work, in the ways that syllabuses say them."""

from tests.core.syllabus.compare.promised import check


def test_late_work() -> None:
    a_day = "Late work loses {}% of the item's points a day"
    check(
        [
            ("Late labs lose 10% per day.", f"Labs: {a_day.format(10)}"),
            ("Late work loses 5 percent of its score for every day, up to 50%.",
             "Every category: Late work loses 5% of its score a day, at most 50%"),
            ("Each student has three free late days; after that, late labs lose 10% a day.",
             f"Labs: {a_day.format(10)}; 3 free days a student in the category"),
            ("Homework turned in late is penalized 10% per calendar day and is not accepted after 5 days.",
             f"Every category: {a_day.format(10)}; more than 5 days late counts as 0"),
            ("Late submissions are accepted for up to 3 days at a penalty of 20% per day.",
             f"Every category: {a_day.format(20)}; more than 3 days late counts as 0"),
            ("There is a 24-hour grace period; after it late work loses 15% each day.",
             f"Every category: {a_day.format(15)}; the first day of an item costs nothing"),
            ("A late lab loses 2 points per day.", f"Labs: {a_day.format(10)}"),
            ("I take off 5% for each day a lab is late; after a week it earns no credit.",
             f"Labs: {a_day.format(5)}; more than 7 days late counts as 0"),
            ("Late labs will not be accepted.", f"Labs: {a_day.format(100)}"),
            ("Late labs are graded out of 80% on the first day and 60% on the second.", "open: per_day"),
        ]
    )  # fmt: skip
