"""The log in one hand, and pictures told so: from a tap at the phone to the sidecar beside the picture."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import httpx
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page, _page
from tests.browser.test_outing import pick
from tests.conftest import Serve
from tests.limits import LIMIT_S, http
from tests.logs import entry, jpeg, wall
from tests.prepared import sample_at
from tests.terminal import _environment
from tropeion.formats.log_file import load_log
from tropeion.formats.xmp import read_fields
from tropeion.pictures.sample_pictures import make_sample_pictures
from tropeion.sample import log_bytes

# What a card asks for before the release.
DEEDS = (("attach", None), ("focal_length", 55.0), ("release_without_lens", True), ("release", None))
RIG = "lens=kel-55&body=o7&via=kel-ost-plain"
LOG = f"/log?{RIG}"


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    found = tmp_path / "pictures"
    found.mkdir()
    return found


@pytest.fixture
def log_page(driver: Any, serve: Serve, tmp_path: Path, folder: Path) -> Iterator[Page]:
    """The sample on a server of its own that may read a folder of pictures."""
    served = serve(sample_at(tmp_path / "collection.sqlite"), pictures=[folder])
    yield from _page(driver, served.address, fresh=True)


@contextmanager
def a_camera(data: Path, folder: Path, clock_off_s: int) -> Iterator[None]:
    """A simulated body in a process of its own, which keeps its frames."""
    command = ("device", "body", "sample", "--body", "o7", "--pictures", str(folder), "--clock-off", str(clock_off_s))
    process = subprocess.Popen(
        [sys.executable, "-m", "tropeion", *command, "--data", str(data)],
        stdout=subprocess.PIPE,
        text=True,
        env=_environment(None),
    )
    try:
        assert process.stdout is not None
        assert "Ostrel O7 is at" in process.stdout.readline()
        yield
    finally:
        process.terminate()
        process.communicate(timeout=LIMIT_S)


def held(page: Page) -> list[dict[str, Any]]:
    lines = http.get(f"{page.address}/api/v1/log/entries").json()["entries"]
    return [line["entry"] for line in lines]


def tap_stop(page: Page, stop: str) -> None:
    page.find(f".stop[aria-label$='at f/{stop}']").click()


def test_from_a_tap_to_the_sidecar(log_page: Page, folder: Path, tmp_path: Path) -> None:
    page = log_page
    page.size(390, 844)
    page.load(LOG)
    page.find(".stop")
    with a_camera(tmp_path, folder, -420):
        for do, value in DEEDS:
            done = http.post(f"{page.address}/api/v1/camera?{RIG}", json={"do": do, "value": value}).json()
            assert done["says"] == "", done
        tap_stop(page, "5.6")
        page.wait_text(".log-entry-set", "f/5.6")
    assert [(one["aperture"], one["way"]) for one in held(page)] == [(5.6, "tap")]
    assert [path.name for path in folder.iterdir()] == ["F0001.JPG"]
    before = (folder / "F0001.JPG").read_bytes()
    page.size(1280, 800)
    page.open("/log/pictures")
    page.find("[data-state=sources] a").click()
    page.wait_text("h1", "This folder has not been read yet.")
    page.push("Read this folder")
    page.wait_text("[data-state=unknown-camera] h2", "Whose is “Ostrel O7”?")
    pick(page, "Which body?", "Ostrel O7")
    page.push("It is this one")
    # A single pair is no proof: it is proposed, and taken on one's word.
    page.wait_text(".clocks-said", "assumed: nothing says how its clock runs")
    proposal = page.find(".clocks-said button")
    assert proposal.text.startswith(("Take 7 min", "Take 6 min"))
    assert proposal.text.endswith("1 picture would agree")
    proposal.click()
    page.wait_text(".clocks-said strong", "as it was stated")
    page.wait_text("h1", "1 picture: 1 told")
    page.push("Show what would be written for 1 picture")
    page.wait_text("[data-state=told]", "Would be: 1 new")
    page.push("Write 1 sidecar")
    page.wait_text("[data-state=written]", "Written: 1 new")
    fields = read_fields((folder / "F0001.xmp").read_bytes())
    assert (fields["exifEX:LensModel"], fields["exif:FNumber"]) == ("Kelvane 55/2.2", "56/10")
    assert (folder / "F0001.JPG").read_bytes() == before
    # A trial begins from the picture: at its stop, and with its name.
    page.find("[data-picture$='F0001.JPG'] a").click()
    page.wait_text(".ladder [data-taken] th", "f/5.6\nthis frame")
    page.find(".ladder [data-taken] .ladder-cell").click()
    page.push("Keep 1 stop")
    page.find("[data-trial-at='5.6']")
    (told,) = http.get(f"{page.address}/api/v1/trials").json()["trials"]
    assert (told["trial"]["aperture"], told["trial"]["file"]) == (5.6, "F0001.JPG")


def test_what_cannot_be_sent_stays_and_is_sent_again(log_page: Page) -> None:
    page = log_page
    page.load(LOG)
    page.find(".stop")
    away = {"offline": True, "latency": 0, "downloadThroughput": 0, "uploadThroughput": 0}
    page.driver.execute_cdp_cmd("Network.enable", {})
    page.driver.execute_cdp_cmd("Network.emulateNetworkConditions", away)
    tap_stop(page, "4")
    tap_stop(page, "8")
    page.wait_text(".log-waiting", "2 entries have not been sent yet")
    back = {**away, "offline": False, "downloadThroughput": -1, "uploadThroughput": -1}
    page.driver.execute_cdp_cmd("Network.emulateNetworkConditions", back)
    # Nobody has to ask for it.
    page.gone(".log-waiting")
    page.until(lambda _: len(page.all("[data-entry]")) == 2, "both are not there")
    assert sorted(one["aperture"] for one in held(page)) == [4.0, 8.0]
    # What the browser tells of a line that was down.
    page.messages()


@pytest.mark.attack
def test_ways_settings_and_corrections_stand_where_they_were_made(log_page: Page) -> None:
    page = log_page
    page.load(LOG)
    page.find(".stop")
    page.push("tripod")
    page.push("From here on")
    tap_stop(page, "8")
    page.wait_text(".log-entry-rig", "from here on")
    # One way is for one entry: the next one is a frame again, and everything else is as before.
    page.find(".log-ways button[aria-pressed=true]")
    tap_stop(page, "4")
    page.until(lambda _: len(page.all("[data-entry]")) == 2, "no second entry")
    first, second = held(page)
    assert [(one["way"], one["support"]) for one in (first, second)] == [("tap", "tripod"), ("before", "tripod")]
    page.press("m")
    page.find(".log-more")
    page.find(".log-other-stop input").send_keys("3.3", Keys.ENTER)
    page.wait_text("[data-state=refused]", "f/3.3 is not on the ring of Kelvane 55/2.2")
    page.find(".log-because input").send_keys("read off the ring")
    page.push("Keep it")
    page.wait_text(".log-entry-note", "read off the ring")
    page.all(".log-entry-tools button")[0].click()
    box = page.find(".log-correct input")
    box.send_keys(Keys.CONTROL, "a", Keys.NULL, "5.6", Keys.ENTER)
    page.wait_text(".log-entry-set", "f/5.6")
    page.all(".log-entry-tools button")[1].click()
    page.find(".log-entry.struck")
    assert held(page)[0]["struck"] == ""
    page.press(Keys.CONTROL, "z", Keys.NULL)
    page.gone(".log-entry.struck")


@pytest.mark.attack
def test_a_roll_of_film_counts_on_and_is_set_by_hand(log_page: Page) -> None:
    page = log_page
    page.load("/log?lens=kel-55&body=stave-3")
    page.find(".stop")
    page.push("New roll")
    page.find(".log-new-roll input").send_keys("windchest-22")
    page.push("Begin this roll")
    page.wait_text(".log-counter output", "1")
    tap_stop(page, "4")
    page.wait_text(".log-counter output", "2")
    # A frame was wound on without being taken.
    page.find("[aria-label='One frame on']").click()
    tap_stop(page, "8")
    page.wait_text(".log-counter output", "4")
    assert [one["frame_number"] for one in held(page)] == [3, 1]


def outing(page: Page, folder: Path) -> None:
    """The sample's outing, read in."""
    http.post(f"{page.address}/api/v1/log/file?take=new", content=log_bytes()).raise_for_status()
    make_sample_pictures(folder, rows=24)
    page.load("/log/pictures")
    page.find("[data-state=sources] a").click()
    page.push("Read this folder")
    page.wait_text("h1", "115 pictures: 112 told, 3 doubts.")


@pytest.mark.attack
def test_doubts_are_settled_by_keys_each_one_step(log_page: Page, folder: Path) -> None:
    page = log_page
    outing(page, folder)
    page.wait_text(".doubt-file", "nave/F0012.JPG")
    page.press(Keys.ARROW_DOWN)
    page.wait_text(".doubt-file", "nave/F0041.JPG")
    page.press("x")
    page.wait_text("h1", "2 doubts, 1 without an entry")
    page.press(Keys.ARROW_UP)
    page.press(Keys.ENTER)
    page.wait_text("h1", "1 doubt, 1 without an entry")
    # The nearest other entry was of one frame, and has it now: the picture that had it has none.
    page.press("1")
    page.wait_text("h1", "113 told, 2 without an entry")
    page.wait_text("main", "Nothing is doubtful.")
    page.press(Keys.CONTROL, "z", Keys.NULL)
    page.wait_text("h1", "1 doubt, 1 without an entry")


@pytest.mark.attack
def test_the_lower_line_is_moved_by_hand_and_by_keys(log_page: Page, folder: Path) -> None:
    page = log_page
    outing(page, folder)
    line = page.find(".clock-pictures")
    seconds = int(line.get_attribute("aria-valuenow") or "0")
    ActionChains(page.driver).drag_and_drop_by_offset(page.find(".clock-pictures > rect"), 60, 0).perform()
    page.wait_text(".clocks-said", "as it was stated")
    moved = int(page.find(".clock-pictures").get_attribute("aria-valuenow") or "0")
    assert moved > seconds + 60
    page.find(".clock-pictures").send_keys(Keys.ARROW_LEFT)
    page.until(lambda _: page.find(".clock-pictures").get_attribute("aria-valuenow") == str(moved - 1), "not moved")
    # A clock that was photographed says it outright; then what was stated is struck out.
    page.find(".clocks-told summary").click()
    page.push("strike out")
    page.push("strike out")
    page.wait_text(".clocks-said", "by the taps that its pictures match")


@pytest.mark.attack
def test_dropped_pictures_are_told_without_leaving_the_machine(log_page: Page, tmp_path: Path) -> None:
    page = log_page
    log = [entry(f"e{number}", step) for number, step in enumerate((0, 97, 171, 300, 488, 590))]
    for number, step in enumerate((0, 97, 171, 300, 488, 590)):
        (tmp_path / f"A{number}.JPG").write_bytes(jpeg(wall(step)))
    cameras = [{"body": "o7", "make": "Ostrel", "model": "O7"}]
    answer = httpx.post(f"{page.address}/api/v1/log/file?take=new", json={"entries": log, "cameras": cameras})
    answer.raise_for_status()
    page.load("/log/pictures")
    names = "\n".join(str(tmp_path / f"A{number}.JPG") for number in range(6))
    page.find("input[aria-label=Pictures]").send_keys(names)
    page.wait_text("h1", "6 pictures: 6 told.")
    link = page.find(".write-down a").get_attribute("href") or ""
    assert http.get(link).headers["content-type"] == "application/zip"
    assert len(load_log(http.get(f"{page.address}/api/v1/log/file").content).entries) == 6


@pytest.mark.attack
def test_a_log_file_is_brought_in_from_the_screen(log_page: Page, tmp_path: Path) -> None:
    page = log_page
    file = tmp_path / "log.json"
    file.write_bytes(log_bytes())
    page.load("/log")
    page.find("[data-state=no-rig]")
    page.find("input[aria-label='A log file']").send_keys(str(file))
    page.wait_text("[data-state=looked-at]", "120 new, 0 the same.")
    page.push("Take the 120 new")
    page.wait_text(".log-last h2", "Last of 96 entries")
    page.push("Earlier ones")
    page.until(lambda _: len(page.all("[data-entry]")) == 90, "no earlier ones")
