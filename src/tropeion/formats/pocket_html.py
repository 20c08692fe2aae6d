"""What is carried as one page of plain HTML: no script, nothing fetched, so that it opens from a file."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from html import escape
from typing import Final

from tropeion.core import written
from tropeion.core.findings import Grade
from tropeion.core.pocket.pocket_document import (
    Pocket,
    PocketFit,
    PocketGeneration,
    PocketOuting,
    PocketRig,
    PocketRing,
    PocketSystem,
)
from tropeion.core.words import word

# Deeper than that nobody follows folded questions; the rest is for the application.
_DEEPEST: Final = 6
_STYLE: Final = """
:root{color-scheme:light dark;--ink:#17212b;--paper:#f8fafa;--line:#a9b5be;--quiet:#4d5b67;--bad:#a80f43}
@media (prefers-color-scheme:dark){:root{--ink:#e6ecef;--paper:#12181d;--line:#52626f;--quiet:#9dabb5;--bad:#ff7aa0}}
body{margin:0 auto;max-width:44rem;padding:12px 16px 48px;background:var(--paper);color:var(--ink);
font:17px/1.4 "DejaVu Sans Condensed",system-ui,sans-serif}
h1{font:500 28px/1.15 Georgia,serif;margin:8px 0}h2{font:500 22px/1.2 Georgia,serif;margin:28px 0 8px}
summary{min-height:44px;display:flex;align-items:center;gap:8px;cursor:pointer;border-top:1px solid var(--line)}
summary::before{content:"+";width:1em;flex:none}details[open]>summary::before{content:"–"}
details details{margin-left:14px}summary b{font-weight:600}.quiet{color:var(--quiet)}.bad{color:var(--bad)}
table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums}
td,th{text-align:right;padding:3px 4px;border-bottom:1px solid var(--line)}
td:first-child,th:first-child{text-align:left}
ul,ol{padding-left:1.3em;margin:4px 0 12px}li{margin:5px 0}p{margin:6px 0}
ul.ticks{list-style:none;padding:0}ul.ticks li::before{content:"☐ "}
@media print{details>*{display:block}summary::before{content:""}}
"""


def pocket_html(pocket: Pocket) -> bytes:
    """The page. Everything that stands in it is text; nothing of it can run."""
    head = (
        '<!doctype html><html lang="en"><head><meta charset="utf-8">'
        '<meta name="viewport" content="width=device-width, initial-scale=1">'
        "<meta http-equiv=\"content-security-policy\" content=\"default-src 'none'; style-src 'unsafe-inline'\">"
        f"<title>Tropeion, to carry</title><style>{_STYLE}</style></head><body>"
    )
    return "".join((head, *_body(pocket), "</body></html>\n")).encode()


def _body(pocket: Pocket) -> Iterator[str]:
    yield "<h1>Tropeion, to carry</h1>"
    at = f"{pocket.made_at[:10]}, {pocket.made_at[11:16]} UTC"
    yield _p(f"As of {at}. It is for looking up: nothing is logged here, and nothing here changes.", "quiet")
    if not pocket.systems and not pocket.rigs and not pocket.outings:
        yield _p("There is nothing in this collection yet: enter a camera and a lens first, then make this page again.")
        return
    if pocket.left_out:
        yield _p(f"Left out, to stay small: {'; '.join(pocket.left_out)}.", "quiet")
    if pocket.outings:
        yield "<h2>Packing lists</h2>"
        yield from (_outing(outing) for outing in pocket.outings)
    if pocket.rigs:
        yield "<h2>Cards</h2>"
        yield from (_rig(rig) for rig in pocket.rigs)
    yield from _fits(pocket)
    keys = [system for system in pocket.systems if len(system.key) > 1]
    if keys:
        yield "<h2>Which generation is it?</h2>"
        yield from (_details(escape(system.name), _node(system, 0, 0)) for system in keys)
    yield "<h2>Words</h2>"
    yield from (_details(f"<b>{escape(term.term)}</b>", _p(term.means)) for term in pocket.terms)


def _p(text: str, kind: str = "") -> str:
    return f'<p class="{kind}">{escape(text)}</p>' if kind else f"<p>{escape(text)}</p>"


def _bad(text: str) -> str:
    return f'<span class="bad">{escape(text)}</span>'


def _details(summary: str, *inside: str) -> str:
    """``summary`` and ``inside`` are HTML already."""
    return f"<details><summary>{summary}</summary>{''.join(inside)}</details>"


def _list(items: Iterable[str], kind: str = "", tag: str = "ul") -> str:
    rows = "".join(f"<li>{item}</li>" for item in items)
    return f"<{tag}{f' class={kind!r}' if kind else ''}>{rows}</{tag}>" if rows else ""


def _outing(outing: PocketOuting) -> str:
    packed = (
        escape(f"{piece.count} × {piece.name}" if piece.count > 1 else piece.name)
        + (f' <span class="bad">{piece.missing} not owned</span>' if piece.missing else "")
        + (f' <span class="quiet">{escape(piece.says)}</span>' if piece.says else "")
        for piece in outing.packed
    )
    shots = (f"<b>{escape(shot.name)}</b> {escape(shot.rig)} {escape(shot.says)}" for shot in outing.shots)
    day = f' <span class="quiet">{escape(outing.day)}</span>' if outing.day else ""
    return _details(
        f"<b>{escape(outing.name)}</b>{day}",
        _p(outing.says),
        _list(packed, "ticks"),
        _list(shots, tag="ol"),
        *(_p(text) for text in outing.batteries),
        _p(f"Stays at home: {written.listed(outing.at_home)}.", "quiet") if outing.at_home else "",
    )


def _rig(rig: PocketRig) -> str:
    head = f"<b>{escape(rig.name)}</b>" + (f" {escape(word(rig.grade))}" if rig.grade else "")
    steps = (
        f'<span class="bad">{escape(step.text)}</span>' if step.caution else escape(step.text) for step in rig.steps
    )
    entries = (f"<tr><td>{entry.focal_length_mm:g} mm</td><td>{entry.entry_mm:g} mm</td></tr>" for entry in rig.entries)
    table = "".join(entries)
    return _details(
        head,
        _p(rig.pieces, "quiet"),
        *(_p(text) for text in (rig.sentence, *rig.usable_says, rig.camera_says, rig.support_says, rig.why) if text),
        *(_p(text, "bad") for text in rig.minds),
        _list(steps, "ticks"),
        f"<table><tr><th>Lens at</th><th>Stabiliser is told</th></tr>{table}</table>" if table else "",
        _details("Depth of field", _depth(rig)) if rig.depth else "",
    )


def _depth(rig: PocketRig) -> str:
    rows = []
    for row in sorted(rig.depth, key=lambda one: (one.f_number, one.distance_m)):
        far = "∞" if row.far_m is None else _metres(row.far_m)
        cells = (f"f/{row.f_number:g}", _metres(row.distance_m), _metres(row.near_m), far)
        rows.append("<tr>" + "".join(f"<td>{cell}</td>" for cell in cells) + "</tr>")
    return f"<table><tr><th>Aperture</th><th>Focused</th><th>From</th><th>To</th></tr>{''.join(rows)}</table>"


def _metres(distance_m: float) -> str:
    return written.distance(distance_m * 1000, "metric")


def _fits(pocket: Pocket) -> Iterator[str]:
    if not pocket.systems:
        return
    yield "<h2>Would it fit?</h2>"
    whose = "each of your cameras" if pocket.owned else "each camera of the collection, as none is owned"
    yield _p(f"A lens of this mount on {whose}, reckoned for one of {pocket.assumed_mm:g} mm.", "quiet")
    names = {body.id: body.name for body in pocket.bodies}
    for system in pocket.systems:
        also = f' <span class="quiet">{escape(", ".join(system.aliases))}</span>' if system.aliases else ""
        inside = [_generation(system, generation, names, pocket.rings) for generation in system.generations]
        yield _details(f"<b>{escape(system.name)}</b>{also}", *inside)


def _generation(
    system: PocketSystem, generation: PocketGeneration, names: Mapping[str, str], rings: Mapping[str, PocketRing]
) -> str:
    fits = "".join(_fit(fit, names, rings) for fit in generation.fits)
    if len(system.generations) == 1:
        return fits
    return _details(f"Generation {escape(generation.label)}", fits)


def _fit(fit: PocketFit, names: Mapping[str, str], rings: Mapping[str, PocketRing]) -> str:
    grade = _graded(fit)
    room = "" if fit.room_mm is None else f' <span class="quiet">room {fit.room_mm:.2f} mm</span>'
    wanted = [rings[id_] for id_ in (*fit.rings, *fit.unlisted) if id_ in rings]
    return _details(
        f"{escape(names[fit.body])}: <b>{escape(grade)}</b>{room}",
        _p(fit.sentence) if fit.sentence else "",
        *(_p(text, "bad") for text in fit.minds),
        _p(f"With what you own: {written.listed(fit.owned)}.") if fit.owned else "",
        *(_ring(ring) for ring in wanted),
    )


def _graded(fit: PocketFit) -> str:
    grade: Grade | None = fit.grade if fit.works else (fit.unlisted_grade or fit.grade)
    if not fit.works and not fit.unlisted:
        return word(fit.grade) if fit.grade else ("not with what is listed" if fit.possible else "no ring can do it")
    said = word(grade) if grade else "not known"
    return said if fit.works else f"{said}, with a ring that nobody lists"


def _ring(ring: PocketRing) -> str:
    price = "" if ring.price is None else f" ({ring.price:g})"
    head = f"{'Ask for' if ring.listed else 'Look for'}: {ring.name}{price}. Lens side {ring.lens_end}, camera side "
    refuse = _list(f'<span class="bad">{escape(text)}</span>' for text in ring.refuse)
    return _p(f"{head}{ring.camera_end}.") + _p(f"Sold as {', '.join(ring.labels)}.", "quiet") + refuse


def _node(system: PocketSystem, at: int, deep: int) -> str:
    node = system.key[at]
    chances = ", ".join(f"{one.label} {written.percent(one.probability)}" for one in node.remaining[:4])
    meets = _list(
        f"{escape(one.body)}: <b{' class=bad' if one.effect == 'damage' else ''}>{escape(one.says)}</b> "
        f"{escape(one.text)} {escape(one.unless)}"
        for one in node.meets
    )
    said = "It is generation" if node.settled else "It may be generation"
    told = _p(f"{said} {chances}.") + _details("Where it may be mounted", meets)
    asked = next((feature for feature in system.features if feature.id == node.asked), None)
    if asked is None:
        return told
    if deep >= _DEEPEST:
        return told + _p("More questions are in the application.", "quiet")
    answers = (("Yes", node.yes), ("No", node.no), ("Cannot be seen", node.unknown))
    led = (_details(name, _node(system, to, deep + 1)) for name, to in answers if to is not None)
    more = _p("More questions are in the application.", "quiet") if node.cut else ""
    return told + _p(asked.question) + "".join(led) + more
