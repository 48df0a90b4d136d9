"""A printed page as PDF. Nothing is fetched: the page brings its texts, the style sheet is handed over."""

import re
from base64 import b64encode
from importlib.resources import files


class NoPdfError(Exception):
    """The libraries that PDFs are made with are not on this machine; the message names them."""


def pdf_of(html: str, style: str) -> bytes:
    """The PDF of a page with a style sheet, both as text; only data: addresses are read.

    Raises NoPdfError where the machine lacks the libraries; every other page works without them.
    """
    try:
        # Imported here: it loads libraries of the system, which a machine may lack.
        from weasyprint import CSS, HTML
        from weasyprint.text.fonts import FontConfiguration
        from weasyprint.urls import URLFetcher
    except OSError as error:
        raise NoPdfError(
            "PDFs need Pango: apt-get install libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0"
        ) from error
    fetcher, fonts = URLFetcher(allowed_protocols=("data",)), FontConfiguration()
    page = HTML(string=html, url_fetcher=fetcher)
    sheet = CSS(string=style, url_fetcher=fetcher, font_config=fonts)
    made: bytes = page.write_pdf(stylesheets=[sheet], font_config=fonts)
    return made


def packaged_style(name: str) -> str:
    """A style sheet that ships with the pages, its fonts inside it: a bare machine has none."""
    static = files("vinemark.web") / "static"

    def inside(found: re.Match[str]) -> str:
        font = b64encode((static / "vendor" / found[1]).read_bytes()).decode()
        return f'url("data:font/woff2;base64,{font}")'

    style = (static / "css" / name).read_text(encoding="utf-8")
    return re.sub(r'url\("\.\./vendor/([\w.-]+)"\)', inside, style)
