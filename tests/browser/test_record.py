"""Each piece's own record, who has what, what was used; what was seen of a ring laid on the bench; crops at 100 %."""

from __future__ import annotations

from datetime import date, timedelta

import httpx
import pytest

from tests.browser.conftest import Page
from tropeion.sample import log_bytes

API = "/api/v1"


def test_a_record_is_noted_and_the_shelf_says_who_has_it(own_sample_page: Page) -> None:
    page = own_sample_page
    due = (date.today() + timedelta(days=5)).isoformat()
    page.open("/log/record/lenses/kel-55")
    page.answer("record kel-55")
    page.wait_text(".record-none", "Nothing is noted of it yet")
    page.push("borrowed")
    fields = {label.text.split("\n")[0]: label for label in page.all(".record-fields label")}
    fields["From"].find_element("css selector", "input").send_keys("the workshop")
    until = fields["To be given back"].find_element("css selector", "input")
    page.driver.execute_script(
        "const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;"
        "set.call(arguments[0], arguments[1]); arguments[0].dispatchEvent(new Event('input', {bubbles: true}))",
        until,
        due,
    )
    page.push("Note it")
    page.wait_text(".record-life", f"Borrowed from the workshop, until {due}.")
    assert page.axe() == []
    page.open("/kit/lenses?item=kel-55")
    page.wait_text(".due-soon", f"Kelvane 55/2.2: Borrowed from the workshop, until {due}")
    page.find("[data-away-piece='kel-55']")


def test_what_was_used_and_what_would_go(own_sample_page: Page) -> None:
    page = own_sample_page
    httpx.post(f"{page.address}{API}/log/file?take=new", content=log_bytes(), timeout=60).raise_for_status()
    page.open("/log/use")
    page.answer("used")
    page.wait_text("h1", "11 rigs were used.")
    assert len(page.all(".used-bar")) == 11
    page.wait_text("[data-lens='lis-40']", "views that nothing else gives: 40 mm on Lisken Verge")
    assert page.axe() == []


@pytest.mark.attack
def test_what_was_seen_of_a_ring_goes_to_the_bench_with_its_doubt(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/log/trials?lens=kel-55&body=o7&via=kel-ost-plain")
    page.answer("trials kel-55 o7 kel-ost-plain")
    fields = {label.text.split("\n")[0]: label for label in page.all(".trials-bench label")}
    fields["It needs, mm"].find_element("css selector", "input").send_keys("0,05")
    fields["Sharp only up to, m"].find_element("css selector", "input").send_keys("30")
    page.push("Lay it on the bench")
    page.find(".bench-sheet")
    assert page.driver.current_url.endswith("/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=seen")
    held = page.driver.execute_script("return sessionStorage.getItem('bench seen kel-55 o7 kel-ost-plain')")
    assert '"kind":"length","values":[-0.05,0.02]' in held
    assert '"kind":"far_limit","values":[30]' in held
