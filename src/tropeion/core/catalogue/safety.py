"""What can break, and what is known of a lens's generation."""

from __future__ import annotations

from tropeion.core.findings import remark, verdict

# Safety


@verdict(
    "danger",
    "danger",
    "Do not mount it. {text} A conversion belongs with a qualified repairer.",
    headline="Do not mount this. {text}",
    gives_up="can be damaged",
)
def coupling_damage(*, text: str) -> None: ...


@verdict(
    "danger",
    "danger",
    "The generation of {what} is not known, and {mount} {which} breaks parts here. Identify it before mounting; if in "
    "doubt, ask a qualified repairer.",
    headline="Do not mount this before the generation of {what} is known.",
    gives_up="generation unknown",
)
def generation_unknown(*, what: str, mount: str, which: str) -> None: ...


@remark(
    "caution",
    "The generation of {what} is not known, and it decides what may be done here. Identify it before mounting.",
)
def generation_open(*, what: str) -> None: ...


@verdict(
    "caution",
    "manual",
    "Nothing is known of {front} on {rear}: not that it is safe, nor that it is not. Look at the parts on both sides "
    "before mounting, and turn gently; if in doubt, ask a qualified repairer.",
    headline="Not known to be safe or unsafe: nothing says what happens where {front} meets {rear}.",
    gives_up="not known to be safe",
)
def generations_unruled(*, front: str, rear: str) -> None: ...


@verdict(
    "danger",
    "danger",
    "The lens's maker excludes it here: {reason}",
    headline="The lens's maker excludes this: {reason}",
    gives_up="excluded by the maker",
)
def excluded_by_maker(*, reason: str) -> None: ...


@verdict(
    "danger",
    "danger",
    "Same diameter, other pitch: {front} binds in {rear} after a turn or two. Do not force it. A stuck thread is "
    "freed with cloth and patience, not with pliers.",
    headline="The threads bind: {front} does not go into {rear}. Do not force it.",
    gives_up="the thread binds",
)
def thread_binds(*, front: str, rear: str) -> None: ...


@verdict(
    "danger",
    "danger",
    "The rear of the lens would stand {rear}, and {obstacle} begins at {limit}: they touch, or come nearer than "
    "0.50 mm.",
    headline="The rear of the lens would hit {obstacle}.",
    gives_up="the rear hits {obstacle}",
)
def rear_collides(*, rear: str, obstacle: str, limit: str) -> None: ...


@remark(
    "caution",
    "Whether the rear of the lens clears what stands behind it is not known: {missing}. Look before mounting, hold it "
    "upright, and turn gently.",
)
def clearance_unknown(*, missing: str) -> None: ...


@remark("caution", "{text} First: {action}")
def coupling_safe_after(*, text: str, action: str) -> None: ...


@remark("caution", "{text}")
def coupling_inspect(*, text: str) -> None: ...


# Generations


@remark("info", "Converted by its maker: as safe and as complete as the later generation, and it keeps its value.")
def converted_by_maker() -> None: ...


@remark(
    "caution",
    "Converted by a third party: good work is as good as the maker's, and not all is. Look at the coupling parts "
    "before mounting; if in doubt, ask a qualified repairer. It is worth less than a maker's conversion.",
)
def converted_by_others() -> None: ...


@remark(
    "caution",
    "Converted by its owner: where the part was cut down cleanly it is safe and works. Look for burrs and chips first. "
    "Its collector's value is gone.",
)
def converted_at_home() -> None: ...


@remark(
    "info",
    "A coupling part was moved onto it from another lens: it couples like the lens it came from. Its value as a "
    "collector's piece is less.",
)
def coupling_transplanted() -> None: ...


@remark(
    "caution",
    "A conversion is stated, and not which coupling parts it left: it is judged by those of its generation. Look at "
    "them, and state them.",
)
def conversion_unstated() -> None: ...
