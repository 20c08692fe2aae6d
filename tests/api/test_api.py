"""The API, through HTTP, against a running server."""

from __future__ import annotations

import gzip
import json
from collections.abc import Iterator
from dataclasses import asdict

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.prepared import begin_anew
from tests.terminal import NEEDS_WEB
from tropeion.api.app import WEB_FILES
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match
from tropeion.sample import sample_bytes


@pytest.fixture(scope="module")
def api(sample_server: Served) -> Iterator[httpx.Client]:
    with client_of(sample_server.address) as client:
        yield client


@pytest.fixture
def own(own_server: Served) -> Iterator[httpx.Client]:
    """A server over a collection of its own, empty, for tests that write."""
    begin_anew(own_server.collection)
    with client_of(own_server.address) as client:
        yield client


def problem(answer: httpx.Response, status: int) -> dict[str, object]:
    assert answer.status_code == status, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    found: dict[str, object] = answer.json()
    assert found["status"] == status
    return found


def test_match_is_the_report_of_the_core(api: httpx.Client, sample: World) -> None:
    answer = api.get("/api/v1/match", params={"lens": "kel-28-80", "body": "o7"})
    assert answer.status_code == 200
    expected = json.loads(json.dumps(asdict(match(sample, "kel-28-80", "o7")), default=Practice.model_dump))
    told, routes = answer.json(), expected.pop("routes")
    assert expected.pop("unlisted") is None
    # The first is told in full with the list, another one when it is opened.
    assert told["open"] == routes[0]
    assert len(routes) > 1
    for line, route in zip(told["routes"], routes, strict=True):
        boxes = [line.pop("drawn"), route.pop("section")]
        assert [box[:2] for box in boxes[0][1:]] == [[one["rear_mm"], one["front_mm"]] for one in boxes[1]["adapters"]]
        assert boxes[0][0][0] == boxes[1]["lens"]["seat_mm"]
        assert line["interchangeable"] in ([], route["interchangeable"])
        del line["interchangeable"]
        assert line == {name: route[name] for name in line}
    for name in ("lens", "body", "sentence", "total", "folded", "practice", "works", "warnings"):
        assert told[name] == expected[name]
    assert told["names"] == {id_: piece["name"] for id_, piece in expected["pieces"].items()}
    via = routes[1]["adapters"]
    query = {"lens": "kel-28-80", "body": "o7", "via": ",".join(via)}
    opened = api.get("/api/v1/match", params=query).json()
    [one] = match(sample, "kel-28-80", "o7", via=via).routes
    assert opened["open"] == json.loads(json.dumps(asdict(one)))
    assert set(opened["pieces"]) == {"kel-28-80", "o7", *via}


def test_no_pair_weighs_more_than_forty_kilobytes(api: httpx.Client) -> None:
    # The largest answers of the sample.
    for lens in ("tpr-60s", "kel-85", "kel-105"):
        answer = api.get("/api/v1/match", params={"lens": lens, "body": "o7"})
        assert len(answer.json()["routes"]) == 60
        assert len(answer.content) < 40_000
        assert len(gzip.compress(answer.content)) < 10_000


def test_to_the_machine_itself_everything_is_sent_as_it_is(api: httpx.Client) -> None:
    rig = "lens=kel-55&body=o7&via=kel-ost-plain"
    for path in ("mounts", f"match?{rig}", f"frame/picture?{rig}", "backup"):
        answer = api.get(f"/api/v1/{path}", headers={"accept-encoding": "gzip"})
        assert answer.status_code == 200
        assert "content-encoding" not in answer.headers, path


@NEEDS_WEB
def test_scripts_are_sent_packed_once_and_are_the_files(api: httpx.Client) -> None:
    """Packed for whoever takes it, as they are for others; what is no file of the page is no answer."""
    for path in (*sorted(WEB_FILES.glob("assets/*/*.js"))[:3], *sorted(WEB_FILES.glob("assets/*/*.css"))[:1]):
        name = path.relative_to(WEB_FILES).as_posix()
        for _ in range(2):
            packed = api.get(f"/{name}", headers={"accept-encoding": "gzip"})
            assert packed.headers["content-encoding"] == "gzip"
            assert packed.headers["vary"] == "Accept-Encoding"
            assert "immutable" in packed.headers["cache-control"]
            assert packed.content == path.read_bytes()
        plain = api.get(f"/{name}", headers={"accept-encoding": "identity"})
        assert "content-encoding" not in plain.headers
        assert plain.content == path.read_bytes()
        assert plain.headers["content-type"] == packed.headers["content-type"]
    for name in ("nothing.js", "..%2findex.js", "%2e%2e/files.js", "a%00.js", f"{path.parent.name}/%2e%2e/none.js"):
        assert api.get(f"/assets/{name}").status_code == 404, name


def test_via_and_practice_travel_in_the_query(api: httpx.Client) -> None:
    query = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain", "practice[trust]": "cautious"}
    report = api.get("/api/v1/match", params=query).json()
    assert [route["grade"] for route in report["routes"]] == ["partial"]
    assert report["practice"]["trust"] == "cautious"


def test_an_unknown_id_is_a_problem_with_near_ones(api: httpx.Client) -> None:
    found = problem(api.get("/api/v1/match", params={"lens": "kel-5", "body": "o7"}), 404)
    assert found["type"] == "unknown_id"
    assert found["kind"] == "lens"
    assert isinstance(found["near"], list)
    assert "kel-55" in found["near"]


@pytest.mark.parametrize(
    ("query", "place"),
    [
        ({"body": "o7"}, "lens"),
        ({"lens": "kel-55", "body": "o7", "practice[trust]": "blind"}, "practice.trust"),
        ({"lens": "kel-55", "body": "o7", "practice[trusst]": "nominal"}, "practice.trusst"),
        ({"lens": "kel-55", "body": "o7", "practice": "cautious"}, "practice"),
        ({"lens": "kel-55", "body": "o7", "trust": "cautious"}, "trust"),
        ({"lens": "kel-55", "body": "o7", "vai": "kel-ost-plain"}, "vai"),
        ({"lens": "kel-55", "body": "o7", "via": "x" * 601}, "via"),
        ({"lens": "x" * 151, "body": "o7"}, "lens"),
    ],
)
def test_a_bad_query_names_its_field(api: httpx.Client, query: dict[str, str], place: str) -> None:
    found = problem(api.get("/api/v1/match", params=query), 422)
    assert isinstance(found["errors"], list)
    assert place in [error["place"] for error in found["errors"]]


def test_a_misspelt_parameter_is_told_the_nearest(api: httpx.Client) -> None:
    pair = {"lens": "kel-55", "body": "o7"}
    told = problem(api.get("/api/v1/match", params={**pair, "vai": "kel-ost-plain"}), 422)
    assert told["detail"] == "no such parameter; nearest is “via”"
    told = problem(api.get("/api/v1/match", params={**pair, "trust": "cautious"}), 422)
    assert told["detail"] == "no such parameter; nearest is “practice[trust]”"
    told = problem(api.get("/api/v1/kit/lenses", params={"practice[trust]": "cautious"}), 422)
    assert told["detail"] == "no such parameter"


def test_every_operation_that_takes_a_practice_takes_it_as_one_parameter(api: httpx.Client) -> None:
    document = api.get("/api/v1/openapi.json").json()
    operations = [one for path in document["paths"].values() for one in path.values()]
    named = [[each.get("name", each.get("$ref")) for each in one.get("parameters", ())] for one in operations]
    assert sum("#/components/parameters/Practice" in names for names in named) > 30
    # A filter of the kit may be called as a choice is; the choices stand by themselves nowhere.
    assert max(len(set(Practice.model_fields) & set(names)) for names in named) <= 1


def test_the_working_of_one_route(api: httpx.Client) -> None:
    query = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}
    steps = api.get("/api/v1/match/working", params=query).json()["steps"]
    step = next(step for step in steps if step["quantity"] == "register_error_mm")
    assert step["value"] == 0.03
    assert step["expression"].startswith("δ = ")
    assert step["terms"][0]["values"] == pytest.approx([0.03])


def test_search(api: httpx.Client) -> None:
    def find(kind: str = "lenses", **query: str | int) -> httpx.Response:
        return api.get(f"/api/v1/kit/{kind}/find", params={"sort": "nearest", "brief": True, **query})

    found = find(q="klv 55").json()
    assert found["ids"] == [item["id"] for item in found["items"]] == ["kel-55"]
    assert found["items"][0]["register_mm"] == 48.2
    few = find(limit=3).json()
    assert (few["total"], len(few["ids"]), len(few["items"])) == (33, 3, 3)
    assert find(brief=False).json()["items"] == []
    # Two have no mount, and are not offered where something is to be joined.
    assert len(find(brief=False).json()["ids"]) == 35
    assert find("mounts").json()["items"] == []
    problem(find("rigs"), 422)
    problem(find(q="x" * 201), 422)
    problem(find(limit=0), 422)


def test_one_item(api: httpx.Client) -> None:
    assert api.get("/api/v1/kit/bodies/items/o7").json()["item"]["name"] == "Ostrel O7"
    assert problem(api.get("/api/v1/kit/bodies/items/o8"), 404)["kind"] == "body"


def test_the_whole_collection_comes_out_as_a_gear_file(api: httpx.Client) -> None:
    assert api.get("/api/v1/gear").content == sample_bytes()


def test_the_schema_is_served(api: httpx.Client) -> None:
    assert api.get("/api/v1/schema").json()["title"] == "Tropeion gear file"


def test_start_opens_with_the_first_saved_rig(api: httpx.Client, sample_gear: Gear) -> None:
    start = api.get("/api/v1/start").json()
    assert start["pair"] == {"lens": sample_gear.rigs[0].lens, "body": sample_gear.rigs[0].body}
    assert start["practice"]["trust"] == "nominal"


# Writing


def test_a_gear_file_replaces_the_collection(own: httpx.Client) -> None:
    assert own.get("/api/v1/start").json()["pair"] is None
    answer = own.put("/api/v1/gear", content=sample_bytes())
    assert answer.status_code == 200
    assert answer.json() == {"changed": 160, "lenses": 35, "bodies": 11, "adapters": 62}
    assert own.get("/api/v1/gear").content == sample_bytes()


def test_a_bad_gear_file_is_refused_whole(own: httpx.Client) -> None:
    own.put("/api/v1/gear", content=sample_bytes())
    bad = sample_bytes().replace(b'"mount": "kelvane"', b'"mount": "kelvain"')
    found = problem(own.put("/api/v1/gear", content=bad), 422)
    assert isinstance(found["errors"], list)
    assert found["errors"][0] == {
        "place": "bodies[4].mount",
        "message": "no mount has the id 'kelvain'",
        "hint": "did you mean 'kelvane'?",
    }
    assert own.get("/api/v1/gear").content == sample_bytes()


def test_the_sample_goes_into_an_empty_collection_only(own: httpx.Client) -> None:
    assert own.post("/api/v1/gear/sample").json()["changed"] == 160
    assert own.post("/api/v1/gear/sample").json()["changed"] == 0


def test_practice_is_kept(own: httpx.Client) -> None:
    wanted = {**own.get("/api/v1/start").json()["practice"], "distances": "imperial"}
    assert own.put("/api/v1/practice", json=wanted).status_code == 200
    assert own.get("/api/v1/start").json()["practice"] == wanted
    problem(own.put("/api/v1/practice", json={"distances": "cubits"}), 422)
    problem(own.put("/api/v1/practice", content=b"{"), 422)
    assert own.get("/api/v1/start").json()["practice"] == wanted


# Guards


def test_another_host_is_refused(api: httpx.Client) -> None:
    for host in ("example.org", "127.0.0.1.example.org", "", "localhost.example.org:80"):
        assert problem(api.get("/api/v1/start", headers={"host": host}), 421)["title"] == "Unknown host"
    for host in ("localhost", "localhost:8463", "127.0.0.1:1", "[::1]:8463", "[::1]"):
        assert api.get("/api/v1/start", headers={"host": host}).status_code == 200


def test_another_site_cannot_write(own: httpx.Client) -> None:
    for headers in ({"origin": "http://example.org"}, {"origin": "null"}, {"sec-fetch-site": "cross-site"}):
        problem(own.put("/api/v1/practice", json={}, headers=headers), 403)
    host = own.base_url.netloc.decode()
    assert own.put("/api/v1/practice", json={}, headers={"origin": f"http://{host}"}).status_code == 200


def test_uploads_are_bounded(own: httpx.Client) -> None:
    mega = 1024 * 1024
    problem(own.put("/api/v1/practice", content=b" " * (5 * mega + 1)), 413)
    problem(own.put("/api/v1/gear", content=b" " * (32 * mega + 1)), 413)
    # Under the bound it is read, and refused for what it is.
    problem(own.put("/api/v1/gear", content=b" " * (6 * mega)), 422)


def test_an_upload_without_a_length_is_bounded_too(own: httpx.Client) -> None:
    def drops() -> Iterator[bytes]:
        for _ in range(33):
            yield b" " * 1024 * 1024

    problem(own.put("/api/v1/gear", content=drops()), 413)


def test_every_answer_carries_the_policy(api: httpx.Client) -> None:
    for path in ("/api/v1/start", "/api/v1/match", "/nowhere"):
        headers = api.get(path).headers
        policy = headers["content-security-policy"]
        assert "default-src 'none'" in policy
        assert "style-src 'self';" in policy
        assert "unsafe" not in policy
        assert headers["x-content-type-options"] == "nosniff"
        assert headers["referrer-policy"] == "no-referrer"


def test_an_address_with_a_dot_in_an_id_is_the_page(api: httpx.Client) -> None:
    """Where the web files are built: ids may hold dots, files stand at the root."""
    if api.get("/").status_code == 404:
        pytest.skip("the web files are not built")
    page = api.get("/mounts/a.b")
    assert page.headers["content-type"].startswith("text/html")
    assert '<div id="root">' in page.text
    assert api.get("/nothing.txt").status_code == 404
    assert api.get("/mark.svg").headers["content-type"] == "image/svg+xml"


def test_an_unknown_path_of_the_api_is_a_problem(api: httpx.Client) -> None:
    problem(api.get("/api/v1/nothing"), 404)
    problem(api.delete("/api/v1/gear"), 405)
