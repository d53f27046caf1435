"""The bench radio taken apart by voice, sentence by sentence: the demo of the simulated microphone, and the test of a
whole teardown. Invented, like the radio.
"""

from __future__ import annotations

from oddbolt.session.speaking.spelling import number_said

PICTURE = "take a picture"
# Each with the things of the record that are done by then, so that a camera can show the device as it is.
STEPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    (PICTURE, ()),
    ("unplug flexible cable wire to board", ("mains-inlet",)), ("cuts the mains", ()),
    ("lift away flexible cable", ("mains-lead",)),
    ("adhesive rubber gasket by prying", ("foot-left-tack",)), ("using spudger", ()),
    ("lift away rubber gasket", ("foot-left",)),
    ("adhesive rubber gasket by prying", ("foot-right-tack",)), ("lift away rubber gasket", ("foot-right",)),
    ("four cross one alfa outer cover", ("cover-screws",)), ("snap fits outer cover", ("cover-clips",)),
    ("swing open outer cover", ("cover-swing",)), (PICTURE, ()), ("leave it", ()),
    ("unplug battery wire to board", ("cell-plug",)), ("using spudger", ()),
    ("unplug loudspeaker wire to board", ("speaker-plug",)), ("using tweezers", ()),
    ("lift away outer cover", ("top-cover",)), ("answer one", ()), (PICTURE, ()), ("leave it", ()),
    ("peel off metal shield", ("guard-label",)), ("destroyed", ()),
    ("two cross one bravo metal shield", ("guard-screws",)), ("lift away metal shield", ("supply-guard",)),
    (PICTURE, ()), ("leave it", ()),
    ("discharge printed board", ("charge",)), ("snap fits unknown item", ("fuse-clips",)),
    ("lift away unknown item", ("fuse",)), ("unplug printed board wire to board", ("supply-plug",)),
    ("three bravo printed board", ("supply-screws",)), ("lift away printed board", ("supply-board",)),
    ("two bravo holding bracket", ("strap-screws",)), ("lift away holding bracket", ("cell-strap",)),
    ("adhesive battery by pulling", ("cell-pads",)), ("lift away battery", ("cell",)),
    (PICTURE, ()), ("leave it", ()),
    ("snap fits metal shield", ("shield-clips",)), ("lift away metal shield", ("tuner-shield",)),
    ("unplug printed board board to board", ("tuner-plug",)), ("lift away printed board", ("tuner-board",)),
    ("unplug antenna coaxial", ("aerial-coax",)), ("one cross zero charlie antenna", ("aerial-screw",)),
    ("lift away antenna", ("aerial",)),
    ("unplug flexible cable zero force", ("display-plug",)),
    ("unplug flexible cable zero force once more", ("display-far",)),
    ("lift away flexible cable", ("display-cable",)),
    ("two charlie holding bracket", ("display-screws",)), ("lift away holding bracket", ("display-bracket",)),
    ("snap fits display", ("display-clips",)), ("lift away display", ("display",)),
    (PICTURE, ()), ("leave it", ()),
    ("unplug charging socket wire to board", ("jack-plug",)), ("two charlie charging socket", ("jack-screws",)),
    ("lift away charging socket", ("jack-board",)),
    ("friction fit push button", ("knob-fit",)), ("lift away push button", ("knob",)),
    ("five six lobe one zero delta main board", ("board-screws",)), ("lift away main board", ("main-board",)),
    ("turn it over", ()), ("leave it", ()),
    ("four bravo loudspeaker", ("speaker-screws",)), ("lift away loudspeaker", ("speaker",)),
    (PICTURE, ()), ("leave it", ()),
)
# What the analyst answers where the bench asks, or did not understand.
ANSWERS = ("affirmative", "negative", "answer one", "answer two", "take it back", "odd bolt")
# Of looking at the ways to the parts that matter.
TELLING = (*(f"way to {part}" for part in ("push button", "battery", "display", "charging socket", "outer cover")),
           "answer three", "rubber gasket", "rubber gasket two", "metal shield", "holding bracket",
           "plug of flexible cable two two", "plug of loudspeaker",
           *(f"number {number_said(number)}" for number in range(1, 25)))
SENTENCES = (*(sentence for sentence, _ in STEPS), *ANSWERS, *TELLING)
