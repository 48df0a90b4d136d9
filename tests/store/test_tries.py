"""How long the next try to sign in waits."""

import pytest

from tests.store.conftest import Kept
from vinemark.store import tries

EMAIL = "a@b"


def wrong(
    kept: Kept, many: int, *, email: str = EMAIL, address: str = "here", device: str = "", at: float = 100
) -> None:
    """So many tries that were not right, whatever they waited for."""
    for _ in range(many):
        kept.connection.execute(
            "INSERT INTO sign_in_failure (email, address, device, at) VALUES (?, ?, ?, ?)", (email, address, device, at)
        )


def wait(kept: Kept, *, email: str = EMAIL, address: str = "here", device: str = "", at: float = 101) -> int:
    return tries.note_try(kept.connection, email, address, device, at)


def test_the_sixth_try_waits_and_each_further_one_twice_as_long(kept: Kept) -> None:
    assert [wait(kept, at=100) for _ in range(5)] == [0] * 5
    assert wait(kept, at=101) == 4
    assert wait(kept, email=" A@B", at=101) == 4
    assert wait(kept, at=105) == 0
    assert wait(kept, at=106) == 9
    assert wait(kept, at=105 + tries.WINDOW_SECONDS + 1) == 0


def test_the_longest_wait_is_a_quarter_of_an_hour(kept: Kept) -> None:
    wrong(kept, 40)
    assert wait(kept, at=100) == tries.WINDOW_SECONDS


def test_wrong_tries_elsewhere_keep_nobody_out(kept: Kept) -> None:
    wrong(kept, 20)
    assert wait(kept, address="elsewhere") == 0
    assert wait(kept, email="other@b") == 0


def test_tries_from_everywhere_slow_down_strangers_and_not_a_known_device(kept: Kept) -> None:
    for number in range(tries.ALL_TRIES):
        wrong(kept, 1, address=f"10.0.0.{number}")
    assert wait(kept, address="new") == tries.SHORT_PAUSE - 1
    assert wait(kept, address="new", device="mine") == 0
    assert wait(kept, address="new", at=100 + tries.SHORT_PAUSE) == 0


def test_one_address_over_many_people_is_slowed_down_late(kept: Kept) -> None:
    for number in range(tries.TRIES_FROM_ONE_ADDRESS - 1):
        wrong(kept, 1, email=f"p{number}@b")
    assert wait(kept) == 0
    assert wait(kept, email="new@b") > 0
    assert wait(kept, email="new@b", device="theirs") == 0


def test_a_known_device_has_tries_of_its_own(kept: Kept) -> None:
    wrong(kept, 5, device="mine")
    assert wait(kept, device="mine") > 0
    assert wait(kept) == 0
    assert wait(kept, device="another") == 0


@pytest.mark.parametrize("device", ["", "mine"])
def test_a_right_one_forgets_those_of_its_place(kept: Kept, device: str) -> None:
    wrong(kept, 5, device=device)
    wrong(kept, 5, address="elsewhere")
    tries.clear_tries(kept.connection, EMAIL, "here", device)
    assert wait(kept, device=device) == 0
    assert wait(kept, address="elsewhere") > 0
