"""The listener in the network, over TLS: whom it knows, what they may, and what it withstands."""

from __future__ import annotations

import hashlib
import json
import re
import socket
import sqlite3
import ssl
import threading
from collections.abc import Iterator
from contextlib import ExitStack, closing
from pathlib import Path

import httpx
import pytest
from cryptography import x509
from cryptography.hazmat.primitives.serialization import Encoding

from tests.limits import LIMIT_S, client_of, until
from tests.network import LanServer, lan_server
from tests.prepared import sample_at
from tropeion.api import fits_resource, guards
from tropeion.api.app import WEB_FILES
from tropeion.api.gates import COOKIE
from tropeion.api.rights import RIGHTS, Needs, may, right_of
from tropeion.core.asking import go_on
from tropeion.lan.authority import FILE_NAME as AUTHORITY
from tropeion.lan.paired import FILE_NAME as DEVICES
from tropeion.store.backup import backup


@pytest.fixture(scope="module")
def lan(tmp_path_factory: pytest.TempPathFactory) -> Iterator[LanServer]:
    path = tmp_path_factory.mktemp("lan") / "collection.sqlite"
    sample_at(path).close()
    with lan_server(path, ("127.0.0.2", "127.0.0.3")) as server:
        yield server


def refused(answer: httpx.Response) -> tuple[int, str]:
    return answer.status_code, answer.json()["type"]


# Nobody who was not let in.


@pytest.mark.parametrize("path", ["/api/v1/start", "/api/v1/gear", "/api/v1/lan", "/api/v1/openapi.json", "/sw.js"])
def test_a_stranger_is_told_nothing(lan: LanServer, path: str) -> None:
    with lan.stranger() as stranger:
        assert refused(stranger.get(path)) == (401, "unpaired")


@pytest.mark.parametrize("path", ["/", "/log", "/setup/gallery", "/kit/lenses?item=kel-55"])
def test_a_stranger_gets_the_page_that_pairs_and_nothing_of_the_collection(lan: LanServer, path: str) -> None:
    with lan.stranger() as stranger:
        page = stranger.get(path)
        assert page.status_code == 200
        assert "This device is not paired." in page.text
        assert 'id="root"' not in page.text
        assert "worker-src 'self'" in page.headers["content-security-policy"]
        for name in re.findall(r'(?:src|href)="(/[^"]+)"', page.text):
            assert stranger.get(name).status_code == 200, name
        assert "Kelvane" not in page.text


def test_a_stranger_gets_no_file_of_the_application(lan: LanServer) -> None:
    page = httpx.get(lan.machine).text
    with lan.stranger() as stranger:
        for_strangers = stranger.get("/").text
        own = [name for name in re.findall(r'src="(/assets/[^"]+)"', page) if name not in for_strangers]
        assert own
        for name in own:
            assert refused(stranger.get(name)) == (401, "unpaired")


@pytest.mark.parametrize("host", ["127.0.0.1", "localhost", "127.0.0.1:8463", "example.org", "192.168.7.3"])
def test_what_the_host_says_lets_nobody_in(lan: LanServer, host: str) -> None:
    with lan.stranger() as stranger, lan.phone() as phone:
        for client in (stranger, phone):
            assert refused(client.get("/api/v1/start", headers={"host": host})) == (421, "other_host")
            assert refused(client.get("/", headers={"host": host})) == (421, "other_host")


def test_the_machine_itself_is_as_before(lan: LanServer) -> None:
    with client_of(lan.machine) as machine:
        assert machine.get("/api/v1/start").status_code == 200
        assert machine.get("/api/v1/lan").json()["device"] is None
        assert 'id="root"' in machine.get("/").text
        # A cookie means nothing there, and nobody pairs there.
        assert machine.get("/api/v1/start", headers={"cookie": f"{COOKIE}=x"}).status_code == 200
        assert refused(machine.post("/api/v1/lan/pair", json={"code": "00000000", "name": "x"})) == (403, "not_allowed")
        host = {"host": f"127.0.0.2:{lan.port}"}
        assert refused(machine.get("/api/v1/start", headers=host)) == (421, "other_host")


@pytest.mark.parametrize(
    "cookie", ["", "x", "=", f"{COOKIE}=", f"{COOKIE}=x; other=y", f"{COOKIE}=\x7f", f"tropeion={'A' * 43}"]
)
def test_other_cookies_are_nobody(lan: LanServer, cookie: str) -> None:
    with lan.stranger() as stranger:
        assert refused(stranger.get("/api/v1/start", headers={"cookie": cookie})) == (401, "unpaired")


# What a browser keeps.


def test_the_worker_is_a_script_that_is_asked_for_anew_each_time(lan: LanServer) -> None:
    with lan.phone() as phone, client_of(lan.machine) as machine:
        for client in (phone, machine):
            worker = client.get("/sw.js")
            assert worker.headers["content-type"] == "text/javascript; charset=utf-8"
            assert worker.headers["cache-control"] == "no-cache"
            assert "__SHELL__" not in worker.text
            assert f'"collection": "{machine.get("/api/v1/start").json()["collection"]}"' in worker.text
        files = json.loads(re.findall(r'"files": (\[[^]]*\])', worker.text)[0])
        # All of the application, and of the page for strangers what it shares with that.
        built = {f"/{path.relative_to(WEB_FILES).as_posix()}" for path in WEB_FILES.rglob("assets/**/*.*")}
        assert {Path(name).name for name in built - set(files)} == {"pair.js", "pair.css"}
        for name in files:
            assert phone.get(name).status_code == 200, name
        assert phone.get("/licences.md").headers["content-type"].startswith("text/plain")
        assert phone.get("/files.json").status_code == 404


# Coming in.


def test_a_phone_comes_in_by_a_code_and_gets_a_cookie_for_this_host_alone(lan: LanServer) -> None:
    with lan.stranger() as stranger:
        answer = stranger.post("/api/v1/lan/pair", json={"code": lan.code(), "name": "Gallery phone"})
        assert answer.json() == {"name": "Gallery phone", "may": "log", "kind": "paired"}
        cookie = answer.headers["set-cookie"]
        assert cookie.startswith("__Host-")
        assert {part.strip() for part in cookie.split(";")[1:]} == {
            *("Path=/", "Secure", "HttpOnly", "SameSite=Strict"),
            f"Max-Age={90 * 86400}",
        }
        assert stranger.get("/api/v1/start").status_code == 200
        assert stranger.get("/api/v1/lan").json()["device"]["name"] == "Gallery phone"
        assert 'id="root"' in stranger.get("/log").text
    # At the other address it is nobody: the cookie is of one host.
    with lan.stranger("127.0.0.3") as elsewhere:
        assert refused(elsewhere.get("/api/v1/start")) == (401, "unpaired")


def test_a_stranger_sends_little(lan: LanServer) -> None:
    with lan.stranger() as stranger:
        answer = stranger.post("/api/v1/lan/pair", content=b" " * 5000)
        assert refused(answer) == (413, "too_large")
        assert answer.json()["detail"] == "At most 4096 bytes; nothing was written"


def test_the_code_stands_behind_the_hash_that_is_not_sent(lan: LanServer) -> None:
    with client_of(lan.machine) as machine:
        page = machine.post("/api/v1/lan/code", json={"may": "log"}).json()
        typed = page["code"].replace("-", "")
        assert [one["url"] for one in page["at"]] == [
            f"https://{address}:{lan.port}/#pair={typed}" for address in ("127.0.0.2", "127.0.0.3")
        ]
        assert all(one["qr_svg"].startswith("<svg ") for one in page["at"])
        assert machine.get("/api/v1/lan/code").json()["code"] == page["code"]
        assert machine.delete("/api/v1/lan/code").json()["code"] == ""
        assert machine.get("/api/v1/lan/code").json()["at"] == []


def test_wrong_old_used_and_guessed_codes(lan: LanServer) -> None:
    def tried(code: str) -> tuple[int, str]:
        with lan.stranger() as stranger:
            answer = stranger.post("/api/v1/lan/pair", json={"code": code, "name": "Guess"})
            assert "set-cookie" not in answer.headers
            return answer.status_code, answer.json().get("detail", "")

    old, new = lan.code(), lan.code()
    assert tried(old) == (422, "That is not the code on the machine’s screen; 4 more tries")
    with lan.stranger() as stranger:
        assert stranger.post("/api/v1/lan/pair", json={"code": new, "name": "Phone"}).status_code == 200
    assert tried(new) == (422, "No code is open: show a new one on the machine")
    last = lan.code()
    for _ in range(4):
        assert tried("0000-0000")[0] == 422
    assert tried("0000-0000")[1].startswith("That was the fifth wrong try")
    assert tried(last) == (422, "No code is open: show a new one on the machine")
    with client_of(lan.machine) as machine:
        told = machine.get("/api/v1/lan/devices").json()["happened"]
    assert sum(one["times"] for one in told if one["what"] == "wrong_code") >= 8


def test_a_device_that_forgets_itself_is_known_no_more(lan: LanServer) -> None:
    with lan.phone("Leaving") as phone:
        token = phone.cookies[COOKIE]
        assert phone.delete("/api/v1/lan/session").status_code == 204
        assert COOKIE not in phone.cookies
        assert refused(phone.get("/api/v1/start", headers={"cookie": f"{COOKIE}={token}"})) == (401, "unpaired")


# What a device may.


def test_a_device_that_reads_and_logs(lan: LanServer) -> None:
    with lan.phone(may="log") as phone:
        assert phone.get("/api/v1/fits", params={"lens": "kel-55"}).status_code == 200
        assert phone.get("/api/v1/export", params={"kind": "lenses"}).status_code == 200
        card = {"lens": "kel-55", "body": "o7", "adapters": "kel-ost-plain", "day": "2026-12-01", "ticked": ["x"]}
        assert phone.put("/api/v1/cards", json={**card, "version": 0}).status_code == 200
        for method, path in (
            ("PUT", "/api/v1/practice"),
            ("POST", "/api/v1/undo"),
            ("PUT", "/api/v1/kit/lenses/items/kel-55"),
            ("POST", "/api/v1/records/outings/x/strike"),
            ("POST", "/api/v1/plans"),
        ):
            answer = phone.request(method, path, json={})
            assert refused(answer) == (403, "not_allowed"), path
            assert "may read and log" in answer.json()["detail"]


LISTED = [(method, path, needs) for path, methods in RIGHTS.items() for method, needs in methods.items()]
MACHINE = [(method, path) for method, path, needs in LISTED if needs == "machine"]


@pytest.mark.parametrize(("method", "path"), MACHINE)
def test_what_is_for_the_machine_alone(most: httpx.Client, method: str, path: str) -> None:
    """Pairing, restore, backup, import, retiring, ports, picture folders, sidecars, simulated devices."""
    address = "/api/v1" + re.sub(r"\{kind\}", "lenses", re.sub(r"\{(id|number|token)\}", "1", path))
    assert refused(most.request(method, address, json={})) == (403, "not_allowed")


@pytest.fixture(scope="module")
def most(lan: LanServer) -> Iterator[httpx.Client]:
    """A device that may everything but what is for the machine."""
    with lan.phone("Tablet", may="most") as phone:
        yield phone


def test_everything_else_for_a_device_that_may_most(most: httpx.Client) -> None:
    address = "/api/v1/kit/lenses/items/kel-85"
    page = most.get(address).json()
    changed = {**page["item"], "notes": "carried"}
    assert most.put(address, json={"version": page["version"], "item": changed}).status_code == 200
    assert most.post("/api/v1/undo").json()["action"]["title"]
    # Retiring is for the machine, by whatever way.
    page = most.get(address).json()
    retired = {"version": page["version"], "item": {**page["item"], "retired": True}}
    assert refused(most.put(address, json=retired)) == (403, "not_allowed")
    assert most.get(address).json()["version"] == page["version"]


def test_text_goes_packed_through_the_network_and_pictures_as_they_are(most: httpx.Client) -> None:
    rig = "lens=kel-55&body=o7&via=kel-ost-plain"
    for path, packed in (("mounts", True), (f"match?{rig}", True), (f"frame/picture?{rig}", False)):
        answer = most.get(f"/api/v1/{path}", headers={"accept-encoding": "gzip"})
        assert answer.status_code == 200
        assert ("content-encoding" in answer.headers) is packed, path
    plain = most.get("/api/v1/mounts", headers={"accept-encoding": "identity"})
    assert "content-encoding" not in plain.headers


def test_what_a_device_may_is_changed_at_once(lan: LanServer) -> None:
    with lan.phone("Promoted") as phone, client_of(lan.machine) as machine:
        assert refused(phone.put("/api/v1/practice", json={})) == (403, "not_allowed")
        id_ = phone.get("/api/v1/lan").json()["device"]["id"]
        machine.put(f"/api/v1/lan/devices/{id_}", json={"name": "Promoted", "may": "most"})
        assert phone.put("/api/v1/practice", json={}).status_code == 200
        assert machine.put("/api/v1/lan/devices/nobody", json={"name": "x", "may": "log"}).status_code == 404


def test_every_route_has_its_rights_and_none_is_listed_in_vain(lan: LanServer) -> None:
    with client_of(lan.machine) as machine:
        paths = machine.get("/api/v1/openapi.json").json()["paths"]
    served = {(method.upper(), path.removeprefix("/api/v1")) for path, methods in paths.items() for method in methods}
    listed = {(method, path) for path, methods in RIGHTS.items() for method in methods}
    assert served - listed == set(), "a new route is for nobody until api/rights.py lists it"
    assert listed - served == {("POST", "/records/log_entries/{id}/strike")}
    for method, path in served:
        example = "/api/v1" + re.sub(r"\{[a-z]+\}", "x", path)
        assert right_of(method, example) == RIGHTS[path][method], path


@pytest.mark.parametrize(
    ("method", "path", "needs"),
    [
        ("POST", "/api/v1/records/log_entries/a/strike", "log"),
        ("POST", "/api/v1/records/plans/a/strike", "change"),
        ("GET", "/api/v1/nothing/of/the/kind", None),
        ("DELETE", "/api/v1/start", None),
        ("GET", "/api/v1/kit/lenses/items/a/b", None),
        ("GET", "/api/v1/openapi.json", None),
    ],
)
def test_rights_by_path(method: str, path: str, needs: Needs | None) -> None:
    assert right_of(method, path) == needs
    assert may("log", method, path) == (needs in {"read", "log"})
    assert may("most", method, path) == (needs in {"read", "log", "change"})


# Other pages.


@pytest.mark.parametrize(
    "headers",
    [
        {"origin": "https://example.org"},
        {"origin": "null"},
        {"origin": "https://127.0.0.2"},
        {"origin": "https://127.0.0.2:1"},
        {"origin": "http://{own}"},
        {"sec-fetch-site": "same-site"},
        {"sec-fetch-site": "cross-site"},
    ],
)
def test_another_site_asks_for_nothing(lan: LanServer, headers: dict[str, str]) -> None:
    """Another port of this host is another site, and so is the same page without TLS; reading is refused too."""
    sent = {name: value.format(own=f"127.0.0.2:{lan.port}") for name, value in headers.items()}
    with lan.phone() as phone:
        assert refused(phone.get("/api/v1/start", headers=sent)) == (403, "other_site")
        assert refused(phone.put("/api/v1/cards", headers=sent, json={})) == (403, "other_site")
        assert refused(phone.post("/api/v1/lan/pair", headers=sent, json={})) == (403, "other_site")
        own = {"origin": f"https://127.0.0.2:{lan.port}", "sec-fetch-site": "same-origin"}
        assert phone.get("/api/v1/start", headers=own).status_code == 200


# Revoked.


def test_revoked_in_the_middle_of_an_answer(lan: LanServer, monkeypatch: pytest.MonkeyPatch) -> None:
    begun, pause = threading.Event(), threading.Event()

    def long(*_: object, **__: object) -> None:
        begun.set()
        for _turn in range(1000 * LIMIT_S):
            go_on()
            pause.wait(0.001)

    monkeypatch.setattr(fits_resource, "what_fits", long)
    with lan.phone("Lost") as phone, client_of(lan.machine) as machine:
        id_ = phone.get("/api/v1/lan").json()["device"]["id"]
        answers: list[httpx.Response] = []
        asking = threading.Thread(target=lambda: answers.append(phone.get("/api/v1/fits", params={"lens": "kel-55"})))
        asking.start()
        assert begun.wait(LIMIT_S)
        assert machine.delete(f"/api/v1/lan/devices/{id_}").status_code == 200
        asking.join(LIMIT_S)
        assert refused(answers[0]) == (401, "unpaired")
        assert refused(phone.get("/api/v1/start")) == (401, "unpaired")
        assert machine.delete(f"/api/v1/lan/devices/{id_}").status_code == 404
        told = machine.get("/api/v1/lan/devices").json()["happened"]
        assert ("revoked", "Lost") in [(one["what"], one["device"]) for one in told]


def test_a_restore_brings_no_revoked_device_back(tmp_path: Path) -> None:
    path = tmp_path / "data" / "collection.sqlite"
    path.parent.mkdir()
    sample_at(path).close()
    with lan_server(path) as server, server.phone() as phone, client_of(server.machine) as machine:
        kept = tmp_path / "kept.sqlite"
        backup(path, kept)
        for file in (kept, *path.parent.glob("collection*")):
            data = file.read_bytes()
            assert b"PRIVATE KEY" not in data
            assert phone.cookies[COOKIE].encode() not in data
            assert hashlib.sha256(phone.cookies[COOKIE].encode()).hexdigest().encode() not in data
        id_ = phone.get("/api/v1/lan").json()["device"]["id"]
        machine.delete(f"/api/v1/lan/devices/{id_}")
        looked = machine.post("/api/v1/restore", content=kept.read_bytes()).json()
        machine.post(f"/api/v1/restore/{looked['token']}")
        machine.post("/api/v1/undo")
        assert refused(phone.get("/api/v1/start")) == (401, "unpaired")
        assert machine.get("/api/v1/lan/devices").json()["devices"] == []
        assert {file.name for file in path.parent.iterdir()} >= {AUTHORITY, DEVICES}


# The line.


def test_a_browser_that_does_not_know_the_authority_is_not_answered(lan: LanServer) -> None:
    with pytest.raises(httpx.ConnectError, match="certificate verify failed"):
        httpx.get(lan.at(), timeout=LIMIT_S)
    with pytest.raises(httpx.HTTPError):
        httpx.get(f"http://127.0.0.2:{lan.port}/", timeout=LIMIT_S)


def test_the_certificate_is_new_at_each_start_and_the_authority_stays(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    sample_at(path).close()
    with lan_server(path) as server:
        trusting = server.trusting()
        with server.phone() as phone:
            token = phone.cookies[COOKIE]
            der = phone.get("/api/v1/lan/authority")
            assert der.headers["content-type"] == "application/x-x509-ca-cert"
            shown = phone.get("/api/v1/lan").json()["fingerprint"]
            assert hashlib.sha256(der.content).digest().hex(":").upper() == shown
        first = presented(server, trusting)
        server.stop()
        server.start()
        second = presented(server, trusting)
        assert first.serial_number != second.serial_number
        with httpx.Client(base_url=server.at(), verify=trusting, timeout=LIMIT_S) as again:
            answer = again.get("/api/v1/lan", headers={"cookie": f"{COOKIE}={token}"})
            assert answer.json()["fingerprint"] == shown


def presented(server: LanServer, trusting: ssl.SSLContext) -> x509.Certificate:
    with (
        socket.create_connection(("127.0.0.2", server.port), timeout=LIMIT_S) as line,
        trusting.wrap_socket(line, server_hostname="127.0.0.2") as secured,
    ):
        der = secured.getpeercert(binary_form=True)
        assert der is not None
        certificate = x509.load_der_x509_certificate(der)
        assert certificate.public_bytes(Encoding.DER) == der
        return certificate


@pytest.mark.parametrize("silent", [40, pytest.param(300, marks=pytest.mark.attack)])
def test_silent_handshakes_starve_nobody(tmp_path: Path, silent: int) -> None:
    path = tmp_path / "collection.sqlite"
    sample_at(path).close()
    with lan_server(path, most_from_one=10, handshake_within_s=60) as server, ExitStack() as stack:
        lines = []
        for _ in range(silent):
            line = stack.enter_context(socket.create_connection(("127.0.0.2", server.port), timeout=LIMIT_S))
            line.setblocking(False)
            lines.append(line)
        with client_of(server.machine) as machine:
            assert machine.get("/api/v1/start").status_code == 200
        # Beyond ten from one address they are hung up at once; ten are waited for.
        assert len(until(lambda: [line for line in lines if ended(line)], lambda some: len(some) >= silent - 10)) == (
            silent - 10
        )


def ended(line: socket.socket) -> bool:
    try:
        return line.recv(1, socket.MSG_PEEK) == b""
    except BlockingIOError:
        return False
    except OSError:
        return True


def test_a_handshake_that_does_not_come_is_given_up_and_its_place_is_free(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    sample_at(path).close()
    with lan_server(path, most_from_one=2, handshake_within_s=0.4) as server:
        lines = [socket.create_connection(("127.0.0.2", server.port), timeout=LIMIT_S) for _ in range(2)]
        for line in lines:
            with closing(line):
                assert line.recv(1) == b""
        answer = until(lambda: pairing_page(server), lambda found: found is not None)
        assert answer == 200


def pairing_page(server: LanServer) -> int | None:
    try:
        with server.stranger() as stranger:
            return stranger.get("/").status_code
    except httpx.HTTPError:
        return None


def test_a_body_has_thirty_seconds_in_all(lan: LanServer, monkeypatch: pytest.MonkeyPatch) -> None:
    """However steadily it comes: on the machine itself, what goes on fast enough has longer."""
    assert guards.BODY_WITHIN_S == 30
    monkeypatch.setattr(guards, "BODY_WITHIN_S", 0.5)
    monkeypatch.setattr(guards, "AFTERWARDS_BYTES_S", 1)
    with lan.phone() as phone:
        head = (
            f"PUT /api/v1/cards HTTP/1.1\r\nhost: 127.0.0.2:{lan.port}\r\ncookie: {COOKIE}={phone.cookies[COOKIE]}\r\n"
            "content-type: application/json\r\ncontent-length: 100000\r\nconnection: close\r\n\r\n"
        )
    with (
        socket.create_connection(("127.0.0.2", lan.port), timeout=LIMIT_S) as line,
        lan.trusting().wrap_socket(line, server_hostname="127.0.0.2") as secured,
    ):
        secured.sendall(head.encode() + b" " * 50_000)
        assert secured.recv(100).startswith(b"HTTP/1.1 408 ")


def test_where_the_network_fails_the_machine_goes_on(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    sample_at(path).close()
    (tmp_path / AUTHORITY).write_bytes(b"damaged")
    with lan_server(path) as server, client_of(server.machine) as machine:
        state = machine.get("/api/v1/lan").json()
        assert (state["listens"], state["urls"]) == (True, [])
        assert "is damaged: move it away" in state["failed"][0]
        assert machine.get("/api/v1/start").status_code == 200


def test_an_address_that_is_taken_leaves_the_others(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    sample_at(path).close()
    with lan_server(path, ("127.0.0.2", "127.0.0.2", "127.0.0.3")) as server, client_of(server.machine) as machine:
        state = machine.get("/api/v1/lan").json()
        assert state["urls"] == [f"https://127.0.0.2:{server.port}/", f"https://127.0.0.3:{server.port}/"]
        assert state["failed"] == [f"cannot listen at 127.0.0.2, port {server.port}: Address already in use"]


def test_two_devices_log_at_once_and_nothing_is_lost(lan: LanServer) -> None:
    def entry(number: int, who: str) -> dict[str, object]:
        at = f"2026-11-30T10:{number:02d}:00+00:00"
        rig = {"body": "o7", "lens": "kel-55", "via": ["kel-ost-plain"]}
        return {"id": f"{who}-{number}", "at": at, **rig, "way": "tap", "frames": 1, "aperture": 5.6}

    def logs(who: str) -> None:
        with lan.phone(who) as phone:
            for number in range(12):
                deed = {"kind": "entry", "id": f"deed-{who}-{number}", "at": "2026-11-30T10:00:00+00:00"}
                sent = {"deed": {**deed, "entry": entry(number, who)}}
                # Sent twice, as where the first answer was lost.
                first, second = (phone.post("/api/v1/deeds", json=sent) for _ in range(2))
                assert (first.json()["state"], second.json()["state"]) == ("kept", "kept_before"), first.text

    threads = [threading.Thread(target=logs, args=(who,)) for who in ("north", "south")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(LIMIT_S)
    with client_of(lan.machine) as machine:
        ids = [
            line["entry"]["id"] for line in machine.get("/api/v1/log/entries", params={"limit": 500}).json()["entries"]
        ]
    for who in ("north", "south"):
        assert sorted(id_ for id_ in ids if id_.startswith(who)) == sorted(f"{who}-{number}" for number in range(12))


def test_devices_are_in_a_file_of_their_own(lan: LanServer) -> None:
    with closing(sqlite3.connect(lan.path)) as collection:
        tables = {name for (name,) in collection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    assert not tables & {"device", "event", "session"}
    with closing(sqlite3.connect(lan.path.parent / DEVICES)) as devices:
        assert json.dumps([name for (name,) in devices.execute("SELECT name FROM device")])
