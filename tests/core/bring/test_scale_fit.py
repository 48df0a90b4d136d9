"""The scale that percents and letters of a file speak for."""

from fractions import Fraction

from vinemark.core.bring.scale_fit import COMMON_SCALES, fitted_scale


def pairs(text: str) -> list[tuple[Fraction, str]]:
    return [(Fraction(p), letter) for p, letter in (one.split("=") for one in text.split())]


def test_the_scale_that_agrees_is_taken() -> None:
    tens = fitted_scale(pairs("95=A 89.9=B 71=C 60=D 12=F"))
    assert tens is not None
    assert [row.letter for row in tens] == ["A", "B", "C", "D", "F"]
    thirds = fitted_scale(pairs("95=A 92=A- 88=B+ 84=B 71=C- 98=A"))
    assert thirds is not None
    assert thirds[1].letter == "A-"
    plus = fitted_scale(pairs("95=A 92=A- 88=B+ 84=B 71=C- 98=A+ 97=A+"))
    assert plus is not None
    assert plus[0].cutoff == 97


def test_a_scale_that_fits_one_in_two_is_none() -> None:
    assert fitted_scale(pairs("95=B 85=A 92=C 88=D")) is None
    assert fitted_scale([]) is None
    assert len(COMMON_SCALES) == 3
