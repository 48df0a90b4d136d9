"""The style of printed pages with its tokens and fonts inside it: a bare machine has none."""

import re
from base64 import b64encode
from functools import cache

from vinemark.web.ui.assets import WEB


@cache
def paper_style(paper: str) -> str:
    """The style sheet of papers of a size, ready for making a PDF without fetching anything."""

    def inside(found: re.Match[str]) -> str:
        font = b64encode((WEB / "static" / "vendor" / found[1]).read_bytes()).decode()
        return f'url("data:font/woff2;base64,{font}")'

    style = "".join((WEB / path).read_text(encoding="utf-8") for path in ("ui/tokens.css", "papers/page.css"))
    style = style.replace("size: auto;", f"size: {paper};")
    return re.sub(r'url\("\.\./static/vendor/([\w.-]+)"\)', inside, style)
