"""The server: heads, hosts, bodies that are too long or too slow, and words for every fault."""

from __future__ import annotations

import queue
import resource
import select
import socket
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import ExitStack, closing, contextmanager
from pathlib import Path
from typing import Any, TypeVar

import httpx
import pytest

from tests.conftest import Serve, Served, running
from tests.limits import LIMIT_S, http, until
from tests.prepared import sample_at
from tropeion.api import app, guards
from tropeion.api.app import create_app
from tropeion.api.server import config_of, most_connections
from tropeion.core.asking import NobodyAsksError, go_on
from tropeion.store import collection as store
from tropeion.store.collection import Collection

T = TypeVar("T")


@pytest.fixture(scope="module")
def served(serve_long: Serve, tmp_path_factory: pytest.TempPathFactory) -> Served:
    collection = sample_at(tmp_path_factory.mktemp("served") / "collection.sqlite")
    return serve_long(collection)


def port_of(address: str) -> int:
    return int(address.rsplit(":", 1)[1])


def spoken(address: str, said: bytes, *, then_wait: float = LIMIT_S) -> bytes:
    """What is answered to bytes, until the other side hangs up."""
    with socket.create_connection(("127.0.0.1", port_of(address)), timeout=then_wait) as line:
        line.sendall(said)
        answer = b""
        while part := line.recv(65536):
            answer += part
        return answer


@contextmanager
def own_server(folder: Path, **bounds: Any) -> Iterator[str]:
    with (
        closing(Collection(folder / "collection.sqlite")) as collection,
        running(config_of(create_app(collection), **bounds)) as address,
    ):
        yield address


PRACTICE = b"PUT /api/v1/practice HTTP/1.1\r\nhost: localhost\r\ncontent-type: application/json\r\n"
START = b"GET /api/v1/start HTTP/1.1\r\nhost: localhost\r\n"


def test_head_is_get_without_its_body(served: Served) -> None:
    for path in ("/api/v1/start", "/", "/api/v1/gear"):
        plain = {"accept-encoding": "identity"}
        head, get = (ask(f"{served.address}{path}", headers=plain) for ask in (http.head, http.get))
        assert (head.status_code, head.content) == (200, b"")
        assert head.headers["content-length"] == str(len(get.content))


def test_hosts_compare_without_case(served: Served) -> None:
    port = port_of(served.address)
    assert http.get(f"{served.address}/api/v1/start", headers={"host": f"LocalHost:{port}"}).status_code == 200
    refused = http.get(f"{served.address}/api/v1/start", headers={"host": f"localhost.example:{port}"})
    assert (refused.status_code, refused.json()["type"]) == (421, "other_host")


@pytest.mark.parametrize(
    "host", ["127.0.0.1:evil.com", "127.0.0.1:80:80", "127.0.0.1@evil.com", "[::1]x", "[::1", "localhost:", ":80", ""]
)
def test_a_port_in_a_host_is_digits(served: Served, host: str) -> None:
    said = b"GET /api/v1/start HTTP/1.1\r\nhost: " + host.encode() + b"\r\nconnection: close\r\n\r\n"
    assert spoken(served.address, said).split(b" ")[1] in {b"421", b"400"}


@pytest.mark.parametrize("path", ["/api/v1/import", "/api/v1/kit/lenses/items", "/api/v1/practice"])
def test_a_body_in_pieces_is_bounded_too(served: Served, path: str) -> None:
    def pieces() -> Iterator[bytes]:
        for _ in range(33 if "import" in path else 6):
            yield b" " * (1024 * 1024)

    method = "PUT" if "practice" in path else "POST"
    headers = {"content-type": "application/json"}
    answer = http.request(method, f"{served.address}{path}", content=pieces(), headers=headers)
    assert (answer.status_code, answer.json()["type"]) == (413, "too_large")


def test_a_body_that_does_not_come_is_given_up(served: Served, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(guards, "BODY_WITHIN_S", -0.8)
    said = b"POST /api/v1/import HTTP/1.1\r\nhost: localhost\r\ncontent-length: 500\r\nconnection: close\r\n\r\nhalf"
    assert spoken(served.address, said).startswith(b"HTTP/1.1 408 ")


def test_what_goes_on_fast_enough_has_longer(served: Served, monkeypatch: pytest.MonkeyPatch) -> None:
    """The time is over when it begins; a hundred bytes at one a second are as good as a hundred seconds."""
    monkeypatch.setattr(guards, "BODY_WITHIN_S", -0.8)
    monkeypatch.setattr(guards, "AFTERWARDS_BYTES_S", 1)
    head = PRACTICE + b"content-length: 102\r\nconnection: close\r\n\r\n"
    with socket.create_connection(("127.0.0.1", port_of(served.address)), timeout=LIMIT_S) as line:
        line.sendall(head + b" " * 100)
        line.settimeout(0.5)
        with pytest.raises(TimeoutError):
            line.recv(1)
        line.settimeout(LIMIT_S)
        line.sendall(b"{}")
        assert line.recv(100).startswith(b"HTTP/1.1 200 ")


def test_slow_bodies_starve_nobody(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """More bodies on their way than there are connections: half of the connections stay free for what is short."""
    head = PRACTICE + b"content-length: 1000\r\n\r\n{"
    most = 40
    monkeypatch.setattr(app, "most_connections", lambda: most)
    with own_server(tmp_path, most=most) as address, ExitStack() as stack:
        held = []
        for _ in range(most + 10):
            line = stack.enter_context(socket.create_connection(("127.0.0.1", port_of(address)), timeout=LIMIT_S))
            line.sendall(head)
            held.append(line)
        until(lambda: http.get(f"{address}/api/v1/start"), lambda answer: answer.status_code == 200)
        turned_away, _, _ = until(
            lambda: select.select(held, [], [], 0), lambda found: len(found[0]) == len(held) - most // 2
        )
        assert turned_away[0].recv(20).startswith(b"HTTP/1.1 503 ")
        for _ in range(5):
            assert http.get(f"{address}/api/v1/start").status_code == 200
            # A head whose body follows late may have to come again.
            until(lambda: http.put(f"{address}/api/v1/practice", json={}), lambda answer: answer.status_code == 200)
            sent = until(
                lambda: http.post(f"{address}/api/v1/import", content=b"{}"), lambda answer: answer.status_code != 503
            )
            assert sent.json()["type"] == "refused_file"
        waiting = set(held) - set(select.select(held, [], [], 0)[0])
        assert len(waiting) == most // 2
        # One of them comes to its end all the same.
        done = waiting.pop()
        done.sendall(b" " * 998 + b"}")
        assert done.recv(20).startswith(b"HTTP/1.1 200 ")


def posted(served: Served) -> httpx.Response:
    return http.post(f"{served.address}/api/v1/import", content=b"{}")


def test_so_many_files_at_once_and_no_more(served: Served) -> None:
    started = b"POST /api/v1/import HTTP/1.1\r\nhost: localhost\r\ncontent-length: 500\r\n\r\nhalf"
    lines = [socket.create_connection(("127.0.0.1", port_of(served.address))) for _ in range(guards.MOST_UPLOADS)]
    try:
        for line in lines:
            line.sendall(started)
        # Half of the places are held by what is on its way; what is sent at once finds one.
        turned_away, _, _ = until(
            lambda: select.select(lines, [], [], 0), lambda found: len(found[0]) == guards.MOST_UPLOADS // 2
        )
        assert turned_away[0].recv(20).startswith(b"HTTP/1.1 503 ")
        small = until(lambda: posted(served), lambda answer: answer.status_code != 503)
        assert small.json()["type"] == "refused_file"
        large = http.post(f"{served.address}/api/v1/import", content=b" " * 4 * guards.AT_ONCE_BYTES)
        assert (large.status_code, large.json()["type"]) == (503, "busy")
        assert http.get(f"{served.address}/api/v1/start").status_code == 200
    finally:
        for line in lines:
            line.close()
    taken = until(lambda: posted(served), lambda answer: answer.status_code != 503)
    assert taken.json()["type"] == "refused_file"


def test_headers_that_do_not_come_are_given_up(tmp_path: Path) -> None:
    with own_server(tmp_path, headers_within_s=0.3) as address:
        for half in (b"", b"GET / HT", b"GET / HTTP/1.1\r\nhost: localhost\r\nx-slow: "):
            assert spoken(address, half).startswith(b"HTTP/1.1 408 ")


def test_one_line_takes_one_request_after_the_other(served: Served) -> None:
    asked = START + b"\r\n" + START + b"connection: close\r\n\r\n"
    assert spoken(served.address, asked).count(b"HTTP/1.1 200 ") == 2


def test_too_many_connections_are_told_so_and_the_others_go_on(tmp_path: Path) -> None:
    with own_server(tmp_path, most=8) as address:
        held = [socket.create_connection(("127.0.0.1", port_of(address))) for _ in range(8)]
        try:
            asked = START + b"connection: close\r\n\r\n"
            answer = until(lambda: spoken(address, asked), lambda said: said.startswith(b"HTTP/1.1 503 "))
            assert b"Too many connections" in answer
            held[0].sendall(START + b"\r\n")
            assert held[0].recv(20).startswith(b"HTTP/1.1 200 ")
        finally:
            for line in held:
                line.close()
        freed = until(lambda: http.get(f"{address}/api/v1/start"), lambda answer: answer.status_code != 503)
        assert freed.status_code == 200


def test_the_bound_of_connections_lies_below_that_of_descriptors() -> None:
    soft, _ = resource.getrlimit(resource.RLIMIT_NOFILE)
    assert 4 <= most_connections() <= 200
    assert most_connections() < soft


def test_half_a_character_in_what_is_refused_is_no_fault(served: Served) -> None:
    body = b'{"ids": ["\\ud800"]}'
    answer = http.post(
        f"{served.address}/api/v1/kit/lenses/retire", content=body, headers={"content-type": "application/json"}
    )
    assert answer.status_code in {404, 422}
    assert answer.headers["content-type"] == "application/problem+json"


DIGITS = b"7" * 5000
FAULTS: dict[str, tuple[str, str, bytes]] = {
    "a count of many digits": ("POST", "/kit/lenses/items", b'{"item": {"name": "x", "owned": ' + DIGITS + b"}}"),
    "a price beyond numbers": ("POST", "/kit/lenses/items", b'{"item": {"name": "x", "price": 1e400}}'),
    "a price that is none": ("POST", "/kit/lenses/items", b'{"item": {"name": "x", "price": NaN}}'),
    "half a character": ("POST", "/kit/lenses/items", b'{"item": {"name": "\\ud800", "mount": "\\udfff"}}'),
    "an id of half a character": ("POST", "/kit/lenses/remove", b'{"ids": ["\\udc00"]}'),
    "a deep item": ("POST", "/kit/lenses/items", b'{"item": ' + b"[" * 50_000 + b"]" * 50_000 + b"}"),
    "a version of many digits": ("PUT", "/kit/lenses/items/kel-55", b'{"version": ' + DIGITS + b', "item": {}}'),
    "a rig of many pieces": (
        "POST",
        "/kit/rigs/items",
        b'{"item": {"name": "x", "lens": "kel-55", "body": "o7", "adapters": [' + b'"x",' * 100_000 + b'"x"]}}',
    ),
    "not JSON": ("PUT", "/practice", b"{"),
    "no object": ("PUT", "/practice", b"7"),
    "a practice of nothing": ("PUT", "/practice", b'{"zooms": "\\ud800"}'),
    "a chain of many": ("GET", "/match?lens=kel-55&body=o7&via=" + "x," * 2000, b""),
    "a distance of many digits": ("GET", f"/match?lens=kel-55&body=o7&practice[pieces]={'7' * 5000}", b""),
    "a focal length beyond numbers": ("GET", "/would-fit?mount=kelvane&mm=1e400", b""),
    "a focal length that is none": ("GET", "/would-fit?mount=kelvane&mm=nan", b""),
    "a path of half a character": ("GET", "/kit/lenses/items/%ff%fe", b""),
    "a nought in a path": ("GET", "/kit/lenses/items/%00", b""),
}


@pytest.mark.parametrize("case", FAULTS)
def test_whatever_is_asked_is_answered_in_words(served: Served, case: str) -> None:
    method, path, body = FAULTS[case]
    headers = {"content-type": "application/json"}
    answer = http.request(method, f"{served.address}/api/v1{path}", content=body, headers=headers)
    assert 400 <= answer.status_code < 500, answer.text[:500]
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["title"]
    assert "Traceback" not in answer.text
    assert len(answer.content) < 200_000


def test_a_fault_of_our_own_is_said_in_words_too(served: Served, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(_: object) -> None:
        raise RuntimeError("secret")

    monkeypatch.setattr(Collection, "history", broken)
    answer = http.get(f"{served.address}/api/v1/history")
    assert (answer.status_code, answer.json()["type"]) == (500, "fault")
    assert "secret" not in answer.text


@pytest.mark.parametrize("method", ["GET", "HEAD"])
def test_work_stops_when_nobody_waits_for_it(served: Served, method: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """A long answer is begun, and whoever asked hangs up; another one goes on meanwhile."""
    begun, stopped = threading.Event(), threading.Event()
    monkeypatch.setattr(Collection, "history", lambda _: _computed(begun, stopped))
    with socket.create_connection(("127.0.0.1", port_of(served.address)), timeout=LIMIT_S) as line:
        line.sendall(f"{method} /api/v1/history HTTP/1.1\r\nhost: localhost\r\n\r\n".encode())
        assert begun.wait(LIMIT_S)
        assert http.get(f"{served.address}/api/v1/start").status_code == 200
        assert not stopped.is_set()
    assert stopped.wait(LIMIT_S)


def _computed(begun: threading.Event, stopped: threading.Event) -> list[object]:
    """An answer that takes long, for somebody who may leave."""
    begun.set()
    try:
        for _ in range(int(LIMIT_S * 100)):
            go_on()
            threading.Event().wait(0.01)
    except NobodyAsksError:
        stopped.set()
        raise
    return []


def test_reads_go_on_while_writes_wait(served: Served, monkeypatch: pytest.MonkeyPatch) -> None:
    """Another program holds the file: fifty writes wait or are turned away, and a read is answered before them."""
    monkeypatch.setattr(store, "PATIENCE_S", LIMIT_S)
    results: queue.Queue[int] = queue.Queue()

    def write() -> None:
        results.put(http.put(f"{served.address}/api/v1/practice", json={}).status_code)

    with closing(sqlite3.connect(served.collection.path)) as other:
        other.isolation_level = None
        other.execute("BEGIN IMMEDIATE")
        writers = [threading.Thread(target=write) for _ in range(50)]
        for writer in writers:
            writer.start()
        # Those beyond what may wait are turned away at once.
        first = [results.get(timeout=LIMIT_S) for _ in range(20)]
        assert http.get(f"{served.address}/api/v1/gear").status_code == 200
        assert results.qsize() < 30
        other.execute("COMMIT")
    for writer in writers:
        writer.join()
    answers = first + [results.get(timeout=LIMIT_S) for _ in range(30)]
    assert set(answers) <= {200, 503}
    assert answers.count(503) >= 26


@pytest.mark.parametrize("path", ["backup", "camera?lens=kel-55&body=lark&via=kel-plm-plain"])
def test_reads_that_copy_or_ask_a_device_are_for_our_own_pages(served: Served, path: str) -> None:
    address = f"{served.address}/api/v1/{path}"
    for site, status in (("cross-site", 403), ("same-site", 403), ("none", 200), ("same-origin", 200)):
        assert http.get(address, headers={"sec-fetch-site": site}).status_code == status
    elsewhere = http.get(address, headers={"origin": "http://example.org"})
    assert (elsewhere.status_code, elsewhere.json()["type"]) == (403, "other_site")
    # Nothing is copied and nothing asked by what only reads.
    assert http.get(f"{served.address}/api/v1/start", headers={"sec-fetch-site": "cross-site"}).status_code == 200
