"""Two machines behind one address: a section of either is typed in by many; one dies, the other goes on, and what was
confirmed is there."""

import os
import re
import shutil
import signal
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import httpx
import pytest

from tests.builders import TERM, category, plan
from tests.faults.test_lost_machine import descendants, load, saved
from tests.passwords import PASSWORD
from tests.served import EMAIL, ITEMS, STUDENTS, Served, Typist, free_port
from vinemark.core.course.course import Course, SectionName, Student
from vinemark.core.course.databases import SPAN
from vinemark.exchange import course_file

DEPLOY = Path(__file__).parent.parent.parent / "deploy"
PEOPLE = 8
LISTED = """
[home]
address = "http://127.0.0.1:{first}"

[[database]]
number = 1
file = "soil.sqlite"
departments = ["SOIL"]
address = "http://127.0.0.1:{second}"
"""


class TypistThere(Typist):
    """Somebody who types in a section of the second machine."""

    def type(self, student: str, item: str, score: str, section: int = SPAN + 1) -> None:
        super().type(student, item, score, section)


@contextmanager
def proxy(folder: Path, port: int, first: int, second: int) -> Iterator[None]:
    """nginx with the locations of the guide, over plain http on this machine."""
    there = (DEPLOY / "second-machine.conf").read_text(encoding="utf-8")
    assert "http://10.0.0.12:8600" in there
    kept = "".join(
        f"{name}_temp_path {folder}/{name};\n" for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    (folder / "nginx.conf").write_text(
        f"daemon off; pid {folder}/pid; error_log {folder}/error.log; events {{}}\n"
        f"http {{ access_log off;\n{kept}server {{ listen 127.0.0.1:{port}; proxy_set_header Host $host;\n"
        f"{there.replace('10.0.0.12:8600', f'127.0.0.1:{second}')}"
        f"location / {{ proxy_pass http://127.0.0.1:{first}; }} }} }}\n",
        encoding="utf-8",
    )
    running = subprocess.Popen(["nginx", "-p", str(folder), "-c", str(folder / "nginx.conf")])
    try:
        for _ in range(200):
            with suppress(httpx.TransportError):
                if httpx.get(f"http://127.0.0.1:{port}/health").status_code == 200:
                    break
            time.sleep(0.05)
        yield
    finally:
        running.terminate()
        running.wait(20)


def soil() -> str:
    """A course file for a section of the second machine."""
    students = tuple(Student(f"s{n}", f"Ode {n}", "Mai") for n in range(STUDENTS))
    return course_file.course_text(
        Course(TERM, SectionName("SOIL 310", "Clay", "01"), plan(category(*["10"] * ITEMS)), students)
    )


def make_there(client: httpx.Client) -> None:
    """Sign in, and make a section that the second machine keeps: it is sent on, file and all."""
    token = re.search(r'name="csrf_token" value="([^"]+)"', client.get("/sign-in").text)
    assert token is not None
    form = {"csrf_token": token[1], "email": EMAIL, "password": PASSWORD}
    assert client.post("/sign-in", data=form).status_code == 302
    token = re.search(r'name="csrf_token" value="([^"]+)"', client.get("/sections/new").text)
    assert token is not None
    sent = client.post(
        "/sections/new",
        data={"csrf_token": token[1], "key": "made once"},
        files={"course_file": ("soil.json", soil())},
        follow_redirects=True,
    )
    assert [answer.status_code for answer in sent.history] == [307, 302]
    assert sent.url.path == f"/s/{SPAN + 1}/plan"
    assert "SOIL 310-01 imported from soil.json" in sent.text


def kill(served: Served) -> None:
    assert served.process is not None
    for process in [served.process.pid, *descendants(served.process.pid)]:
        with suppress(ProcessLookupError):
            os.kill(process, signal.SIGKILL)
    served.process.wait()


@pytest.mark.many
@pytest.mark.skipif(shutil.which("nginx") is None, reason="nginx is not on this machine")
def test_one_machine_dies_and_the_other_goes_on(tmp_path: Path) -> None:
    folder, listed, port = tmp_path / "first", tmp_path / "databases.toml", free_port()
    folder.mkdir()
    (tmp_path / "second").mkdir()
    common = {"VINEMARK_DATABASES": str(listed), "VINEMARK_SECRET": "known to both machines and to nobody else"}
    first = Served(folder, 1, settings={**common, "VINEMARK_SERVES": "0"})
    second = Served(tmp_path / "second", 1, settings={**common, "VINEMARK_SERVES": "1"})
    listed.write_text(LISTED.format(first=first.port, second=second.port), encoding="utf-8")
    first.prepare()
    first.start()
    second.start()
    try:
        there_is = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=20)
        with proxy(tmp_path, port, first.port, second.port), there_is as client:
            make_there(client)
            here, there = [Typist(port) for _ in range(PEOPLE)], [TypistThere(port) for _ in range(PEOPLE)]
            with load([*here, *there]):
                time.sleep(2)
                kill(second)
                died = time.monotonic()
                assert client.get(f"/s/{SPAN + 1}/plan").status_code in {502, 503}
                assert "HYDR 230-01" in client.get("/").text
                time.sleep(2)
                began = time.monotonic()
                second.start()
                while client.get(f"/s/{SPAN + 1}/plan").status_code != 200:
                    time.sleep(0.1)
                back = time.monotonic()
                time.sleep(2)
            assert "SOIL 310-01" in client.get("/at/1/desk").text
        for typists, database in ((here, folder / "v.sqlite"), (there, tmp_path / "soil.sqlite")):
            told = {key: at for typist in typists for key, at in typist.told_at.items()}
            missing = told.keys() - saved(str(database))
            print(f"{database.name}: {len(told)} saves confirmed, {len(missing)} missing")
            assert not missing
            assert len(told) > 5 * PEOPLE
            assert any(at > back for at in told.values())
            meanwhile = sum(died < at < began for at in told.values())
            assert meanwhile > PEOPLE if typists is here else meanwhile == 0
    finally:
        for one in (first, second):
            if one.process is not None and one.process.poll() is None:
                one.stop()
