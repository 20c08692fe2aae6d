"""Somebody with nothing but a lens, a body and a ring: counted from the first tap to a rig that works."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from tests.browser.conftest import Page
from tests.browser.test_on_paper import printed, squeezed, words_of


def field(page: Page, label: str) -> WebElement:
    """The field under a label."""
    labelled = next(e for e in page.all("label") if e.text == label)
    return page.find(f'[id="{labelled.get_attribute("for")}"]')


class Counted:
    """Fields filled and things tapped, one by one."""

    def __init__(self, page: Page) -> None:
        self.page, self.count = page, 0

    def fill(self, label: str, text: str) -> None:
        self.page.until(lambda _: [e for e in self.page.all("label") if e.text == label], f"no {label}")
        field(self.page, label).send_keys(text)
        self.count += 1

    def press(self, text: str, kind: str = "button") -> None:
        """Something by its words."""

        def pressed(_: object) -> bool:
            for one in self.page.all(f"main {kind}"):
                if one.text.strip() == text and one.is_displayed() and one.is_enabled():
                    one.click()
                    return True
            return False

        self.page.until(pressed, f"no {text}")
        self.count += 1

    def tap(self, selector: str) -> None:
        self.page.find(selector).click()
        self.count += 1


def test_from_nothing_to_a_verdict_and_to_a_rig_that_works(own_page: Page) -> None:
    own_page.size(390, 844)
    own_page.open()
    own_page.find('[data-state="empty"]')
    me = Counted(own_page)
    me.tap('a[href="/begin"]')
    own_page.answer("begin body")
    me.fill("Its name", "Gannet 5")
    me.fill("Its lens mount", "Gannet")
    me.fill("Flange focal distance", "20,4")
    me.tap('[data-format="36 × 24"]')
    me.tap("form [type=submit]")
    own_page.answer("begin lens")
    me.fill("What is engraved on it", "Petrel 1:2.2/55")
    me.fill("The lens’s mount", "Petrel")
    me.fill("Flange focal distance", "1.8189 in")
    me.tap("form [type=submit]")
    own_page.answer("begin join")
    # 46.20 − 20.40 mm.
    own_page.wait_text('[data-state="verdict"]', "25.80 mm")
    assert me.count <= 12
    me.tap("form [type=submit]")
    own_page.find('[data-state="verdict"][data-grade="manual"]')
    me.tap(".begin-look")
    # The length of the ring is that of the gap: it proves nothing.
    own_page.wait_text(".sentence h1", "Fits by construction")
    assert me.count <= 18
    assert own_page.axe() == []
    assert own_page.driver.execute_script("return document.documentElement.scrollWidth") == 390


def test_what_is_missing_is_said_before_anything_is_sent(own_page: Page) -> None:
    own_page.open("/begin")
    own_page.answer("begin body")
    own_page.press(Keys.ENTER)
    said = [e.text for e in own_page.all(".asked-wrong")]
    assert len(said) == 3
    assert own_page.axe() == []
    # Nothing was refused, so nothing is noted by the browser.
    assert own_page.messages() == []


@pytest.mark.attack
def test_the_keyboard_alone_suffices(own_page: Page) -> None:
    own_page.open("/begin")
    own_page.answer("begin body")
    own_page.press("Gannet 5", Keys.TAB, "Gannet", Keys.TAB, "20.4", Keys.TAB, Keys.TAB, Keys.SPACE)
    # Past the other sizes to the button.
    own_page.press(*[Keys.TAB] * 5, Keys.ENTER)
    own_page.answer("begin lens")
    own_page.until(
        lambda d: d.switch_to.active_element == field(own_page, "What is engraved on it"),
        "the next field has not the focus",
    )
    own_page.press("1:2/50", Keys.TAB, "Gannet", Keys.ENTER)
    own_page.find('[data-state="verdict"][data-grade="native"]')


@pytest.mark.attack
def test_the_other_two_ways_in_are_there(own_page: Page) -> None:
    own_page.open()
    text = own_page.text('[data-state="empty"]')
    for way in ("Enter what I have", "Load a gear file", "Look round the sample"):
        assert way in text


# What leads on where nothing fits


@pytest.mark.attack
def test_a_missing_ring_is_added_with_its_length_and_one_is_led_back(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/?lens=brn-52&body=verge")
    page.wait_text(".route.selected", "not listed")
    page.find("[data-state=not-listed] a").click()
    page.until(lambda d: "/kit/adapters" in d.current_url, "not at the shelf")
    # 39.40 − 30.30 mm.
    assert page.find("#field-length_mm").get_attribute("value") == "9.1"
    assert page.find("#field-owned").get_attribute("value") == "1"
    page.press(Keys.CONTROL, "s")
    page.wait_text(".kept-note", "Ring Brannoch–Lisken is in your kit now.")
    page.answer("brn-52 verge best")
    page.wait_text(".route.selected", "owned")
    assert page.all("[data-state=not-listed]") == []


@pytest.mark.attack
def test_a_changed_plate_is_judged_as_a_rig_of_its_own(page: Page) -> None:
    page.open("/?lens=lis-28&body=vigil")
    page.find("[data-state=not-listed]")
    page.find('[data-kind="swap_body_plate"] .need-leads').click()
    page.answer("lis-28 plate..vigil..ostrel best")
    page.wait_text('[data-state="changed"]', "the plate of Skarn Vigil is changed to Ostrel (2 mm hex key, 20 minutes)")
    page.wait_text('[data-state="changed"]', "€210")
    page.driver.back()
    page.find("[data-state=not-listed]")


@pytest.mark.attack
def test_emptying_the_collection_is_asked_about_first(own_page: Page) -> None:
    own_page.open()
    own_page.find('[data-state="empty"]')
    next(e for e in own_page.all("button") if "sample" in e.text).click()
    own_page.answer("kel-55 o7 best")
    own_page.open("/kit/lenses")
    own_page.answer("kit lenses ")
    own_page.find("body").send_keys(Keys.CONTROL, "z")
    own_page.wait_text(".ant-popconfirm", "entries at once")
    next(e for e in own_page.all(".ant-popconfirm button") if e.text == "Cancel").click()
    assert own_page.all(".shelf-row")
    own_page.find("body").send_keys(Keys.CONTROL, "z")

    def taken(_: object) -> bool:
        shown = [e for e in own_page.all(".ant-popconfirm button") if e.text == "Undo it" and e.is_displayed()]
        for button in shown:
            button.click()
        return bool(shown)

    own_page.until(taken, "not asked again")
    own_page.find('[data-state="empty"]')


@pytest.mark.attack
def test_a_length_in_inches_is_taken_in_the_kit(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/kit/adapters?item=kel-ost-plain")
    page.answer("kit adapters ")
    length = page.find("#field-length_mm")
    length.send_keys(Keys.CONTROL, "a")
    length.send_keys("1.5 in", Keys.TAB)
    page.until(lambda _: length.get_attribute("value") == "38.1", "not in mm")


@pytest.mark.attack
def test_depth_of_field_tells_near_and_far_apart(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    cells = [[cell.text for cell in row.find_elements("css selector", "td")] for row in page.all(".depths tbody tr")]
    rows = [row for row in cells if len(row) == 3]
    # At 1 m and f/2.2, c = d/1500: 0.983 to 1.018 m.
    assert ["1.00 m", "0.98 m", "1.02 m"] in rows
    for at, near, far in rows:
        assert len({at, near, far}) == 3
        assert len({cell.split()[-1] for cell in (at, near, far)} - {"infinity"}) == 1


@pytest.mark.attack
def test_the_marks_on_the_ribbon_are_ones_own(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    assert "a face" in page.text(".ribbon")
    assert "pipe mark" not in page.text(".ribbon")
    page.press("p")
    field = page.find('[aria-label="Subject 2"]')
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("a nest")
    away = page.find('[aria-label="Distance of subject 2"]')
    away.send_keys(Keys.CONTROL, "a")
    away.send_keys("30 ft")
    page.wait_text(".ribbon", "a nest")
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    page.wait_text(".ribbon", "a nest")


def enter_body(me: Counted, name: str, mount: str, flange: str, sensor: str) -> None:
    me.page.answer("begin body")
    me.fill("Its name", name)
    me.fill("Its lens mount", mount)
    me.fill("Flange focal distance", flange)
    me.tap(f'[data-format="{sensor}"]')
    me.tap("form [type=submit]")


def enter_lens(me: Counted, engraved: str, mount: str, flange: str) -> None:
    me.page.answer("begin lens")
    me.fill("What is engraved on it", engraved)
    me.fill("The lens’s mount", mount)
    me.fill("Flange focal distance", flange)
    me.tap("form [type=submit]")


LINES = [
    *(f"Petrel {mm}/2.8 f/22 .5m" for mm in (21, 24, 28, 35, 85, 135)),
    *(f"Fulmar 1:4/{mm}" for mm in (20, 40, 60, 100, 150)),
]


@pytest.mark.attack
def test_from_nothing_to_what_to_buy_for_twelve_lenses_and_two_bodies(own_page: Page) -> None:
    """No adapter is known to anybody: every ring is named all the same."""
    page = own_page
    page.open("/begin")
    me = Counted(page)
    enter_body(me, "Gannet 5", "Gannet", "20.4", "36 × 24")
    enter_lens(me, "Petrel 1:2.2/55", "Petrel", "46.2")
    page.wait_text('[data-state="verdict"]', "Ring Petrel–Gannet, 25.80 mm, not listed")
    page.find('[data-state="verdict"][data-grade="manual"]')
    me.press("Another body")
    enter_body(me, "Skua 2", "Skua", "18", "24 × 16")
    # The lens stays: it is told at once what it comes to on this one.
    page.wait_text('[data-state="verdict"]', "Ring Petrel–Skua, 28.20 mm, not listed")
    page.open("/begin/lenses")
    me.count += 1
    page.answer("add lenses 0")
    page.find("textarea").send_keys("\n".join(LINES))
    # A line is a field.
    me.count += len(LINES)
    page.answer("add lenses 11")
    me.fill("Fulmar is new here: its flange focal distance", "40,1")
    me.press("They are mine", "label")
    me.press("Add 11 lenses")
    page.find(".grid-unlisted")
    me.press("Plan what to buy", "a")
    me.press("Plan for everything I own")
    page.wait_text("[data-look-for]", "2 rings to look for")
    assert me.count <= 45
    told = page.text("[data-look-for]")
    assert "for 7 lenses" in told
    assert "for 5 lenses" in told
    assert {one.split("..")[1] for one in rings(page)} == {"petrel", "fulmar"}
    assert page.axe() == []
    # With a price it is a piece, and the plan is made anew.
    field_ = page.find("[data-ring] input")
    field_.send_keys("25")
    me.press("Plan with it")
    page.wait_text("[data-look-for]", "One ring to look for")
    page.find("[data-shop='1']")


def rings(page: Page) -> list[str]:
    return [one.get_attribute("data-ring") or "" for one in page.all("[data-ring]")]


def test_from_nothing_to_the_printed_card(own_page: Page) -> None:
    """The length of a ring that nobody measured is no proof, on paper neither."""
    page = own_page
    page.open("/begin")
    me = Counted(page)
    enter_body(me, "Gannet 5", "Gannet", "20.4", "36 × 24")
    enter_lens(me, "Petrel 1:2.2/55", "Petrel", "46.2")
    page.find('[data-state="verdict"]')
    me.press("The card", "a")
    page.find("[data-station]")
    page.driver.execute_script("window.print = () => { document.body.dataset.asked = 'paper'; }")
    next(one for one in page.all("header button") if one.text == "Print").click()
    me.count += 1
    page.find("[data-asked=paper]")
    words = words_of(printed(page))
    assert me.count <= 15
    assert squeezed("it fits by construction and proves nothing") in words
    assert "%" not in words
    # What nobody said of the body is asked of it.
    assert squeezed("if it does not, look in the menus for release without a lens") in words


def test_a_distance_that_one_does_not_know_is_a_range_and_no_dead_end(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/begin?body=o7")
    me = Counted(page)
    page.answer("begin lens")
    assert "Ostrel O7" in page.text(".begin-steps")
    me.fill("What is engraved on it", "1:2.8/35")
    me.fill("The lens’s mount", "Tolmer old")
    me.press("I do not know")
    me.tap("form [type=submit]")
    page.find('[data-state="distance-not-known"][data-systems="2"]')
    systems = {one.get_attribute("data-system"): one.text for one in page.all("[data-system]")}
    assert systems.keys() == {"tolmer", "tolmer-pr"}
    assert "24.90 mm" in systems["tolmer"]
    assert page.axe() == []
    # No number of a ring that nobody knows, in the drawing neither.
    me.press("See it drawn", "a")
    page.find('[data-gap="not known"]')
    assert [one.text for one in page.all(".may-stand text")] == ["31.20", "47.30"]
    # Back from the kit to where one was; another lens, whose system nothing here is like.
    page.driver.back()
    me.press("Another lens")
    me.fill("What is engraved on it", "1:2/50")
    me.fill("The lens’s mount", "Mirl")
    me.press("I do not know")
    me.tap("form [type=submit]")
    page.find('[data-state="distance-not-known"][data-systems="0"]')
    said = page.text('[data-state="verdict"] [role="status"]') + page.text('[data-state="distance-not-known"] p')
    assert "mm" not in said
    page.open("/kit/mounts?item=mirl")
    page.find("#field-register_mm")
    page.find('main a[href="/begin"]')


def test_where_nobody_answers_words_say_so_and_what_was_typed_stays(own_page: Page) -> None:
    page = own_page
    page.open("/begin")
    me = Counted(page)
    page.answer("begin body")
    me.fill("Its name", "Gannet 5")
    me.fill("Its lens mount", "Gannet")
    me.fill("Flange focal distance", "20.4")
    me.tap('[data-format="36 × 24"]')
    away = {"offline": True, "latency": 0, "downloadThroughput": 0, "uploadThroughput": 0}
    page.driver.execute_cdp_cmd("Network.enable", {})
    page.driver.execute_cdp_cmd("Network.emulateNetworkConditions", away)
    me.tap("form [type=submit]")
    page.wait_text("form", "The server does not answer; what you typed is kept.")
    assert all("DISCONNECTED" in one for one in page.messages())
    assert field(page, "Its name").get_attribute("value") == "Gannet 5"
    page.driver.execute_cdp_cmd(
        "Network.emulateNetworkConditions", {**away, "offline": False, "downloadThroughput": -1, "uploadThroughput": -1}
    )
    me.tap("form [type=submit]")
    page.answer("begin lens")
