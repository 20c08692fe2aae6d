"""One table of mutations: each finding is produced by one change of a rig, and just not by its neighbour."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import pytest

from tests.rigs import ELECTRONIC, GLASS, LINK, PARTS
from tests.worlds import body, gear_of, lens, mount, ring, unknowing, world_of
from tropeion.core.catalogue import CATALOGUE
from tropeion.core.gear.tried import UsableFrom, by_rig
from tropeion.core.gear.world import World, compile_world, with_tried
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match

Change = dict[str, Any]


# Two mounts that do not go onto each other, as those of two systems.
APART: Change = {"front": {"interface": "front"}, "rear": {"interface": "rear"}}


@dataclass(frozen=True)
class Rig:
    """A 45 mm lens on a 20 mm body through an exact ring, with one thing changed."""

    lens: Change = field(default_factory=dict)
    body: Change = field(default_factory=dict)
    ring: Change = field(default_factory=dict)
    front: Change = field(default_factory=dict)
    rear: Change = field(default_factory=dict)
    bare: bool = False
    practice: Practice = field(default_factory=Practice)
    build: Callable[[], World] | None = None

    def codes(self) -> set[str]:
        world = self.build() if self.build else self.world()
        via = [] if self.bare else ["ring"]
        (route,) = match(world, "lens", "body", self.practice, via).routes
        return {found.code for found in route.findings}

    def world(self) -> World:
        registers = (45.0, 45.0) if self.bare else (45.0, 20.0)
        return world_of(
            [ring(**{"length_mm": 25.0, **self.ring})],
            lens_register_mm=registers[0],
            body_register_mm=registers[1],
            the_lens=lens(**self.lens),
            the_body=body(**self.body),
            front=self.front,
            rear=self.rear,
            protocols=[*LINK, {"id": "other", "name": "Other"}],
        )


def bare(lens_generation: str | None, body_generation: str | None, parts: Change | None = None, **more: Any) -> Rig:
    return Rig(
        lens={"generation": lens_generation, **more},
        body={"mount": "front", "generation": body_generation},
        front=parts or PARTS,
        bare=True,
    )


def tried(aperture: float | None) -> World:
    """The rig with trials for paid stills, usable from this stop or from none."""
    row = UsableFrom("lens", ("ring",), "body", None, "paid_still", aperture, True, 3, 2, "2026-11-20")
    return with_tried(Rig().world(), by_rig([row]))


def with_rule(effect: str) -> Change:
    rule = {"lens_has": ["rack"], "body_has": ["probe"], "effect": effect, "text": "It is so."}
    return {**PARTS, "rules": [rule]}


SPEAKS: Change = {"protocols": ["speech"]}
EVERYTHING = dict.fromkeys(("autofocus", "aperture", "identity", "focal_length"), "full")
TRANSLATES: Change = {"link": "translate", "from_protocol": "speech", "to_protocol": "speech", "carries": EVERYTHING}
SLOW: Change = {**TRANSLATES, "carries": {**EVERYTHING, "autofocus": "slow"}}
MOTOR: Change = {**ELECTRONIC, "focus": "motor"}
STABLE: Change = {"stabiliser": {"travel_mm": 3.0}}
CROP: Change = {"name": "24 × 16", "sensor_mm": [24.0, 16.0], "megapixels": 10.0}
HEAVY: Change = {"mass_g": 2000.0, "centre_of_mass_mm": 60.0}
FILM = Practice(use="film")
# A rig of which everything is stated.
WHOLE: dict[str, Any] = {
    "lens": {"mass_g": 200.0, "centre_of_mass_mm": 20.0, "exit_pupil_mm": 60.0, "rear_protrusion_mm": 0.0},
    "body": {"obstruction_mm": 5.0, "max_ray_angle_deg": 40.0},
    "ring": {"mass_g": 80.0, "play_mm": 0.0, "bore_mm": 60.0},
    "front": {"play_mm": 0.0, "load_rating_nm": 2.0},
    "rear": {"play_mm": 0.0, "load_rating_nm": 2.0, "throat_mm": 60.0},
}


SPOKEN_GENERATION: Change = {"id": "late", "label": "IV", "protocol": "speech"}


def screw(pitch: float, rear_pitch: float) -> Rig:
    def side(name: float) -> Change:
        return {"coupling": "screw", "interface": f"thread-{name}", "thread": {"diameter_mm": 46.0, "pitch_mm": name}}

    return Rig(front=side(pitch), rear=side(rear_pitch), bare=True)


def shared_thread(rear_register_mm: float, interface: str = "joint") -> Rig:
    """A ring whose lens side is another system's: on the same thread, or on one of its own."""

    def build() -> World:
        mounts = [mount("front", 45.0), mount("other", rear_register_mm, interface=interface), mount("rear", 20.0)]
        document = {
            "mounts": mounts,
            "bodies": [body()],
            "lenses": [lens()],
            "adapters": [ring(lens_mount="other", length_mm=25.0)],
        }
        return compile_world(gear_of(document))

    return Rig(build=build)


def kit(holds: bool) -> Rig:
    """An unpowered electronic iris, and a second body that may hold it."""

    def build() -> World:
        holder = body(id="holder", name="Holder", mount="front", protocols=["speech"], holds_iris=holds, owned=1)
        document = {
            "protocols": LINK,
            "mounts": [mount("front", 45.0), mount("rear", 20.0, interface="own")],
            "bodies": [body(protocols=["speech"]), holder],
            "lenses": [lens(**MOTOR)],
            "adapters": [ring(length_mm=25.0)],
        }
        return compile_world(gear_of(document))

    return Rig(build=build)


# code: the rig that has it, and its neighbour that just has not
TABLE: dict[str, tuple[Rig, Rig]] = {
    "coupling_damage": (bare("old", "new"), bare("new", "new")),
    "generation_unknown": (bare(None, "new"), bare(None, "old")),
    "generation_open": (bare(None, "between"), bare("old", "between")),
    "generations_unruled": (bare("new", "between"), bare("new", "new")),
    "excluded_by_maker": (
        Rig(lens={"not_on": [{"mount": "rear", "reason": "the rear touches"}]}, **APART),
        Rig(lens={"not_on": [{"mount": "front", "reason": "the rear touches"}]}, **APART),
    ),
    "thread_binds": (screw(0.8, 1.1), screw(1.1, 1.1)),
    "rear_collides": (
        Rig(lens={"rear_protrusion_mm": 38.51}, body={"obstruction_mm": 6.0}),
        Rig(lens={"rear_protrusion_mm": 38.50}, body={"obstruction_mm": 6.0}),
    ),
    "coupling_safe_after": (bare("old", "between"), bare("new", "between")),
    "coupling_inspect": (bare("old", "new", with_rule("inspect")), bare("new", "new", with_rule("inspect"))),
    "does_not_mate": (Rig(front={"interface": "own"}, bare=True, body={}), Rig(bare=True)),
    "rear_too_wide": (
        Rig(lens={"rear_protrusion_mm": 5.0, "rear_diameter_mm": 40.01}, ring={"bore_mm": 40.0}),
        Rig(lens={"rear_protrusion_mm": 5.0, "rear_diameter_mm": 40.0}, ring={"bore_mm": 40.0}),
    ),
    "irreversible": (Rig(ring={"irreversible": True}), Rig()),
    # Travel to 0.5 m is 6.35 mm, f/16 forgives 0.46 mm: 6.81 mm in all.
    "nothing_focuses": (Rig(ring={"length_mm": 18.18}), Rig(ring={"length_mm": 18.20})),
    "focus_travel_unknown": (
        # 2 % of 50 mm are taken for its travel: 1 mm, and half a window of 2 × 43.27/1500 mm more.
        Rig(lens={"min_focus_m": None}, ring={"length_mm": 23.94}),
        Rig(lens={"min_focus_m": None}, ring={"length_mm": 23.95}),
    ),
    "focus_travel_too_short": (
        # 15 % of 50 mm: 7.5 mm.
        Rig(lens={"min_focus_m": None}, ring={"length_mm": 17.49}),
        Rig(lens={"min_focus_m": None}, ring={"length_mm": 17.51}),
    ),
    "register_unknown": (
        Rig(build=lambda: unknowing(world_of([ring()]), "front")),
        Rig(build=lambda: unknowing(world_of([ring()], the_lens=lens(measured_register_mm=45.0)), "front")),
    ),
    "focus_without_power": (
        Rig(lens=ELECTRONIC, body=SPEAKS),
        Rig(lens=ELECTRONIC, body=SPEAKS, ring={"link": "pass"}),
    ),
    # A lens that nothing moves is sharp at infinity where it stands; f/16 forgives 0.46 mm.
    "no_focusing": (
        Rig(lens={"focus": "none"}, ring={"length_mm": 25.47}),
        Rig(lens={"focus": "none"}, ring={"length_mm": 25.46}),
    ),
    # A ring of 90 mm, 65 too long: D = 100 + 2500/71.35 + 71.35 = 206.4 mm with its 6.35 mm of travel. Its front stands
    # 45 + 65 mm and its length before the sensor.
    "focus_inside": (
        Rig(lens={"length_mm": 97.0}, ring={"length_mm": 90.0}),
        Rig(lens={"length_mm": 96.0}, ring={"length_mm": 90.0}),
    ),
    # D = 100 + 2500/x + x at a far stop of x mm: with 25.47 mm more than its own ring it ends before 295 mm.
    "by_construction": (Rig(ring={"length_from": "gap"}), Rig(ring={"length_from": "gap", "measured_length_mm": 25.0})),
    "focus_perhaps_inside": (Rig(ring={"length_mm": 50.0}), Rig(ring={"length_mm": 50.0}, lens={"length_mm": 30.0})),
    "working_distance_unknown": (
        # 45 + 2·50 + 150 mm.
        Rig(lens={"min_focus_m": 0.294}),
        Rig(lens={"min_focus_m": 0.296}),
    ),
    # D = f_c·(2 + m + 1/m): 162.5 mm at half size is 36.1 mm; 337.5 mm would be 75, over 1.3 · 50.
    "close_figures_doubtful": (
        Rig(lens={"min_focus_m": 0.293, "max_magnification": 0.5}),
        Rig(lens={"min_focus_m": 0.292, "max_magnification": 0.5}),
    ),
    # An Airy disc of 2.44 · 0.55 µm · N′ fills 43.27/1500 mm at f/21.5.
    "diffraction": (Rig(lens={"f_number": [22, 22]}), Rig(lens={"f_number": [21, 22]})),
    "infinity_out_of_reach": (Rig(ring={"length_mm": 25.47}), Rig(ring={"length_mm": 25.46})),
    "infinity_stopped_down": (Rig(ring={"length_mm": 25.06}), Rig(ring={"length_mm": 25.05})),
    "passes_infinity": (Rig(ring={"length_mm": 24.97}), Rig(ring={"length_mm": 24.98})),
    # Only the ring is uncertain, by ±t: ½ + ½·0.0577/t falls below 95 % at t = 0.0641.
    "infinity_unsure": (Rig(ring={"tolerance_mm": 0.065}), Rig(ring={"tolerance_mm": 0.063})),
    "closest_focus_needs_magnification": (Rig(lens={"min_focus_m": 0.199}), Rig(lens={"min_focus_m": 0.2})),
    "closest_focus_unknown": (Rig(lens={"min_focus_m": None}), Rig(lens={"min_focus_m": 30.0})),
    # 0.0409 mm before a glass of 0.7 are 0.0200 mm at the sensor.
    "register_approximate": (
        Rig(lens={"measured_register_mm": 44.959}, ring={"optics": "reducer", "magnification": 0.7, **GLASS}),
        Rig(lens={"measured_register_mm": 44.960}, ring={"optics": "reducer", "magnification": 0.7, **GLASS}),
    ),
    "covers_crop_only": (
        Rig(lens={"image_circle_mm": 43.2}, body={"modes": [CROP]}),
        Rig(lens={"image_circle_mm": 43.3}, body={"modes": [CROP]}),
    ),
    "covers_no_mode": (Rig(lens={"image_circle_mm": 43.2}), Rig(lens={"image_circle_mm": 43.3})),
    "circle_unknown": (Rig(lens={"image_circle_mm": None}), Rig()),
    "circle_assumed": (
        Rig(lens={"image_circle_mm": None}, body={"mount": "front"}, bare=True),
        Rig(lens={"image_circle_mm": 45.0}, body={"mount": "front"}, bare=True),
    ),
    # At z = 45 before P′ = 90 the full cone passes up to (T/2 − 11.25)/0.5, its centre ray up to T.
    "corners_darkened": (
        Rig(lens={"exit_pupil_mm": 90.0}, ring={"bore_mm": 44.1}),
        Rig(lens={"exit_pupil_mm": 90.0}, ring={"bore_mm": 44.2}),
    ),
    "corners_cut": (
        Rig(lens={"exit_pupil_mm": 90.0}, ring={"bore_mm": 21.6}),
        Rig(lens={"exit_pupil_mm": 90.0}, ring={"bore_mm": 33.7}),
    ),
    # atan(21.63/34.6) is 32.0°.
    "steep_corner_rays": (
        Rig(lens={"exit_pupil_mm": 34.5}, body={"max_ray_angle_deg": 32.0}),
        Rig(lens={"exit_pupil_mm": 34.7}, body={"max_ray_angle_deg": 32.0}),
    ),
    "correcting_glass": (
        Rig(ring={"optics": "correcting", "magnification": 1.2, **GLASS}),
        Rig(ring={"optics": "expander", "magnification": 1.2, **GLASS}),
    ),
    "glass_limits_aperture": (
        Rig(ring={"optics": "reducer", "magnification": 0.7, "widest_f_number": 1.41, **GLASS}),
        Rig(ring={"optics": "reducer", "magnification": 0.7, "widest_f_number": 1.4, **GLASS}),
    ),
    "iris_behind_lens": (Rig(ring={"aperture_control": "iris"}), Rig(ring={"aperture_control": "lever_ring"})),
    "iris_without_power": (Rig(lens=MOTOR, body=SPEAKS), Rig(lens=MOTOR, body=SPEAKS, ring={"link": "pass"})),
    "pin_not_pressed": (
        Rig(lens={"aperture": "pin"}),
        Rig(lens={"aperture": "pin"}, ring={"aperture_control": "pin_press"}),
    ),
    "lever_not_moved": (
        Rig(lens={"aperture": "lever"}),
        Rig(lens={"aperture": "lever"}, ring={"aperture_control": "lever_ring"}),
    ),
    "by_hand": (Rig(), Rig(lens=ELECTRONIC, body=SPEAKS, ring={"link": "pass"})),
    "autofocus_slow": (
        Rig(lens=ELECTRONIC, body=SPEAKS, ring=SLOW),
        Rig(lens=ELECTRONIC, body=SPEAKS, ring=TRANSLATES),
    ),
    "extras_lost": (
        Rig(lens={**ELECTRONIC, "offers": ["control_ring"]}, body=SPEAKS, ring=TRANSLATES),
        Rig(lens=ELECTRONIC, body=SPEAKS, ring=TRANSLATES),
    ),
    "through_adapter": (Rig(lens=ELECTRONIC, body=SPEAKS, ring={"link": "pass"}), Rig(lens=ELECTRONIC, body=SPEAKS)),
    "no_metering": (bare("old", "new", with_rule("no_metering")), bare("new", "new", with_rule("no_metering"))),
    "stop_down_metering": (
        bare("old", "new", with_rule("stop_down_metering")),
        bare("new", "new", with_rule("stop_down_metering")),
    ),
    "meters": (bare("old", "new", with_rule("meters")), bare("new", "new", with_rule("meters"))),
    "converted_by_maker": (Rig(lens={"conversion": "factory"}), Rig()),
    "converted_by_others": (Rig(lens={"conversion": "third_party"}), Rig(lens={"conversion": "factory"})),
    "converted_at_home": (Rig(lens={"conversion": "home"}), Rig(lens={"conversion": "third_party"})),
    "conversion_unstated": (
        Rig(lens={"conversion": "home"}, front=PARTS),
        Rig(lens={"conversion": "home", "features": []}, front=PARTS),
    ),
    "coupling_transplanted": (Rig(lens={"conversion": "transplanted"}), Rig(lens={"conversion": "home"})),
    "same_thread_other_register": (shared_thread(30.0), shared_thread(45.0)),
    "two_names": (
        Rig(rear={"aliases": ["REA", "R-line"]}, ring={"name": "Ring R-line"}),
        Rig(rear={"aliases": ["REA", "R-line"]}, ring={"name": "Ring REA"}),
    ),
    "ring_long_by_hundredths": (Rig(ring={"length_mm": 25.01}), Rig()),
    "crop_factor_unchanged": (Rig(body={"sensor_mm": [24.0, 16.0]}), Rig()),
    "crop_counted_once": (
        Rig(lens={"image_circle_mm": 30.0}, body={"sensor_mm": [24.0, 16.0]}),
        Rig(lens={"image_circle_mm": 45.0}, body={"sensor_mm": [24.0, 16.0]}),
    ),
    "iris_hold_and_remove": (kit(holds=True), kit(holds=False)),
    "chip_reports_fixed_lens": (
        Rig(body=SPEAKS, ring={"link": "chip", "chip": {"focal_length_mm": 50.0, "f_number": 2.0}}),
        Rig(body=SPEAKS),
    ),
    "firmware_matters": (
        Rig(lens=ELECTRONIC, body=SPEAKS, ring={"link": "pass", "firmware": "2.0"}),
        Rig(lens=ELECTRONIC, body=SPEAKS, ring={"link": "pass"}),
    ),
    "release_needs_lens": (Rig(body={"bare_release": "never"}), Rig(body={"bare_release": "off"})),
    "asks_at_power_on": (Rig(body=STABLE), Rig(body=STABLE, practice=Practice(entry="skip"))),
    "zoom_needs_entries": (Rig(lens={"focal_length_mm": [30, 60]}, body=STABLE), Rig(body=STABLE)),
    "crop_by_hand": (
        Rig(lens={"image_circle_mm": 30.0}, body={"modes": [CROP]}),
        Rig(lens={"image_circle_mm": 30.0, **ELECTRONIC}, body={"modes": [CROP], **SPEAKS}, ring={"link": "pass"}),
    ),
    # 9.80665e-6 · (2000 g · 85 mm + 100 g · 12.5 mm) = 1.6794 N·m at the body.
    "load_exceeded": (
        Rig(lens=HEAVY, ring={"mass_g": 100.0}, rear={"load_rating_nm": 1.679}),
        Rig(lens=HEAVY, ring={"mass_g": 100.0}, rear={"load_rating_nm": 1.680}),
    ),
    "support_wanted": (
        Rig(lens=HEAVY, ring={"mass_g": 100.0}, rear={"load_rating_nm": 1.7}, practice=Practice(heavy="support")),
        Rig(lens=HEAVY, ring={"mass_g": 100.0}, rear={"load_rating_nm": 1.7}),
    ),
    # Half of K·N·c is 0.0288 mm.
    "play_moves_focus": (
        Rig(ring={"play_mm": 0.03}, front={"play_mm": 0.0}, practice=FILM),
        Rig(ring={"play_mm": 0.028}, front={"play_mm": 0.0}, practice=FILM),
    ),
    "clearance_unknown": (Rig(), Rig(lens={"rear_protrusion_mm": 0.0}, body={"obstruction_mm": 5.0})),
    "tolerance_assumed": (Rig(ring={"tolerance_mm": None}), Rig(ring={"tolerance_mm": 0.0})),
    "not_assessed": (Rig(**{**WHOLE, "ring": {**WHOLE["ring"], "bore_mm": None}}), Rig(**WHOLE)),
    "not_told": (
        Rig(**{**WHOLE, "ring": {**WHOLE["ring"], "play_mm": None}, "rear": {**WHOLE["rear"], "play_mm": None}}),
        Rig(**WHOLE),
    ),
    "contacts_unknown": (
        bare(None, "old", {**PARTS, "generations": [{"id": "old", "label": "I"}, SPOKEN_GENERATION]}),
        bare("old", "old", {**PARTS, "generations": [{"id": "old", "label": "I"}, SPOKEN_GENERATION]}),
    ),
    "drives_assumed": (
        Rig(lens={"protocol": "speech", "focus": "ring"}),
        Rig(lens={"protocol": "speech", "focus": "ring", "aperture": "ring"}),
    ),
    "contradicted": (
        Rig(ring={"evidence": [{"claim": "Passes the aperture on", "verdict": "contradicted", "source": "own"}]}),
        Rig(ring={"evidence": [{"claim": "Passes the aperture on", "verdict": "confirmed", "source": "own"}]}),
    ),
    "tried_unusable": (Rig(build=lambda: tried(None)), Rig(build=lambda: tried(4.0))),
    "foreign_contacts": (
        Rig(lens={**ELECTRONIC, "protocol": "other"}, body={"mount": "front", **SPEAKS}, bare=True),
        Rig(lens=ELECTRONIC, body={"mount": "front", **SPEAKS}, bare=True),
    ),
    "contacts_assumed": (
        Rig(lens={**ELECTRONIC, "protocol": None}, body={"mount": "front", **SPEAKS}, bare=True),
        Rig(lens=ELECTRONIC, body={"mount": "front", **SPEAKS}, bare=True),
    ),
    "throw_short": (Rig(lens={"focus_throw_deg": 99.0}), Rig(lens={"focus_throw_deg": 100.0})),
    "throw_long": (
        Rig(lens={"focus_throw_deg": 201.0}, practice=Practice(throw="short")),
        Rig(lens={"focus_throw_deg": 200.0}, practice=Practice(throw="short")),
    ),
    "seats_turn_squeeze": (Rig(lens={"squeeze": 1.6}, front={"positions": 4}), Rig(lens={"squeeze": 1.6})),
    "no_desqueeze": (
        Rig(lens={"squeeze": 1.6}, body={"desqueeze": [1.33]}),
        Rig(lens={"squeeze": 1.6}, body={"desqueeze": [1.6]}),
    ),
    "reflections": (Rig(ring={"reflections": "a bright wall"}), Rig()),
    "shake": (Rig(lens={"focal_length_mm": [100, 100]}), Rig(lens={"focal_length_mm": [99, 99]})),
    "stabiliser_entry_held": (
        Rig(body={"stabiliser": {"travel_mm": 3.0, "entry_mm": [50.1, 200.0], "entry_step_mm": 0.1}}),
        Rig(body={"stabiliser": {"travel_mm": 3.0, "entry_mm": [50.0, 200.0], "entry_step_mm": 0.1}}),
    ),
    "stabiliser_not_told": (Rig(body=STABLE, practice=Practice(entry="skip")), Rig(body=STABLE)),
    "helicoid_range": (Rig(ring={"helicoid_mm": 5.0}), Rig()),
    "filter_positions": (
        Rig(ring={"filter_slot": {"positions": [{"name": "clear", "clear": True}]}}),
        Rig(ring={"filter_slot": {}}),
    ),
    "no_clear_position": (
        Rig(ring={"filter_slot": {"positions": [{"name": "grey", "loss_stops": 2.0}]}}),
        Rig(ring={"filter_slot": {"positions": [{"name": "clear", "clear": True}]}}),
    ),
    "zoom_avoided": (
        Rig(lens={"focal_length_mm": [30, 60]}, practice=Practice(zooms="avoid")),
        Rig(lens={"focal_length_mm": [30, 60]}),
    ),
    "glass_avoided": (
        Rig(ring={"optics": "correcting", "magnification": 1.2, **GLASS}, practice=Practice(glass="avoid")),
        Rig(ring={"optics": "correcting", "magnification": 1.2, **GLASS}),
    ),
}


def test_the_table_knows_every_finding() -> None:
    assert TABLE.keys() == CATALOGUE.keys()


@pytest.mark.parametrize("code", CATALOGUE)
def test_produced_by_one_change_and_not_by_its_neighbour(code: str) -> None:
    with_it, without = TABLE[code]
    assert code in with_it.codes()
    assert code not in without.codes()
