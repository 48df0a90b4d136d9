"""What several databases bring and cost: saves a second that one database commits, and two on one disk; and what a page
of a second machine costs, which asks the first who is signed in, over the same page on the first.

Ratios within one run; the pairs are taken in turn.
"""

import multiprocessing
import statistics
import tempfile
import time
from collections.abc import Callable, Sequence
from contextlib import closing
from datetime import datetime
from fractions import Fraction
from pathlib import Path

from tests.bench import make
from tests.bench_server import PAIRS, spent
from tests.served import EMAIL, Served, Typist
from vinemark.core.course.databases import SPAN
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import people, sections
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act
from vinemark.store.numbered import KnownPerson, know_person, number_database
from vinemark.store.scores import write_cells

WRITERS, SAVING_SECONDS, PAGES = 4, 3.0, 10
AT = datetime(2026, 12, 19, 10)
LISTED = """
home.address = "http://127.0.0.1:{}"

[[database]]
number = 1
file = "second.sqlite"
departments = ["GEOL"]
address = "http://127.0.0.1:{}"
"""


def second_database(first: Served) -> Path:
    """A database of its own with a section of the same person."""
    path = first.folder / "second.sqlite"
    with closing(connect(first.database)) as home:
        person = people.by_email(home, EMAIL)
    assert person is not None
    with closing(connect(path)) as connection:
        migrate(connection)
        number_database(connection, 1)
        know_person(connection, KnownPerson(person["id"], person["name"], person["email"], person["created_at"]))
        sections.create_from_course(connection, Act(person["id"], AT), make(34, 5, 5))
    return path


def _save(path: str, section: int, begin: float, done: "multiprocessing.Queue[int]") -> None:
    with closing(connect(path)) as connection:
        person = connection.execute("SELECT person_id FROM section_person").fetchone()[0]
        time.sleep(max(0.0, begin - time.time()))
        many = 0
        while time.time() < begin + SAVING_SECONDS:
            cell = CellWrite("S1", "c0i0", Fraction(many % 9), None)
            write_cells(connection, Act(person, AT, section), [cell], "typed")
            many += 1
    done.put(many)


def saves_a_second(places: Sequence[tuple[str, int]]) -> float:
    """Of as many processes at once as there are writers, shared out to these databases."""
    done: multiprocessing.Queue[int] = multiprocessing.Queue()
    begin = time.time() + 1
    working = [
        multiprocessing.Process(target=_save, args=(*places[number % len(places)], begin, done))
        for number in range(WRITERS)
    ]
    for one in working:
        one.start()
    found = sum(done.get() for _ in working)
    for one in working:
        one.join()
    return found / SAVING_SECONDS


def told(name: str, figures: Sequence[tuple[float, float]], unit: str, most: float = 0, least: float = 0) -> None:
    """One line: both figures, their ratio, and whether it is as it should be."""
    ratio = statistics.median(a / b for a, b in figures)
    first, second = (statistics.median(column) for column in zip(*figures, strict=True))
    word = "met" if (ratio <= most if most else ratio >= least) else "NOT MET"
    print(f"{name:44} {first:8.1f} {unit}  {second:8.1f} {unit}  ratio {ratio:5.2f}  aim {most or least:g}  {word}")


def saving(folder: Path) -> None:
    """Two databases on one disk over one."""
    first = Served(folder, 1)
    first.prepare([make(34, 5, 5)])
    one, two = (first.database, 1), (str(second_database(first)), SPAN + 1)
    figures = [(saves_a_second([one, two]), saves_a_second([one])) for _ in range(3)]
    told("saves, two databases on one disk / one", figures, "a second", least=1)


def asking(folder: Path) -> None:
    """Pages of a second machine over the same of the first."""
    listed = folder / "databases.toml"
    shared = {"VINEMARK_DATABASES": str(listed), "VINEMARK_SECRET": "known to both machines and to nobody else"}
    first = Served(folder, 1, settings={**shared, "VINEMARK_SERVES": "0"})
    (folder / "elsewhere").mkdir()
    second = Served(folder / "elsewhere", 1, settings={**shared, "VINEMARK_SERVES": "1"})
    listed.write_text(LISTED.format(first.port, second.port), encoding="utf-8")
    first.prepare([make(34, 5, 5)])
    second_database(first)
    first.start()
    second.start()
    try:
        typist = Typist(first.port)
        assert first.process is not None
        assert second.process is not None
        pids = first.process.pid, second.process.pid

        def page(port: int, section: int) -> float:
            typist.port = port

            def asked() -> None:
                for number in range(PAGES):
                    typist.type("S1", "c0i0", f"{number % 19 / 2:g}", section)
                    assert typist.ask("GET", f"/s/{section}/scores")[0] == 200

            return 1000 * (spent(pids[0], asked) if port == first.port else sum(_both(pids, asked))) / PAGES

        page(first.port, 1), page(second.port, SPAN + 1)
        figures = [(page(second.port, SPAN + 1), page(first.port, 1)) for _ in range(PAIRS)]
        told("a save and a page, second machine / first", figures, "ms CPU", most=1.2)
    finally:
        first.stop()
        second.stop()


def _both(pids: tuple[int, int], act: Callable[[], object]) -> tuple[float, float]:
    inner: list[float] = []
    outer = spent(pids[0], lambda: inner.append(spent(pids[1], act)))
    return outer, inner[0]


if __name__ == "__main__":
    for part in (saving, asking):
        with tempfile.TemporaryDirectory(dir="build" if Path("build").is_dir() else None) as made:
            part(Path(made))
