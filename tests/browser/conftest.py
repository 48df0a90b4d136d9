"""One browser for a module; the processes and databases are each test's own."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver

from tests.browser.stage import browser


@pytest.fixture(scope="module")
def driver(tmp_path_factory: pytest.TempPathFactory) -> Iterator[webdriver.Chrome]:
    """Chromium at 1280x800."""
    with browser(tmp_path_factory.mktemp("browser")) as found:
        yield found


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A folder for one test's databases."""
    return tmp_path
