"""The one-way imports, and where SQL may stand."""

import ast
import re
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent / "src" / "vinemark"
ROOMS = ("core", "store", "exchange", "office", "web", "demo")
MAY_IMPORT = {
    "core": set(),
    "exchange": {"core"},
    "store": {"core"},
    "office": {"core", "store"},
    "web": {"core", "store", "exchange", "office"},
    "demo": {"core", "store", "exchange", "office"},
}
NOT_IN_CORE = ("flask", "jinja2", "markupsafe", "sqlite3", "httpx", "pathlib", "os", "io", "csv")


def modules(room: str) -> list[Path]:
    return sorted((SOURCE / room).rglob("*.py"))


def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {name.name for name in node.names}
        elif isinstance(node, ast.ImportFrom):
            found.add(node.module or "")
            found |= {f"{node.module}.{name.name}" for name in node.names}
    return found


@pytest.mark.parametrize("room", ROOMS)
def test_imports_run_one_way(room: str) -> None:
    assert modules(room)
    for path in modules(room):
        rooms = {name.split(".")[1] for name in imports(path) if name.startswith("vinemark.")} & set(ROOMS)
        assert rooms - {room} <= MAY_IMPORT[room], path


def test_the_core_has_no_web_no_sql_and_no_files() -> None:
    for path in modules("core"):
        outside = {name.split(".")[0] for name in imports(path)}
        assert not outside & set(NOT_IN_CORE), path


def test_the_core_has_no_floats() -> None:
    for path in modules("core"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            assert not (isinstance(node, ast.Constant) and isinstance(node.value, float)), path
            assert not (isinstance(node, ast.Name) and node.id == "float"), path


def test_sql_stands_in_the_store_and_in_the_offices_ledger_alone() -> None:
    sql = re.compile(r'"\s*(SELECT|INSERT INTO|UPDATE|DELETE FROM)\s')
    holders = {p.relative_to(SOURCE).as_posix() for p in SOURCE.rglob("*.py") if sql.search(p.read_text("utf-8"))}
    assert holders
    assert all(name.startswith(("store/", "office/ledger")) for name in holders), holders


def test_no_page_holds_an_inline_script_or_style() -> None:
    pages = sorted(SOURCE.rglob("*.html"))
    assert len(pages) > 20
    for page in pages:
        text = page.read_text(encoding="utf-8")
        assert not re.search(r"<script(?![^>]*\ssrc=)|<style|\sstyle=|\son[a-z]+=\"|\|\s*safe\b", text), page


def test_functions_stay_short() -> None:
    lengths = [
        (node.end_lineno or 0) - node.lineno + 1
        for path in SOURCE.rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if isinstance(node, ast.FunctionDef)
    ]
    assert max(lengths) <= 60
    assert sorted(lengths)[len(lengths) * 9 // 10] <= 30
