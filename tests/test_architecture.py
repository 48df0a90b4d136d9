"""The house: which room may use which, where SQL may stand, and that a public name is one thing."""

import ast
import re
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent / "src" / "vinemark"
WEB = SOURCE / "web"
TESTS = Path(__file__).parent

# What each part of the package may use besides itself. Files that stand in no folder are parts as well.
MAY_USE: dict[str, set[str]] = {
    "core": set(),
    "clock": {"core"},
    "passwords": set(),
    "settings": {"clock", "core"},
    "store": {"core"},
    "exchange": {"core"},
    "office": {"core", "store", "clock"},
    "mail": {"core"},
    "identity": set(),
    "section": {"core", "store", "exchange", "office", "mail", "clock", "passwords"},
    "demo": {"identity", "core", "store", "exchange", "office", "section", "clock", "passwords"},
    "web": {"core", "store", "exchange", "office", "section", "settings", "passwords"},
    "commands": {
        "core",
        "store",
        "exchange",
        "office",
        "mail",
        "identity",
        "section",
        "demo",
        "web",
        "settings",
        "passwords",
    },
    "cli": {"commands", "settings"},
}
# The registrar is another program: of it only the client and its answers may be used, and its connections are ours.
OF_THE_OFFICE = {
    "section": {"office.client", "office.answers", "mail.sending"},
    "web": {"office.client", "office.answers"},
    "office": {"store.database"},
}
# The rooms of the core, from the ground up: each may use those before it.
CORE_ROOMS = (
    "base",
    "plan",
    "course",
    "grade",
    "scores",
    "syllabus",
    "audit",
    "settle",
    "submit",
    "after",
    "table",
    "bring",
    "statement",
    "college",
)
# The floors of the section storey, from the ground up; outcome and state stand under the acts and the delivery.
SECTION_FLOORS = (
    ("edits", "making", "gathering", "letters"),
    ("snapshot", "health", "replica_words"), ("state",), ("meanwhile", "outcome"),
    ("submit_state", "settle_list", "syllabus_match", "desk", "grade_record", "history_words", "comparing",
     "statement"),
    ("board",),
    ("delivery",),
    ("acts",),
)  # fmt: skip
NOT_IN_CORE = {
    "flask", "jinja2", "markupsafe", "sqlite3", "httpx", "urllib", "http", "socket", "ssl", "pathlib", "os", "io",
    "csv", "shutil", "tempfile", "subprocess", "importlib", "time", "random", "secrets", "threading", "numpy.random",
}  # fmt: skip
# One public name in two places, each with the reason why that is right.
SAME_NAME_TWICE = {
    "blueprint": "every page has one, and Flask's own word for it is its name",
}


def modules(*parts: str) -> list[Path]:
    return sorted((SOURCE.joinpath(*parts)).rglob("*.py"))


def name_of(path: Path) -> str:
    """'core.plan.edit' for src/vinemark/core/plan/edit.py."""
    return ".".join(path.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__")


def imports(path: Path) -> Iterator[str]:
    """Everything a file imports, as full names; also what it reaches through importlib.resources."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            yield from (name.name for name in node.names)
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{path}: a relative import hides where it leads"
            yield node.module or ""
            yield from (f"{node.module}.{name.name}" for name in node.names)
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name | ast.Attribute):
            called = node.func.id if isinstance(node.func, ast.Name) else node.func.attr
            if called in {"import_module", "__import__", "files"}:
                yield from (a.value for a in node.args if isinstance(a, ast.Constant) and isinstance(a.value, str))


def ours(path: Path) -> set[str]:
    """What a file uses of the package, without the package's own name."""
    return {name.removeprefix("vinemark.") for name in imports(path) if name.startswith("vinemark.")}


def part_of(name: str) -> str:
    return name.split(".", maxsplit=1)[0]


PARTS = sorted({part_of(name_of(path)) for path in SOURCE.rglob("*.py")} - {"__init__", ""})


def test_every_part_has_its_arrows() -> None:
    assert set(PARTS) == set(MAY_USE)


@pytest.mark.parametrize("part", PARTS)
def test_imports_run_one_way(part: str) -> None:
    paths = [path for path in SOURCE.rglob("*.py") if part_of(name_of(path)) == part]
    assert paths
    for path in paths:
        used = {part_of(name) for name in ours(path)} - {part}
        assert used <= MAY_USE[part], path
        for name in ours(path):
            self_or_open = part_of(name) == part or part not in OF_THE_OFFICE
            narrow = {wanted for wanted in OF_THE_OFFICE.get(part, ()) if part_of(wanted) == part_of(name)}
            assert self_or_open or not narrow or name.startswith(tuple(narrow)) or name in {"office", "store"}, path


@pytest.mark.parametrize("room", CORE_ROOMS)
def test_arrows_between_the_rooms_of_the_core_run_down(room: str) -> None:
    allowed = {"core", *(f"core.{lower}" for lower in CORE_ROOMS[: CORE_ROOMS.index(room) + 1])}
    paths = modules("core", room)
    assert len(paths) > 1
    for path in paths:
        used = {".".join(name.split(".")[:2]) for name in ours(path)}
        assert used <= allowed, path


def test_the_core_has_no_other_rooms() -> None:
    assert {path.name for path in (SOURCE / "core").iterdir()} - {"__pycache__", "__init__.py"} == set(CORE_ROOMS)


def test_arrows_between_the_floors_of_the_section_run_down() -> None:
    floor_of = {name: floor for floor, names in enumerate(SECTION_FLOORS) for name in names}
    found = {name_of(path).split(".")[1] for path in modules("section") if name_of(path) != "section"}
    assert found == set(floor_of)
    for path in modules("section"):
        if name_of(path) == "section":
            continue
        mine = name_of(path).split(".")[1]
        for name in ours(path):
            if name.startswith("section."):
                other = name.split(".")[1]
                assert other == mine or floor_of[other] < floor_of[mine], path


def test_the_core_has_no_web_no_sql_and_no_files() -> None:
    for path in modules("core"):
        outside = {name.split(".")[0] for name in imports(path)} | set(imports(path))
        assert not outside & NOT_IN_CORE, path
        assert "open" not in {
            node.func.id
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)
        }, path


def test_the_core_has_no_floats() -> None:
    """No float is written, named, or made by dividing two whole numbers that stand there as such."""
    for path in modules("core"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            assert not (isinstance(node, ast.Constant) and isinstance(node.value, float)), path
            assert not (isinstance(node, ast.Name) and node.id == "float"), path
            if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Div):
                whole = [isinstance(side, ast.Constant) and isinstance(side.value, int) for side in _sides(node)]
                counted = [_counts(side) for side in _sides(node)]
                either = [one or other for one, other in zip(whole, counted, strict=True)]
                assert not all(either), f"{path}:{node.lineno}: / of two whole numbers is a float"


def _sides(node: ast.BinOp) -> tuple[ast.expr, ast.expr]:
    return node.left, node.right


def _counts(node: ast.expr) -> bool:
    """A call that gives a whole number."""
    return isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in {"len", "int", "round"}


def test_sql_stands_in_the_store_and_in_the_offices_ledger_alone() -> None:
    sql = re.compile(r'"\s*(SELECT|INSERT INTO|UPDATE|DELETE FROM|CREATE TABLE|PRAGMA)\s')
    holders = {p.relative_to(SOURCE).as_posix() for p in SOURCE.rglob("*.py") if sql.search(p.read_text("utf-8"))}
    assert holders
    assert all(name.startswith(("store/", "office/ledger")) for name in holders), holders
    users = {name_of(path) for path in SOURCE.rglob("*.py") if "sqlite3" in set(imports(path))}
    assert all(part_of(name) in {"store", "office"} for name in users), users


def test_no_view_begins_a_write() -> None:
    """A view parses, acts and renders: it calls nothing of the store that writes, and opens no transaction."""
    store_writers = {
        node.name
        for path in modules("store")
        for node in ast.parse(path.read_text(encoding="utf-8")).body
        if isinstance(node, ast.FunctionDef)
        and any(arg.annotation and ast.unparse(arg.annotation) == "Act" for arg in node.args.args)
    }
    assert len(store_writers) > 30
    for path in modules("web"):
        called = {
            node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
            if isinstance(node, ast.Call)
        }
        writes = called & store_writers
        assert not writes | (called & {"transaction", "writing"}), (path, writes)


def test_a_public_name_is_defined_once() -> None:
    """Functions, classes and constants; a view is named by its page, and the registrar is another program."""
    places: dict[str, list[str]] = defaultdict(list)
    for path in SOURCE.rglob("*.py"):
        if part_of(name_of(path)) == "office":
            continue
        for node in ast.parse(path.read_text(encoding="utf-8")).body:
            for name in _defined(node):
                if not name.startswith("_"):
                    places[name].append(name_of(path))
    twice = {name: where for name, where in places.items() if len(where) > 1}
    assert set(twice) == set(SAME_NAME_TWICE), {n: w for n, w in twice.items() if n not in SAME_NAME_TWICE}


def _defined(node: ast.stmt) -> list[str]:
    if isinstance(node, ast.FunctionDef):
        return [] if any("blueprint" in ast.unparse(d) for d in node.decorator_list) else [node.name]
    if isinstance(node, ast.ClassDef):
        return [node.name]
    if isinstance(node, ast.Assign):
        return [target.id for target in node.targets if isinstance(target, ast.Name)]
    return [node.target.id] if isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name) else []


def test_functions_stay_short() -> None:
    """Half of them under 7 lines, nine tenths under 16, none over 36, without their docstrings."""
    lengths = sorted(
        _length(node)
        for path in SOURCE.rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if isinstance(node, ast.FunctionDef)
    )
    assert (lengths[len(lengths) // 2], lengths[len(lengths) * 9 // 10]) <= (6, 15)
    assert lengths[-1] <= 35


def _length(node: ast.FunctionDef) -> int:
    """Lines from the name to the end, the docstring left out."""
    length = (node.end_lineno or 0) - node.lineno + 1
    first = node.body[0]
    if isinstance(first, ast.Expr) and isinstance(first.value, ast.Constant) and isinstance(first.value.value, str):
        length -= (first.end_lineno or 0) - first.lineno + 1
    return length


@pytest.mark.parametrize("storey", ["core", "store"])
def test_each_module_has_a_test_file_named_after_it(storey: str) -> None:
    modules = [path for path in sorted((SOURCE / storey).rglob("*.py")) if path.name != "__init__.py"]
    expected = {path.relative_to(SOURCE).with_name(f"test_{path.name}").as_posix() for path in modules}
    found = {path.relative_to(TESTS).as_posix() for path in TESTS.rglob("test_*.py")}
    assert len(modules) > 15
    assert expected - found == set()
