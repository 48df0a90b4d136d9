"""A browser whose elements survive that the page is put in anew between being found and being used."""

import time
from collections.abc import Callable
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    ElementNotInteractableException,
    NoSuchElementException,
    StaleElementReferenceException,
    WebDriverException,
)
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement

LONG_ENOUGH = 20.0
"""Seconds for which what did nothing is tried again: a control that stays covered is a fault of the page."""
NOTHING_DONE = (StaleElementReferenceException, ElementClickInterceptedException, ElementNotInteractableException)
"""What the driver says where it has neither pressed nor read anything."""


class Element(WebElement):
    """An element that knows how it was found, and is found again where the page changed under it."""

    again: Callable[[], WebElement] | None = None

    def _execute(self, command: str, params: dict[str, Any] | None = None) -> Any:
        last = time.monotonic() + LONG_ENOUGH
        while True:
            try:
                return super()._execute(command, params)  # type: ignore[no-untyped-call]
            except NOTHING_DONE as error:
                if self.again is None or time.monotonic() > last:
                    raise
                time.sleep(0.05)
                if isinstance(error, StaleElementReferenceException):
                    self._find_again(last)

    def _find_again(self, last: float) -> None:
        assert self.again is not None
        try:
            self._id = self.again().id
        except (NoSuchElementException, IndexError, WebDriverException):
            if time.monotonic() > last:
                raise

    def find_element(self, by: str | By = By.ID, value: str | None = None) -> WebElement:
        """The first such element within this one."""
        return known(patiently(lambda: WebElement.find_element(self, by, value)), lambda: self.find_element(by, value))

    def find_elements(self, by: str | By = By.ID, value: str | None = None) -> list[WebElement]:
        """All such elements within this one, each known by its place in the list."""
        found = super().find_elements(by, value)
        return [known(one, nth(lambda: self.find_elements(by, value), n)) for n, one in enumerate(found)]


class Browser(webdriver.Chrome):
    """Chromium with such elements."""

    _web_element_cls = Element

    def find_element(self, by: Any = By.ID, value: str | None = None) -> WebElement:
        """The first such element of the page."""
        found = patiently(lambda: webdriver.Chrome.find_element(self, by, value))
        return known(found, lambda: self.find_element(by, value))

    def find_elements(self, by: Any = By.ID, value: str | None = None) -> list[WebElement]:
        """All such elements of the page, each known by its place in the list."""
        found = super().find_elements(by, value)
        return [known(one, nth(lambda: self.find_elements(by, value), n)) for n, one in enumerate(found)]


def patiently(find: Callable[[], WebElement]) -> WebElement:
    """An element that may only just be coming."""
    last = time.monotonic() + LONG_ENOUGH
    while True:
        try:
            return find()
        except (NoSuchElementException, StaleElementReferenceException):
            if time.monotonic() > last:
                raise
            time.sleep(0.05)


def nth(find: Callable[[], list[WebElement]], place: int) -> Callable[[], WebElement]:
    """How one of a list is found again."""
    return lambda: find()[place]


def known(element: WebElement, again: Callable[[], WebElement]) -> WebElement:
    """An element that can be found again."""
    if isinstance(element, Element):
        element.again = again
    return element
