"""What comes out of the printer: rendered to PDF by the browser, and its pages, sizes and words read back."""

from __future__ import annotations

import base64
import io
import re
from typing import cast

import pytest
from pypdf import PdfReader

from tests.browser.conftest import Page
from tests.thorough import some
from tests.worlds import details
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.world import World
from tropeion.core.routes.match import match

# Inches, as the browser asks for them.
PAPERS = {"A4": (210 / 25.4, 297 / 25.4), "Letter": (8.5, 11.0)}
A5_POINTS = (148 / 25.4 * 72, 210 / 25.4 * 72)


def printed(page: Page, paper: str = "A4") -> PdfReader:
    """The screen as it is printed; what the screen prints itself may bring its own size of paper."""
    width, height = PAPERS[paper]
    wanted = {"preferCSSPageSize": True, "paperWidth": width, "paperHeight": height}
    answer = page.driver.execute_cdp_cmd("Page.printToPDF", wanted)
    return PdfReader(io.BytesIO(base64.b64decode(cast(str, answer["data"]))))


def squeezed(text: str) -> str:
    """Without spaces: a line may be broken anywhere, and letters may stand far apart."""
    return re.sub(r"\s+", "", text.replace("\u00a0", ""))


def words_of(pdf: PdfReader) -> str:
    return squeezed(" ".join(each.extract_text() for each in pdf.pages))


def size_of(pdf: PdfReader) -> tuple[float, float]:
    box = pdf.pages[0].mediabox
    return float(box.width), float(box.height)


def asked(page: Page, button: str) -> None:
    """Press a button that prints; the browser's own dialogue is left out, the sheet is made all the same."""
    page.driver.execute_script(
        "window.print = () => window.dispatchEvent(new Event('beforeprint'));"
        "[...document.querySelectorAll('button')].find(b => b.textContent.trim() === arguments[0]).click()",
        button,
    )
    page.find("[data-printed]")


def over(page: Page) -> None:
    page.driver.execute_script("window.dispatchEvent(new Event('afterprint'))")
    page.gone("[data-printed]")


CARDS = {
    "plain": ("kel-55", "o7", "kel-ost-plain"),
    "three pieces": ("kel-105", "o7", "kel-tol-thin,tpr-lsk-step,lsk-ost-close"),
    "danger": ("kel-55", "stave-3", ""),
    "anamorphic": ("qlk-50", "vigil", "qlk-skn-lock"),
    "long and tilting": ("grm-300", "o7", "grm-ost-tiltshift"),
}


SHEETS = [(card, paper) for card in CARDS for paper in PAPERS]


@pytest.mark.parametrize(("card", "paper"), some(SHEETS, [("danger", "A4")]))
def test_the_card_is_one_a5_side_with_every_word(page: Page, sample: World, card: str, paper: str) -> None:
    lens, body, via = CARDS[card]
    (route,) = match(sample, lens, body, via=[one for one in via.split(",") if one]).routes
    page.open(f"/?lens={lens}&body={body}&via={via}")
    page.answer(f"{lens} {body} {via}")
    pdf = printed(page, paper)
    assert len(pdf.pages) == 1
    assert size_of(pdf) == pytest.approx(A5_POINTS, abs=1)
    words = words_of(pdf)
    warned = [finding.text for finding in route.findings if finding.severity in {"danger", "caution"}]
    for text in (route.sentence, *(step.text for step in details(route).steps), *warned, "a qualified repairer"):
        assert squeezed(text) in words
    for clash in route.clashes:
        # In the drawing, broken into lines between words.
        assert all(squeezed(part.label) in words for part in (*clash.lens_parts, *clash.body_parts))


# Words of a drawing that stand outside of it are not printed.
OUTSIDE = """
const svg = document.querySelector('[data-printed] svg.sheet-svg');
const room = svg.getBoundingClientRect();
return [...svg.querySelectorAll('text, tspan')].filter(e => !e.closest('.near'))
  .filter(e => { const b = e.getBoundingClientRect(); return b.left < room.left - 1 || b.right > room.right + 1
    || b.top < room.top - 1 || b.bottom > room.bottom + 1; }).map(e => e.textContent);
"""


@pytest.mark.parametrize("card", some(CARDS, ["long and tilting"]))
def test_nothing_of_the_cards_drawing_is_cut(page: Page, card: str) -> None:
    lens, body, via = CARDS[card]
    page.size(559, 794)
    page.open(f"/?lens={lens}&body={body}&via={via}")
    page.answer(f"{lens} {body} {via}")
    asked(page, "Print the card, one A5 side")
    assert page.driver.execute_script(OUTSIDE) == []
    over(page)


@pytest.mark.attack
@pytest.mark.parametrize("paper", some(PAPERS, ["A4"]))
def test_the_whole_shelf_is_a_table_whose_head_is_repeated(page: Page, sample_gear: Gear, paper: str) -> None:
    """Sixty-two adapters want more than one page, though the screen draws only the rows in sight."""
    page.open("/kit/adapters")
    page.find("[data-id]")
    pdf = printed(page, paper)
    assert size_of(pdf) == pytest.approx([side * 72 for side in PAPERS[paper]], abs=1)
    assert len(pdf.pages) > 1
    for each in pdf.pages:
        assert squeezed("Name What it is Mount In the kit") in squeezed(each.extract_text())
    words = words_of(pdf)
    for adapter in sample_gear.adapters:
        assert adapter.retired or squeezed(adapter.name) in words
    assert "Addanadapter" not in words


@pytest.mark.attack
def test_a_filtered_shelf_prints_what_it_shows(page: Page) -> None:
    page.open("/kit/adapters?q=tilt")
    page.find("[data-id]")
    shown = len(page.all("[data-id]"))
    words = words_of(printed(page))
    assert shown > 0
    assert squeezed(f"{shown} of 62") in words
    assert squeezed("Northgate GRM–OST tilt and shift") in words
    assert squeezed("Plain ring KLV–OST") not in words


@pytest.mark.attack
def test_compared_routes_print_with_both_halves(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain&beside=kel-ost-long")
    page.answer("kel-55 o7 kel-ost-plain")
    page.wait_text(".compare thead", "upper half")
    pdf = printed(page)
    assert len(pdf.pages) == 1
    words = words_of(pdf)
    # 25.83 and 25.88 mm where 25.80 are needed, in the drawing and in the table.
    for text in ("25.83", "25.88", "+0.03 mm", "+0.08 mm", "what differs", "Kelvane 55/2.2 on Ostrel O7"):
        assert squeezed(text) in words
    over_card = page.all("[data-printed]")
    assert over_card == []


@pytest.mark.attack
def test_the_depth_table_prints_alone_with_what_it_was_computed_for(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain")
    page.answer("kel-55 o7 kel-ost-plain")
    rows = [row.text for row in page.all("section:has(> .print-button) .depths tbody tr")]
    asked(page, "Print this table")
    sheet = page.find("[data-printed=depth]").get_attribute("textContent") or ""
    assert len(rows) > 2
    for row in rows:
        assert squeezed(row) in squeezed(sheet)
    assert "Circle of confusion" in sheet
    assert "Kelvane 55/2.2 on Ostrel O7" in sheet
    assert page.all("[data-printed=card]") == []
    over(page)


def test_the_dark_theme_does_not_reach_the_paper(page: Page) -> None:
    page.dark(True)
    page.open("/mounts/kelvane")
    page.wait_text("main", "Generation I")
    page.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print", "features": []})
    colours = "const s = getComputedStyle(document.body); return [s.backgroundColor, s.color]"
    assert page.driver.execute_script(colours) == ["rgb(255, 255, 255)", "rgb(0, 0, 0)"]
    page.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "", "features": []})


READ = {
    "/mounts/kelvane": ("Generation IV", "Flange focal distance"),
    "/mounts?of=kelvane": ("Tolmer 46 projection", "+17.00"),
    "/mounts/kelvane/key": ("What remains",),
    "/frame?lens=kel-30s&body=o7&via=kel-ost-plain": ("Coverage", "Kelvane 30/4 shift shifts by", "hyperfocal"),
    "/frame?lens=kel-55&body=lark&view=bodies": ("Tolmer Bell", "Orlop reducer 0.71", "Crop counted twice"),
    "/frame?lens=kel-55&body=o7&view=wish&wf=50": ("Brannoch 52/2", "With something bought", "Comes near"),
    "/frame?lens=kel-55&body=o7&view=reach": ("Northgate KLV–OST helicoid", "Two rigs at equal framing"),
    "/setup/film": ("At the joint", "the foot of Quillon 50/2", "Assumed"),
    "/terms": ("Circle of confusion", "Flange focal distance", "Danger"),
    "/fit?q=KLV+28-80mm+1:3.5-4.5": ("Ostrel O7",),
}


WIDE, PHONE = (1280, 800), (390, 844)
LOOKED_AT = [(path, size) for path in READ for size in (WIDE, PHONE)]
FEW = [("/frame?lens=kel-55&body=o7&view=reach", WIDE)]


@pytest.mark.parametrize(("path", "size"), some(LOOKED_AT, FEW))
def test_a_screen_that_is_read_prints_in_whole(page: Page, path: str, size: tuple[int, int]) -> None:
    page.size(*size)
    page.open(path)
    page.find("main[data-answer-for]:not([aria-busy='true'])")
    page.until(lambda _: all(text.lower() in page.text("main").lower() for text in READ[path]), "not all there")
    assert any(button.text == "Print" for button in page.all(".tools button"))
    words = words_of(printed(page)).lower()
    for text in READ[path]:
        assert squeezed(text).lower() in words
    # Of the header and its buttons nothing is printed.
    assert "wouldit" + "fit?label" not in words
    assert "ascsv" not in words


# What each screen prints, and what it names on paper.
PAPER = {
    "/?lens=kel-55&body=o7": "Kelvane 55/2.2 on Ostrel O7",
    "/?lens=kel-55": "Kelvane 55/2.2",
    "/?body=o7": "Ostrel O7",
    "/frame?lens=kel-55&body=o7": "Kelvane 55/2.2 on Ostrel O7",
    "/frame?lens=kel-55&body=o7&view=bodies": "Kelvane 55/2.2",
    "/frame?body=o7&view=lenses": "Ostrel O7",
    "/frame?lens=kel-55&body=o7&view=reach": "Kelvane 55/2.2 on Ostrel O7",
    "/setup?lens=kel-55&body=o7": "Kelvane 55/2.2 on Ostrel O7",
    "/setup?lens=grm-300&body=o7": "Graumont",
    "/bench?lens=kel-55&body=o7&view=seen": "Kelvane 55/2.2 on Ostrel O7",
    "/grid": "What fits what",
    "/kit/lenses": "Lenses",
    "/mounts": "Mounts",
    "/mounts/kelvane": "Kelvane",
    "/fit?q=KLV+1:2.2/55": "Kelvane",
    "/plan": "What to buy",
    "/outing": "Outings",
    "/terms": "Terms",
}
# In the grid, on the ruler and in a picture stands more than lines of writing.
DRAWN = {"/grid", "/mounts", "/frame?lens=kel-55&body=o7", "/frame?lens=kel-55&body=o7&view=reach"}


@pytest.mark.parametrize("path", some(PAPER, ["/grid"]))
def test_every_sheet_names_its_subject_and_day_and_ends_on_no_scrap(page: Page, path: str) -> None:
    page.open(path)
    page.find('[data-answer-for]:not([data-answer-for="no page"]), .wall')
    page.gone("main[aria-busy='true']")
    pdf = printed(page)
    words = words_of(pdf)
    assert squeezed(PAPER[path]) in words
    assert page.driver.execute_script("return new Date().toLocaleDateString('sv-SE')") in words
    last = [line for line in pdf.pages[-1].extract_text().splitlines() if line.strip()]
    assert len(pdf.pages) == 1 or path in DRAWN or len(last) >= 5, last


def test_paper_says_what_is_assumed_where_the_screen_does(page: Page) -> None:
    page.open("/frame?lens=kel-55&body=o7")
    page.answer("frame kel-55 o7 ")
    assumed = page.text('[data-state="assumed"]')
    assert squeezed(assumed) in words_of(printed(page))
