"""A printed page as PDF. Nothing is fetched: the page brings its texts, the style sheet is handed over."""

import logging
import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Final

from vinemark.core.base.refused import Refused
from vinemark.exchange.apart import say

NEEDED: Final = "needs Pango on the server: apt-get install libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0"
_PAGE: Final = re.compile(r"Page ([0-9]+)$")


def pdf_of(html: str, style: str) -> bytes:
    """The PDF of a page with a style sheet, both as text; only data: addresses are read. It says each page it lays out.

    Raises Refused where the machine lacks the libraries; every other page works without them.
    """
    try:
        # Imported here: it loads libraries of the system, which a machine may lack.
        from weasyprint import CSS, HTML
        from weasyprint.text.fonts import FontConfiguration
        from weasyprint.urls import URLFetcher
    except OSError as error:
        raise Refused("PDF", NEEDED) from error
    fetcher, fonts = URLFetcher(allowed_protocols=("data",)), FontConfiguration()
    page = HTML(string=html, url_fetcher=fetcher)
    sheet = CSS(string=style, url_fetcher=fetcher, font_config=fonts)
    with _pages_heard(say):
        made: bytes = page.write_pdf(stylesheets=[sheet], font_config=fonts, pdf_variant="pdf/ua-1")
    return made


class _Pages(logging.Handler):
    """Hears from the library which page it lays out."""

    def __init__(self, tell: Callable[[str], None]) -> None:
        super().__init__(logging.INFO)
        self.tell = tell

    def emit(self, record: logging.LogRecord) -> None:
        found = _PAGE.search(record.getMessage())
        if found:
            self.tell(f"page {found[1]}")


@contextmanager
def _pages_heard(tell: Callable[[str], None]) -> Iterator[None]:
    progress, handler = logging.getLogger("weasyprint.progress"), _Pages(tell)
    progress.addHandler(handler)
    progress.setLevel(logging.INFO)
    try:
        yield
    finally:
        progress.removeHandler(handler)
