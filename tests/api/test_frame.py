"""The frame through HTTP and at the terminal: one set of numbers, one picture."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.terminal import run

PAIR = {"lens": "kel-30s", "body": "o7", "via": "kel-ost-plain"}


@pytest.fixture(scope="module")
def api(sample_server: Served) -> Iterator[httpx.Client]:
    with client_of(sample_server.address) as client:
        yield client


def size_of(png: bytes) -> tuple[int, int]:
    """Width and height, by the header of the file."""
    assert png[:8] == b"\x89PNG\r\n\x1a\n"
    return int.from_bytes(png[16:20]), int.from_bytes(png[20:24])


def test_the_numbers_of_a_frame(api: httpx.Client) -> None:
    asked: dict[str, str | float] = {**PAIR, "subject_m": 18, "distance_m": 14, "lens_m": 1.5}
    report = api.get("/api/v1/frame", params=asked).json()
    # 30·16.5/14 − 12; √(32² − 18²) − 12.
    assert report["shift"]["rise_wanted_mm"] == pytest.approx(30 * 16.5 / 14 - 12, abs=1e-6)
    assert report["shift"]["rise_allowed_mm"] == pytest.approx((32**2 - 18**2) ** 0.5 - 12, abs=1e-6)
    assert [one["distance_m"] for one in report["blur"]] == [1, 2, 5, 10, 50, None]
    assert report["stitch"] is None
    assert report["tilt"] == {"tilt_deg": 0, "hinge_mm": None, "half_wedge_mm": None}
    assert {row["name"] for row in report["modes"]} == {"full", "24 × 16"}


def test_focused_at_infinity_stays_valid_json(api: httpx.Client) -> None:
    answer = api.get("/api/v1/frame", params={**PAIR, "at_infinity": True})
    # The ring is 0.03 mm long: 30²/0.03 + 2·30 + 0.03 mm.
    report = json.loads(answer.text, parse_constant=lambda name: pytest.fail(f"{name} is no JSON"))
    assert report["at_m"] is None
    assert report["sharp_m"] == pytest.approx(30.06003)
    assert report["blur"][-1]["distance_m"] is None
    assert report["blur"][-1]["diameter_mm"] == pytest.approx(0.03 / 4)


@pytest.mark.parametrize(("rows", "size"), [("600", (900, 600)), ("300", (450, 300))])
def test_the_picture_is_as_large_as_asked(api: httpx.Client, rows: str, size: tuple[int, int]) -> None:
    answer = api.get("/api/v1/frame/picture", params={**PAIR, "rows": rows})
    assert answer.headers["content-type"] == "image/png"
    assert size_of(answer.content) == size


def test_upright_and_desqueezed_pictures_have_their_own_shape(api: httpx.Client) -> None:
    upright = api.get("/api/v1/frame/picture", params={**PAIR, "upright": True}).content
    assert size_of(upright) == (400, 600)
    anamorphic = {"lens": "qlk-50", "body": "vigil", "via": "qlk-skn-lock"}
    recorded = size_of(api.get("/api/v1/frame/picture", params=anamorphic).content)
    wide = size_of(api.get("/api/v1/frame/picture", params={**anamorphic, "desqueeze": True}).content)
    assert wide[1] == recorded[1] == 600
    assert wide[0] == pytest.approx(1.6 * recorded[0], abs=1)


def test_one_address_is_one_picture(api: httpx.Client) -> None:
    one, same = (api.get("/api/v1/frame/picture", params=PAIR).content for _ in range(2))
    other = api.get("/api/v1/frame/picture", params={**PAIR, "aperture": 8}).content
    assert one == same
    assert one != other


def test_where_nothing_is_recorded_there_is_no_picture(api: httpx.Client) -> None:
    danger = {"lens": "kel-55", "body": "stave-3"}
    assert api.get("/api/v1/frame/picture", params=danger).status_code == 204
    assert "shears off" in api.get("/api/v1/frame", params=danger).json()["reason"]


@pytest.mark.parametrize(
    ("wrong", "place"),
    [
        ({"aperture": 1.2}, "f_number"),
        ({"mode": "6 × 6"}, "mode"),
        ({"mm": 44}, "focal_length_mm"),
        ({"subject_m": 18}, "subject_m"),
        ({"subject_m": 2, "distance_m": 5, "lens_m": 3}, "lens_m"),
        ({"scene": "moon"}, "scene"),
        ({"tilt": 90}, "tilt"),
        ({"at_m": "inf"}, "at_m"),
        ({"rows": 5}, "rows"),
    ],
)
def test_what_cannot_be_is_refused_with_its_place(api: httpx.Client, wrong: dict[str, object], place: str) -> None:
    path = "/api/v1/frame/picture" if "rows" in wrong else "/api/v1/frame"
    answer = api.get(path, params={**PAIR, **{key: str(value) for key, value in wrong.items()}})
    assert answer.status_code == 422
    assert place in answer.json()["errors"][0]["place"]


def test_an_unknown_piece_is_named(api: httpx.Client) -> None:
    answer = api.get("/api/v1/frame", params={**PAIR, "via": "kel-ost-plane"})
    assert answer.status_code == 404
    assert "kel-ost-plain" in answer.json()["near"]


def test_a_sighting(api: httpx.Client) -> None:
    seen: dict[str, str | float] = {**PAIR, "way": "shift_up", "clean": 6, "dark": 8}
    found = api.get("/api/v1/frame/sighting", params=seen).json()
    assert found["image_circle_mm"] == pytest.approx(2 * (18**2 + 18**2) ** 0.5, abs=1e-6)
    assert found["tolerance_mm"] == pytest.approx(2 * (18**2 + 20**2) ** 0.5 - found["image_circle_mm"], abs=2e-6)
    refused = api.get("/api/v1/frame/sighting", params={**seen, "dark": 5})
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["place"] == "dark"


# At the terminal


def frame(*more: str) -> tuple[int, str, str]:
    done = run("frame", "sample", "--lens", "kel-30s", "--body", "o7", "--via", "kel-ost-plain", *more)
    return done.returncode, done.stdout.decode(), done.stderr.decode()


def test_the_command_tells_the_numbers_and_writes_the_picture(tmp_path: Path, api: httpx.Client) -> None:
    picture = tmp_path / "frame.png"
    code, out, _ = frame(
        "--scene",
        "facade",
        "--subject",
        "18,14,1.5",
        "--correct",
        "0.6",
        "--shift",
        "0,8",
        "--json",
        "--png",
        str(picture),
    )
    assert code == 0
    report = json.loads(out)
    assert size_of(picture.read_bytes()) == (900, 600)
    assert report["shift_set_mm"] == [0, 8]
    # Frames shifted up and down by 8 mm cover 24 + 16.
    assert report["stitch"]["width_mm"] == 40
    asked: dict[str, str | float] = {
        **PAIR,
        "subject_m": 18,
        "distance_m": 14,
        "lens_m": 1.5,
        "correct": 0.6,
        "shift_y": 8,
    }
    assert api.get("/api/v1/frame", params=asked).json() == report


def test_the_command_prints_for_people() -> None:
    code, out, _ = frame("--at-m", "inf", "--aperture", "8")
    assert code == 0
    assert "Focused at 30.1 m, as far as the ring goes; infinity is sharp too." in out
    assert "blur at infinity: 0.004 mm" in out
    assert "full: covered" in out
    assert "left out" in out


def test_without_a_chain_the_command_takes_the_best() -> None:
    done = run("frame", "sample", "--lens", "kel-55", "--body", "o7", "--json")
    assert json.loads(done.stdout)["adapters"] == ["kel-ost-plain"]
    bare = run("frame", "sample", "--lens", "kel-55", "--body", "stave-3", "--via", "", "--json")
    assert "shears off" in json.loads(bare.stdout)["reason"]
    nothing = run("frame", "sample", "--lens", "lis-28", "--body", "nave")
    assert nothing.returncode == 2
    assert b"nothing in the collection joins" in nothing.stderr


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        (("--aperture", "1"), "f/4 to f/22"),
        (("--shift", "3"), "--shift takes X,Y"),
        (("--subject", "18,14"), "--subject takes H,D,A"),
        (("--subject", "2,14,3"), "the lens stands between the ground and the top"),
        (("--mode", "9 × 9"), "full, 24 × 16"),
        (("--tilt", "120"), "--tilt"),
    ],
)
def test_the_command_refuses_with_what_would_be_right(wrong: tuple[str, str], said: str) -> None:
    code, _, err = frame(*wrong)
    assert code == 2
    assert said in err


def test_no_picture_is_written_of_a_rig_that_must_not_be_mounted(tmp_path: Path) -> None:
    picture = tmp_path / "none.png"
    done = run("frame", "sample", "--lens", "kel-55", "--body", "stave-3", "--png", str(picture))
    assert done.returncode == 2
    assert "Do not mount this" in done.stderr.decode()
    assert not picture.exists()
