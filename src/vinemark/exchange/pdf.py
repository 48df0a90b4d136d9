"""A printed page as PDF. Nothing is fetched: the page brings its texts, the style sheet is handed over."""


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
