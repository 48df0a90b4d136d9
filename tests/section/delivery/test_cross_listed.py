"""A section with two rosters: one signature, each grade where its student is, and nothing twice or lost in between."""

from collections.abc import Sequence

import httpx
import pytest

from tests.section.conftest import NOW, House
from tests.web.conftest import Weather
from vinemark.core.base.refused import Refused
from vinemark.office import ledger
from vinemark.office.client import OfficeClient
from vinemark.section.acts import create, registrar
from vinemark.section.acts.move import everybody, looked_at_move, teach_as_one
from vinemark.section.acts.registrar import RosterAdded
from vinemark.section.acts.submit import check_copy, send, sign
from vinemark.section.delivery.cross_listed import CrossListed
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Done
from vinemark.section.state import SectionState
from vinemark.store.database import connect
from vinemark.store.history import Act

EMAIL = "maren.ostrander@larkmoor.example"
FIRST, SECOND = "2026FA-FIBR120-01", "2026FA-ARTS120-01"
SHORT = "FIBR 120-01"


class Cut(httpx.BaseTransport):
    """Between the application and the registrar: what is sent to one of its sections is not answered."""

    def __init__(self, weather: Weather, ref: str) -> None:
        self.weather, self.ref, self.lost = weather, ref, False

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        sent = request.method == "POST" and self.ref in str(request.url)
        answer = self.weather.handle_request(request) if not sent or self.lost else None
        if sent:
            raise httpx.RemoteProtocolError("cut") if self.lost else httpx.ConnectError("cut")
        assert answer is not None
        return answer


@pytest.fixture
def two(house: House) -> House:
    """The registrar has half of the class under another name; under the first one they are withdrawn."""
    office = connect(house.folder / "office.sqlite")
    rows = office.execute("SELECT * FROM roster WHERE section = ? ORDER BY place", (FIRST,)).fetchall()
    half = [dict(row) for row in rows[::2]]
    values = {"ref": SECOND, "term": "2026FA", "course": "ARTS 120", "title": "Loom Studio", "number": "01",
              "instructor": EMAIL}  # fmt: skip
    ledger.add_section(office, values, half)
    office.executemany(
        "UPDATE roster SET status = 'withdrawn' WHERE section = ? AND id = ?", [(FIRST, one["id"]) for one in half]
    )
    office.commit()
    office.close()
    return house


def held(house: House, ref: str) -> Sequence[str]:
    return sorted(row.id for row in OfficeClient("http://office", "token", house.weather)
                  .for_instructor(EMAIL).held(ref, "final").rows)  # fmt: skip


def linked(house: House) -> SectionState:
    section = house.section(SHORT)
    registrar.update(section, house.act(section), house.gateway)
    said = registrar.add_roster(section, house.act(section), house.gateway, EMAIL, SECOND)
    assert isinstance(said, Done)
    assert "ARTS 120-01 added" in said.text
    return house.section(SHORT)


def signed(house: House) -> SectionState:
    section = linked(house)
    done = sign(section, house.act(section), reason="looked at")
    assert isinstance(done, Done)
    return house.section(SHORT)


def test_what_a_roster_would_bring_is_said_first(two: House) -> None:
    section = two.section(SHORT)
    registrar.update(section, two.act(section), two.gateway)
    section = two.section(SHORT)
    found = registrar.added_roster(section, two.gateway, EMAIL, SECOND)
    assert isinstance(found, RosterAdded)
    assert len(found.here) == 7
    assert not found.not_here
    assert section.record.office_ref == FIRST


def test_two_rosters_are_one_and_the_class_fits_them(two: House) -> None:
    section = linked(two)
    assert section.record.office_ref == f"{FIRST} + {SECOND}"
    assert section.course.records is not None
    assert len(section.course.records.roster) == 14
    assert not [one for one in section.snapshot.audit.findings if one.code in {"off-roster", "not-in-section"}]


def test_each_grade_goes_where_its_student_is(two: House) -> None:
    section = signed(two)
    (submission,) = section.of_run.submissions
    said = send(section, two.act(section), two.gateway, submission)
    assert isinstance(said, Done)
    assert not said.trouble, said
    receipt = two.section(SHORT).of_run.submissions[-1].receipt
    assert receipt is not None
    assert (receipt.accepted, receipt.refused, receipt.digest) == (14, 0, submission.digest)
    assert receipt.history_seal == submission.history_seal
    first, second = held(two, FIRST), held(two, SECOND)
    assert (len(first), len(second)) == (7, 7)
    assert sorted([*first, *second]) == sorted(row.id for row in submission.rows)
    section = two.section(SHORT)
    assert check_copy(section, two.act(section), two.gateway) == Done(
        "Checked what the registrar has: all grades agree."
    )


@pytest.mark.parametrize("lost", [False, True])
@pytest.mark.parametrize("ref", [FIRST, SECOND])
def test_a_part_that_is_cut_is_sent_again_and_nothing_is_doubled(two: House, ref: str, lost: bool) -> None:
    section = signed(two)
    (submission,) = section.of_run.submissions
    cut = Cut(two.weather, ref)
    cut.lost = lost
    gateway = Gateway(CrossListed(OfficeClient("http://office", "token", cut)))
    said = send(section, two.act(section), gateway, submission)
    assert isinstance(said, Done)
    assert said.trouble
    (waiting,) = two.section(SHORT).of_run.submissions
    assert waiting.state == "waiting"
    # The other part arrived: nothing of it can be withdrawn.
    assert not waiting.may_be_withdrawn
    section = two.section(SHORT)
    again = send(section, two.act(section), two.gateway, waiting)
    assert isinstance(again, Done)
    assert not again.trouble, again
    assert (len(held(two, FIRST)), len(held(two, SECOND))) == (7, 7)
    office = connect(two.folder / "office.sqlite")
    sendings = office.execute(
        "SELECT count(*) FROM sending WHERE run = 'final' AND section IN (?, ?)", (FIRST, SECOND)
    ).fetchone()[0]
    office.close()
    assert sendings == 2


def test_what_reached_nobody_can_be_withdrawn(two: House) -> None:
    section = signed(two)
    (submission,) = section.of_run.submissions
    two.weather.now = "down"
    send(section, two.act(section), two.gateway, submission)
    (waiting,) = two.section(SHORT).of_run.submissions
    assert waiting.may_be_withdrawn


def test_a_roster_is_taken_away_before_anything_was_signed(two: House) -> None:
    section = linked(two)
    assert isinstance(registrar.remove_roster(section, two.act(section), two.gateway, EMAIL, FIRST), Refused)
    assert isinstance(registrar.remove_roster(section, two.act(section), two.gateway, EMAIL, SECOND), Done)
    section = two.section(SHORT)
    assert section.record.office_ref == FIRST
    assert len(section.course.students) == 14
    section = signed(two)
    assert isinstance(registrar.remove_roster(section, two.act(section), two.gateway, EMAIL, SECOND), Refused)


def test_a_roster_belongs_to_one_section(two: House) -> None:
    linked(two)
    other = two.section("BOTN 105-02")
    registrar.update(other, two.act(other), two.gateway)
    for ref in (SECOND, FIRST, "2026FA-NONE-01"):
        assert isinstance(
            registrar.add_roster(two.section("BOTN 105-02"), two.act(other), two.gateway, EMAIL, ref), Refused
        )


def second_section(house: House) -> SectionState:
    """The second roster as a section of its own, with a score of the same plan."""
    made = create.create_from_registrar(house.choose, Act(house.person, NOW), house.gateway, EMAIL, SECOND)
    assert isinstance(made, Done)
    return house.section("ARTS 120-01")


def test_two_sections_are_taught_as_one_in_one_act(two: House) -> None:
    section = two.section(SHORT)
    registrar.update(section, two.act(section), two.gateway)
    source, target = second_section(two), two.section(SHORT)
    assert source.record.office_ref == SECOND
    seen = looked_at_move(source, target, everybody(source)).seen
    said = teach_as_one(source, two.act(source, "k"), target, two.gateway, EMAIL, seen)
    assert isinstance(said, Done)
    assert "FIBR 120-01 has 14 people on its rosters" in said.text
    source, target = two.section("ARTS 120-01"), two.section(SHORT)
    assert not source.linked
    assert not everybody(source)
    assert target.record.office_ref == f"{FIRST} + {SECOND}"
    assert len(target.course.students) == 14
    # The same request once more does nothing.
    assert isinstance(teach_as_one(source, two.act(source, "k"), target, two.gateway, EMAIL, seen), Done)
    assert two.section(SHORT).record.office_ref == f"{FIRST} + {SECOND}"
    assert isinstance(sign(target, two.act(target), reason="looked at"), Done)
    send(target, two.act(target), two.gateway, two.section(SHORT).of_run.submissions[-1])
    assert (len(held(two, FIRST)), len(held(two, SECOND))) == (7, 7)


def test_a_registrar_that_does_not_answer_moves_nobody(two: House) -> None:
    section = two.section(SHORT)
    registrar.update(section, two.act(section), two.gateway)
    source, target = second_section(two), two.section(SHORT)
    seen = looked_at_move(source, target, everybody(source)).seen
    two.weather.now = "down"
    said = teach_as_one(source, two.act(source), target, two.gateway, EMAIL, seen)
    assert isinstance(said, Done)
    assert said.trouble
    assert two.section("ARTS 120-01").linked
    assert len(everybody(two.section("ARTS 120-01"))) == 7


def test_a_section_that_has_submitted_is_not_taken_in(two: House) -> None:
    source, target = two.section(SHORT), two.section("BOTN 105-02")
    seen = looked_at_move(source, target, everybody(source)).seen
    said = teach_as_one(source, two.act(source), target, two.gateway, EMAIL, seen)
    assert isinstance(said, Refused)
    assert said.field == "to"
    assert everybody(two.section(SHORT))
