"""Every screen in light and dark, wide and on a phone: no barrier, nothing to scroll sideways, nothing too small."""

from __future__ import annotations

from typing import cast

import pytest

from tests.browser.conftest import Page
from tests.thorough import some

# What each waits for beside its answer.
SCREENS = {
    "/?lens=kel-55&body=o7": ".steps li",
    "/?lens=kel-55&body=o7&via=kel-ost-plain&beside=kel-ost-long": ".compare tbody tr",
    "/?lens=kel-55&body=stave-3&via=": ".clash",
    "/?lens=kel-55": ".wall",
    "/?lens=lis-28&body=nave": "[data-state=nothing-fits]",
    "/?lens=gone&body=o7": "[role=alert]",
    "/frame?lens=kel-30s&body=o7&via=kel-ost-plain&vs=n%3D16": ".photo-other",
    "/frame?lens=kel-55&body=stave-3&via=": ".screen-head",
    "/frame?lens=kel-55&body=o7&via=kel-ost-tilt&tilt=6": ".tilt-view",
    "/frame?lens=kel-28-80&body=o7&view=bodies": "[data-ready=true]",
    "/frame?lens=kel-55&body=lark&view=lenses": "[data-ready=true]",
    "/frame?lens=kel-55&body=o7&view=wish": "[data-ready=true]",
    "/practice": ".practice-shown svg",
    "/practice/sheet?count=3": ".sheet-questions svg",
    "/frame?lens=kel-55&body=o7&view=reach": "[data-table=beside]",
    "/frame?body=o7&view=bodies": "[data-state=no-pair]",
    "/setup/film": ".balance-support",
    "/setup?lens=lis-28&body=verge&via=": ".code-template img",
    "/setup/gallery?view=rehearse": ".camera-back",
    "/setup/gallery?view=stored": ".stored-places",
    "/setup": "main[data-answer-for]",
    "/bench": "main[data-answer-for]",
    "/bench?view=measure": "[data-state=no-piece]",
    "/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=measure": ".caliper",
    "/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=seen": "[data-together]",
    "/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=frames&saw=side_soft,side_sharp": ".wall-picture",
    "/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=picture": ".measured-slot",
    "/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=picture&measure=ring": ".measured-slot",
    "/bench?lens=kel-55&body=o7&view=picture&measure=chart": ".measured-sheets svg",
    "/bench?body=o7&view=mountless&mountless=barrel-90": "[data-build-piece]",
    "/bench?view=thread": "[data-field=diameter]",
    "/bench?lens=kel-55&body=o7&view=throw": "[data-beside]",
    "/grid?lens=kel-55&body=o7": ".grid-mark, .one-lens",
    "/plan": "[data-state=empty]",
    "/outing": "[data-state=empty]",
    "/log": "[data-state=no-rig] .log-rigs",
    "/log?lens=kel-28-80&body=o7&via=kel-ost-plain": ".stop",
    "/log/trials": "h1",
    "/log/trials?lens=kel-55&body=o7&via=kel-ost-plain": "main[data-answer-for]",
    "/log/record/lenses/kel-55": "main[data-answer-for]",
    "/log/use": "h1",
    "/log/pictures": "[data-state=empty]",
    "/log/pictures/99": "[role=alert]",
    "/mounts": ".ruler-row",
    "/mounts?of=kelvane": ".matrix",
    "/mounts/kelvane": ".generation-list",
    "/mounts/kelvane/key": ".key-sheet",
    "/mounts/kelvane/key?seen=y.rack-short": ".key-sheet",
    "/mounts/gone": "[role=alert]",
    "/kit/lenses": ".shelf-row",
    "/kit/lenses?item=kel-55": ".pane-head",
    "/kit/mounts?item=kelvane": ".pane-head",
    "/kit/adapters?item=new": ".pane-head",
    "/kit/rigs": "main",
    "/fit": "main input",
    "/fit?q=KLV+28-80mm+1:3.5-4.5": "[data-state=would-fit]",
    "/files": "main",
    "/terms": ".term",
    "/begin": "form",
    "/nowhere": "h1",
}

# What a finger has to hit: all but links within a sentence, and what a label or a field around it takes for it.
SMALL = """
const wanted = 'a, button, summary, input, select, textarea, [role=button], [role=tab], [role=checkbox]';
const around = 'label, .ant-select, .ant-input-affix-wrapper, .ant-input-number-affix-wrapper, .ant-input-number';
return [...document.querySelectorAll(wanted)].filter(e => {
  const target = e.closest(around) ?? e;
  const box = target.getBoundingClientRect();
  if (box.width < 2 || e.classList.contains('unseen') || getComputedStyle(e).opacity === '0') return false;
  const sentence = e.tagName === 'A' && getComputedStyle(e).display === 'inline'
    && e.parentElement.textContent.trim().length > e.textContent.trim().length + 12;
  const least = arguments[0] - 0.5;
  return !sentence && (box.height < least || box.width < least);
}).map(e => `${e.tagName} ${e.className} ${(e.getAttribute('aria-label') ?? e.textContent).trim().slice(0, 40)}`);
"""

# Words that reach over the edge of the page, and words that their own box cuts off; what scrolls may be longer.
CUT = """
const scrolls = e => { for (let at = e; at; at = at.parentElement)
  if (/auto|scroll/.test(getComputedStyle(at).overflowX) && at !== document.documentElement) return true;
  return false; };
const width = document.documentElement.clientWidth;
return [...document.querySelectorAll('main *')].filter(e => {
  if (e.children.length || !e.textContent.trim()) return false;
  if (e.closest('.near, .unseen, .ant-drawer') || scrolls(e)) return false;
  if (getComputedStyle(e).textOverflow === 'ellipsis') return false;
  const box = e.getBoundingClientRect();
  if (!box.width) return false;
  const clipped = !e.ownerSVGElement && /hidden|clip/.test(getComputedStyle(e).overflowX)
    && e.scrollWidth > e.clientWidth + 1;
  return box.right > width + 0.5 || box.left < -0.5 || clipped;
}).map(e => `${e.tagName} ${e.className.baseVal ?? e.className}: ${e.textContent.trim().slice(0, 40)}`);
"""


# A drawing, a picture and a form; the other rooms and the rooms' other states in ``make attack``.
FEW = ("/?lens=kel-55&body=o7", "/frame?lens=kel-30s&body=o7&via=kel-ost-plain&vs=n%3D16", "/kit/lenses?item=kel-55")


@pytest.mark.parametrize("path", some(SCREENS, FEW))
def test_a_screen_for_everybody(page: Page, path: str) -> None:
    page.open(path)
    # Colours are the same at every width, and widths in both themes: each is looked at once.
    for width, height, dark in ((1280, 800, False), (390, 844, True)):
        page.size(width, height)
        page.find(SCREENS[path])
        page.gone("main[aria-busy='true']")
        page.dark(dark)
        theme = "dark" if dark else "light"
        page.find(f':root[data-theme="{theme}"]')
        page.until(lambda d: not d.execute_script("return document.getAnimations().length"), "still moving")
        assert page.axe() == [], (width, theme)
        assert page.driver.execute_script("return document.documentElement.scrollWidth") == width
        assert cast(list[str], page.driver.execute_script(CUT)) == []
        assert cast(list[str], page.driver.execute_script(SMALL, 44 if width < 900 else 24)) == [], width


@pytest.mark.attack
def test_the_screens_are_all_in_the_navigation(page: Page) -> None:
    """Wide, in a row on one line of writing, the rest a tap away; on a phone in a list of all."""
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    bar = ["Light path", "Frame", "Set-up", "Bench", "Log", "Kit", "Buy"]
    under = {
        "Set-up": ["Outings"],
        "Log": ["Pictures", "Trials", "What was used"],
        "Kit": ["What fits what", "Mounts compared", "Files"],
    }
    names = [one for name in bar for one in (name, *under.get(name, []))]
    more = ["Practice", "In the pocket", "Devices", "Terms"]
    links = [e for e in page.all(".screens a") if e.is_displayed()]
    assert [e.text for e in links] == bar
    assert len({round(e.rect["y"] + e.rect["height"]) for e in links}) == 1
    page.size(390, 844)
    page.find(".screens-button").click()
    page.until(lambda _: [e.text for e in page.all(".screens-list a")] == [*names, *more], "not the same screens")
    assert page.find(".panel .theme-button").is_displayed()
    page.find('.screens-list a[href^="/terms"]').click()
    page.find(".term")


@pytest.mark.parametrize("path", some(["/setup", "/bench", "/frame"], ["/setup"]))
def test_a_screen_of_the_pair_opens_on_the_pair_last_looked_at_else_on_kept_rigs(page: Page, path: str) -> None:
    page.open("/terms")
    page.driver.execute_script("localStorage.removeItem('tropeion.pair')")
    page.open(path)
    page.answer("which rig")
    assert {one.get_attribute("data-rig") for one in page.all("[data-rig]")} == {"gallery", "pipe-marks", "film"}
    assert page.axe() == []
    page.find('[data-rig="pipe-marks"]').click()
    page.until(lambda d: "lens=mrw-62" in d.current_url, "not that rig")
    page.gone("main[aria-busy='true']")
    page.find('main[data-answer-for]:not([data-answer-for="which rig"])')
    page.open(path)
    page.until(lambda d: "lens=mrw-62&body=o7" in d.current_url, "not the pair last looked at")


@pytest.mark.parametrize(
    ("path", "list_"),
    some(
        [("/plan/5f0b3a52-6d0e-4c39-9a43-0f6f7b6c1aff", "/plan"), ("/setup/gone", "/kit/rigs")],
        [("/plan/5f0b3a52-6d0e-4c39-9a43-0f6f7b6c1aff", "/plan")],
    ),
)
def test_what_was_deleted_says_so_and_offers_undo_and_its_list(page: Page, path: str, list_: str) -> None:
    page.open(path)
    page.wait_text("[data-state=gone]", "If it was deleted, undo brings it back.")
    page.find("[data-state=gone] .undo")
    page.find(f'[data-state=gone] a[href="{list_}"]')


@pytest.mark.attack
def test_a_phone_shows_the_ten_best_routes_and_the_rest_on_request(page: Page) -> None:
    page.size(390, 844)
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    assert len(page.all(".route")) <= 10
    page.find("[data-action=all-routes]").click()
    page.gone("[data-action=all-routes]")
    assert len(page.all(".route")) > 10
