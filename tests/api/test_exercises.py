"""Practice over HTTP: asked without its answer, kept, taken back, in backups, and for a class."""

from __future__ import annotations

from typing import Any

import httpx
import pytest

from tropeion.core.exercises.question import SKILLS


def room(own: httpx.Client, **only: str) -> dict[str, Any]:
    found: dict[str, Any] = own.get("/exercises", params=only).raise_for_status().json()
    return found


def coming(own: httpx.Client) -> dict[str, Any]:
    found: dict[str, Any] = room(own)["next"]
    return found


def asked(own: httpx.Client, of: dict[str, Any]) -> dict[str, Any]:
    query = {"skill": of["skill"], "trap": of["trap"], "seed": of["seed"], "wanted": of["difficulty"]}
    found: dict[str, Any] = own.get("/exercises/question", params=query).raise_for_status().json()
    return found


def answer(own: httpx.Client, of: dict[str, Any], chosen: str) -> httpx.Response:
    body = {"skill": of["skill"], "trap": of["trap"], "seed": of["seed"], "wanted": of["difficulty"]}
    return own.post("/exercises/answers", json={**body, "answered": chosen})


def skill_of(found: dict[str, Any], name: str) -> dict[str, Any]:
    skill: dict[str, Any] = next(one for one in found["skills"] if one["skill"] == name)
    return skill


def test_a_question_does_not_hold_its_answer(own: httpx.Client) -> None:
    question = asked(own, coming(own))
    assert {"right", "why", "working"} & question.keys() == set()
    assert all(choice.keys() == {"id", "text"} for choice in question["choices"])
    assert question == asked(own, coming(own))


def test_an_answer_is_kept_moves_the_difficulty_and_is_taken_back(own: httpx.Client) -> None:
    of = coming(own)
    question = asked(own, of)
    told = answer(own, of, question["choices"][0]["id"]).raise_for_status().json()
    right = told["right"] == question["choices"][0]["id"]
    after = room(own)
    assert (after["answered_today"], after["left_today"]) == (1, 11)
    assert skill_of(after, of["skill"])["difficulty"] == pytest.approx(0.53 if right else 0.33)
    record = own.get(f"/records/reviews/{told['record']}").raise_for_status().json()["record"]
    assert (record["right"], record["trap"], record["seed"]) == (right, of["trap"], 0)
    assert own.get("/history").json()["undo"].startswith("Practice, ")
    own.post("/undo").raise_for_status()
    assert room(own)["answered_today"] == 0
    assert coming(own) == of


def test_right_and_wrong_are_told_with_what_comes_of_each(own: httpx.Client) -> None:
    of = {"skill": "reach", "trap": "tube", "seed": 3, "difficulty": 0.5}
    question = asked(own, of)
    first = answer(own, of, question["choices"][0]["id"]).raise_for_status().json()
    assert {choice["id"] for choice in first["choices"]} == {choice["id"] for choice in question["choices"]}
    right = next(choice for choice in first["choices"] if choice["id"] == first["right"])
    assert right["after"]["lens"] == question["about"]["lens"]
    assert first["why"].startswith(first["rule"])
    # The rig of the right answer is the one that the light path judges.
    rig = {"lens": right["after"]["lens"], "body": right["after"]["body"], "via": ",".join(right["after"]["adapters"])}
    judged = own.get("/match", params=rig).raise_for_status().json()
    assert judged["open"]["ends"][0]["focus"]["state"] == "finite"


@pytest.mark.parametrize(
    ("path", "wrong"),
    [
        ("/exercises/question", {"skill": "alchemy", "seed": 1}),
        ("/exercises/question", {"skill": "reach", "seed": -1}),
        ("/exercises/question", {"skill": "reach", "seed": 1, "trap": "gold"}),
        ("/exercises/question", {"skill": "reach", "seed": 1, "wanted": 1.5}),
        ("/exercises/question", {"skill": "reach", "seed": 1, "dificulty": 0.5}),
        ("/exercises/sheet", {"seed": 1, "skills": "reach,gold"}),
        ("/exercises/sheet", {"seed": 1, "count": 61}),
        ("/exercises", {"only": "gold"}),
    ],
)
def test_what_cannot_be_asked_is_refused_with_its_place(own: httpx.Client, path: str, wrong: dict[str, Any]) -> None:
    refused = own.get(path, params=wrong)
    assert refused.status_code == 422
    assert refused.json()["errors"]


def test_an_answer_that_is_none_keeps_nothing(own: httpx.Client) -> None:
    refused = answer(own, coming(own), "forty-two")
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["place"] == "answered"
    assert room(own)["answered_today"] == 0


def test_a_backup_carries_what_was_answered(own: httpx.Client) -> None:
    of = coming(own)
    answer(own, of, asked(own, of)["choices"][0]["id"]).raise_for_status()
    before = room(own)
    backup = own.get("/backup").raise_for_status().content
    own.post("/undo").raise_for_status()
    assert room(own)["answered_today"] == 0
    token = own.post("/restore", content=backup).raise_for_status().json()["token"]
    own.post(f"/restore/{token}").raise_for_status()
    after = room(own)
    assert (after["answered_today"], after["next"]) == (1, before["next"])


def test_answers_leave_as_a_table(own: httpx.Client) -> None:
    of = coming(own)
    chosen = asked(own, of)["choices"][0]["id"]
    answer(own, of, chosen).raise_for_status()
    head, row = own.get("/exercises/table").raise_for_status().text.splitlines()
    assert head == "at,skill,trap,right,answered,difficulty,seed"
    assert row.split(",")[1:3] == [of["skill"], of["trap"]]
    assert row.split(",")[4] == chosen


def test_a_sheet_is_the_same_for_the_same_seed(own: httpx.Client) -> None:
    query: dict[str, str | int] = {"seed": 11, "skills": "label,caliper", "count": 6}
    sheet = own.get("/exercises/sheet", params=query).raise_for_status().json()
    assert sheet == own.get("/exercises/sheet", params=query).json()
    assert [question["skill"] for question in sheet["questions"]] == ["label", "caliper"] * 3
    every = own.get("/exercises/sheet", params={"seed": 1, "count": 12}).raise_for_status().json()
    assert [question["skill"] for question in every["questions"]] == list(SKILLS)


def test_an_empty_collection_is_helped_by_the_sample_world(own: httpx.Client) -> None:
    own.put("/gear", json={"format": "tropeion-gear", "version": 1}).raise_for_status()
    question = asked(own, coming(own))
    assert question["helped"] is True
