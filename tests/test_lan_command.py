"""``serve --lan`` and ``pocket`` at the terminal, and the page that is carried without a server."""

from __future__ import annotations

import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from lxml import html

from tests.limits import LIMIT_S, http
from tests.prepared import empty_at, sample_at
from tests.terminal import NEEDS_WEB, run
from tropeion.core.gear.kit import find, with_entry
from tropeion.core.records.outing_record import Outing, Shot
from tropeion.core.records.record import begun


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("--lan", "--address", "192.0.2.7"), "192.0.2.7 is no address of a network of your own"),
        (("--lan", "--address", "127.0.0.2", "--address", "8.8.8.8"), "8.8.8.8 is no address"),
        (("--lan", "--address", "::1"), "::1 is no address of a network of your own"),
        (("--lan", "--address", "organ.local"), "write one like 192.168.0.7, not a name"),
        (("--address", "127.0.0.2"), "--address goes with --lan"),
        (("--lan", "--address", "127.0.0.2", "--lan-port", "65536"), "--lan-port 65536: from 0 to 65535"),
        (("--lan", "--address", "127.0.0.2", "--lan-port", "-1"), "--lan-port -1: from 0 to 65535"),
    ],
)
@pytest.mark.parametrize("command", ["serve", "demo"])
def test_any_other_address_ends_the_start_before_anything_is_opened(
    tmp_path: Path, command: str, arguments: tuple[str, ...], said: str
) -> None:
    done = run(command, "--port", "0", "--data", str(tmp_path / "data"), *arguments)
    assert done.returncode == 2
    assert said in done.stderr.decode()
    assert list(tmp_path.iterdir()) == []


@NEEDS_WEB
def test_it_listens_in_the_network_and_one_ctrl_c_ends_both(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "tropeion", "serve", "--port", "0", "--data", str(tmp_path)]
    with subprocess.Popen(
        [*command, "--lan", "--address", "127.0.0.2", "--lan-port", "0"], stdout=subprocess.PIPE, stderr=subprocess.PIPE
    ) as process:
        assert process.stdout is not None
        assert process.stderr is not None
        lines = [process.stdout.readline().decode().strip() for _ in range(3)]
        machine = lines[0].split()[3]
        assert lines[1].startswith("and in your network at https://127.0.0.2:")
        assert lines[2] == f"Pair a phone at {machine}devices"
        state = http.get(f"{machine}api/v1/lan").json()
        assert state["urls"] == [lines[1].rpartition(" ")[2]]
        process.send_signal(signal.SIGINT)
        # Which of the two depends on whether the loop or the interpreter takes the signal.
        assert process.wait(LIMIT_S) in {0, 130}
        assert process.stderr.read() == b""


def page_of(data: bytes) -> html.HtmlElement:
    return html.document_fromstring(data.decode())


def test_an_empty_collection_gives_a_page_that_says_so(tmp_path: Path) -> None:
    empty_at(tmp_path / "collection.sqlite").close()
    for number, folder in enumerate((tmp_path, tmp_path / "new")):
        out = tmp_path / f"{number}.html"
        done = run("pocket", str(out), "--data", str(folder))
        assert (done.returncode, done.stderr) == (0, b"")
        assert "There is nothing in this collection yet" in page_of(out.read_bytes()).text_content()
    assert not (tmp_path / "new").exists()


@pytest.fixture(scope="module")
def carried(tmp_path_factory: pytest.TempPathFactory) -> html.HtmlElement:
    """The page of the sample, with an outing, and a lens that is called as nobody should call one."""
    folder = tmp_path_factory.mktemp("carried")
    collection = sample_at(folder / "collection.sqlite")
    gear = collection.gear()
    body = find(gear, "bodies", "o7").model_copy(update={"name": "</details><script>alert(1)</script>"})
    collection.replace(with_entry(gear, "bodies", "o7", body))
    outing = Outing(
        **begun([]),
        name="West & east",
        day="2026-12-05",
        shots=(Shot(name="Console", rig="gallery"),),
        spare=(),
        packed=(),
    )
    collection.keep_record(outing, "An outing", 0)
    collection.close()
    done = run("pocket", str(folder / "carried.html"), "--data", str(folder))
    assert done.returncode == 0
    data = (folder / "carried.html").read_bytes()
    assert b"<script" not in data
    assert b"javascript:" not in data
    assert b" on" not in data.split(b"<body>")[0]
    return page_of(data)


def test_it_fetches_nothing_and_runs_nothing(carried: html.HtmlElement) -> None:
    assert carried.xpath("//script | //link | //img | //iframe | //a | //form | //*[@src] | //*[@href]") == []
    assert carried.xpath("//@*[starts-with(name(), 'on')]") == []
    policy = carried.xpath("//meta[@http-equiv='content-security-policy']/@content")
    assert policy == ["default-src 'none'; style-src 'unsafe-inline'"]
    assert "</details><script>alert(1)</script>" in carried.text_content()


def test_it_has_cards_packing_lists_what_would_fit_the_key_and_words(carried: html.HtmlElement) -> None:
    headings = [heading.text_content() for heading in carried.xpath("//h2")]
    assert headings == ["Packing lists", "Cards", "Would it fit?", "Which generation is it?", "Words"]
    text = " ".join(carried.text_content().split())
    assert "West & east" in text
    # Both ends of a label, and what is easily taken for the ring.
    assert "Lens side Tolmer 46 (46 × 1.1, T46), camera side Marwick (MRW)." in text
    assert "Tolmer 46 projection: It goes on where Tolmer 46 does, and is 16.10 mm off: it never focuses right." in text


def opened(carried: html.HtmlElement, heading: str, *path: str) -> html.HtmlElement:
    """Below a heading, unfold one thing after another, by how its line begins."""
    (title,) = carried.xpath(f"//h2[text()='{heading}']")
    at, folded = title, list(title.itersiblings("details"))
    for text in path:
        found = [one for one in folded if one.find("summary").text_content().strip().startswith(text)]
        assert found, (text, [one.find("summary").text_content() for one in folded])
        at = found[0]
        folded = at.xpath("./details")
    return at


def test_the_key_is_followed_by_unfolding(carried: html.HtmlElement) -> None:
    at = opened(carried, "Which generation is it?", "Kelvane", "No")
    assert "Do teeth run along half of the rear rim?" in at.text_content()
    at = opened(carried, "Which generation is it?", "Kelvane", "No", "Yes", "Where it may be mounted")
    assert "breaks parts" in at.text_content()


def test_a_mount_is_unfolded_by_generation_and_camera(carried: html.HtmlElement) -> None:
    at = opened(carried, "Would it fit?", "Kelvane", "Generation I", "Kelvane Stave II")
    summary = at.find("summary").text_content()
    assert "room 0.00 mm" in summary
    assert "manual" in summary
    at = opened(carried, "Would it fit?", "Brannoch", "Marwick Corran")
    assert "room -3.40 mm" in at.find("summary").text_content()


@pytest.mark.parametrize("wrong", [lambda path: path / "no" / "page.html", lambda path: path])
def test_where_it_cannot_be_written_is_said(tmp_path: Path, wrong: Callable[[Path], Path]) -> None:
    empty_at(tmp_path / "collection.sqlite").close()
    done = run("pocket", str(wrong(tmp_path)), "--data", str(tmp_path))
    assert done.returncode == 1
    assert done.stderr.startswith(b"tropeion: cannot write ")
