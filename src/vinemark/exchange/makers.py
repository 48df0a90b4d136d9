"""What is made apart from the server, because it takes long: a process that has loaded this has loaded every maker."""

import importlib

from vinemark.exchange.archive_pages import readable_archive
from vinemark.exchange.pdf import pdf_of
from vinemark.exchange.sheet_file import sheet_xlsx
from vinemark.exchange.workbook import live_workbook

__all__ = ["live_workbook", "pdf_of", "readable_archive", "sheet_xlsx"]


def _load_printing() -> None:
    """Loaded once for all PDFs; a machine may lack what it stands on, and `pdf_of` says so."""
    try:
        importlib.import_module("weasyprint")
    except OSError:
        return


_load_printing()
