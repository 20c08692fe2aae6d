"""A phone in the network: paired, without the machine, revoked. At 127.0.0.2; the browser trusts the authority by its
own store of certificates, as a phone does, and nothing else is waived."""

from __future__ import annotations

import json
import sqlite3
import subprocess
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import httpx
import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By

from tests.browser.conftest import Page, chromium
from tests.limits import client_of, until
from tests.network import LanServer
from tests.prepared import sample_at
from tropeion.api import pages
from tropeion.core.records.outing_record import Outing, Shot
from tropeion.core.records.record import begun
from tropeion.lan import listening as of_listening

RIG = "lens=kel-55&body=o7&via=kel-ost-plain"
NAMED = "nave.local"


@dataclass
class Phone:
    """A browser like a phone's, and the machine that it is paired with."""

    page: Page
    server: LanServer

    @property
    def driver(self) -> webdriver.Chrome:
        return self.page.driver

    def machine(self) -> httpx.Client:
        return client_of(f"{self.server.machine}/api/v1")

    def pair(self, code: str | None = None) -> None:
        """By the address in the QR code, as its camera opens it."""
        typed = (code or self.server.code()).replace("-", "")
        self.driver.get(f"{self.page.address}/#pair={typed}")
        self.page.until(lambda _: self.page.find("#code").get_attribute("value"), "the code is not read")
        # It is gone from the address bar.
        assert self.driver.current_url == f"{self.page.address}/"
        self.page.find("#name").clear()
        self.page.find("#name").send_keys("Gallery phone")
        self.page.find("#pair button").click()
        self.page.find("main[data-answer-for]")

    def ready(self) -> None:
        """The shell is kept, and what is carried."""
        self.driver.execute_async_script("navigator.serviceWorker.ready.then(() => arguments[0]())")
        self.page.until(
            lambda _: self.driver.execute_script("return navigator.serviceWorker.controller !== null"), "no worker"
        )
        self.page.load("/pocket")
        self.page.answer("pocket fit")

    def kept(self, name: str) -> Any:
        """What stands in the browser's own store."""
        script = """
            const [name, done] = arguments;
            const open = indexedDB.open("tropeion");
            open.onsuccess = () => {
              const db = open.result;
              const all = db.transaction(name).objectStore(name).getAll();
              all.onsuccess = () => { db.close(); done(all.result); };
            };
        """
        return self.driver.execute_async_script(script, name)

    def is_a_stranger(self) -> None:
        """It comes to the page that pairs, by itself."""
        # Asked by script: the elements of a page that is being left are nowhere.
        paired = "return document.querySelector('#pair') !== null && document.readyState === 'complete'"
        self.page.until(lambda driver: driver.execute_script(paired), "it is paired still")
        self.page.wait_text("h1", "This device is not paired.")

    def waiting(self, count: int) -> list[dict[str, Any]]:
        return until(lambda: self.kept("deeds"), lambda found: len(found) == count)


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[LanServer]:
    with pytest.MonkeyPatch.context() as patch:
        # Whatever this machine is called.
        patch.setattr(of_listening, "names_here", lambda: ("nave", NAMED))
        yield from served(tmp_path_factory)


def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[LanServer]:
    path = tmp_path_factory.mktemp("network") / "collection.sqlite"
    collection = sample_at(path)
    shots = (Shot(name="Console", rig="gallery"),)
    outing = Outing(**begun([]), name="West gallery", day="2026-12-05", shots=shots, spare=("lark",), packed=())
    collection.keep_record(outing, "Outing", 0)
    collection.close()
    found = LanServer(path, most_from_one=24, handshake_within_s=10)
    found.start()
    yield found
    found.stop()


@pytest.fixture(scope="module")
def trusting(server: LanServer, tmp_path_factory: pytest.TempPathFactory) -> Iterator[webdriver.Chrome]:
    """A browser whose owner has installed the authority."""
    home = tmp_path_factory.mktemp("home")
    store = home / ".pki" / "nssdb"
    store.mkdir(parents=True)
    assert server.listening.authority is not None
    (home / "authority.crt").write_bytes(server.listening.authority.der)
    certutil = ("certutil", "-d", f"sql:{store}")
    subprocess.run([*certutil, "-N", "--empty-password"], check=True)
    subprocess.run([*certutil, "-A", "-t", "C,,", "-n", "tropeion", "-i", str(home / "authority.crt")], check=True)
    flag = f"--host-resolver-rules=MAP {NAMED} 127.0.0.2"
    driver = chromium(tmp_path_factory.mktemp("phone"), flag, home=home)
    yield driver
    driver.quit()


@pytest.fixture
def phone(trusting: webdriver.Chrome, server: LanServer) -> Iterator[Phone]:
    """As it comes from the shop: nothing is kept in it."""
    page = Page(trusting, server.at())
    page.size(390, 844)
    page.dark(False)
    trusting.get("about:blank")
    trusting.execute_cdp_cmd("Storage.clearDataForOrigin", {"origin": server.at(), "storageTypes": "all"})
    trusting.execute_cdp_cmd("Network.clearBrowserCookies", {})
    yield Phone(page, server)
    trusting.get("about:blank")
    expected = ("net::ERR_CONNECTION_REFUSED", "net::ERR_INTERNET_DISCONNECTED", "status of 4")
    assert [one for one in page.messages() if not any(known in one for known in expected)] == []


def cached(phone: Phone) -> list[str]:
    """What the worker keeps, the page among it."""
    found = phone.driver.execute_async_script(
        """const done = arguments[0];
        caches.keys().then(async (names) => {
          const all = await Promise.all(names.map(async (name) => (await caches.open(name)).keys()));
          done(all.flat().map(({url}) => new URL(url).pathname));
        });"""
    )
    assert "/" in found
    return list(found)


def stops(phone: Phone) -> Callable[[str], None]:
    """Log a frame by a tap on a stop."""

    def tap(stop: str) -> None:
        found = [one for one in phone.page.all(".stop") if stop in one.text.split()]
        assert found, [one.text for one in phone.page.all(".stop")]
        found[0].click()

    return tap


def test_in_the_nave_without_the_machine(phone: Phone) -> None:
    """Paired, the machine stopped, the page loaded anew; what is done waits, and arrives once the machine is back."""
    phone.pair()
    phone.ready()
    page = phone.page
    page.load(f"/log?{RIG}")
    page.answer("log kel-55 o7 kel-ost-plain")
    phone.server.stop()
    # As from the home screen: nothing is loaded, nobody answers.
    page.load(f"/log?{RIG}")
    page.answer("log kel-55 o7 kel-ost-plain")
    page.wait_text("[data-away]", "The machine does not answer")
    tap = stops(phone)
    tap("5.6")
    phone.waiting(1)
    tap("8")
    phone.waiting(2)
    page.wait_text(".log-waiting", "2 entries have not been sent yet")
    # What is carried is looked up.
    page.load("/pocket?view=fit&mount=tolmer")
    page.answer("pocket fit")
    fit = page.find('[data-body="o7"]')
    fit.find_element(By.TAG_NAME, "summary").click()
    page.wait_text('[data-body="o7"]', "mm for a ring")
    page.load("/pocket?view=cards&rig=gallery")
    page.wait_text("h1", "Gallery camera")
    page.all(".pocket-ticks input")[1].click()
    phone.waiting(3)
    page.load("/pocket?view=outings")
    page.find(".pocket-ticks input").click()
    phone.waiting(4)
    page.load("/terms")
    page.answer("terms")
    assert [path for path in cached(phone) if path.startswith("/api/")] == []
    # What needs the machine says so, and leads to what is here.
    page.load("/?lens=kel-55&body=o7")
    page.wait_text("[data-state=failed]", "This needs the machine.")
    page.find("[data-state=failed] a[href='/pocket']")
    # Everything waits over a reload too, and is sent in its order.
    page.load("/pocket?view=outings")
    assert page.find(".pocket-ticks input").is_selected()
    own_time = [one["deed"]["at"] for one in phone.kept("deeds")]
    phone.server.start()
    phone.waiting(0)
    page.gone("[data-away]")
    assert page.find(".pocket-ticks input").is_selected()
    with phone.machine() as machine:
        lines = machine.get("/log/entries").json()["entries"][:2]
        assert [line["entry"]["aperture"] for line in lines] == [8.0, 5.6]
        assert [line["entry"]["at"] for line in lines] == [own_time[1], own_time[0]]
        titles = [action["title"] for action in machine.get("/history").json()["actions"]][:4]
        assert [title.split()[0] for title in titles] == ["Outing", "Card", "Logged:", "Logged:"]


@pytest.mark.attack
def test_offline_by_the_browser_s_own_switch(phone: Phone) -> None:
    phone.pair()
    phone.ready()
    page = phone.page
    page.load("/log")
    page.find("main[data-answer-for^=log]")
    offline = {"offline": True, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    phone.driver.execute_cdp_cmd("Network.enable", {})
    phone.driver.execute_cdp_cmd("Network.emulateNetworkConditions", offline)
    try:
        page.load("/log")
        page.find("main[data-answer-for^=log]")
        phone.page.all(".stop")[1].click()
        phone.waiting(1)
    finally:
        phone.driver.execute_cdp_cmd("Network.emulateNetworkConditions", {**offline, "offline": False})
    phone.waiting(0)


@pytest.mark.attack
def test_corrected_here_and_on_the_machine_both_are_shown(phone: Phone) -> None:
    phone.pair()
    phone.ready()
    page = phone.page
    page.load(f"/log?{RIG}")
    page.answer("log kel-55 o7 kel-ost-plain")
    stops(phone)("4")
    phone.waiting(0)
    with phone.machine() as machine:
        line = machine.get("/log/entries").json()["entries"][0]
    id_ = line["entry"]["id"]
    page.find(f'[data-entry="{id_}"]')
    phone.server.stop()
    page.push("correct", f'[data-entry="{id_}"]')
    note = page.all(".log-correct input")[-1]
    note.send_keys("here")
    page.push("Correct it")
    assert phone.waiting(1)[0]["deed"]["version"] == 1
    # The machine's comes first: what waits is tried every few seconds, and the phone hears of no machine until then.
    page.driver.execute_cdp_cmd("Network.enable", {})
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/api/*"]})
    phone.server.start()
    with phone.machine() as machine:
        other = {**line["entry"], "note": "there"}
        machine.put(f"/log/entries/{id_}", json={"entry": other, "version": 1}).raise_for_status()
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
    page.wait_text(".log-both", "there")
    assert "here" in page.text(".log-both")
    page.push("Keep this one")
    phone.waiting(0)
    with phone.machine() as machine:
        assert machine.get("/log/entries").json()["entries"][0]["entry"]["note"] == "here"


def revoke(phone: Phone) -> None:
    with phone.machine() as machine:
        for device in machine.get("/lan/devices").json()["devices"]:
            machine.delete(f"/lan/devices/{device['id']}")


@pytest.mark.attack
def test_revoked_everything_that_is_kept_goes(phone: Phone) -> None:
    phone.pair()
    phone.ready()
    page = phone.page
    assert phone.kept("kept")
    revoke(phone)
    page.load("/log")
    phone.is_a_stranger()
    until(lambda: phone.kept("kept"), lambda left: left == [])
    keys = phone.driver.execute_async_script("caches.keys().then(arguments[0])")
    count = "navigator.serviceWorker.getRegistrations().then((all) => arguments[0](all.length))"
    assert (keys, phone.driver.execute_async_script(count)) == ([], 0)
    page.load("/log")
    phone.is_a_stranger()


@pytest.mark.attack
def test_revoked_what_waits_is_offered_as_a_file_and_goes_on_after_pairing(phone: Phone) -> None:
    phone.pair()
    phone.ready()
    page = phone.page
    page.load(f"/log?{RIG}")
    page.answer("log kel-55 o7 kel-ost-plain")
    phone.server.stop()
    stops(phone)("11")
    phone.waiting(1)
    phone.driver.get("about:blank")
    phone.server.start()
    revoke(phone)
    page.load("/log")
    phone.is_a_stranger()
    page.wait_text("#waiting-said", "1 entry, correction or strike waits on this device")
    assert phone.kept("kept") == []
    log = json.loads(saved(phone))
    assert [entry["aperture"] for entry in log["entries"]] == [11]
    phone.pair()
    phone.waiting(0)


def saved(phone: Phone) -> str:
    """What the browser would keep as a file."""
    script = """
        const done = arguments[0];
        URL.createObjectURL = (blob) => { blob.text().then(done); return "blob:none"; };
        HTMLAnchorElement.prototype.click = () => {};
        [...document.querySelectorAll("button")].find((one) => one.textContent === "Save as a log file").click();
    """
    return str(phone.driver.execute_async_script(script))


def test_a_wrong_code_is_told_and_the_right_one_can_be_typed(phone: Phone) -> None:
    code = phone.server.code()
    page = phone.page
    page.load("/")
    page.find("#code").send_keys("0000-0000")
    page.find("#pair button").click()
    page.wait_text("#said", "That is not the code on the machine’s screen; 4 more tries")
    assert page.axe() == []
    page.find("#code").clear()
    page.find("#code").send_keys(code.lower())
    page.find("#pair button").click()
    page.find("main[data-answer-for]")
    with phone.machine() as machine:
        (device, *_) = machine.get("/lan/devices").json()["devices"]
    assert device["name"] in {"Phone", "Computer"}


@pytest.mark.attack
@pytest.mark.parametrize("what", ["build", "collection"])
def test_another_build_or_collection_is_told_and_asked_before_it_replaces(
    phone: Phone, monkeypatch: pytest.MonkeyPatch, what: str
) -> None:
    phone.pair()
    phone.ready()
    page = phone.page
    phone.server.stop()
    if what == "build":
        real = pages.web_files
        monkeypatch.setattr(pages, "web_files", lambda folder: replace(real(folder), build="another"))
    else:
        with closing(sqlite3.connect(phone.server.path)) as connection, connection:
            connection.execute("UPDATE meta SET value = 'another' WHERE key = 'collection'")
    phone.server.start()
    page.load("/log")
    page.find(f'[data-newer="{what}"]')
    before = phone.driver.execute_async_script("caches.keys().then(arguments[0])")
    # Both are there until somebody agrees, and the one that was is used.
    page.until(lambda _: len(keys(phone)) == 2, "it is not kept beside")
    assert set(before) <= set(keys(phone))
    page.push("Use it" if what == "build" else "Change to it")
    page.gone("[data-newer]")
    page.until(lambda _: len(keys(phone)) == 1, "the old one is kept")
    assert "another" in keys(phone)[0]
    if what == "collection":
        page.load("/pocket")
        page.wait_text(".pocket-as-of", "The machine serves another collection now")
        page.push("Carry the other one")
        page.until(lambda _: "another collection" not in page.text(".pocket-as-of"), "it is not replaced")


def keys(phone: Phone) -> list[str]:
    return list(phone.driver.execute_async_script("caches.keys().then(arguments[0])"))


@pytest.mark.attack
def test_at_the_machine_s_name(phone: Phone) -> None:
    """The certificate is for its names too; a name is a place of its own, where nobody was let in yet."""
    page = phone.page
    page.address = f"https://{NAMED}:{phone.server.port}"
    page.load("/")
    phone.is_a_stranger()
    phone.pair()
    phone.ready()


@pytest.mark.attack
def test_what_became_otherwise_is_marked(phone: Phone) -> None:
    phone.pair()
    phone.ready()
    page = phone.page
    page.load("/pocket?view=fit&mount=kelvane")
    page.find('[data-body="o7"]')
    before = page.find('[data-body="o7"]').get_attribute("data-grade")
    with phone.machine() as machine:
        item = machine.get("/kit/adapters/items/kel-ost-plain").json()
        # Nobody owns a ring for it any more, and it is another answer.
        changed = {**item["item"], "owned": 0}
        machine.put("/kit/adapters/items/kel-ost-plain", json={"version": item["version"], "item": changed})
    page.load("/pocket?view=fit&mount=kelvane")
    page.find("[data-changed]")
    assert page.number("[data-changed]", "data-changed") > 0
    page.wait_text('[data-body="o7"]', "changed; was:")
    page.push("Seen")
    page.gone("[data-changed]")
    with phone.machine() as machine:
        machine.post("/undo")
    assert before == page.find('[data-body="o7"]').get_attribute("data-grade")


@pytest.mark.attack
def test_for_a_thumb(phone: Phone) -> None:
    """Nothing is smaller than 44 px, nothing wants a pointer that hovers, and the page is no wider than the phone."""
    phone.pair()
    phone.ready()
    page = phone.page
    small = """
        return [...document.querySelectorAll("main :is(button, summary, a, label, input:not([type=checkbox]))")]
          .filter((one) => one.checkVisibility() && !one.closest("p:not(.message-actions)"))
          .filter((one) => { const box = one.getBoundingClientRect(); return box.height < 43.5 || box.width < 43.5; })
          .map((one) => one.outerHTML.slice(0, 120));
    """
    for path, answer in (
        ("/pocket", "pocket fit"),
        ("/pocket?view=fit&mount=kelvane", "pocket fit"),
        ("/pocket?view=key&mount=kelvane&seen=ny", "pocket key"),
        ("/pocket?view=cards", "pocket cards"),
        ("/pocket?view=cards&rig=gallery", "pocket cards"),
        ("/pocket?view=outings", "pocket outings"),
        ("/devices", "devices"),
    ):
        page.load(path)
        page.answer(answer)
        assert phone.driver.execute_script(small) == [], path
        assert phone.driver.execute_script("return document.documentElement.scrollWidth") <= 390, path
        assert page.axe() == [], path


def test_the_keyboard_covers_no_field(phone: Phone) -> None:
    """Half of the screen is taken by a keyboard: whatever has the focus is in sight."""
    page = phone.page
    page.load("/")
    for id_ in ("code", "name"):
        page.size(390, 844)
        page.find(f"#{id_}").click()
        page.size(390, 360)
        page.until(lambda _: in_sight(phone, 360), f"{id_} is covered")


def in_sight(phone: Phone, height: int) -> bool:
    box = phone.driver.execute_script("return document.activeElement.getBoundingClientRect().toJSON()")
    return bool(box["top"] >= 0 and box["bottom"] <= height)


@pytest.mark.attack
def test_without_the_authority_it_works_online_only(server: LanServer, tmp_path: Path) -> None:
    """A browser that was told to go on all the same: the application is there, and keeps nothing."""
    driver = chromium(tmp_path / "profile", home=tmp_path)
    try:
        page = Page(driver, server.at())
        page.size(390, 844)
        driver.get(f"{server.at()}/#pair={server.code().replace('-', '')}")
        assert "not private" in driver.title.lower() or "privacy" in driver.title.lower()
        # What a person does who reads the warning and goes on.
        page.press("thisisunsafe")
        page.find("#pair button").click()
        page.find("main[data-answer-for]")
        page.load("/devices")
        page.find('[data-offline="refused"]')
        page.push("Make this phone work offline")
        assert server.listening.authority is not None
        assert page.text(".device-steps [data-fingerprint]") == server.listening.authority.fingerprint
        page.wait_text(".device-page", "Before you agree, compare its SHA-256 fingerprint")
        page.push("How to remove it again")
        page.wait_text(".device-page", "Remove it there")
        assert page.axe() == []
    finally:
        driver.quit()
        del driver


def test_the_machine_shows_the_code_who_came_and_shuts_out(page_of_machine: Page, server: LanServer) -> None:
    page = page_of_machine
    page.load("/devices")
    page.answer("devices")
    assert server.listening.authority is not None
    assert page.text("[data-fingerprint]") == server.listening.authority.fingerprint
    page.push("Show a code")
    code = page.text("[data-code]")
    assert page.driver.execute_script("return document.querySelector('img.devices-qr').naturalWidth") > 100
    with server.stranger() as stranger:
        assert stranger.post("/api/v1/lan/pair", json={"code": code, "name": "Vestry tablet"}).status_code == 200
        # Used, the code is gone from the screen, and the device is there.
        page.find('[data-device="Vestry tablet"]')
        page.gone("[data-code]")
        page.push("let it do everything but what is for the machine", '[data-device="Vestry tablet"]')
        page.wait_text('[data-device="Vestry tablet"]', "may everything but what is for the machine")
        assert stranger.put("/api/v1/practice", json={}).status_code == 200
        page.push("Revoke", '[data-device="Vestry tablet"]')
        page.push("Revoke it", "body")
        page.gone('[data-device="Vestry tablet"]')
        assert stranger.get("/api/v1/start").status_code == 401
        page.wait_text(".devices-log", "Vestry tablet: revoked")
    assert page.axe() == []


@pytest.fixture
def page_of_machine(driver: webdriver.Chrome, server: LanServer) -> Iterator[Page]:
    page = Page(driver, server.machine)
    page.size(1280, 800)
    page.dark(False)
    driver.get("about:blank")
    page.messages()
    yield page
    driver.get("about:blank")
    assert [one for one in page.messages() if "status of 4" not in one] == []


@pytest.mark.attack
def test_what_waits_leaves_as_a_log_file(phone: Phone) -> None:
    """Entries, corrections and strikes as they would stand; the machine brings the file in."""
    phone.pair()
    phone.ready()
    page = phone.page
    page.load(f"/log?{RIG}")
    page.answer("log kel-55 o7 kel-ost-plain")
    with phone.machine() as machine:
        struck = machine.get("/log/entries").json()["entries"]
    phone.server.stop()
    stops(phone)("16")
    phone.waiting(1)
    if struck:
        page.push("strike out", f'[data-entry="{struck[0]["entry"]["id"]}"]')
        phone.waiting(2)
    text = saved(phone)
    log = json.loads(text)
    assert log["version"] == 1
    assert log["entries"][0]["aperture"] == 16
    assert [entry["id"] for entry in log["entries"][1:]] == [one["entry"]["id"] for one in struck[:1]]
    assert all(entry["struck"] for entry in log["entries"][1:])
    phone.server.start()
    phone.waiting(0)
    with phone.machine() as machine:
        looked = machine.post("/log/file", content=text.encode()).json()
    # What was sent meanwhile is there already.
    assert looked["new"] == 0
