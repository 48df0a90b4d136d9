"""Templates, styles and scripts: no rule of the job, no long lines, colors from tokens, nothing unused."""

import hashlib
import json
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
import tinycss2

from tests.web.conftest import Site

WEB = Path(__file__).parent.parent.parent / "src" / "vinemark" / "web"
TEMPLATES = sorted(WEB.glob("*/templates/**/*.html"))
OF_THE_OFFICE = sorted((WEB.parent / "office" / "templates").rglob("*.html"))
STYLES = [path for path in sorted(WEB.glob("*/*.css")) if path.name != "tokens.css"]
SCRIPTS = sorted(path for path in WEB.rglob("*.js") if "vendor" not in path.parts)
LONGEST_LINE = 120
# Classes that are put together from what is shown: their beginning stands in a page.
FAMILIES = (
    "cat-",
    "cat-bg-",
    "cat-edge-",
    "cat-text-",
    "diff-",
    "lane-",
    "level-",
    "marks-",
    "ribbon-",
    "state-",
    "term-",
)
# Classes that come with the framework, with a script of others, or with the state of a cell (core/scores/sheet.py).
FROM_ELSEWHERE = {"show", "sortable-ghost", "dropped-lowest", "dropped-highest", "htmx-request"}


def in_web(path: Path) -> str:
    return path.relative_to(WEB).as_posix()


def test_there_is_something_to_look_at() -> None:
    assert len(TEMPLATES) > 50
    assert len(STYLES) > 5
    assert len(SCRIPTS) > 8


@pytest.mark.parametrize("path", TEMPLATES, ids=in_web)
def test_no_page_holds_an_inline_script_or_style(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    assert not re.search(r"<script(?![^>]*\ssrc=)|<style|\sstyle=|\son[a-z]+=\"|\|\s*safe\b", text)


@pytest.mark.parametrize("path", [*TEMPLATES, *OF_THE_OFFICE, *STYLES, *SCRIPTS], ids=lambda path: path.name)
def test_lines_are_short(path: Path) -> None:
    too_long = [n for n, line in enumerate(path.read_text("utf-8").splitlines(), 1) if len(line) > LONGEST_LINE]
    assert not too_long


@pytest.mark.parametrize("path", TEMPLATES, ids=in_web)
def test_a_template_builds_no_data(path: Path) -> None:
    """No text is taken apart and nothing is gathered: what is shown comes ready from the view."""
    text = path.read_text(encoding="utf-8")
    assert not re.search(r"\.(split|update|append|startswith|endswith|replace|strip)\(|set _ =", text)
    assert not re.search(r"\[\d*:-?\d*\]\s*[|~]", text)


@pytest.mark.parametrize("path", TEMPLATES, ids=in_web)
def test_an_attribute_stands_on_one_line(path: Path) -> None:
    """A line broken inside a value would be read out, or split into words that are none."""
    text = re.sub(r"\{\{.*?\}\}|\{%.*?%\}|\{#.*?#\}", "", path.read_text(encoding="utf-8"), flags=re.DOTALL)
    assert not re.search(r'<[a-z][^<>]*\s[\w:-]+="[^"<>]*\n', text)


def rules(path: Path) -> Iterator[tuple[str, str]]:
    """Selector and declarations of every rule, those inside @media too."""

    def walk(found: list[tinycss2.ast.Node]) -> Iterator[tuple[str, str]]:
        for rule in found:
            if rule.type == "qualified-rule":
                yield tinycss2.serialize(rule.prelude), tinycss2.serialize(rule.content)
            elif rule.type == "at-rule" and rule.at_keyword == "media":
                yield from walk(tinycss2.parse_rule_list(rule.content))
            else:
                assert rule.type in {"whitespace", "comment", "at-rule"}, rule

    yield from walk(tinycss2.parse_stylesheet(path.read_text(encoding="utf-8")))


@pytest.mark.parametrize("path", STYLES, ids=in_web)
def test_colors_sizes_and_corners_are_tokens(path: Path) -> None:
    for selector, content in rules(path):
        assert not re.search(r"#[0-9a-fA-F]{3,8}\b(?!-)|rgba?\(|hsla?\(", content.replace('url("#', "")), selector
        assert not re.search(r"font-size:\s*[\d.]+(px|pt|rem)|font:[^;]*\d(px|pt)", content), selector
        assert not re.search(r"radius:[^;]*\d(px|pt|rem)", content), selector


def test_every_token_is_used() -> None:
    text = (WEB / "ui" / "tokens.css").read_text(encoding="utf-8")
    tokens = set(re.findall(r"^\s+(--(?!bs-)[\w-]+):", text, re.MULTILINE))
    everything = text + "".join(path.read_text(encoding="utf-8") for path in STYLES)
    assert len(tokens) > 60
    assert {token for token in tokens if f"var({token})" not in everything} == set()


def test_no_style_is_important_but_what_print_and_calm_motion_need() -> None:
    for path in STYLES:
        for selector, content in rules(path):
            if "!important" in content:
                assert "display: none" in content or "transition: none" in content, (path, selector)


def test_every_class_of_a_style_is_used_on_a_page() -> None:
    texts = "\n".join(path.read_text(encoding="utf-8") for path in [*TEMPLATES, *SCRIPTS])
    texts += (WEB.parent / "core" / "scores" / "sheet.py").read_text(encoding="utf-8")
    used = set(re.findall(r"[A-Za-z][\w-]*", texts)) | FROM_ELSEWHERE
    for path in STYLES:
        for selector, _ in rules(path):
            names = set(re.findall(r"[.#]([A-Za-z][\w-]*)", re.sub(r'url\("[^"]*"\)', "", selector)))
            unused = {name for name in names - used if not name.startswith(FAMILIES)}
            assert not unused, (path.name, selector)


def test_the_framework_holds_no_class_that_no_page_uses() -> None:
    texts = "\n".join(path.read_text(encoding="utf-8") for path in [*TEMPLATES, *SCRIPTS, *STYLES])
    used = set(re.findall(r"[a-z][a-z0-9-]*", texts)) | {"show", "collapsing", "dropdown-menu-end", "disabled"}
    found = {
        name
        for selector, _ in rules(WEB / "static" / "vendor" / "bootstrap.css")
        for name in re.findall(r"\.([a-z][\w-]*)", re.sub(r":not\([^)]*\)", "", selector))
    }
    assert found
    assert found <= used


def test_no_page_claims_by_itself_that_anything_is_saved(site: Site) -> None:
    """Only the script that knows may say it."""
    for address in ("/", "/s/1/plan", "/s/1/scores", "/s/1/audit", "/s/1/settle", "/s/1/submit", "/s/4/after"):
        assert "saved ·" not in site.browser.get(address).text, address


def test_front_end_files_are_what_was_taken_from_their_packages() -> None:
    """Each file has the SHA-256 that bin/vendor wrote down (FIPS 180-4), and nothing else lies beside them."""
    folder = WEB / "static" / "vendor"
    record = json.loads((folder / "VENDORED.json").read_text(encoding="utf-8"))
    listed = {name: digest for package in record for name, digest in package["files"].items()}
    found = {path.name: hashlib.sha256(path.read_bytes()).hexdigest() for path in folder.iterdir()}
    assert found.pop("VENDORED.json")
    assert found == listed
