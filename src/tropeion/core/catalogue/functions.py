"""The iris, the functions that are left, and the contacts."""

from __future__ import annotations

from tropeion.core.findings import remark, verdict

# Iris


@verdict(
    "limit",
    "partial",
    "The aperture is electronic and no power reaches it: it {rest}.",
    headline="The aperture has no power: it {rest}.",
    gives_up="the aperture has no power",
)
def iris_without_power(*, rest: str) -> None: ...


@verdict(
    "limit",
    "partial",
    "Nothing presses the diaphragm pin, and the lens has no auto/manual switch: the aperture stays wide open.",
    headline="The aperture stays wide open: nothing presses the diaphragm pin.",
    gives_up="the aperture stays open",
)
def pin_not_pressed() -> None: ...


@verdict(
    "limit",
    "partial",
    "The lens has no aperture ring and nothing moves its lever: the aperture {rest}.",
    headline="Nothing moves the aperture lever: it {rest}.",
    gives_up="nothing moves the aperture",
)
def lever_not_moved(*, rest: str) -> None: ...


# Functions


@verdict(
    "limit", "manual", "Against a lens of this body: {functions}.", headline="{reach}; {hand}.", gives_up="{short}"
)
def by_hand(*, functions: str, hand: str, short: str, reach: str) -> None: ...


@verdict(
    "info",
    "full",
    "Autofocus works, slowly.",
    headline="Works as on its own body, but autofocus is slow.",
    gives_up="slow autofocus",
)
def autofocus_slow() -> None: ...


@verdict(
    "info",
    "full",
    "Every function of the lens works through the adapter: {functions}.",
    headline="Works as on its own body: {functions}.",
    gives_up="",
)
def through_adapter(*, functions: str) -> None: ...


@verdict(
    "caution",
    "manual",
    "The {word.protocol} of {names} is not stated. On a body of its own system and generation the lens is taken "
    "to have "
    "power; state it to be sure.",
    headline="On its own system; the {word.protocol} of {names} is not stated, and that it works is assumed.",
    gives_up="contacts not stated",
)
def contacts_assumed(*, names: str) -> None: ...


@verdict(
    "caution",
    "manual",
    "Neither the generation nor the {word.protocol} of {piece} is stated, and {mount} is with contacts and without: "
    "what of the lens works is not known. Look at its mount face.",
    headline="What of the lens works is not known: neither generation nor contacts of {piece} are stated.",
    gives_up="contacts not known",
)
def contacts_unknown(*, piece: str, mount: str) -> None: ...


@remark(
    "caution",
    "How {drives} of this lens is set is not stated, and it has contacts: a ring for it is assumed. Look whether it "
    "has one.",
)
def drives_assumed(*, drives: str) -> None: ...


@verdict("limit", "manual", "{text}", headline="Mounts safely, without metering.", gives_up="no metering")
def no_metering(*, text: str) -> None: ...


@verdict(
    "limit",
    "manual",
    "{text}",
    headline="Mounts safely; metering at the taking aperture.",
    gives_up="stop-down metering",
)
def stop_down_metering(*, text: str) -> None: ...


@remark("info", "{text}")
def meters(*, text: str) -> None: ...


# Contacts


@remark("info", "{body} can hold the aperture: set it there, take the lens off while it is held, then mount it here.")
def iris_hold_and_remove(*, body: str) -> None: ...


@remark(
    "info",
    "The chip reports {focal_length} mm and {aperture}, whatever is mounted: what the camera records is not this lens.",
)
def chip_reports_fixed_lens(*, focal_length: str, aperture: str) -> None: ...


@remark("info", "{name} is known with firmware {firmware}: another version may do more, or less.")
def firmware_matters(*, name: str, firmware: str) -> None: ...


@remark("caution", "This body releases only with a lens that it recognises; a chipped adapter would do.")
def release_needs_lens() -> None: ...


@remark("info", "At power-on the body offers the last lens's focal length: check it after every swap.")
def asks_at_power_on() -> None: ...


@remark(
    "caution",
    "A zoom that the body does not know: enter the focal length again at each setting, and do not zoom during a "
    "take. A prime is the better choice here.",
)
def zoom_needs_entries() -> None: ...


@remark("info", "The lens cannot tell the body what it covers: set the mode {mode} by hand.")
def crop_by_hand(*, mode: str) -> None: ...


@remark(
    "info",
    "{name} has its aperture behind the lens: stopped down, it may darken the corners before the middle. Look at them.",
)
def iris_behind_lens(*, name: str) -> None: ...


@verdict(
    "info",
    "full",
    "Focus, aperture and lens data work through the adapter; lost: {functions}.",
    headline="Works as on its own body, but for: {functions}.",
    gives_up="{functions} lost",
)
def extras_lost(*, functions: str) -> None: ...
