"""Real processes on free ports and a real browser, for the browser tests and the pictures."""

import atexit
import functools
import shutil
import signal
import socket
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from multiprocessing.context import ForkServerProcess
from pathlib import Path
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement

from tests.browser.elements import Browser, known
from tests.browser.launcher import end, launch
from tests.passwords import quick_passwords
from vinemark.demo import KNOWN_THERE, prepare

TOKEN = "a token for tests"
FIRST_CODE = "moss-fern-lichen"
DEMO_EMAIL = "maren.ostrander@larkmoor.example"
DEMO_PASSWORD = "larkmoor"


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


_RELEASED: list[int] = []
"""Ports of stages that are over: on the same address the browser has the scripts and styles already."""


def _port() -> int:
    return _RELEASED.pop() if _RELEASED else free_port()


@functools.cache
def _demo_data() -> Path:
    """The demo's databases, made once for all tests of a run and copied for each."""
    folder = Path(tempfile.mkdtemp(prefix="vinemark-demo-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    prepare(folder)
    quick_passwords(folder / "vinemark.sqlite")
    return folder


@functools.cache
def _compiled() -> str:
    """Where templates are compiled once for all processes of a run."""
    folder = tempfile.mkdtemp(prefix="vinemark-compiled-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder


def copy_demo(folder: Path) -> None:
    """The demo's databases in a folder of their own."""
    shutil.copytree(_demo_data(), folder)


@dataclass
class Stage:
    """Vine Mark and the registrar as two processes over a folder of databases."""

    folder: Path
    port: int = field(default_factory=_port)
    office_port: int = field(default_factory=_port)
    mail_port: int = field(default_factory=free_port)
    smtp_port: int = field(default_factory=free_port)
    identity_port: int = field(default_factory=free_port)
    day: str = "2026-12-19"
    time: str = "10:20"
    deliver_seconds: int = 0
    with_identity: bool = False
    processes: dict[str, ForkServerProcess] = field(default_factory=dict)
    signed_in: bool = False

    @classmethod
    @contextmanager
    def demo(cls, folder: Path) -> Iterator["Stage"]:
        """The demo, in a folder of its own."""
        copy_demo(folder / "demo")
        with cls.running(folder / "demo") as stage:
            yield stage

    @classmethod
    @contextmanager
    def running(cls, folder: Path) -> Iterator["Stage"]:
        """Both processes over a folder, stopped at the end."""
        folder.mkdir(exist_ok=True)
        stage = cls(folder)
        try:
            stage.start_both()
            yield stage
        finally:
            # At once: what the processes would still tidy up goes with the folder.
            for name in list(stage.processes):
                stage.stop(name, signal.SIGKILL)
            _RELEASED.extend((stage.office_port, stage.port))

    @property
    def url(self) -> str:
        """Address of Vine Mark."""
        return f"http://127.0.0.1:{self.port}"

    @property
    def office_url(self) -> str:
        """Address of the registrar."""
        return f"http://127.0.0.1:{self.office_port}"

    def start_both(self) -> None:
        """Start the registrar and the application beside one another."""
        database = str(self.folder / "office.sqlite")
        self._launch("office", "office", "--port", str(self.office_port), "--database", database)
        self.start("app", "serve", "--port", str(self.port))
        self._wait_for_port("office", open_=True)

    def start_office(self, answer_delay: float = 0.0) -> None:
        """Start the registrar; it may take its time between keeping a sending and answering it."""
        database = str(self.folder / "office.sqlite")
        options = ["--port", str(self.office_port), "--database", database, "--answer-delay", str(answer_delay)]
        self.start("office", "office", *options)

    def start(self, name: str, *arguments: str) -> None:
        """Start one process and wait until it answers."""
        self._launch(name, *arguments)
        self._wait_for_port(name, open_=True)

    def start_mail(self) -> None:
        """Start the mail server, and the application anew, which looks for letters every second."""
        self.stop("app", signal.SIGKILL)
        self.deliver_seconds = 1
        folder = str(self.folder / "mail")
        ports = ["--port", str(self.mail_port), "--smtp-port", str(self.smtp_port)]
        self.start("mail", "mail", *ports, "--folder", folder)
        self.start("app", "serve", "--port", str(self.port))

    @property
    def identity_url(self) -> str:
        """Address of the identity provider."""
        return f"http://127.0.0.1:{self.identity_port}"

    def start_identity(self) -> None:
        """Start the identity provider, and the application anew, which signs in by it."""
        self.stop("app", signal.SIGKILL)
        self.with_identity = True
        people = str(self.folder / KNOWN_THERE)
        self.start("identity", "identity", "--port", str(self.identity_port), "--people", people)
        self.start("app", "serve", "--port", str(self.port))

    def letter_link(self, driver: webdriver.Chrome, to: str) -> str:
        """The link in the latest letter to somebody, once it came."""
        for _ in range(int(10 * PATIENCE)):
            driver.get(f"http://127.0.0.1:{self.mail_port}/?to={to}")
            found = driver.find_elements(By.CSS_SELECTOR, "tbody a")
            if found:
                found[0].click()
                return str(driver.find_element(By.CSS_SELECTOR, "pre a").text)
            time.sleep(0.1)
        raise RuntimeError(f"no letter to {to}")

    def _launch(self, name: str, *arguments: str) -> None:
        environment = {
            "VINEMARK_DATABASE": str(self.folder / "vinemark.sqlite"),
            "VINEMARK_OFFICE_URL": self.office_url,
            "VINEMARK_OFFICE_TOKEN": TOKEN,
            "VINEMARK_DAY": self.day,
            "VINEMARK_TIME": self.time,
            "VINEMARK_DELIVER_SECONDS": str(self.deliver_seconds),
            "VINEMARK_ADDRESS": self.url,
            "VINEMARK_MAIL": f"smtp://127.0.0.1:{self.smtp_port}",
            "VINEMARK_MAIL_FROM": "vine.mark@larkmoor.example",
            "VINEMARK_IDENTITY": self.identity_url if self.with_identity else "",
            "VINEMARK_IDENTITY_SECRET": TOKEN,
            "VINEMARK_ROLES_CLAIM": "roles",
            "VINEMARK_COLLEGE": "Larkmoor College",
            "VINEMARK_DEMO": "1",
            "VINEMARK_FIRST_CODE": FIRST_CODE,
            "VINEMARK_COMPILED": _compiled(),
        }
        alone = ["--workers", "1"] if arguments[0] == "serve" and "--workers" not in arguments else []
        self.processes[name] = launch([*arguments, *alone], environment)

    def _wait_for_port(self, name: str, open_: bool) -> None:
        port = {"office": self.office_port, "mail": self.mail_port, "identity": self.identity_port}.get(name, self.port)
        for _ in range(int(10 * PATIENCE)):
            with socket.socket() as probe:
                if (probe.connect_ex(("127.0.0.1", port)) == 0) == open_:
                    return
            time.sleep(0.1)
        raise RuntimeError(f"{name} did not {'start' if open_ else 'stop'}")

    def stop(self, name: str, how: signal.Signals = signal.SIGTERM) -> None:
        """Stop one process; SIGKILL stops it and its worker at once."""
        end(self.processes.pop(name), how, PATIENCE)
        self._wait_for_port(name, open_=False)

    def sign_in(self, driver: webdriver.Chrome, email: str = DEMO_EMAIL, password: str = DEMO_PASSWORD) -> None:
        """Sign in, unless somebody is; the first time with nothing left of an earlier stage at the same address."""
        if not self.signed_in:
            left = {"origin": self.url, "storageTypes": "cookies,local_storage"}
            driver.execute_cdp_cmd("Storage.clearDataForOrigin", left)
            self.signed_in = True
        driver.get(self.url)
        if "/sign-in" in driver.current_url:
            driver.find_element(By.ID, "f-email").send_keys(email)
            driver.find_element(By.ID, "f-password").send_keys(password + "\n")
            wait(driver, "h1", "Desk")

    def open(self, driver: webdriver.Chrome, section: str, step: str) -> None:
        """Open one step of a section from the Desk."""
        driver.get(self.url)
        driver.find_element(By.LINK_TEXT, section).click()
        wait(driver, "h1", "Grading plan")
        if step != "plan":
            driver.find_element(By.CSS_SELECTOR, f".stem a[href$='/{step}']").click()
            wait(driver, "h1", step.capitalize())

    def focus_cell(self, driver: webdriver.Chrome, item: str) -> None:
        """Focus the third student's cell of an item and wait for the working."""
        cell = driver.find_elements(By.CSS_SELECTOR, f"td[data-item='{item}']")[2]
        driver.execute_script("arguments[0].scrollIntoView({ block: 'nearest', inline: 'center' })", cell)
        cell.click()
        wait(driver, "#margin h3", "How it was worked out")


FIND = """
const [selector, text] = arguments;
return [...document.querySelectorAll(selector)].find((one) => !text || one.innerText.includes(text)) ?? null;
"""
TEXT = "return document.querySelector(arguments[0])?.innerText ?? 'no such element'"


PATIENCE = 90.0
"""Seconds until what is waited for counts as not coming: it costs nothing where it comes, and machines may be busy."""


def sign_grades(driver: webdriver.Chrome, count: int | None = None) -> None:
    """Sign what is ready, with a reason where findings are open."""
    button = wait(driver, "#sign", f"Sign {count} grades" if count else "Sign")
    for reason in driver.find_elements(By.ID, "sign-reason"):
        reason.send_keys("looked at, and right")
    button.click()


def wait(driver: webdriver.Chrome, selector: str, text: str = "", seconds: float = PATIENCE) -> WebElement:
    """Wait for an element, with a text in it where one is given.

    Found and read in one step inside the page: it may be morphed or left between two steps from outside.
    """
    until = time.monotonic() + max(seconds, PATIENCE)
    while True:
        found = inside(driver, FIND, selector, text)
        if isinstance(found, WebElement):
            return known(found, lambda: wait(driver, selector, text, seconds))
        if time.monotonic() > until:
            raise AssertionError(f"{selector}: {text!r} did not come, but {inside(driver, TEXT, selector)!r}")
        time.sleep(0.05)


def until(found: Callable[[], object], what: str = "", seconds: float = PATIENCE) -> None:
    """Wait until something holds; what is being changed while it is read does not hold yet."""
    last = time.monotonic() + max(seconds, PATIENCE)
    while not attempt(found):
        assert time.monotonic() < last, what or "what was waited for did not come"
        time.sleep(0.05)


def keys(driver: webdriver.Chrome, *typed: str, held: str = "") -> None:
    """Press keys where the focus is, one held down beside them."""
    hand = ActionChains(driver, duration=0)
    if held:
        hand.key_down(held)
    hand.send_keys(*typed)
    if held:
        hand.key_up(held)
    hand.perform()


def type_into(driver: webdriver.Chrome, element_id: str, *typed: str) -> None:
    """Type into a field that may just be put in anew."""
    driver.find_element(By.ID, element_id).send_keys(*typed)


def attempt(found: Callable[[], object]) -> object:
    """What a look at the page gives; nothing where the page changed under it."""
    try:
        return found()
    except WebDriverException:
        return None


def inside(driver: webdriver.Chrome, script: str, *values: object) -> object:
    """What a script inside the page gives; nothing while the page is being left for another one."""
    return attempt(lambda: driver.execute_script(script, *values))


@contextmanager
def browser(folder: Path) -> Iterator[webdriver.Chrome]:
    """Chromium without a screen, at 1280x800, with a profile of its own."""
    options = Options()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for flag in (
        "--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--disable-quic",
        "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
        "--disable-software-rasterizer",
        "--hide-scrollbars", f"--user-data-dir={folder / 'profile'}",
    ):  # fmt: skip
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = Browser(options=options, service=Service(shutil.which("chromedriver") or "/usr/bin/chromedriver"))
    size = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    try:
        yield driver
    finally:
        driver.quit()


def logged(driver: webdriver.Chrome) -> list[dict[str, Any]]:
    """What the console of the browser was told since it was last asked."""
    entries: list[dict[str, Any]] = driver.get_log("browser")  # type: ignore[no-untyped-call]
    return entries
