"""Templates, styles and scripts: no rule of the job, no long lines, colors from tokens, nothing unused."""

import re
from pathlib import Path

import pytest

WEB = Path(__file__).parent.parent.parent / "src" / "vinemark" / "web"
TEMPLATES = sorted(WEB.glob("*/templates/**/*.html"))
STYLES = [path for path in sorted(WEB.glob("*/*.css")) if path.name != "tokens.css"]
SCRIPTS = sorted(path for path in WEB.rglob("*.js") if "vendor" not in path.parts)


def test_there_is_something_to_look_at() -> None:
    assert len(TEMPLATES) > 50
    assert len(STYLES) > 5
    assert len(SCRIPTS) > 8


@pytest.mark.parametrize("path", TEMPLATES, ids=lambda p: p.relative_to(WEB).as_posix())
def test_no_page_holds_an_inline_script_or_style(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    assert not re.search(r"<script(?![^>]*\ssrc=)|<style|\sstyle=|\son[a-z]+=\"|\|\s*safe\b", text)
