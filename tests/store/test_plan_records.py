"""Plans in their table: journalled, undone, in backups; a lens that a plan is about is archived, not lost."""

from __future__ import annotations

import uuid
from contextlib import closing
from pathlib import Path

from tests.prepared import empty_at, sample_at
from tropeion.core.gear.gear import Gear
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.records.plan_record import KeptBuy, KeptPlan, Plan
from tropeion.core.records.record import About
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Edit


def plan() -> Plan:
    return Plan(
        id=str(uuid.uuid4()),
        at="2026-11-26T09:00:00.000+00:00",
        items=(About(kind="lenses", id="kel-45"), About(kind="bodies", id="o7")),
        name="Nave",
        question=PlanQuestion(demands=(Demand(lens="kel-45", bodies=("o7",), probability=0.9),), budget=80.0),
        kept=KeptPlan(
            on="2026-11-26",
            practice=Practice(pieces="2"),
            status="optimal",
            cost=24.0,
            bound=24.0,
            buys=(KeptBuy(id="kel-ost-plain", name="Plain ring", count=1, price=24.0),),
        ),
    )


def test_a_plan_is_kept_whole_undone_and_in_backups(tmp_path: Path) -> None:
    with closing(sample_at(tmp_path / "collection.sqlite")) as collection:
        one = plan()
        collection.keep_record(one, "Plan “Nave”")
        assert [kept.record for kept in collection.records_of(Plan)] == [one]
        data = tmp_path / "backup.sqlite"
        backup(collection.path, data)
        collection.undo()
        assert collection.records_of(Plan) == ()
        restore(collection.path, data)
        assert [kept.record for kept in collection.records_of(Plan)] == [one]


def test_a_lens_that_a_plan_is_about_is_archived(tmp_path: Path, sample_gear: Gear) -> None:
    with closing(empty_at(tmp_path / "collection.sqlite")) as collection:
        collection.replace(sample_gear.model_copy(update={"rigs": (), "pairs": ()}))
        collection.keep_record(plan(), "Plan “Nave”")
        collection.edit([Edit("lenses", "kel-45", None, collection.version("lenses", "kel-45"))], "Kelvane taken out")
        assert collection.world().lens("kel-45").retired
