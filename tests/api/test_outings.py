"""Outings, stored lenses and corners through HTTP: kept, changed, undone, refused."""

from __future__ import annotations

from typing import Any

import httpx
import pytest

RIG = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}
SHOTS = [{"name": "Window", "rig": "gallery"}, {"name": "Blower", "rig": "film"}, {"name": "Case", "rig": "gallery"}]


def begun(api: httpx.Client, **more: Any) -> dict[str, Any]:
    answer = api.post("/outings", json={"name": "West gallery", "shots": SHOTS, **more})
    assert answer.status_code == 200, answer.text
    page: dict[str, Any] = answer.json()
    return page


def changed(api: httpx.Client, page: dict[str, Any], **changes: Any) -> httpx.Response:
    outing = {**page["outing"], **changes}
    return api.put(f"/outings/{page['id']}", json={"outing": outing, "version": page["version"]})


def test_an_outing_is_kept_and_found_again(own: httpx.Client) -> None:
    page = begun(own, day="2026-12-05")
    assert own.get(f"/outings/{page['id']}").json() == page
    assert own.get("/outings").json() == [{"id": page["id"], "name": "West gallery", "day": "2026-12-05", "shots": 3}]
    assert page["report"]["says"].startswith("3 shots")


def test_packing_is_one_thing_to_take_back_and_all_else_by_itself(own: httpx.Client) -> None:
    page = changed(own, begun(own), name="East gallery").json()
    for count in range(1, 4):
        page = changed(own, page, packed=["o7", "kel-55", "vigil"][:count]).json()
    assert page["outing"]["packed"] == ["o7", "kel-55", "vigil"]
    steps: list[tuple[str, list[str]]] = [("East gallery", []), ("West gallery", [])]
    for name, packed in steps:
        own.post("/undo").raise_for_status()
        outing = own.get(f"/outings/{page['id']}").json()["outing"]
        assert (outing["name"], outing["packed"]) == (name, packed)
    own.post("/undo").raise_for_status()
    assert own.get("/outings").json() == []
    for _ in range(3):
        own.post("/redo").raise_for_status()
    assert own.get(f"/outings/{page['id']}").json()["outing"]["packed"] == ["o7", "kel-55", "vigil"]


def test_what_another_window_changed_is_not_written_over(own: httpx.Client) -> None:
    page = begun(own)
    assert changed(own, page, name="East gallery").status_code == 200
    refused = changed(own, page, name="South gallery")
    told = refused.json()
    assert (refused.status_code, told["type"], told["version"]) == (409, "stale", 2)
    assert told["current"]["name"] == "East gallery"
    assert own.get(f"/outings/{page['id']}").json()["outing"]["name"] == "East gallery"


def test_one_that_is_taken_off_the_list_comes_back_by_undo(own: httpx.Client) -> None:
    page = begun(own)
    own.post(f"/records/outings/{page['id']}/strike", json={"version": page["version"]}).raise_for_status()
    assert own.get("/outings").json() == []
    assert own.get(f"/outings/{page['id']}").status_code == 404
    # What is off the list is not written to by whoever still has it open.
    assert changed(own, {**page, "version": page["version"] + 1}, name="x").status_code == 404
    own.post("/undo").raise_for_status()
    assert len(own.get("/outings").json()) == 1


@pytest.mark.parametrize(
    ("sent", "place"),
    [
        ({"name": ""}, "name"),
        ({"name": "x", "shots": [{"name": "a"}]}, "shots.0.rig"),
        ({"name": "x", "day": "tomorrow"}, "day"),
        ({"name": "x", "bag": []}, "bag"),
        ({"name": "x", "shots": [{"name": "a", "rig": "r"}] * 61}, "shots"),
    ],
)
def test_what_is_no_outing_is_refused_with_its_place(own: httpx.Client, sent: dict[str, Any], place: str) -> None:
    answer = own.post("/outings", json=sent)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["place"] == place
    assert own.get("/outings").json() == []


def test_an_outing_that_is_not_there_is_said(own: httpx.Client) -> None:
    nobody = "0" * 8 + "-0000-0000-0000-" + "0" * 12
    answer = own.get(f"/outings/{nobody}")
    assert (answer.status_code, answer.json()["title"]) == (404, "No such outing")
    assert own.put(f"/outings/{nobody}", json={"outing": {"name": "x"}, "version": 1}).status_code == 404
    assert own.get("/outings/x y").status_code == 422


def test_a_piece_of_an_outing_is_archived_rather_than_lost(own: httpx.Client) -> None:
    begun(own, shots=[{"name": "Marks", "rig": "pipe-marks"}])
    own.delete("/kit/rigs/items/pipe-marks", params={"version": 1}).raise_for_status()
    own.delete("/kit/lenses/items/mrw-62", params={"version": 1}).raise_for_status()
    assert own.get("/kit/lenses/items/mrw-62").json()["item"]["retired"] is True


# Stored lenses

PLACE = {
    "number": 1,
    "label": "55/2.2+KLV",
    "lens": "kel-55",
    "adapters": ["kel-ost-plain"],
    "marked_mm": 55,
    "focal_length_mm": 55,
    "version": 0,
}


def test_a_place_is_noted_pinned_and_emptied(own: httpx.Client) -> None:
    (need,) = own.get("/stored", params={"body": "o7"}).json()["needs"]
    assert (need["label"], need["into"], need["at"]) == ("55/2.2+KLV", 1, None)
    noted = own.put("/stored", params={"body": "o7"}, json=PLACE).json()
    assert (noted["needs"][0]["at"], noted["says"]) == (1, "1 entry for 10 places. All are stored.")
    pinned = own.put("/stored", params={"body": "o7"}, json={**PLACE, "pinned": True, "version": 1}).json()
    assert pinned["slots"][0]["stored"]["pinned"] is True
    emptied = own.put("/stored", params={"body": "o7"}, json={**PLACE, "empty": True, "version": 2}).json()
    assert (emptied["slots"][0]["stored"], emptied["slots"][0]["version"]) == (None, 3)
    own.post("/undo").raise_for_status()
    assert own.get("/stored", params={"body": "o7"}).json()["slots"][0]["stored"]["pinned"] is True


def test_the_second_of_two_windows_is_told_what_the_first_noted(own: httpx.Client) -> None:
    own.put("/stored", params={"body": "o7"}, json=PLACE).raise_for_status()
    own.put("/stored", params={"body": "o7"}, json={**PLACE, "empty": True, "version": 1}).raise_for_status()
    late = own.put("/stored", params={"body": "o7"}, json={**PLACE, "pinned": True, "version": 1})
    told = late.json()
    assert (late.status_code, told["type"], told["version"]) == (409, "stale", 2)
    assert (told["current"]["struck"], told["current"]["label"]) == (True, "55/2.2+KLV")
    assert own.get("/stored", params={"body": "o7"}).json()["slots"][0]["stored"] is None


def test_a_measured_focal_length_makes_a_place_stale(own: httpx.Client) -> None:
    own.put("/stored", params={"body": "o7"}, json=PLACE).raise_for_status()
    page = own.get("/kit/lenses/items/kel-55").json()
    item = {**page["item"], "focal_length_mm": [56.4, 56.4]}
    own.put("/kit/lenses/items/kel-55", json={"item": item, "version": page["version"]}).raise_for_status()
    found = own.get("/stored", params={"body": "o7"}).json()
    assert found["slots"][0]["stale"] == "55 mm before, 56.4 mm now"
    assert found["needs"][0]["into"] == 1


def test_the_cards_tell_what_was_used_last(own: httpx.Client) -> None:
    card = {"lens": "kel-55", "body": "o7", "adapters": "kel-ost-plain", "day": "2026-11-20"}
    own.put("/cards", json={**card, "ticked": ["Power on."], "version": 0}).raise_for_status()
    own.put("/cards", json={**card, "day": "2026-11-22", "ticked": [], "version": 0}).raise_for_status()
    # A card with nothing ticked was not used.
    assert own.get("/stored", params={"body": "o7"}).json()["needs"][0]["last"] == "2026-11-20"


@pytest.mark.parametrize(
    ("changes", "place"),
    [
        ({"number": 11}, "number"),
        ({"label": "Kelvane 55/2.2 by its ring"}, "label"),
        ({"travel": 2}, "travel"),
        ({"lens": "kel-56"}, "lens"),
    ],
)
def test_what_a_body_cannot_store_is_refused(own: httpx.Client, changes: dict[str, Any], place: str) -> None:
    answer = own.put("/stored", params={"body": "o7"}, json={**PLACE, **changes})
    assert answer.status_code in {404, 422}
    assert answer.json()["errors"][0]["place"] == place
    assert own.get("/stored", params={"body": "o7"}).json()["slots"][0]["stored"] is None


# Corners


def look(api: httpx.Client, *seen: tuple[float, bool]) -> httpx.Response:
    sent = {"day": "2026-11-26", "seen": [{"travel": travel, "dark": dark} for travel, dark in seen]}
    return api.post("/corners", params=RIG, json=sent)


def test_corners_are_noted_and_told(own: httpx.Client) -> None:
    assert own.get("/corners", params=RIG).json() == {"checks": [], "latest": None}
    found = look(own, (0.5, False), (0.75, True)).json()
    # O7: 36 × 24 mm and ± 4.2 mm; 2 · √(20.1² + 14.1²) = 49.1, 2 · √(21.15² + 15.15²) = 52.0.
    assert found["latest"]["circle"]["image_circle_mm"] == pytest.approx(49.10, abs=0.01)
    assert found["latest"]["circle"]["tolerance_mm"] == pytest.approx(52.03 - 49.10, abs=0.02)
    # The lens is as it was: it is written only on wish.
    assert own.get("/kit/lenses/items/kel-55").json()["item"]["image_circle_mm"] == 45.0
    later = look(own, (0.0, False), (0.5, True)).json()
    assert len(later["checks"]) == 2
    assert later["checks"][0]["seen"][1] == {"travel": 0.5, "dark": True}


@pytest.mark.parametrize("seen", [((0.5, True), (0.75, False)), ()])
def test_corners_that_contradict_themselves_are_not_kept(
    own: httpx.Client, seen: tuple[tuple[float, bool], ...]
) -> None:
    assert look(own, *seen).status_code == 422
    assert own.get("/corners", params=RIG).json()["checks"] == []
