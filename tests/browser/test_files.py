"""Files in the real browser: a list looked through and taken, a wrong one refused, a backup restored."""

from __future__ import annotations

from pathlib import Path

import httpx
import pytest

from tests.browser.conftest import Page
from tests.limits import http

pytestmark = pytest.mark.browser


def held(page: Page, path: str) -> httpx.Response:
    return http.get(f"{page.address}/api/v1{path}")


CSV = "name;mount;focal_length_short_mm;f_number_widest;f_number_smallest;price;owned\n"


def test_a_dropped_list_is_looked_through_chosen_from_and_taken(own_sample_page: Page, tmp_path: Path) -> None:
    page = own_sample_page
    table = tmp_path / "shelf.csv"
    table.write_text(CSV + "Kelvane 55/2.2;Kelvane;55;2,2;22;61,50;1\nOwl 33/2;KLV;33;2;16;;1\nRook;KLV;21;4;16;;1\n")
    page.open("/files")
    page.find('input[aria-label="A file to import"]').send_keys(str(table))
    page.wait_text(".preview-counts", "2 new · 1 changed · 0 in conflict")
    assert "61.5" in page.text('[data-change="lenses kel-55"]')
    page.find('[data-change="lenses rook"] input').click()
    page.push("Take 2, all or nothing")
    page.wait_text('[data-state="imported"]', "2 items written from shelf.csv")
    assert held(page, "/kit/lenses/items/owl-33-2").json()["item"]["mount"] == "kelvane"
    assert held(page, "/kit/lenses/items/rook").status_code == 404
    page.wait_text(".undo button", "Undo: shelf.csv imported")


def test_a_wrong_list_is_refused_with_its_places(own_sample_page: Page, tmp_path: Path) -> None:
    page = own_sample_page
    table = tmp_path / "wrong.csv"
    table.write_text(CSV + "Owl;KLV;thirty;2;16;;1\n")
    page.open("/files")
    page.find('input[aria-label="A file to import"]').send_keys(str(table))
    page.wait_text('[data-state="refused"]', "row 2, column focal_length_short_mm: 'thirty' is not a number")


@pytest.mark.attack
def test_a_backup_is_restored_from_the_screen(own_sample_page: Page, tmp_path: Path) -> None:
    page = own_sample_page
    spare = tmp_path / "spare.sqlite"
    spare.write_bytes(held(page, "/backup").content)
    http.post(f"{page.address}/api/v1/kit/lenses/retire", json={"ids": ["kel-45"]}).raise_for_status()
    page.open("/files")
    page.find('input[aria-label="A backup to restore"]').send_keys(str(spare))
    # What is in it, beside what there is now, comes before the question.
    page.wait_text('[data-state="restore"]', "Last change")
    (lenses,) = [row for row in page.all(".in-backup tbody tr") if row.text.startswith("Lenses")]
    assert lenses.text.split() == ["Lenses", "35", "–", "1", "–"]
    page.push("Restore it")
    page.wait_text('[data-state="restored"]', "Undo takes it back")
    assert "retired" not in held(page, "/kit/lenses/items/kel-45").json()["item"]
    page.push("Undo: spare.sqlite restored")
    page.until(lambda _: held(page, "/kit/lenses/items/kel-45").json()["item"].get("retired"), "not taken back")
