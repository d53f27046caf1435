"""What was done, in words: labels of commands as they read after "Undo"."""

from __future__ import annotations

from typing import Any

from oddbolt.catalog.tables import bond_methods
from oddbolt.model.label import TEXT, Label
from oddbolt.words.figures import span_text
from oddbolt.words.names import kind_name, outcome_name, part_kind_name, said, tool_text
from oddbolt.words.translate import N_, from_table, of_data, tr

LABELS = {
    "add-part": N_("mark {thing}"),
    "tell-way": N_("a told way to {thing}"), "change-told": N_("change the told way to {thing}"),
    "delete-told": N_("delete the told way to {thing}"),
    "merge": N_("take {count} facts over from another record"),
    "add-view": N_("add the photo {photo}"),
    "add-way": N_("another way for {thing}: {method}"),
    "aid-off": N_("{what} off"),
    "aid-off-thing": N_("{what} off {thing}"),
    "aid-on": N_("{what} on"),
    "aid-on-thing": N_("{what} on {thing}"),
    "angle": N_("{thing} opens at {angle_deg:g}°"),
    "answer": N_("answer {criterion}"),
    "opinion": N_("opinion {whose}"),
    "resupplied": N_("whose spare brings {thing}"),
    "dose": N_("dose on {thing}"),
    "answer-access": N_("answer about {thing}"),
    "assume": N_("take everything for assumed"),
    "behind": N_("what {thing} is behind"),
    "begin-pass": N_("begin pass {number}"),
    "carry-marks": N_("take over {count} marks"),
    "delete": N_("delete {thing}"),
    "delete-letter": N_("delete letter {letter}"),
    "delete-mark": N_("delete a mark of {thing}"),
    "delete-several": N_("delete {count} things"),
    "delete-view": N_("delete the photo {photo}"),
    "device": N_("say again: {keys}"),
    "held-by": N_("{thing}, forgotten before"),
    "footprint": N_("what {thing} had covered"),
    "covered-nothing": N_("{thing} had covered nothing"),
    "entry": N_("{do}"),
    "entry-thing": N_("{do} {thing}"),
    "fact": N_("{name} of {things}"),
    "fastener": N_("what {letter} is"),
    "insert": N_("insert: {do}"),
    "insert-thing": N_("insert: {do} {thing}"),
    "isolates": N_("{thing} makes safe"),
    "isolates-not": N_("{thing} does not make safe"),
    "join": N_("join {other} to {thing}"),
    "letter": N_("letter {letter}"),
    "lift": N_("lift {thing}"),
    "limits": N_("limits of {thing}"),
    "mark": N_("mark {thing}"),
    "mark-and-release": N_("mark and release {kind}"),
    "mark-kind": N_("mark {kind}"),
    "mark-letter": N_("mark a group of {letter}"),
    "mark-more": N_("mark {count} {thing}"),
    "marks-to-letter": N_("{count} of {thing} are {letter}"),
    "move-mark": N_("move a mark of {thing}"),
    "move-marks": N_("move {count} marks to {thing}"),
    "move-view": N_("the moment of the photo {photo}"),
    "not-behind": N_("what {thing} is behind"),
    "note": N_("write a note"),
    "spoken-note": N_("speak a note"),
    "order": N_("tightening order of {thing}"),
    "other-way-thing": N_("{thing} was undone another way"),
    "outcome": N_("{thing} is {outcome}"),
    "pass": N_("what is said of pass {number}"),
    "parts": N_("{keys} of {things}"),
    "reach": N_("note {count} within reach"),
    "reach-area": N_("note an area within reach"),
    "release": N_("release {thing}"),
    "put-back": N_("put back: {do}"),
    "put-back-thing": N_("put back: {do} {thing}"),
    "go-back": N_("again until {text}"),
    "instruction": N_("instruction {name}"),
    "instruction-whole": N_("the instruction"),
    "add-procedure": N_("procedure {name}"),
    "delete-procedure": N_("delete procedure {name}"),
    "leave-out": N_("left out: {do}"),
    "leave-out-thing": N_("left out: {do} {thing}"),
    "check-failed": N_("failed: {do}"),
    "check-failed-thing": N_("failed: {do} {thing}"),
    "take-out-again-thing": N_("out again: {thing}"),
    "bolt-lost": N_("{count} {letter} lost"),
    "bolt-found": N_("{count} {letter} found"),
    "bolt-discarded": N_("{count} {letter} thrown away"),
    "rename": N_("call {thing} {name}"),
    "rename-tool": N_("call the tool {tool} {name}"),
    "renumber": N_("number {thing} anew"),
    "restore": N_("done after all: {do}"),
    "restore-thing": N_("done after all: {do} {thing}"),
    "reword": N_("another text: {do}"),
    "reword-thing": N_("another text: {do} {thing}"),
    "reuse": N_("{thing}: {reuse}"),
    "discard": N_("{thing}: what held it is thrown away"),
    "no-discard": N_("{thing}: what held it is kept"),
    "wait": N_("{thing} takes effect in {wait}"),
    "at-once": N_("{thing}: its last act at once"),
    "not-at-once": N_("{thing}: its last act when one likes"),
    "also": N_("{thing} with {tools} as well"),
    "no-also": N_("{thing} with no further tool"),
    "verb": N_("{thing}: {does}"),
    "add-act": N_("{thing}: a further act, with {tool}"),
    "remove-act": N_("{thing}: one act less"),
    "own-tool": N_("a tool of one's own, {name}"),
    "told-fact": N_("{thing}: {text}"),
    "also-ties": N_("{thing} holds {part} too"),
    "scale": N_("scale of the photo {photo}"),
    "seconds": N_("time of {thing}"),
    "set-kind": N_("{thing} is {kind}"),
    "set-letter": N_("{thing} is of letter {letter}"),
    "spare": N_("spares of {things}"),
    "split": N_("split {count} off {thing}"),
    "strike": N_("not done: {do}"),
    "strike-thing": N_("not done: {do} {thing}"),
    "swing": N_("swing open {thing}"),
    "swing-instead": N_("{thing} was swung open, not lifted"),
    "take-seen": N_("take over {count} seen on the photo"),
    "tie": N_("tie {thing} to {part}"),
    "tool": N_("{thing} by {tool}"),
    "type": N_("type of {thing}"),
    "unmark": N_("take a mark of {thing} away"),
    "part-is": N_("{thing} is: {part_kind}"),
    "way-before": N_("what could be done before {thing}"),
    "way-blocked": N_("in the way of {thing}: {by}"),
    "way-needless": N_("the way without {thing}"),
    "way-not-mine": N_("{thing} belongs to {part}"),
    "way-works": N_("the way to {thing} works"),
    "weigh": N_("weigh {thing}"),
}
ENTRIES = {"inspect": N_("inspected"), "clean": N_("cleaned"), "turn": N_("turned over"), "incident": N_("incident"),
           "measure": N_("measure"), "wait": N_("wait"), "heat": N_("heat"), "apply": N_("apply"), "note": N_("note"),
           "aid": N_("protection"), "reach": N_("within reach"), "release": N_("release"), "remove": N_("lift"),
           "loosen": N_("loosen"), "fit": N_("fit"), "fasten": N_("fasten")}
REUSES = {"reusable": N_("used again"), "renew": N_("to be renewed"), "destroyed": N_("destroyed")}
AIDS = {"protective film": N_("protective film"), "foam": N_("foam"), "dummy plug": N_("dummy plug"),
        "tape over terminals": N_("tape over terminals")}
KEYS = {"kind": N_("kind"), "name": N_("name"), "mass_g": N_("mass"), "hazards": N_("hazards"), "role": N_("role"),
        "model": N_("model"), "serial": N_("serial number"), "category": N_("category"), "variant": N_("variant"),
        "notes": N_("notes"), "by": N_("analyst"), "place": N_("bench"), "started": N_("begin")}


def entry_name(do: str) -> str:
    """What an entry of the log does."""
    return from_table(ENTRIES, do) if do in ENTRIES else do


def aid_name(what: str) -> str:
    return from_table(AIDS, what) if what in AIDS else what


def _figures(label: Label) -> dict[str, Any]:
    """The figures of a label with their names said."""
    found = dict(label.data)
    if "view" in found:  # as documents had it before
        found["photo"] = found["view"]
    for name in ("thing", "part", "other"):
        if isinstance(found.get(name), dict):
            found[name] = said(found[name])
    if "things" in found:
        things = found["things"]
        found["things"] = said(things[0]) if len(things) == 1 else tr("{0} parts").format(len(things))
    if "reuse" in found:
        found["reuse"] = from_table(REUSES, found["reuse"])
    if "part_kind" in found:
        found["part_kind"] = part_kind_name(found["part_kind"])
    if "by" in found:
        found["by"] = ", ".join(said(one) for one in found["by"])
    if "kind" in found:
        found["kind"] = kind_name(found["kind"], found.get("type", ""))
    if "do" in found:
        found["do"] = entry_name(found["do"])
    if "what" in found:
        found["what"] = aid_name(found["what"])
    if "tool" in found:
        found["tool"] = tool_text(found["tool"])
    if "tools" in found:
        found["tools"] = ", ".join(tool_text(tool) for tool in found["tools"])
    if "wait_s" in found:
        found["wait"] = span_text(found["wait_s"], found.get("to_s", 0))
    if "does" in found:
        found["does"] = of_data(found["does"]) if found["does"] else tr("as usual")
    if "outcome" in found:
        found["outcome"] = outcome_name(found["outcome"])
    if "method" in found:
        found["method"] = of_data(bond_methods()[found["method"]].name) if found["method"] in bond_methods() \
            else found["method"]
    if "keys" in found:
        found["keys"] = ", ".join(from_table(KEYS, key) if key in KEYS else key for key in found["keys"])
    if "criterion" in found:
        found["criterion"] = found["criterion"].replace("_", " ")
    return found


def label_text(label: Label) -> str:
    """As it reads after "Undo"; an older document's label is its words."""
    if label.code == TEXT:
        return label.data["text"]
    if label.code not in LABELS:  # of a newer program
        return label.code
    return from_table(LABELS, label.code, **_figures(label))


def recorded_text(label: Label) -> str:
    return tr("Recorded: {0}").format(label_text(label))


DONE = {"done": N_("Recorded: {0}"), "undone": N_("Taken back: {0}"), "redone": N_("Done again: {0}"),
        "paced": N_("Times are estimated anew")}


def change_text(kind: str, label: Label) -> str:
    """What the line under the photograph says after a change."""
    return tr(DONE[kind]).format(label_text(label))

