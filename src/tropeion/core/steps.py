"""Mounting and setting up, in order."""

from __future__ import annotations

from collections.abc import Sequence

from .contacts import Iris
from .coverage import StabiliserEntry
from .findings import Finding, Grade
from .gear import Adapter, Body, Lens
from .report import StepLine
from .words import aperture
from .world import World

__all__ = ["steps_of"]


def _setting(body: Body, what: str) -> str:
    for setting in body.settings:
        if setting.for_ == what:
            return f" ({setting.where}: {setting.value})"
    return ""


def steps_of(
    world: World,
    lens: Lens,
    adapters: Sequence[Adapter],
    body: Body,
    *,
    grade: Grade,
    actions: Sequence[str],
    iris: Iris,
    lens_is_recognised: bool,
    stabiliser: StabiliserEntry | None,
    from_f_number: float | None,
    findings: Sequence[Finding],
) -> tuple[StepLine, ...]:
    """Steps from the safe action to the first frame; for a dangerous rig, only what not to do."""
    if grade == "danger":
        return tuple(StepLine(f.text, caution=True) for f in findings if f.grade_cap == "danger")
    lines = [StepLine(action, caution=True) for action in actions]
    lines += [StepLine(text) for adapter in adapters for text in adapter.prepare]
    lines.append(StepLine("Power off. Hold the body open side down and blow out dust."))
    if lens.aperture == "pin" and lens.auto_manual_switch and adapters:
        lines.append(StepLine("Set the lens's auto/manual switch to manual."))
    front = lens.name
    sides = [(a.name, a.lens_mount) for a in adapters] + [(body.name, body.mount)]
    for name, mount_id in sides:
        mount = world.mounts[mount_id]
        words = [f"{front} onto {name}."]
        if mount.index_mark:
            words.append(mount.index_mark)
        if mount.lock_action:
            words.append(mount.lock_action)
        lines.append(StepLine(" ".join(words)))
        front = name
    lines.append(StepLine("Pull gently at the lens: every lock must hold before you let go. Power on."))
    if not lens_is_recognised and body.kind == "digital":
        if body.bare_release == "off":
            lines.append(StepLine("Allow release without a lens" + _setting(body, "bare_release") + "."))
        elif body.bare_release == "never":
            lines.append(StepLine("This body releases only with a lens it recognises: a chipped ring is needed.", True))
        if stabiliser is not None:
            lines.append(
                StepLine(
                    f"Enter {stabiliser.entry_mm:g} mm for the stabiliser{_setting(body, 'focal_length')}: the "
                    "actual focal length, not the equivalent."
                    + (" Enter it again at each zoom setting." if lens.is_zoom else "")
                )
            )
            if stabiliser.travel_step is not None and stabiliser.travel_step < 1:
                share = (
                    f"limit its travel to {stabiliser.travel_step:.0%}" if stabiliser.travel_step else "switch it off"
                )
                lines.append(StepLine(f"The image circle leaves the stabiliser little room: {share}."))
        lines.append(StepLine("Set the exposure to aperture priority or manual."))
    if iris.state == "by_hand":
        lines.append(StepLine("Set the aperture by hand; focus wide open first if the finder is dim."))
    if from_f_number is not None:
        lines.append(StepLine(f"Check infinity on something far away, at {aperture(from_f_number)}."))
    else:
        lines.append(StepLine("Check near focus first: infinity will not come."))
    return tuple(lines)
