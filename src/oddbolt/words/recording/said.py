"""What the recorder says while one works, in words: by code, with its figures."""

from __future__ import annotations

from typing import Any

from oddbolt.catalog.tables import bond_methods
from oddbolt.model.things import Teardown
from oddbolt.words.acts import caution_texts, obstacle_text
from oddbolt.words.findings import alert_text
from oddbolt.words.lengths import length_text
from oddbolt.words.names import kind_name, name_of, tool_name
from oddbolt.words.translate import N_, from_table, of_data

SAID = {
    "choose-group": N_("Choose a group with two marks or more on this photograph"),
    "choose-joint": N_("Choose the joint that is released"),
    "choose-plug": N_("Choose a plug; Ctrl and an arrow key say which way it opens"),
    "choose-what-comes-off": N_("Choose the part that comes off, or a joint that holds it"),
    "click-marks": N_("A click marks: {type}"),
    "draw-footprint": N_("Draw round what {thing} had covered; Shift+F12 says that it covered nothing"),
    "draw-reach": N_("Draw round what could be undone now"),
    "draw-some-first": N_("Draw round some marks of the group that is chosen"),
    "draw-then-choose": N_("Draw round some marks, then choose the group they belong to"),
    "draw-two-groups": N_("Draw round marks of just two groups to join them"),
    "drawn-round": N_("{number} marks drawn round"),
    "in-the-way": N_("{obstacles}, by the record. Press again if it was done all the same."),
    "layer-opened": N_("A layer opened. Ctrl, Shift and drag: what it had covered. What could be undone now? W: all "
                       "marks here, J: draw round it."),
    "look-alike": N_("Look alike: {lengths}. Measure one before it goes back."),
    "marks-and-releases": N_("A click marks and releases"),
    "marks-only": N_("A click marks only"),
    "new-group": N_("The next mark begins a new group"),
    "no-mark-here": N_("What is chosen has no mark on this photograph"),
    "not-now-naming": N_("The kind of a part is asked for: press its kind, or Esc leaves it. Nothing was done."),
    "not-now-numbering": N_("A group is being numbered: click its marks, ⏎ ends it, Esc leaves it. Nothing was done."),
    "not-now": N_("That means nothing here; nothing was done"),
    "not-now-draw-row": N_("A row is of screws or clips: choose a letter, or clips, first"),
    "nothing-done": N_("Nothing has been done yet"),
    "nothing-in-place": N_("Nothing marked here is still in place"),
    "nothing-offered": N_("Nothing is asked for now"),
    "choose-plug-whose": N_("Choose the plug whose part is to be said, or the joint that holds a further one"),
    "whose-plug": N_("Whose plug? Press the letter of its part, as on the keys that lift; Esc leaves it."),
    "holds-which-too": N_("{thing}: which further part does it hold? Press its letter, as on the keys that lift; Esc "
                          "leaves it."),
    "oldest-seen-dropped": N_("Much was seen and not taken: the oldest of it is shown no more (P and F11 bring it "
                              "back)"),
    "only-moved": N_("It lies elsewhere now, as a cable does; if it came off, press its kind"),
    "meant": N_("{thing}, which was on record; no second one"),
    "nothing-lifted": N_("Nothing has been lifted yet"),
    "numbered": N_("{number} numbered, {left} to go"),
    "of-another-group": N_("This mark is of another group"),
    "off-already": N_("{thing} is off or open already"),
    "on-the-mat": N_("Back on the mat"),
    "on-the-underside": N_("On the underside of {thing}; U again: back"),
    "order-tightening": N_("Click the marks of {thing} in the order of tightening. ⏎: the rest as they "
                           "were; Esc: leave"),
    "order-undoing": N_("Click the marks of {thing} in the order of undoing. ⏎: the rest as they were; Esc: leave"),
    "swung-open": N_("Still tied by its cable: do not lift it far. A layer opened. What could be undone now? W: all "
                     "marks here, J: draw round it."),
    "choose-blocked": N_("Choose on the strip what cannot be done yet"),
    "choose-held": N_("Choose on the strip what is held by something else"),
    "choose-needless": N_("Choose on the strip what need not be done"),
    "choose-whose": N_("Choose on the strip the joint that belongs to another part"),
    "no-fixing-to-change": N_("Undo something first, or choose a joint: then it is said how its fixing is left"),
    "no-tool-to-change": N_("Nothing was done by a tool that could be another; screws have the driver of their letter"),
    "also-now": N_("{thing}: with {tool} as well. Shift+F7 takes the next"),
    "also-none": N_("{thing}: with no further tool"),
    "choose-joint-wait": N_("Choose the joint that takes its time"),
    "no-wait": N_("That is no wait: type 60, 60-120, 1:30 or 5 min"),
    "one-act": N_("It has one act; only a second one can follow at once"),
    "held-by-a-joint": N_("What held it is a joint: press the key of its kind"),
    "hazard-told": N_("{thing}. {caution}"),
    "kind-with-tool": N_("{type}: {tool}, all that are taken. F7 takes the next"),
    "tool-now": N_("{thing}: {tool}. F7 takes the next"),
    "not-pointed": N_("Nothing was pointed at; nothing was changed"),
    "point-a-part": N_("That is no part. Tap the part it belongs to, or press the key that lifts its kind"),
    "looks": N_("Who looks at the ways now: {by}"),
    "point-blocked": N_("Tap what is in the way of {thing}, on the photograph or on the strip; Esc leaves it"),
    "point-whose": N_("Tap the part that {thing} belongs to, or press the key that lifts its kind; Esc leaves it"),
    "type-changed": N_("The type is {type} now, no longer {before}; a click marks it"),
    "type-now": N_("{thing}: {type}"),
    "was-swung-open": N_("{thing}: its plug was still in, so it was swung open. Lift it when the plug is out."),
    "what-is-there": N_("What is there? Press its kind."),
    "which-part": N_("Which part is this? Press its kind; Esc leaves it."),
}


def type_name(kind: str, type_: str) -> str:
    """What a click marks: the type where the kind has some, a bond's way of parting, else the kind."""
    if kind == "adhesive" and type_ in bond_methods():
        return of_data(bond_methods()[type_].name)
    return of_data(type_) if type_ else kind_name(kind)


def said_text(teardown: Teardown, code: str, figures: dict[str, Any]) -> str:
    """A saying of the recorder; `figures` are ids, numbers and findings as the core has them."""
    if code == "alert":
        return alert_text(figures["alert"], name_of(teardown, figures["thing"]))
    if code == "not-now":
        by_gesture, by_mode = f"not-now-{figures['gesture']}", f"not-now-{figures['mode']}"
        return from_table(SAID, by_mode if by_mode in SAID else by_gesture if by_gesture in SAID else code)
    told = dict(figures)
    if "thing" in told:
        told["thing"] = name_of(teardown, told["thing"])
    if "tool" in told:
        told["tool"] = tool_name(teardown, told["tool"])
    if "hazard" in told:
        told["caution"] = " ".join(caution_texts([told["hazard"]]))
    if "type" in told:
        told["before"] = type_name(told["kind"], told.get("before", ""))
        told["type"] = type_name(told["kind"], told["type"])
    if "obstacles" in told:
        told["obstacles"] = "; ".join(obstacle_text(teardown, obstacle) for obstacle in told["obstacles"])
    if "lengths" in told:
        told["lengths"] = ", ".join(f"{id_} {length_text(mm)}" for id_, mm in told["lengths"])
    return from_table(SAID, code, **told)
