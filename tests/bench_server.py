"""What typing costs the machine: CPU of the server's processes over that of a bare Flask route that saves one row, both
served alike; pages over bare pages of the same size; and an evening before the deadline.

Each ratio is the median of pairs taken in turn in one run. A typed cell is its save, the working of the student below,
three quarters of a look for what others changed, as a person asks who types a cell every three seconds, and a third of
an audit of the class: while scores are typed there is one every ten seconds.
"""

import json
import random
import signal
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from flask import Flask, Response, jsonify, render_template_string, request

from tests.bench import DAY, make
from tests.served import Served, Typist, free_port
from vinemark.commands.server import run_server
from vinemark.core.course.course import Course, Settled
from vinemark.core.grade.class_columns import grades_of

PAIRS, CELLS = 9, 6
PEOPLE, EVERY, EVENING_SECONDS, SECTIONS = 100, 3.0, 24.0, 20
PAGE = (
    "<!doctype html><table>{% for row in rows %}<tr>{% for cell in row %}<td>{{ cell }}</td>{% endfor %}</tr>"
    "{% endfor %}</table>"
)


def bare(port: int, database: str) -> None:
    """The plainest server that commits one row, and shows a page of so many cells and bytes."""
    app = Flask("bare")

    def opened() -> sqlite3.Connection:
        connection = sqlite3.connect(database, isolation_level=None)
        connection.execute("PRAGMA journal_mode = WAL")
        connection.execute("PRAGMA synchronous = FULL")
        return connection

    held = opened()
    held.execute("CREATE TABLE IF NOT EXISTS score (student TEXT, item TEXT, cell TEXT, PRIMARY KEY (student, item))")

    @app.post("/row")
    def row() -> Response:
        connection = opened()
        for cell in request.get_json()["cells"]:
            values = (cell["student"], cell["item"], cell["typed"])
            connection.execute("INSERT OR REPLACE INTO score VALUES (?, ?, ?)", values)
        connection.close()
        return jsonify(kept=True)

    @app.get("/page/<int:cells>/<int:size>")
    def page(cells: int, size: int) -> str:
        texts = ["x" * max(1, size // cells - 9)] * cells
        return render_template_string(PAGE, rows=[texts[n : n + 40] for n in range(0, cells, 40)])

    run_server(app, "127.0.0.1", port)


def cpu(pid: int) -> float:
    """CPU seconds of a process, to the nanosecond, and of those it started."""
    own = time.clock_gettime(~pid << 3 | 2)
    children = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    return own + sum(cpu(int(child)) for child in children)


def spent(pid: int, act: Callable[[], object]) -> float:
    before = cpu(pid)
    act()
    return cpu(pid) - before


def compared(name: str, aim: float, ours: Callable[[], float], plain: Callable[[], float]) -> None:
    ours(), plain()
    pairs = [(ours(), plain()) for _ in range(PAIRS)]
    ratio = statistics.median(a / b for a, b in pairs)
    figures = [1000 * statistics.median(column) for column in zip(*pairs, strict=True)]
    met = "met" if ratio <= aim else "NOT MET"
    print(f"{name:34} {figures[0]:8.2f} ms  {figures[1]:8.2f} ms  ratio {ratio:6.2f}  aim {aim:g}  {met}", flush=True)


def settled(course: Course) -> Course:
    """Everyone's computed letter settled."""
    return replace(course, settled={s: Settled(g.letter or "F") for s, g in grades_of(course, DAY).items()})


class Bench:
    """The product and the bare server, side by side."""

    def __init__(self, served: Served, plain: subprocess.Popen[bytes], port: int) -> None:
        assert served.process is not None
        self.ours, self.plain = served.process.pid, plain.pid
        self.typist = Typist(served.port)
        self.bare = Typist.__new__(Typist)
        self.bare.port, self.bare.cookie, self.bare.token = port, "", ""
        self.number = 0

    def cells(self, section: int, students: int) -> float:
        """CPU of one typed cell with all that follows."""

        def typing() -> None:
            for _ in range(CELLS):
                self.number += 1
                at = self.number % students
                self.typist.type(f"S{at}", "c0i0", f"{self.number % 19 / 2:g}", section)
                self.typist.ask("GET", f"/s/{section}/scores/working/S{(at + 1) % students}?item=c0i0")
                if self.number % 3 == 0:
                    self.typist.ask("GET", f"/s/{section}/scores/since/999999?paused")
            for _ in range(CELLS * 3 // 4):
                self.typist.ask("GET", f"/s/{section}/scores/since/999999")

        return spent(self.ours, typing) / CELLS

    def row(self) -> float:
        """CPU of one bare save."""
        body = json.dumps({"key": "k" * 36, "cells": [{"student": "s", "item": "i", "typed": "7"}], "what": ""})

        def saving() -> None:
            for _ in range(20):
                self.bare.ask("POST", "/row", body, "application/json")

        return spent(self.plain, saving) / 20

    def page(self, name: str, aim: float, path: str, section: int) -> None:
        """A page, after one more cell, over a bare one of as many cells and bytes."""
        text = self.typist.ask("GET", path)[1]
        same = f"/page/{max(40, text.count('<') // 2)}/{len(text)}"

        def ours() -> float:
            self.number += 1
            self.typist.type("S1", "c0i0", f"{self.number % 19 / 2:g}", section)
            return spent(self.ours, lambda: self.typist.ask("GET", path))

        compared(name, aim, ours, lambda: spent(self.plain, lambda: self.bare.ask("GET", same)))


def costs(folder: Path) -> None:
    """The ratios of cells and pages."""
    served = Served(folder, 1)
    served.prepare([settled(make(34, 5, 5)), settled(make(500)), *(settled(make(40, 5, 5)) for _ in range(10))])
    served.start()
    port = free_port()
    plain = subprocess.Popen([sys.executable, "-m", "tests.bench_server", str(port), str(folder / "bare.sqlite")])
    time.sleep(3)
    try:
        bench = Bench(served, plain, port)
        compared("typed cell, 34 x 25 / bare save", 5, lambda: bench.cells(1, 34), bench.row)
        compared("typed cell, 500 x 60 / bare save", 10, lambda: bench.cells(2, 500), bench.row)
        bench.page("Scores, 34 x 25 / bare page", 9, "/s/1/scores", 1)
        bench.page("Scores, 500 x 60 / bare page", 5, "/s/2/scores", 2)
        bench.page("Desk of 12 / bare page", 20, "/", 1)
        bench.page("History / bare page", 2, "/s/1/history", 1)
        growth = [spent(bench.ours, lambda s=s: bench.typist.ask("GET", f"/s/{s}/history")) for s in (2, 1) * PAIRS]  # type: ignore[misc]
        ratio = statistics.median(growth[::2]) / statistics.median(growth[1::2])
        print(f"History, 500 students / 34         ratio {ratio:6.2f}  aim 1.5  {'met' if ratio <= 1.5 else 'NOT MET'}")
    finally:
        served.stop()
        plain.send_signal(signal.SIGTERM)
        plain.wait(10)


def evening(folder: Path, workers: int = 2) -> None:
    """A hundred people type a score every three seconds, others settle; how long a save takes, and what is kept."""
    served = Served(folder, workers)
    served.prepare([make(34, 5, 5, seed=n) for n in range(SECTIONS)])
    served.start()
    waits: list[float] = []
    told: dict[tuple[int, str], str] = {}
    lock, until = threading.Lock(), time.monotonic() + EVENING_SECONDS + 10

    def person(number: int, typist: Typist) -> None:
        draw, section = random.Random(number), number % SECTIONS + 1
        own = [f"S{n}" for n in range(34) if n % 5 == number // SECTIONS]
        time.sleep(draw.random() * EVERY)
        while time.monotonic() < until:
            student, score = draw.choice(own), f"{draw.randrange(20) / 2:g}"
            begun = time.monotonic()
            typist.type(student, "c0i1", score, section)
            with lock:
                waits.append(time.monotonic() - begun)
                if (student, "c0i1") in typist.told:
                    told[section, student] = score
            typist.ask("GET", f"/s/{section}/scores/working/{student}?item=c0i1")
            typist.ask("GET", f"/s/{section}/scores/since/999999")
            if draw.random() < 0.08:
                typist.ask("GET", f"/s/{section}/settle")
            time.sleep(max(0.0, EVERY - (time.monotonic() - begun)))

    try:
        first = Typist(served.port)
        typists = [Typist.__new__(Typist) for _ in range(PEOPLE)]
        for typist in typists:
            typist.__dict__.update(first.__dict__, told={}, open={})
        threads = [threading.Thread(target=person, args=pair) for pair in enumerate(typists)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    finally:
        served.stop()
    connection = sqlite3.connect(served.database)
    rows = connection.execute("SELECT section_id, student_id, cell FROM score WHERE item_id = 'c0i1'").fetchall()
    connection.close()
    kept = {(section, student): cell for section, student, cell in rows}
    lost = sum(kept.get(place) != score for place, score in told.items())
    waits.sort()
    p95 = 1000 * waits[int(len(waits) * 0.95)]
    met = "met" if p95 < 300 and not lost else "NOT MET"
    half = 1000 * waits[len(waits) // 2]
    print(f"an evening, {PEOPLE} people, {workers} processes: {len(waits)} saves, half of them within {half:.0f} ms,")
    print(f"    95% within {p95:.0f} ms, {lost} lost  aim 300 ms, 0 lost  {met}")


if __name__ == "__main__":
    if len(sys.argv) > 1:
        bare(int(sys.argv[1]), sys.argv[2])
        sys.exit(0)
    for part in (costs, evening):
        with tempfile.TemporaryDirectory() as made:
            part(Path(made))
