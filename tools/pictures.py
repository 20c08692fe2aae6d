"""Takes the pictures of docs/screenshots anew, from the sample data: python tools/pictures.py ADDRESS [NAME ...].

ADDRESS is a running demo; the phone's picture wants one in the network: demo --lan --address 127.0.0.2. Look at every
picture before it is committed.
"""

from __future__ import annotations

import base64
import json
import shutil
import sys
import tempfile
import urllib.request
from dataclasses import dataclass, replace
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
FLAGS = (
    *("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run"),
    *("--disable-background-networking", "--disable-component-update", "--disable-sync", "--hide-scrollbars"),
    # The demo's own certificate; the tests leave this out.
    "--ignore-certificate-errors",
)


@dataclass(frozen=True, slots=True)
class Picture:
    """Where a view is; what it waits for beside its answer, how far it is scrolled."""

    path: str
    size: tuple[int, int] = (1280, 800)
    dark: bool = False
    to: str = ""
    wait: str = ""
    # What was written there before: a key of the session's store, and its value.
    stored: tuple[str, str] | None = None
    # From a paired phone, where the demo was started with --lan; pressed before it is taken.
    carried: bool = False
    press: str = ""
    # Waited for once it was pressed.
    after: str = ""


# The penny ring: short by intent, as the ring and the caliper say.
SEEN = json.dumps(
    {
        "saw": [
            {"kind": "scale", "values": [2.4, 2.1], "doubt": None, "from_front": False},
            {"kind": "past_infinity", "values": [14], "doubt": None, "from_front": False},
            {"kind": "length", "values": [-0.19, 0.012], "doubt": None, "from_front": False},
        ],
        "nameless": False,
        "past_infinity": True,
        "foils": None,
    }
)
PICTURES = {
    "light-path": Picture("/?lens=kel-55&body=o7"),
    "what-fits": Picture("/?lens=kel-55", wait=".wall"),
    "frame": Picture(
        "/frame?lens=kel-30s&body=o7&via=kel-ost-plain&vs=p%3D0%26sx%3D%26sy%3D&sy=6", wait=".photo-other"
    ),
    "set-up": Picture("/setup/film", wait=".balance-support"),
    "caliper": Picture(
        "/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=measure", wait="[data-result=settled] [data-effect=settled]"
    ),
    "bench": Picture(
        "/bench?lens=kel-55&body=o7&via=kel-ost-short&view=seen",
        wait="[data-after]",
        dark=True,
        stored=("bench seen kel-55 o7 kel-ost-short", SEEN),
    ),
    "from-picture": Picture(
        "/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=picture",
        press="[data-action=sample]",
        after="[data-measured=settled] [data-picture=shown]",
    ),
    "log": Picture("/log", size=(390, 844)),
    "pocket": Picture(
        "/pocket?view=fit&mount=tolmer",
        size=(390, 844),
        wait='[data-body="corran"]',
        carried=True,
        press='[data-body="corran"] summary',
    ),
    "trials": Picture("/log/trials?lens=kel-55&body=o7&via=kel-ost-plain"),
    "pictures": Picture("/log/pictures/1", wait=".thumbnail"),
    "whole-kit": Picture("/grid?lens=kel-28-80&body=o7", wait="[data-why='kel-28-80 o7']"),
    "plan": Picture("/plan/{plan}", wait="[data-without=there]"),
    "outing": Picture("/outing/{outing}", wait=".lanes"),
    "mounts": Picture("/mounts?of=kelvane"),
    "kit": Picture("/kit/lenses?item=kel-55"),
    "would-fit": Picture("/fit?q=KLV+28-80mm+1:3.5-4.5", wait="[data-state=would-fit]"),
    "practice": Picture(
        "/practice?only=links", press=".practice-choice", after=".practice-paths .section", to=".practice-asked"
    ),
}


RIG = "lens=kel-55&body=o7&via=kel-ost-plain"
# A swap by the card, and a release that nobody allowed.
DEEDS = (
    ("begin", None),
    ("power", False),
    ("attach", None),
    ("power", True),
    ("prompt", 55),
    ("focus", None),
    ("release", None),
)
SHOTS = (
    ("The great window", "gallery"),
    ("Blower running", "film"),
    ("Pipe marks", "pipe-marks"),
    ("The case", "gallery"),
)


def sent(address: str, path: str, document: object) -> dict[str, str]:
    """What the demo answers to a document."""
    headers = {"content-type": "application/json"}
    asked = urllib.request.Request(address + path, json.dumps(document).encode(), headers)
    with urllib.request.urlopen(asked) as answer:
        found: dict[str, str] = json.load(answer)
    return found


def prepared(address: str) -> dict[str, str]:
    """A camera that refuses its release, readings of a ring, and an outing; what is filled into the addresses."""
    readings = [{"mm": mm, "angle_deg": 90 * number} for number, mm in enumerate((25.86, 25.84, 25.82, 25.84))]
    ring = "kind=adapters&id=kel-ost-plain&quantity=length"
    sent(address, f"/api/v1/bench/series?{ring}", {"readings": readings, "day": "2026-11-24"})
    for do, value in DEEDS:
        sent(address, f"/api/v1/camera?{RIG}", {"do": do, "value": value})
    shots = [{"name": name, "rig": rig} for name, rig in SHOTS]
    outing = sent(
        address, "/api/v1/outings", {"name": "Windchest, the west gallery", "day": "2026-12-05", "shots": shots}
    )
    plan = sent(address, "/api/v1/plans", {"name": "Everything at hand"})
    return {"outing": outing["id"], "plan": plan["id"]}


def take(driver: webdriver.Chrome, address: str, picture: Picture) -> bytes:
    """One picture, once the view has its answer and nothing moves any more."""
    width, height = picture.size
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 500}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    scheme = {"name": "prefers-color-scheme", "value": "dark" if picture.dark else "light"}
    still = {"name": "prefers-reduced-motion", "value": "reduce"}
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": [scheme, still]})
    if picture.stored is not None:
        driver.get(address + "/mark.svg")
        driver.execute_script("sessionStorage.setItem(arguments[0], arguments[1])", *picture.stored)
    driver.get(address + picture.path)
    patience = WebDriverWait(driver, 20, 0.05)
    there = picture.wait or picture.to or "main[data-answer-for]:not([aria-busy='true'])"
    patience.until(lambda d: d.find_elements(By.CSS_SELECTOR, there))
    patience.until(lambda d: d.execute_script("return document.fonts.status === 'loaded'"))
    if picture.press:
        patience.until(lambda d: d.find_elements(By.CSS_SELECTOR, picture.press))[0].click()
    if picture.after:
        patience.until(lambda d: d.find_elements(By.CSS_SELECTOR, picture.after))
    if picture.to:
        place = patience.until(lambda d: d.find_elements(By.CSS_SELECTOR, picture.to))[0]
        driver.execute_script("arguments[0].scrollIntoView()", place)
    return base64.b64decode(driver.get_screenshot_as_base64())


def filled_in(picture: Picture, filled: dict[str, str]) -> Picture:
    """A picture whose address has what was prepared."""
    return replace(picture, path=picture.path.format(**filled)) if "{" in picture.path else picture


def paired(driver: webdriver.Chrome, address: str) -> str:
    """The demo's address in the network, once the browser is let in there."""
    code = sent(address, "/api/v1/lan/code", {"may": "log"})["code"].replace("-", "")
    with urllib.request.urlopen(f"{address}/api/v1/lan") as answer:
        at: str = json.load(answer)["urls"][0].rstrip("/")
    driver.get(f"{at}/#pair={code}")
    WebDriverWait(driver, 20, 0.05).until(lambda d: d.find_elements(By.CSS_SELECTOR, "#pair button"))[0].click()
    WebDriverWait(driver, 20, 0.05).until(lambda d: d.find_elements(By.CSS_SELECTOR, "main[data-answer-for]"))
    return at


def card(driver: webdriver.Chrome, address: str) -> bytes:
    """The printed card as it stands on paper, one A5 side."""
    take(driver, address, PICTURES["light-path"])
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print", "features": []})
    metrics = {"width": 559, "height": 794, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    driver.execute_script("window.dispatchEvent(new Event('beforeprint'))")
    WebDriverWait(driver, 20, 0.05).until(lambda d: d.find_elements(By.CSS_SELECTOR, ".printed-card svg path"))
    # The margins that paper has.
    driver.execute_script("document.body.style.padding = '9mm'")
    clip = {"x": 0, "y": 0, "width": 559, "height": 794, "scale": 1.2}
    shot = driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png", "clip": clip})
    found = base64.b64decode(shot["data"])
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "", "features": []})
    return found


def main(address: str, names: list[str]) -> None:
    options = Options()
    options.binary_location = shutil.which("chromium") or ""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
        for flag in (*FLAGS, f"--user-data-dir={profile}"):
            options.add_argument(flag)
        driver = webdriver.Chrome(options=options, service=Service(shutil.which("chromedriver") or ""))
        filled = prepared(address)
        try:
            for name in names or [*PICTURES, "card"]:
                if name == "card":
                    found = card(driver, address)
                else:
                    picture = filled_in(PICTURES[name], filled)
                    found = take(driver, paired(driver, address) if picture.carried else address, picture)
                (FOLDER / f"{name}.png").write_bytes(found)
                print(name)
        finally:
            driver.quit()


if __name__ == "__main__":
    main(sys.argv[1].rstrip("/"), sys.argv[2:])
