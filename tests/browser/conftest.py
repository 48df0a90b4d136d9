"""One browser for a module; the processes and databases are each test's own."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver

from tests.browser.stage import Stage, browser


@pytest.fixture(scope="module")
def driver(tmp_path_factory: pytest.TempPathFactory) -> Iterator[webdriver.Chrome]:
    """Chromium at 1280x800."""
    with browser(tmp_path_factory.mktemp("browser")) as found:
        yield found


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A folder for one test's databases."""
    return tmp_path


@pytest.fixture
def stage(driver: webdriver.Chrome, folder: Path) -> Iterator[Stage]:
    """The demo, with the sheet of the watershed course open; a file that begins elsewhere has its own."""
    with Stage.demo(folder) as found:
        found.sign_in(driver)
        found.open(driver, "HYDR 230-01", "scores")
        yield found
