"""The whole kit and a plan on the screen: looked over by keyboard, asked, read, marked when a price changes."""

from __future__ import annotations

from pathlib import Path

import pytest
from benchmarks.market import market
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.conftest import Serve, Served
from tests.limits import client_of, http
from tests.prepared import empty_at
from tropeion.core.gear.gear import Gear


def tap(page: Page, name: str) -> None:
    """Press the button of that name, once it can be pressed."""

    def pressed(_: object) -> bool:
        found = [one for one in page.all("main button") if one.text == name and one.is_enabled()]
        if found:
            page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'}); arguments[0].click()", found[0])
        return bool(found)

    page.until(pressed, f"no button {name}")


@pytest.mark.attack
def test_the_grid_is_moved_over_by_keyboard_and_says_why(page: Page) -> None:
    page.open("/grid?lens=kel-28-80&body=o7")
    page.find("[data-cell='kel-28-80 o7']")
    page.wait_text("[data-why='kel-28-80 o7']", "Better with Ferrule KLV–OST with aperture ring")
    page.find(".grid-field").send_keys(Keys.ARROW_DOWN)
    page.find("[data-cell='kel-30s o7']")
    page.wait_text("[data-why='kel-30s o7']", "Kelvane 30/4 shift on Ostrel O7")
    page.find(".grid-field").send_keys(Keys.ARROW_RIGHT)
    page.find("[data-cell='kel-30s lark']")
    page.find(".grid-field").send_keys(Keys.ENTER)
    page.answer("kel-30s lark best")


def test_each_grade_is_drawn_as_often_as_there_are_cells_of_it(page: Page) -> None:
    cells = http.get(f"{page.address}/api/v1/grid").json()["report"]["cells"]
    page.open("/grid")
    page.find(".grid-works")
    drawn = {one.get_attribute("data-grade"): one.get_attribute("d") for one in page.all(".grid-mark[data-grade]")}
    # Each of these marks begins with two strokes.
    strokes = {"native": 2, "manual": 2, "full": 2, "danger": 2, "close_up": 2, "partial": 3, "modify": 2, "none": 6}
    for grade, path in drawn.items():
        assert grade is not None
        assert path is not None
        # Where only a ring that is not listed makes it work, that is drawn.
        own = [one for one in cells if one["could_work"] or one["unlisted_grade"] is None]
        assert path.count("M") == strokes[grade] * sum(one["owned_grade"] == grade for one in own)
    rings = page.find(".grid-unlisted").get_attribute("d")
    assert rings is not None
    told = [one for one in cells if one["unlisted_grade"] is not None and not one["could_work"]]
    assert rings.count("M") == 2 * len(told) > 0
    tiles = page.find(".grid-works").get_attribute("d")
    assert tiles is not None
    assert tiles.count("M") == sum(one["works_now"] for one in cells)


@pytest.mark.attack
def test_the_grid_is_narrowed_sorted_and_holds_its_address(page: Page) -> None:
    page.open("/grid")
    page.find(".grid-search input").send_keys("tolmer")
    page.until(lambda _: {one.text for one in page.all(".grid-mount")} <= {"Tolmer 46", "Tolmer 46 projection"}, "all")
    page.open("/grid?sort=least&mine=1")
    names = page.until(lambda _: [one.text for one in page.all(".grid-name")], "no names")
    now = [int(one.text.split()[0]) for one in page.all(".grid-sums span")]
    assert len(names) == len(now)
    assert now[0] <= now[-1]
    page.open("/grid?q=nothing-like-it")
    page.find("[data-state=nothing]")


def test_stranded_lenses_say_why(page: Page) -> None:
    report = http.get(f"{page.address}/api/v1/grid").json()["report"]
    lone = {one["id"] for one in report["lenses"] if one["at_hand"] and not one["on_hand"]}
    page.open("/grid")
    page.until(lambda _: {one.get_attribute("data-stranded") for one in page.all("[data-stranded]")} == lone, "others")
    page.wait_text(f"[data-stranded={min(lone)}]", ".")


@pytest.mark.attack
def test_two_kept_plans_stand_beside_each_other(own_server_page: Page) -> None:
    page = own_server_page
    for together in (False, True):
        with client_of(f"{page.address}/api/v1") as client:
            demands = [{"lens": one, "bodies": ["lark"]} for one in ("kel-55", "kel-45")]
            question = {"demands": demands, "together": together}
            client.post("/plans", json={"name": f"together {together}", "question": question}).raise_for_status()
    for line in http.get(f"{page.address}/api/v1/plans").json():
        page.open(f"/plan/{line['id']}")
        tap(page, "Keep this plan")
        page.find("[data-holds=yes]")
    page.open("/plan")
    for box, name in enumerate(("together False", "together True")):
        page.find(".plans-beside .asked-add")
        page.all(".plans-beside .asked-add input")[box].send_keys(name)
        page.find(".ant-select-item-option")
        page.all(".plans-beside .asked-add input")[box].send_keys(Keys.ENTER)
    page.wait_text("[data-table=plans]", "one left on each lens")
    page.wait_text("[data-table=plans]", "2 of 2")


@pytest.mark.attack
def test_what_selling_a_body_would_do(page: Page) -> None:
    page.open("/grid")
    page.find(".what-if-piece input").send_keys("Ostrel O7")
    page.find(".ant-select-item-option")
    page.find(".what-if-piece input").send_keys(Keys.ENTER)
    tap(page, "See")
    page.wait_text("[data-what-if]", "worse")
    assert all("on Ostrel O7" in one.text for one in page.all("[data-what-if] .differs li"))
    tap(page, "take back")
    page.gone("[data-what-if]")


@pytest.mark.attack
def test_three_hundred_lenses_on_thirty_bodies_are_drawn_whole(page: Page, serve: Serve, tmp_path: Path) -> None:
    collection = empty_at(tmp_path / "collection.sqlite")
    collection.replace(market(adapters=120))
    page.driver.get(serve(collection).address + "/grid")
    page.until(lambda _: len(page.all(".grid-name")) == 300, "not all lenses")
    assert len(page.all(".grid-bodies text")) == 30
    page.driver.execute_script("document.querySelector('.grid-scroll').scrollTop = 1e6")
    # What is scrolled to is there already: nothing is left out of the drawing.
    assert page.driver.execute_script(
        "const s = document.querySelector('.grid-scroll'), c = document.querySelector('.grid-cells');"
        "return c.getBoundingClientRect().bottom <= s.getBoundingClientRect().bottom + 1"
    )


@pytest.mark.attack
def test_on_a_phone_one_lens_at_a_time(page: Page) -> None:
    page.size(390, 844)
    page.open("/grid?lens=kel-55")
    page.find("[data-lens=kel-55]")
    assert len(page.all(".one-lens-bodies li")) == 11
    page.wait_text(".one-lens-bodies", "Reaches infinity")
    page.find("[aria-label='The next lens']").click()
    page.gone("[data-lens=kel-55]")
    page.find(".one-lens")


def few(gear: Gear) -> Gear:
    """Of the sample seven lenses and three bodies, with all its adapters: what a plan of it does is soon told by hand.

    Four work with what is at hand. The zoom has no aperture ring (the lever's ring is 96), the bellows lens no focus
    (the helicoid is 95); the compact lens is told its aperture by wire alone, so nothing serves it by hand.
    """
    lenses = {"kel-55", "kel-28-80", "tol-82", "mrw-62", "ost-24", "tub-105", "lis-40"}
    return gear.model_copy(
        update={
            "lenses": tuple(one for one in gear.lenses if one.id in lenses),
            "bodies": tuple(one for one in gear.bodies if one.id in {"o7", "lark", "corran"}),
            "rigs": (),
            "pairs": (),
        }
    )


def test_a_plan_is_asked_read_and_marked_when_a_price_changes(
    own_page: Page, own_server: Served, sample_gear: Gear
) -> None:
    page = own_page
    own_server.collection.replace(few(sample_gear))
    page.open("/plan")
    page.find("[data-state=empty]")
    tap(page, "Plan for everything I own")
    page.wait_text(".plan-head h1", "6 of 7 work for €191.")
    page.wait_text(".plan-head h1", "Nothing cheaper does it.")
    bought = [one.get_attribute("data-buy") for one in page.all("[data-buy]")]
    assert sorted(one for one in bought if one) == ["kel-ost-lever", "tub-ost-fine"]
    line = page.find("[data-buy=kel-ost-lever]").text
    assert "lens side: Kelvane (KLV)" in line
    assert "camera side: Ostrel (OST, O-line)" in line
    assert "Not Ferrule KLV–OST, locking" in line
    page.wait_text("[data-unmet]", "Ostrel 24/1.8 compact")
    # The budget's line goes from step to step.
    page.find(".money-budget").send_keys(Keys.ARROW_LEFT)
    page.find("[data-step='5']")
    page.find(".money-budget").send_keys(Keys.ARROW_RIGHT)
    page.find("[data-step='6']")
    tap(page, "Keep this plan")
    page.wait_text("[data-holds=yes]", "it still holds")
    plan = page.driver.current_url.removeprefix(page.address)
    dearer(page, "kel-ost-lever", 140.0)
    page.driver.refresh()
    page.wait_text("[data-holds=no]", "Ferrule KLV–OST with aperture ring was 96, is 140 EUR.")
    page.wait_text("[data-holds=no]", "It is still the best, for")
    tap(page, "Keep it as it is now")
    page.find("[data-holds=yes]")
    page.open("/plan")
    page.wait_text(".plans", "still holds")
    assert plan.startswith("/plan/")


def dearer(page: Page, id_: str, price: float) -> None:
    with client_of(page.address) as client:
        found = client.get(f"/api/v1/kit/adapters/items/{id_}").json()
        item = {**found["item"], "price": price}
        written = {"item": item, "version": found["version"]}
        client.put(f"/api/v1/kit/adapters/items/{id_}", json=written).raise_for_status()


@pytest.mark.attack
def test_what_is_asked_can_be_changed_and_taken_back(own_server_page: Page) -> None:
    page = own_server_page
    page.open("/plan")
    tap(page, "Begin with nothing")
    page.wait_text(".plan-head h1", "Nothing is asked yet.")
    tap(page, "Say what must work")
    page.find(".asked-add input").send_keys("Kelvane 28")
    page.find(".ant-select-item-option")
    page.find(".asked-add input").send_keys(Keys.ENTER)
    page.find("[data-demand]")
    page.wait_text(".plan-head h1", "It works")
    tap(page, "leave out")
    page.gone("[data-demand]")
    page.wait_text(".plan-head h1", "Nothing is asked yet.")


@pytest.mark.attack
def test_a_piece_that_is_sold_out_is_done_without(own_server_page: Page) -> None:
    page = own_server_page
    page.open("/plan")
    tap(page, "Plan for everything I own")
    page.find("[data-buy=tpr-plm-plain]")
    line = page.find("[data-buy=tpr-plm-plain]")
    button = next(one for one in line.find_elements("css selector", "button") if one.text == "Sold out")
    page.driver.execute_script("arguments[0].click()", button)
    page.gone("[data-buy=tpr-plm-plain]")
    page.wait_text(".plan-head h1", "269")


@pytest.mark.attack
def test_native_rings_and_filters_beside_the_plan(own_server_page: Page) -> None:
    page = own_server_page
    page.open("/plan")
    tap(page, "Plan for everything I own")
    page.find("[data-buy]")
    plan = page.driver.current_url.removeprefix(page.address)
    # No more than two are made at once, and one whose window has gone is still made.
    page.gone(".plan-going")
    page.open(f"{plan}?view=native")
    page.find("[data-table=native] [data-option=adapter]")
    page.gone(".plan-going")
    sums = {one.get_attribute("data-sum"): one.text for one in page.all("[data-sum]")}
    assert set(sums) == {"adapted", "native", "resale"}
    assert all("€" in text for text in sums.values())
    page.open(f"{plan}?view=rings")
    page.find("[data-variant=kel-ost-plain]")
    page.gone(".plan-going")
    page.open(f"{plan}?view=filters")
    page.find("[data-size='67']")
    page.find("[data-rings=kel-55] .front-filter")
    page.find("[data-filter=variable-67]")


@pytest.mark.attack
def test_the_budget_is_dragged_over_the_curve(own_server_page: Page) -> None:
    page = own_server_page
    page.open("/plan")
    tap(page, "Plan for everything I own")
    grip = page.find(".money-budget .money-handle")
    page.find("[data-step='20']")
    ActionChains(page.driver).drag_and_drop_by_offset(grip, -500, 0).perform()
    page.find("[data-step='18']")
    page.until(lambda _: any(one.text.startswith("Plan within") for one in page.all("main button")), "no button")
    next(one for one in page.all("main button") if one.text.startswith("Plan within")).click()
    page.wait_text(".plan-head h1", "18 of 21 work for")
