"""A plan: the cheapest set of adapters that keeps lenses in use."""

from __future__ import annotations

import argparse
import json
import math
from collections.abc import Sequence

from tropeion.core import written
from tropeion.core.findings import GRADES, Grade
from tropeion.core.gear.world import UnknownIdError, World
from tropeion.core.plan.plan_report import PlanReport
from tropeion.core.plan.planning import plan_of
from tropeion.core.plan.program import SECONDS, Run
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.verdict import FUNCTION_NAMES
from tropeion.core.words import word

from .inputs import InputRefusedError, practice_of, world_of


def add_plan(plan: argparse.ArgumentParser) -> argparse.ArgumentParser:
    """The command; returned for the options of a practice."""
    plan.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    plan.add_argument("--lenses", metavar="IDS", help="lenses that must work, by commas (default: those owned)")
    plan.add_argument("--bodies", metavar="IDS", help="bodies, any of which will do (default: those owned)")
    plan.add_argument("--pairs", metavar="L:B,…", help="pairs of lens and body that must work, each of them")
    plan.add_argument("--grade", choices=GRADES, default="manual", help="the lowest grade that will do")
    plan.add_argument("--probability", type=float, default=0.0, metavar="P", help="least chance of infinity, 0 to 1")
    plan.add_argument("--full-speed", action="store_true", help="what works slowly does not do")
    plan.add_argument("--together", action="store_true", help="an adapter is left on each lens")
    plan.add_argument("--budget", type=float, metavar="N", help="at most so much money")
    plan.add_argument("--seconds", type=float, default=SECONDS, metavar="N", help="how long to look for a better one")
    plan.add_argument("--json", action="store_true", help="print the whole plan")
    plan.set_defaults(run=run_plan)
    return plan


def run_plan(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    if not 0 <= options.probability <= 1:
        raise InputRefusedError(f"--probability is from 0 to 1, not {options.probability:g}", 2)
    if options.budget is not None and not 0 <= options.budget <= 10_000_000:
        raise InputRefusedError(f"--budget is an amount of money, not {options.budget:g}", 2)
    if not 0 < options.seconds <= 3600 or math.isnan(options.seconds):
        raise InputRefusedError(f"--seconds is more than 0 and at most 3600, not {options.seconds:g}", 2)
    try:
        question = PlanQuestion(
            demands=_demands(world, options),
            together=options.together,
            budget=options.budget,
            full_speed=options.full_speed,
        )
        report = plan_of(world, question, practice_of(options), Run(options.seconds))
    except UnknownIdError as error:
        raise InputRefusedError(str(error), 2) from None
    except ValueError as error:
        raise InputRefusedError(f"too much is asked at once: {error}", 2) from None
    if options.json:
        print(json.dumps(_document(report, question), ensure_ascii=False, indent=1))
    else:
        _told(report)
    return 0


def _demands(world: World, options: argparse.Namespace) -> tuple[Demand, ...]:
    grade: Grade = options.grade
    asked = {"grade": grade, "probability": options.probability}
    if options.pairs is not None:
        return tuple(
            Demand(lens=world.lens(lens).id, bodies=(world.body(body).id,), **asked)
            for lens, body in (_pair(id_) for id_ in _ids(options.pairs))
        )
    lenses = [world.lens(id_).id for id_ in _ids(options.lenses)] if options.lenses is not None else None
    bodies = [world.body(id_).id for id_ in _ids(options.bodies)] if options.bodies is not None else None
    if lenses is None:
        lenses = [lens.id for lens in world.gear.mounted if lens.at_hand and not lens.retired]
    if bodies is None:
        bodies = [body.id for body in world.gear.bodies if body.at_hand and not body.retired]
    if not bodies:
        raise InputRefusedError("no body is owned: name some with --bodies", 2)
    return tuple(Demand(lens=lens, bodies=tuple(bodies), **asked) for lens in lenses)


def _ids(text: str) -> Sequence[str]:
    return list(dict.fromkeys(part.strip() for part in text.split(",") if part.strip()))


def _pair(text: str) -> tuple[str, str]:
    lens, colon, body = text.partition(":")
    if not (lens and colon and body):
        raise InputRefusedError(f"--pairs: '{text}' is not LENS:BODY", 2)
    return lens.strip(), body.strip()


def _document(report: PlanReport, question: PlanQuestion) -> dict[str, object]:
    return {
        "status": report.status,
        "cost": report.cost,
        "bound": report.bound,
        "buy": report.buy,
        "serves": [
            {
                "lens": served.lens,
                "body": served.body,
                "adapters": list(served.adapters),
                "grade": served.grade,
                "slow": list(served.slow),
            }
            for served in report.serves
        ],
        "look_for": [
            {
                "lens_mount": look_for.lens_mount,
                "body_mount": look_for.body_mount,
                "length_mm": look_for.length_mm,
                "needs": list(look_for.needs),
                "tolerance_mm": look_for.tolerance_mm,
                "serves": [{"lens": each.lens, "body": each.body} for each in look_for.serves],
                "labels": list(look_for.labels),
            }
            for look_for in report.look_for
        ],
        "unmet": [{"demand": unmet.name, "why": unmet.why, "change": unmet.change} for unmet in report.unmet],
        "unpriced": [unpriced.id for unpriced in report.unpriced],
        "ruled_out": [{"id": ruled_out.id, "why": ruled_out.why} for ruled_out in report.ruled_out],
        "currency": report.currency,
        "together": question.together,
    }


def _told(report: PlanReport) -> None:
    proof = "nothing cheaper does it" if report.status == "optimal" else f"not proven: at least {report.bound:g}"
    print(f"{report.met} of {report.demands} for {report.cost:g} {report.currency} ({proof})")
    for bought in report.bought:
        times = f"{bought.count} × " if bought.count > 1 else ""
        print(f"buy {times}{bought.name}, {bought.price.amount:g} {report.currency} {bought.price.basis} [{bought.id}]")
    for served in report.serves:
        through = " + ".join(served.adapter_names) or "bare"
        slow = f", slowly: {written.listed([FUNCTION_NAMES[name] for name in served.slow])}" if served.slow else ""
        print(f"{served.lens_name} on {served.body_name}: {word(served.grade)}{slow}, {through}")
        for caution in served.cautions:
            print(f"  {caution.text}")
    for unmet in report.unmet:
        print(f"not met: {unmet.lens_name} on {', '.join(unmet.body_names)}: {unmet.why} {unmet.change}".rstrip())
    for ring in report.look_for:
        lenses = written.listed(list(dict.fromkeys(served.lens_name for served in ring.serves)))
        needs = f"; it {written.listed(list(ring.needs))}" if ring.needs else ""
        print(f"look for: {ring.name}, for {lenses}{needs}")
    if report.unpriced:
        print("without a price: " + ", ".join(unpriced.name for unpriced in report.unpriced))
