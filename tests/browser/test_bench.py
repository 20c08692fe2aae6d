"""The bench on the screen: a ring measured and written, what is seen and what to do, frames, a barrel, a thread."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tropeion.devices.caliper_line import CaliperServer
from tropeion.devices.calipers import caliper_link
from tropeion.devices.simulated_caliper import CaliperErrors, MeasuredCopy, SimulatedCaliper

PAIR = "lens=kel-55&body=o7&via=kel-ost-plain"


@pytest.fixture
def bench(own_server_page: Page) -> Page:
    own_server_page.driver.execute_script("window.sessionStorage.clear()")
    return own_server_page


def tap(page: Page, name: str) -> None:
    """Press the button of that name, once it can be pressed."""

    def pressed(_: object) -> bool:
        found = [one for one in page.all("main button") if one.text == name and one.is_enabled()]
        if found:
            page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", found[0])
            found[0].click()
        return bool(found)

    page.until(pressed, f"no button {name}")


def write(page: Page, field: str, text: str, within: str = "main") -> None:
    box = page.find(f"{within} [data-field={field}]")
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'}); arguments[0].select()", box)
    box.send_keys(text)


def readings(page: Page, count: int) -> None:
    page.until(lambda _: len(page.all("[data-reading]")) == count, f"not {count} readings")


def grade(page: Page) -> str:
    """The grade of the saved rig on the light path."""
    page.load(f"/?{PAIR}")
    page.answer("kel-55 o7 kel-ost-plain")
    return page.text(".grade-word")


@pytest.mark.attack
def test_a_ring_is_measured_written_seen_on_the_light_path_and_taken_back(bench: Page, tmp_path: Path) -> None:
    """A ring that is half a millimetre too long, read by a caliper at a port."""
    before = grade(bench)
    caliper = SimulatedCaliper(MeasuredCopy(26.3, 0.04), errors=CaliperErrors(0.0, 0.01, 0.0, 0.0))
    caliper.move_to(0.0)
    with CaliperServer(caliper_link(tmp_path), caliper):
        bench.open(f"/bench?{PAIR}&view=measure")
        tap(bench, "a caliper at a port")
        for number, place in enumerate((0, 90, 180, 270), 1):
            caliper.turn_to(place)
            tap(bench, "Take a reading")
            readings(bench, number)
    # 26.32, 26.30, 26.28, 26.30: half a millimetre too long, four hundredths out of square over 64 mm.
    bench.wait_text("[data-says]", "26.300")
    bench.wait_text("[data-wedge]", "±0.011 mm at the ends of 36 mm")
    assert "the stated length is in doubt" in bench.text(".screen-head p")
    bench.find("[data-result=settled] [data-effect=settled] [data-rig=gallery]")
    assert "25.830 → 26.300" in bench.text("[data-change=measured_length_mm]")
    tap(bench, "Write it to the piece")
    # Kept as a record, and written.
    bench.find("[data-series]")
    bench.until(lambda _: "It says so already" in bench.text("[data-action=write]"), "not written")
    after = grade(bench)
    assert after != before
    bench.open(f"/bench?{PAIR}&view=measure")
    bench.find("[data-series]")
    bench.wait_text(".undo", "measured")
    tap(bench, bench.find(".undo button").text)
    bench.find("[data-result=settled] [data-effect=settled] [data-rig=gallery]")
    assert grade(bench) == before


def test_jaws_are_dragged_closed_and_read_with_the_simulated_caliper(bench: Page) -> None:
    bench.open(f"/bench?{PAIR}&view=measure")
    tap(bench, "the simulated caliper")
    slide = bench.find(".caliper-slide.movable")
    opened = float(slide.get_attribute("data-opening") or "nan")
    scale = bench.number(".caliper-sheet svg", "data-scale")
    # Dragged 4 mm towards the piece: the jaws follow the hand.
    box = bench.find(".caliper-box")
    ActionChains(bench.driver).click_and_hold(box).move_by_offset(round(4 * scale), 0).release().perform()

    def stands() -> float:
        return bench.number(".caliper-slide", "data-opening")

    bench.until(lambda _: abs(stands() - (opened - 4)) < 1.5 / scale, "the jaws did not follow")
    assert not bench.all(".caliper.touching")
    # By keys: Home closes them until they touch.
    bench.driver.execute_script("arguments[0].focus()", bench.find(".caliper-slide"))
    bench.press(Keys.HOME)
    bench.find(".caliper.touching")
    assert stands() == pytest.approx(25.8, abs=0.05)
    tap(bench, "Take the reading")
    readings(bench, 1)
    bench.find("[data-place='90'].current")
    tap(bench, "See what it reads closed")
    bench.until(lambda _: bench.find("[data-field=zero_mm]").get_attribute("value") == "0.01", "no zero")
    assert "invented copy" in bench.text("[data-result]")


@pytest.mark.attack
def test_a_caliper_that_types_and_a_reading_that_is_struck_out(bench: Page) -> None:
    bench.open("/bench?piece=bodies:o7&view=measure")
    assert "never the sensor" in bench.text(".caliper-sheet")
    box = bench.find("[data-field=reading]")
    box.send_keys("22.41", Keys.ENTER, "22,43 mm", Keys.ENTER, "wide", Keys.ENTER)
    readings(bench, 2)
    assert "a number, as 25.83" in bench.text("[data-section=readings]")
    tap(bench, "Keep these readings")
    kept = bench.find("[data-series] ol li")
    tap(bench, "strike out")
    write(bench, "reason", "jaws askew", "[data-series]")
    tap(bench, "Strike it out")
    bench.wait_text("[data-series]", "22.41 (jaws askew)")
    assert kept is not None
    bench.wait_text("[data-says]", "22.430")
    # What is in hand is there again after the page was left.
    write(bench, "reading", "22.40")
    bench.press(Keys.ENTER)
    readings(bench, 1)
    bench.open("/bench?piece=bodies:o7&view=measure")
    readings(bench, 1)


def test_what_is_seen_moves_the_error_and_says_what_to_do(bench: Page) -> None:
    bench.open("/bench?lens=kel-55&body=o7&via=kel-ost-short&view=seen")
    bench.wait_text("[data-seen]", "By what is stated")
    bench.find("[data-sight=past_infinity] button").click()
    write(bench, "read", "14", "[data-sight=past_infinity]")
    bench.wait_text("[data-seen]", "too short: it focuses past infinity")
    row = bench.number("[data-observation=past_infinity]", "data-mean")
    # −x(14 m) of 55 mm: 55²/(14000 − 110).
    assert row == pytest.approx(-(55**2) / (14_000 - 110), abs=2e-3)
    bench.wait_text("[data-mend=shim]", "Shim of")
    bench.find("[data-after]")
    assert "with the foils" in bench.text(".bench-before")
    # A second look that cannot be: both answers stay, and which is most at odds is named.
    bench.find("[data-sight=length] button").click()
    write(bench, "error", "0.3", "[data-sight=length]")
    write(bench, "doubt", "0.01", "[data-sight=length]")
    bench.wait_text(".screen-head .warning", "contradict each other; most at odds is: the caliper")
    bench.find(".error-row.odd[data-observation=length]")
    tap(bench, "Keep this as a trial")
    bench.wait_text("[data-trial]", "far things are sharp with the ring at 14 m")
    # The piece that is to blame is one step away.
    bench.find("[data-blame='kel-ost-short'] a").click()
    bench.wait_text("h1", "Penny ring")


@pytest.mark.attack
def test_frames_lead_to_the_cause_by_the_keyboard_and_back(bench: Page) -> None:
    bench.open(f"/bench?{PAIR}&view=frames")
    for step, look in enumerate(("one side soft", "now that side is sharp and the other soft")):
        tap(bench, look)
        bench.find(f"[data-frames='{step + 1}']")
    bench.wait_text("[data-cause=play]", "tips the ends of the picture")
    tap(bench, "the soft side changes, or goes")
    bench.wait_text("h1", "The lens tips in its mount")
    tap(bench, "Keep this as a trial")
    bench.wait_text("[data-trial]", "The lens tips in its mount")
    bench.driver.back()
    bench.wait_text("h1", "A third frame")
    bench.driver.execute_script("document.activeElement.blur()")
    ActionChains(bench.driver).send_keys("s").perform()
    bench.find("[data-seen]")


@pytest.mark.attack
def test_a_barrel_is_found_by_holding_it_and_written(bench: Page) -> None:
    bench.open("/bench?body=o7&view=mountless&mountless=head-75")
    bench.wait_text("h1", "find it first, before a known body")
    write(bench, "length", "60", "[data-section=holding]")
    tap(bench, "Note it")
    bench.wait_text("[data-section=holding] [role=status]", "Sharp at infinity with the shoulder 60.00")
    tap(bench, "Write it to the piece …")
    bench.find(".bench-write[data-effect=settled]")
    tap(bench, "Write it")
    bench.wait_text("h1", "60.00 mm are to be filled")
    bench.find("[data-build-piece]")
    assert bench.all("[aria-label='In this order'] li")
    assert "cannot be taken back" in bench.text("[data-section=ways]")


@pytest.mark.attack
def test_a_thread_is_told_and_a_part_that_was_tried_counts(bench: Page) -> None:
    bench.open("/bench?view=thread")
    for field, text in (("diameter", "52.84"), ("length", "8.5"), ("pitches", "10")):
        write(bench, field, text)
    # Halfway between two pitches: whatever a known part does decides.
    bench.find("[data-thread=settled]")
    candidate = "[data-candidate=tube-53]"
    bench.until(lambda _: 0.4 < bench.number(candidate, "data-share") < 0.6, "not halfway")
    for one in bench.all(f"{candidate} button"):
        if one.text == "goes on freely":
            one.click()
    bench.until(lambda _: bench.number(candidate, "data-share") > 0.9, "it does not count")
    assert "never forced" in bench.text("[data-section=thread]")


@pytest.mark.attack
def test_a_throw_stands_beside_others_and_is_written(bench: Page) -> None:
    bench.open("/bench?lens=kel-55&body=o7&view=throw")
    write(bench, "turns", "0.5")
    bench.find("[data-throw=settled]")
    bench.until(lambda _: bench.number(".throw-arc", "data-turned") == 180.0, "not turned")
    assert bench.all("[data-beside]")
    tap(bench, "Write it to the piece …")
    bench.find(".bench-write[data-effect=settled]")
    tap(bench, "Write it")
    bench.wait_text("[data-action=look]", "Written")


def test_a_look_can_be_repeated_named_as_at_odds_and_left_out(bench: Page) -> None:
    bench.open(f"/bench?{PAIR}&view=seen")
    bench.wait_text("[data-seen]", "By what is stated")
    length = "[data-sight=length]"
    bench.find(f"{length} button").click()

    def look(number: int, error: str) -> None:
        for field, text in (("error", error), ("doubt", "0.02")):
            write(bench, field, text, f"{length} .bench-look:nth-of-type({number})")

    look(1, "0.03")
    bench.find(f"{length} [data-action=look-again]").click()
    look(2, "0.60")
    bench.find(f"{length} [data-action=look-again]").click()
    look(3, "0.04")
    bench.wait_text(".screen-head .warning", "most at odds is: the caliper says +0.600")
    # It is this look that is marked, not the others of its kind; and nothing is mended meanwhile.
    bench.until(lambda _: len(bench.all(".error-row.odd")) == 1, "not one at odds")
    bench.find("[data-mend=look_again]")
    odd = f"{length} .bench-look:nth-of-type(2)"
    assert "Most at odds" in bench.text(odd)
    bench.find(f"{odd} [data-action=leave-out]").click()
    bench.wait_text("[data-seen]", "Infinity is sharp at f/2.2")
    assert len(bench.all(".error-row.out")) == 1
    bench.find("[data-mend=nothing]")


@pytest.mark.attack
def test_a_slip_of_the_hand_is_confirmed_before_anything_is_written(bench: Page) -> None:
    bench.open("/bench?piece=adapters:kel-ost-plain&view=measure")
    for number, text in enumerate(("25.80", "25.18", "25.81"), 1):
        write(bench, "reading", text)
        bench.press(Keys.ENTER)
        readings(bench, number)
    bench.wait_text("[data-slips='1']", "25.18 mm (no. 2): likely a slip of the hand")
    bench.until(lambda _: not bench.find("[data-action=write]").is_enabled(), "it could be written")
    bench.find("[data-slip=true] [data-action=confirm]").click()
    bench.gone("[data-slips]")
    bench.until(lambda _: bench.find("[data-action=write]").is_enabled(), "it cannot be written")


def test_a_lens_without_a_mount_leads_to_how_it_could_be_mounted(bench: Page) -> None:
    bench.open("/setup?lens=barrel-90&body=o7")
    bench.wait_text("[data-state=failed]", "has no mount of its own")
    bench.find("[data-action=build-mount]").click()
    bench.wait_text("h1", "49.00 mm are to be filled")


@pytest.mark.attack
def test_a_build_is_a_rig_that_is_kept(bench: Page) -> None:
    bench.open("/bench?body=o7&view=mountless&mountless=barrel-90&near=0.7")
    bench.wait_text("h1", "49.00 mm are to be filled")
    bench.find("[data-open=light-path]").click()
    bench.answer("mount..barrel-90..tube-53 o7 spacer..tube-53..18.7,tub-ost-close")
    assert "Spacers 18.70 mm" in bench.text(".sentence")
    bench.find(".keep-form input").send_keys("Slide rig")
    tap(bench, "Keep")
    bench.wait_text(".keep", "Slide rig")
    bench.find(".keep a[href^='/setup/']").click()
    bench.wait_text("main", "Slide the sleeve")


@pytest.mark.attack
def test_a_mount_that_was_made_is_entered_filled_in(bench: Page) -> None:
    bench.open("/bench?body=o7&view=mountless&mountless=barrel-90")
    bench.find("[data-open=made-mount]").click()
    bench.find("[data-item=barrel-90][data-changed=true]")
    bench.open("/?lens=ost-30&body=lark")
    bench.answer("ost-30 lark best")
    bench.find(".needs [data-kind=ring] .need-leads").click()
    bench.find("[data-item=new]")
    assert "with_link=translate" in bench.driver.current_url


@pytest.mark.attack
def test_what_binds_and_is_on_already_can_be_looked_at_with_its_warning(bench: Page) -> None:
    bench.open("/bench?lens=tub-400&body=o7&via=tub-ost-fine&view=seen")
    bench.wait_text("[data-state=danger] h1", "The threads bind")
    bench.find("[data-action=mounted]").click()
    bench.wait_text("[data-seen]", "By what is stated")
    assert "do not turn it any further" in bench.text(".bench-danger")
    bench.driver.back()
    bench.find("[data-state=danger]")
