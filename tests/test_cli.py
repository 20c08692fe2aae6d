"""The command line, as its users run it."""

from __future__ import annotations

import json
import signal
import socket
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path

import pytest

from tests.limits import LIMIT_S, http
from tests.prepared import sample_at
from tests.terminal import NEEDS_WEB, program, run, started
from tests.thorough import some
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes


@pytest.fixture(scope="module")
def gear(tmp_path_factory: pytest.TempPathFactory) -> str:
    path = tmp_path_factory.mktemp("gear") / "windchest.json"
    path.write_bytes(sample_bytes())
    return str(path)


def test_match_prints_the_report(gear: str) -> None:
    done = program("match", gear, "--lens", "kel-55", "--body", "o7", "--json")
    assert done.returncode == 0
    report = json.loads(done.stdout)
    assert (report["lens"], report["body"], report["gap_mm"]) == ("kel-55", "o7", 25.8)
    best = report["routes"][0]
    assert best["adapters"] == ["kel-ost-plain"]
    assert best["grade"] == "manual"
    # 22.40 + 25.83 − 48.20, the ring as measured.
    assert best["register_error_mm"] == 0.03
    expected = {
        "adapters", "grade", "magnification", "register_error_mm", "register_tolerance_mm", "infinity", "focus",
        "focal_length_mm", "f_number", "light_change_stops", "coverage", "equivalents", "stabiliser", "functions",
        "findings", "stations", "steps", "long_end",
    }  # fmt: skip
    assert expected <= best.keys()
    assert {"code", "severity", "grade_cap", "link", "text"} <= best["findings"][0].keys()


def test_via_judges_one_chain_even_a_bad_one(gear: str) -> None:
    done = run("match", gear, "--lens", "kel-55", "--body", "o7", "--via", "tol-ost-pin,lsk-ost-plain", "--json")
    (route,) = json.loads(done.stdout)["routes"]
    assert route["grade"] == "none"
    assert [f["link"] for f in route["findings"] if f["code"] == "does_not_mate"] == ["tol-ost-pin", "lsk-ost-plain"]


def test_via_nothing_means_bare(gear: str) -> None:
    done = run("match", gear, "--lens", "kel-55", "--body", "stave-3", "--via", "", "--json")
    (route,) = json.loads(done.stdout)["routes"]
    assert (route["adapters"], route["grade"]) == ([], "danger")


def test_practice_changes_the_answer(gear: str) -> None:
    pair = ("match", gear, "--lens", "kel-55", "--body", "o7", "--via", "kel-ost-plain", "--json")
    nominal = json.loads(run(*pair).stdout)["routes"][0]
    cautious = json.loads(run(*pair, "--trust", "cautious").stdout)["routes"][0]
    assert (nominal["grade"], cautious["grade"]) == ("manual", "partial")
    # 0.03 + 0.06 worst case over c = 0.0288.
    assert cautious["infinity"]["from_f_number"] == pytest.approx(0.09 / (1872**0.5 / 1500))


def test_for_people_it_prints_sentences(gear: str) -> None:
    done = run("match", gear, "--lens", "tpr-36", "--body", "o7", "--via", "tol-ost-pin", "--distances", "imperial")
    text = done.stdout.decode()
    assert "[close_up]" in text
    # At its far stop D = 72 + 36²/16.1 + 16.1 = 168.6 mm.
    assert "6.42 in to 6.64 in" in text


def test_the_sample_and_standard_input_are_read_too() -> None:
    assert run("match", "sample", "--lens", "kel-55", "--body", "o7").returncode == 0
    assert program("match", "-", "--lens", "kel-55", "--body", "o7", data=sample_bytes()).returncode == 0


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("--lens", "kel-5", "--body", "o7"), "no lens has the id 'kel-5'; near it: kel-"),
        (("--lens", "kel-55", "--body", "o77"), "no body has the id 'o77'; near it: o7"),
        (("--lens", "kel-55", "--body", "o7", "--via", "kel-ost-plan"), "near it: kel-ost-plain"),
    ],
)
def test_an_unknown_id_is_refused_with_near_ones(gear: str, arguments: Sequence[str], said: str) -> None:
    done = run("match", gear, *arguments, "--json")
    assert done.returncode == 2
    assert said in done.stderr.decode()
    assert done.stdout == b""


def test_a_bad_file_is_refused_with_every_place(tmp_path: Path) -> None:
    path = tmp_path / "bad.json"
    path.write_bytes(sample_bytes().replace(b'"min_focus_m"', b'"min_fokus_m"'))
    done = run("match", str(path), "--lens", "kel-55", "--body", "o7", "--json")
    assert done.returncode == 2
    lines = done.stderr.decode().splitlines()
    assert "did you mean 'min_focus_m'?" in lines[1]
    assert len(lines) - 1 == sample_bytes().count(b'"min_focus_m"')
    assert run("match", str(tmp_path / "none.json"), "--lens", "a", "--body", "b").returncode == 2


def test_schema_is_json() -> None:
    assert json.loads(run("schema").stdout)["title"] == "Tropeion gear file"


@NEEDS_WEB
def test_demo_and_own_collection_do_not_touch_each_other(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    with started("demo", "--port", "0", home=tmp_path) as address:
        assert http.get(f"{address}/api/v1/start").json()["lenses"] == 35
        (log,) = tmp_path.rglob("demo.sqlite-wal")
    # Told to end, it ends in order: SQLite takes its log away when the last connection to the file is closed.
    assert not log.exists()
    assert log.with_name("demo.sqlite").exists()
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    own = run("export")
    assert (own.returncode, gear_file.load(own.stdout).lenses) == (0, ())


@pytest.mark.attack
@NEEDS_WEB
def test_demo_reset_restores_the_sample(tmp_path: Path) -> None:
    empty = b'{"format": "tropeion-gear", "version": 1, "mounts": []}'
    one_mount = json.loads(sample_bytes())
    one_mount.update(bodies=[], lenses=[], adapters=[], pairs=[], rigs=[])
    with started("demo", "--port", "0", "--data", str(tmp_path)) as address:
        assert http.put(f"{address}/api/v1/gear", content=json.dumps(one_mount)).status_code == 200
    with started("demo", "--port", "0", "--data", str(tmp_path)) as address:
        assert http.get(f"{address}/api/v1/start").json()["lenses"] == 0
    with started("demo", "--reset", "--port", "0", "--data", str(tmp_path)) as address:
        assert http.get(f"{address}/api/v1/start").json()["lenses"] == 35
        assert http.put(f"{address}/api/v1/gear", content=empty).status_code == 200


@pytest.mark.attack
@NEEDS_WEB
def test_an_older_demo_is_offered_the_present_sample_and_keeps_what_was_added(tmp_path: Path) -> None:
    older = json.loads(sample_bytes())
    (kelvane,) = [one for one in older["mounts"] if one["id"] == "kelvane"]
    kelvane["index_mark"] = "Another mark."
    older["lenses"] = [one for one in older["lenses"] if one["id"] != "tub-105"]
    older["lenses"].append({**older["lenses"][0], "id": "mine", "name": "Mine"})
    demo = ("demo", "--port", "0", "--data", str(tmp_path))
    with started(*demo) as address:
        assert http.put(f"{address}/api/v1/gear", content=json.dumps(older)).status_code == 200
    with started(*demo, says="--renew") as address:
        # Told, and nothing done.
        assert http.get(f"{address}/api/v1/kit/mounts/items/kelvane").json()["item"]["index_mark"] == "Another mark."
    with started(*demo, "--renew") as address:
        assert http.get(f"{address}/api/v1/kit/mounts/items/kelvane").json()["item"]["index_mark"] != "Another mark."
        assert http.get(f"{address}/api/v1/kit/lenses/items/mine").status_code == 200
        assert http.get(f"{address}/api/v1/kit/lenses/items/tub-105").status_code == 200
        assert http.post(f"{address}/api/v1/undo").json()["action"]["title"] == "The sample world renewed"


@NEEDS_WEB
def test_a_busy_port_is_one_clear_line(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        done = run("serve", "--port", port, "--data", str(tmp_path))
    assert done.returncode == 1
    assert done.stderr.decode().count("\n") == 1
    assert f"cannot listen on port {port}" in done.stderr.decode()


def test_an_unwritable_folder_is_one_clear_line(tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("")
    done = run("serve", "--data", str(blocked / "folder"))
    assert done.returncode == 1
    assert done.stderr.decode().count("\n") == 1
    assert "cannot create the folder" in done.stderr.decode()


def test_a_file_that_is_no_database_is_one_clear_line(tmp_path: Path) -> None:
    (tmp_path / "collection.sqlite").write_bytes(b"not a database at all" * 100)
    done = run("serve", "--data", str(tmp_path))
    assert done.returncode == 1
    assert done.stderr.decode().count("\n") == 1
    assert "is damaged" in done.stderr.decode()


def test_a_missing_web_build_is_one_clear_line(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from tropeion import cli  # noqa: PLC0415
    from tropeion.api import app  # noqa: PLC0415

    monkeypatch.setattr(app, "WEB_FILES", tmp_path / "nowhere")
    assert cli.main(["serve", "--port", "0", "--data", str(tmp_path)]) == 1


def test_label_reads_both_ends() -> None:
    done = run("label", "LSK to O-line close focus helicoid", "--json")
    assert done.returncode == 0
    label = json.loads(done.stdout)
    assert label["lens_side"][0]["mount"] == "lisken"
    assert label["lens_side"][0]["confidence"] >= 0.9
    assert label["body_side"][0]["mount"] == "ostrel"
    assert label["doubts"] == []
    said = run("label", "46x1.1-OST").stdout.decode()
    assert "Tolmer 46 projection" in said
    assert "share the thread" in said


def test_import_export_backup_and_restore(tmp_path: Path) -> None:
    data = ("--data", str(tmp_path / "data"))
    dry = run("import", "sample", "--dry-run", *data)
    assert dry.returncode == 0
    assert b"30" not in run("export", *data).stdout
    assert b"written" in run("import", "sample", *data).stdout
    out = tmp_path / "out.json"
    assert run("export", str(out), *data).returncode == 0
    assert out.read_bytes() == sample_bytes()
    assert run("import", str(out), *data).stdout.endswith(b"0 written\n")
    kept = tmp_path / "kept.sqlite"
    assert run("backup", str(kept), *data).returncode == 0
    assert run("backup", str(kept), *data).returncode == 1
    run("import", str(out), *data)
    assert b"undo takes it back" in run("restore", str(kept), *data).stdout
    assert run("export", *data).stdout == sample_bytes()


def test_an_import_says_what_changes_field_by_field_and_keeps_out_conflicts(tmp_path: Path) -> None:
    data = ("--data", str(tmp_path / "data"))
    run("import", "sample", *data)
    gear = json.loads(sample_bytes())
    lenses = {one["id"]: one for one in gear["lenses"]}
    lenses["kel-55"]["price"] = 75.0
    lenses["kel-85"]["mount"] = "tolmer"
    del lenses["kel-85"]["generation"]
    file = tmp_path / "other.json"
    file.write_text(json.dumps(gear), encoding="utf-8")
    said = run("import", str(file), *data).stdout.decode()
    assert "price: 60.0 -> 75.0" in said
    assert "conflict: lenses kel-85" in said
    assert "1 written" in said
    after = {one["id"]: one for one in json.loads(run("export", *data).stdout)["lenses"]}
    assert after["kel-55"]["price"] == 75.0
    assert after["kel-85"]["mount"] == "kelvane"
    assert "1 written" in run("import", str(file), "--conflicts", *data).stdout.decode()


def test_a_table_goes_out_and_comes_in(tmp_path: Path) -> None:
    run("import", "sample", "--data", str(tmp_path))
    out = run("export", "--table", "lenses", "--decimal-comma", "--data", str(tmp_path))
    assert out.stdout.decode().startswith("\ufeffid;name;aliases;")
    table = tmp_path / "lenses.csv"
    table.write_bytes(out.stdout)
    same = run("import", str(table), "--data", str(tmp_path))
    assert "0 new" in same.stdout.decode()
    assert "0 written" in same.stdout.decode()
    table.write_text("name;mount;focal_length_short_mm;f_number_widest;f_number_smallest\nOwl;KLV;x;2;16\n")
    refused = run("import", str(table), "--data", str(tmp_path))
    assert refused.returncode == 2
    assert "row 2, column focal_length_short_mm: 'x' is not a number" in refused.stderr.decode()


def test_ctrl_c_ends_in_silence() -> None:
    # What a shell starts in the background ignores it, and so do its children.
    heeding = ["env", "--default-signal=INT", sys.executable, "-m", "tropeion"]
    command = [*heeding, "match", "-", "--lens", "kel-55", "--body", "o7"]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as process:
        assert process.stdin is not None
        # What does not fit into the pipe is being read: the command is under way.
        process.stdin.write(b" " * 1_000_000)
        process.stdin.flush()
        process.send_signal(signal.SIGINT)
        out, err = process.communicate(timeout=LIMIT_S)
    assert (process.returncode, out, err) == (130, b"", b"")


@pytest.mark.parametrize(
    "command", some([("fits", "sample", "--body", "lark"), ("export",), ("match", "--help")], [("export",)])
)
def test_output_that_cannot_be_written_is_said_in_words(command: tuple[str, ...], tmp_path: Path) -> None:
    if command == ("export",):
        sample_at(tmp_path / "collection.sqlite").close()
        command = ("export", "--data", str(tmp_path))
    for shell, reason in (('"$@" >/dev/full', "No space left on device"), ('"$@" >&-', "it is closed")):
        done = subprocess.run(
            ["sh", "-c", shell, "sh", sys.executable, "-m", "tropeion", *command], capture_output=True, check=False
        )
        said = done.stderr.decode()
        assert (done.returncode, said) == (1, f"tropeion: cannot write the output: {reason}\n")


def test_a_reader_that_leaves_is_no_fault() -> None:
    shell = '"$@" | head -1; exit "${PIPESTATUS[0]}"'
    done = subprocess.run(
        ["bash", "-c", shell, "bash", sys.executable, "-m", "tropeion", "schema"], capture_output=True, check=False
    )
    assert done.stderr == b""
    assert done.stdout.startswith(b"{")
    assert done.returncode in {0, 1}


def test_what_is_no_backup_is_refused_as_input(tmp_path: Path) -> None:
    (tmp_path / "words.txt").write_text("nothing of the kind")
    data = ("--data", str(tmp_path / "data"))
    for name, why in (("words.txt", "no database"), ("gone", "no backup at")):
        done = run("restore", str(tmp_path / name), *data)
        assert (done.returncode, why in done.stderr.decode()) == (2, True)


def test_a_table_that_does_not_say_what_is_owned_is_asked_about(tmp_path: Path) -> None:
    table = tmp_path / "list.csv"
    table.write_text("name;mount;focal length (mm);f-number\nSexton 40;Kelvane;40;f/2\n", encoding="utf-8")
    data = ("--data", str(tmp_path / "data"))
    run("import", "sample", *data)
    assert "--owned takes what is new as yours" in run("import", str(table), "--dry-run", *data).stdout.decode()
    assert "--owned" not in run("import", str(table), "--owned", *data).stdout.decode()
    gear = json.loads(run("export", *data).stdout)
    assert {one["name"]: one.get("owned") for one in gear["lenses"]}["Sexton 40"] == 1
