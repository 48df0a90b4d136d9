"""What was found, in a sentence."""

from tests.core.bring.files import reading
from vinemark.core.bring.columns import first_columns
from vinemark.core.bring.found import found_words
from vinemark.core.plan.edit import empty_plan


def words(text: str | None = None) -> str:
    found = reading(text) if text else reading()
    return found_words(found, first_columns(found, empty_plan()))


def test_everything_that_was_found_is_said() -> None:
    assert words() == (
        "4 students, 3 columns of scores, a row of points possible, a row of averages or counts, a column of totals, "
        "a column of letters"
    )


def test_a_class_list_has_no_scores() -> None:
    assert words("ID,Family name,Given name,Status\n1,Ode,Marit,\n2,Pell,Jonas,withdrawn\n") == (
        "2 students, 1 withdrawn or auditing"
    )
