"""The registrar is stopped in the middle of a sending: nothing is lost, and sending again gives one receipt."""

import signal
import sqlite3
import time
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By

from tests.browser.stage import Stage, sign_grades, wait

pytestmark = pytest.mark.browser

FINAL = "SELECT count(*) FROM sending WHERE section = '2026FA-FIBR120-01' AND run = 'final'"
RECEIPTS = (
    "SELECT count(*) FROM sending d JOIN signing g ON g.id = d.signing_id JOIN section s ON s.id = g.section_id"
    " WHERE s.course = 'FIBR 120' AND g.run = 'final' AND d.receipt IS NOT NULL"
)


def count(path: Path, query: str) -> int:
    """One number from a database."""
    connection = sqlite3.connect(path)
    try:
        return int(connection.execute(query).fetchone()[0])
    finally:
        connection.close()


def sign(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.sign_in(driver)
    stage.open(driver, "FIBR 120-01", "submit")
    sign_grades(driver)
    wait(driver, "h2", "Signed, not submitted")


def wait_until_kept(office: Path, submissions: int) -> None:
    """Until the registrar has kept the sending, which it has not answered yet."""
    for _ in range(100):
        if count(office, FINAL) == submissions:
            return
        time.sleep(0.1)
    raise AssertionError("the registrar never kept the sending")


def send_without_an_answer(driver: webdriver.Chrome, stage: Stage, office: Path) -> None:
    """Sign and send to an office that keeps the sending and takes its time to answer."""
    stage.stop("office")
    stage.start_office(answer_delay=8)
    sign(driver, stage)
    driver.execute_script("setTimeout(() => document.getElementById('send').click(), 50)")
    wait_until_kept(office, 1)


def test_answer_is_lost_and_sending_again_gives_the_one_receipt(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        office = stage.folder / "office.sqlite"
        send_without_an_answer(driver, stage, office)
        stage.stop("office", signal.SIGKILL)
        wait(driver, "h2", "Submitted, not confirmed")
        wait(driver, ".notice.trouble", "did not confirm")
        assert driver.find_elements(By.CSS_SELECTOR, ".receipt-box") == []
        driver.find_element(By.ID, "send").click()
        wait(driver, ".notice.trouble", "it could not be reached")
        assert len(driver.find_elements(By.CSS_SELECTOR, ".submit-table tbody tr")) == 14
        stage.start_office()
        driver.find_element(By.ID, "send").click()
        wait(driver, ".notice", "Receipt R-2026-00006: 14 accepted")
        wait(driver, "#margin", "14 of 14 lines agree")
        assert len(driver.find_elements(By.CSS_SELECTOR, ".receipt-box")) == 1
        assert count(office, FINAL) == 1
        assert count(office, FINAL.replace("FROM sending", "FROM grade")) == 14
        assert count(stage.folder / "vinemark.sqlite", RECEIPTS) == 1


def test_app_is_killed_while_it_waits_for_the_office(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        office = stage.folder / "office.sqlite"
        send_without_an_answer(driver, stage, office)
        stage.stop("app", signal.SIGKILL)
        stage.start("app", "serve", "--port", str(stage.port))
        stage.open(driver, "FIBR 120-01", "submit")
        wait(driver, "h2", "Submitted, not confirmed")
        stage.stop("office", signal.SIGKILL)
        stage.start_office()
        driver.find_element(By.ID, "send").click()
        wait(driver, ".notice", "14 accepted")
        assert count(office, FINAL) == 1
