"""Refusals in words: what cannot be taken in, and what to do about it. The only place where they are worded."""

from __future__ import annotations

from typing import Any

from oddbolt.instruments.protocols import InstrumentFault
from oddbolt.model.refusal import Refusal
from oddbolt.words.names import said
from oddbolt.words.translate import N_, from_table

# Code -> reason, advice. Figures in braces come from the refusal.
REASONS = {
    "after-what-is-later": N_('"{id}" does not stand before it in the file'),
    "amends-itself": N_("an entry cannot amend itself"),
    "bad-correction": N_("this correction of a table cannot be read ({error})"),
    "base-on-nothing": N_("the base lies on nothing"),
    "base-stays": N_("the base stays on the mat"),
    "behind-itself": N_('"{id}" is behind itself'),
    "below": N_("the number is below {least} ({value})"),
    "choose-marks": N_("choose marks of another group of the same kind"),
    "changed-elsewhere": N_("another program has written to this document; it was read anew, and the act was not kept"),
    "document-damaged": N_("the document is damaged ({where})"),
    "document-not-made": N_("the document cannot be made ({error})"),
    "document-unreadable": N_("the document cannot be read ({error})"),
    "empty-file": N_("the file is empty"),
    "empty-note": N_("Nothing is typed"),
    "exchange-not-repaired": N_("this is an exchange file, not a working document: import it, and what is wrong in it "
                                "is said with its place"),
    "file-exists": N_("there is a file already"),
    "folder-exists": N_("there is something already"),
    "bad-matches": N_("this is no file of matches"),
    "bad-learner": N_("this is no file of a learner"),
    "bad-voice": N_("this is no file of a learned voice"),
    "no-such-section": N_('"{section}" is no section of a report'),
    "cannot-come-off": N_('"{id}" cannot be taken off'),
    "file-not-writable": N_("the file cannot be written to ({error})"),
    "file-too-large": N_("the file has {megabytes} MB, more than the {most} MB that are read"),
    "folder-not-writable": N_("the folder cannot be written to ({error})"),
    "group-keeps-one": N_("a group keeps at least one"),
    "groups-differ": N_("only groups of one kind and letter can be joined"),
    "half-a-character": N_("the text holds half a character, which cannot be written"),
    "half-released": N_("one of the groups is released and the other is not"),
    "head-too-small": N_("by the scale what is marked is {mm} mm across, and no head is under {least:g} mm"),
    "hand-in-group": N_("the bare hand cannot be in a group"),
    "id-taken": N_('the id "{id}" is taken already by {by}'),
    "is-a-folder": N_("this is a folder, not a file"),
    "journal-left": N_("another program was broken off while it wrote, and nothing can be written here to mend that"),
    "kind-not-said": N_("of something that is ticked nobody has said what it is: press its kind, or untick it"),
    "key-missing": N_("this key is missing; every {noun} needs it"),
    "key-twice": N_('the key "{key}" stands twice in one object'),
    "leads-elsewhere": N_("this is a link that leads elsewhere"),
    "length-out-of-range": N_("{value:g} mm cannot be"),
    "letter-taken": N_("this letter is taken"),
    "lies-on-itself": N_('"{id}" lies, in the end, on itself'),
    "no-words": N_("nothing was said of it"),
    "of-which-part": N_("of which part is that? Point at it, or choose it, and say it again"),
    "no-such-wait": N_("a wait is no less than nothing"),
    "first-act": N_("the first act follows nothing"),
    "only-act": N_("a way, or a lift, needs one act"),
    "waits-when-off": N_("the part is off with this act: nothing is left to wait for"),
    "acts-beside-tool": N_("the acts stand in place of tool, also, does and active_s, not beside them"),
    "act-in-the-log": N_("the log names its acts by their numbers; correct the entry first"),
    "needs-a-name": N_("it needs a name"),
    "needs-the-acts": N_("it has no such way or act"),
    "no-such-view": N_('there is no view "{id}"'),
    "moved-away": N_("the document is no longer where it was opened"),
    "negative": N_("the number is negative ({value})"),
    "newer-layout": N_("the document has layout {layout}, this program knows up to {known}"),
    "newer-version": N_("the file has version {version}, this program reads up to {known}"),
    "nothing-ticked": N_("nothing that was seen is ticked"),
    "no-acts": N_("the list is empty; a way needs at least one act"),
    "no-base": N_('there is no part "{id}"'),
    "no-file-of-data": N_("this is a device or a pipe, not a file"),
    "no-fastener": N_('there is no fastener "{id}"'),
    "needs-name": N_("it needs a name"),
    "procedure-in-use": N_("it is used by {by}"),
    "no-procedure": N_('there is no procedure "{id}"'),
    "no-label": N_('no earlier entry has the label "{id}"'),
    "goes-on-from-itself": N_('the procedure "{id}" would be done within itself'),
    "no-file-name": N_('"{name}" is no name for a file'),
    "no-figure": N_("a figure has a name and a value"),
    "no-length-unit": N_('"{unit}" is no unit of length'),
    "no-log-entry": N_('there is no log entry "{id}"'),
    "no-mass-unit": N_('"{unit}" is no unit of mass'),
    "no-number": N_('"{text}" is no number'),
    "no-numbered-screws": N_("no photograph shows these screws with numbers"),
    "no-part": N_('there is no part "{id}"'),
    "no-photo-of-bolts": N_("no photograph shows these bolts"),
    "no-scale": N_("the photograph has no scale yet"),
    "no-screw-length": N_("{value:g} is no length of a screw"),
    "no-such-entry": N_("there is no such entry"),
    "no-such-file": N_("there is no such file"),
    "no-such-letter": N_("there is no such letter"),
    "no-such-mark": N_("the photograph has no such mark"),
    "no-such-method": N_("there is no such scoring method"),
    "no-such-part": N_('there is no part "{id}"'),
    "no-such-thing": N_('there is no part or joint "{id}"'),
    "not-a-document": N_("this database is not an Odd Bolt document"),
    "not-a-point": N_("expected a list of two numbers"),
    "not-a-teardown": N_('this is not an Odd Bolt teardown (expected "oddbolt-teardown")'),
    "not-an-exchange-object": N_("expected an object, found {found}"),
    "not-finite": N_("the number is not finite"),
    "not-in-variant": N_('variant "{variant}" does not have "{id}"'),
    "gone-back-enough": N_("it was gone back {number} times, as often as the instruction allows"),
    "not-so-many": N_("there are only {number} of them"),
    "count-first": N_("how many screws there are is not known"),
    "not-json": N_("not JSON: {error} in line {line}, column {column}"),
    "not-json-value": N_("not JSON: {error}"),
    "not-lifted": N_("it was not lifted"),
    "blocked-by-nothing": N_("nothing was said to be in its way"),
    "part-needs-itself": N_("the part itself has to come off"),
    "not-on": N_("it is not on"),
    "not-utf8": N_("this is not a text file in UTF-8 (byte {byte})"),
    "not-written": N_("the change could not be written ({error})"),
    "nothing-open": N_("no teardown is open"),
    "nothing-whole": N_("nothing of the record can be read any more ({error})"),
    "no-release": N_("this is no release"),
    "no-screws": N_("these are no screws"),
    "not-struck": N_("it is not struck out"),
    "number-out-of-range": N_("{value:g} cannot be"),
    "number-too-large": N_("the number is beyond anything that is meant here"),
    "text-too-long": N_("the text has {number} characters"),
    "too-many-entries": N_("with the procedures that it does it has {number} entries"),
    "too-many-keys": N_("the object has {number} keys"),
    "numbered-once": N_("each mark of the group is numbered once"),
    "off-already": N_("{called} is off or open already"),
    "older-layout": N_("the document has an older layout"),
    "open-elsewhere": N_("it is open in another window"),
    "opened-for-reading": N_("the document was opened for reading only"),
    "overwritten": N_("another program has put something else in its place ({error})"),
    "photo-damaged": N_("the photograph {name} is damaged"),
    "split-some": N_("a group is split by choosing some of its marks, not none and not all"),
    "struck-already": N_("it is struck out already"),
    "ties-already": N_("it ties {called} already"),
    "ties-itself": N_("a joint ties a part to something else"),
    "ties-too-few": N_("a joint ties two parts or more"),
    "too-deep": N_("the JSON is nested too deeply to be a teardown"),
    "too-long": N_("{number} characters are too many"),
    "tool-in-group": N_('the tool "{id}" is in a group already'),
    "torque-above-zero": N_("a torque is a number above zero"),
    "figure-above-zero": N_("a number above zero is needed"),
    "heating-order": N_("the start ({start:g} °C) must be below the release ({release:g} °C), that below the source "
                        "({source:g} °C), and no source is hotter than {most:g} °C here"),
    "learning-too-far": N_("a curve is not followed to repetition {value:g}; it holds up to {most:g}"),
    "learning-too-few": N_("too few repetitions for a learning curve: {number}"),
    "learning-unlike": N_("{number} passes have too few timed acts in common for a learning curve"),
    "no-layers": N_("a wall has one layer or more"),
    "not-lumped": N_("the layer is too thick to be of one temperature (Biot number {biot:.2f})"),
    "time-above-zero": N_("a time is a number of seconds above zero"),
    "unknown-material": N_('"{text}" is not known here'),
    "no-such-opinion": N_("there is no opinion {number}"),
    "mark-out-of": N_("a mark of {mark:g} needs a whole that is as large ({of:g} is not)"),
    "bad-method": N_("the method cannot be used: {why}"),
    "method-id": N_('the method calls itself "{id}"; a file is found by its name'),
    "method-name-twice": N_('two criteria are called "{name}", or one has no name'),
    "method-weights": N_("the weights add up to {sum:.3g}, not to 1"),
    "method-scale": N_("the scale has no length"),
    "method-order": N_("the rows do not go one way"),
    "method-gap": N_("nothing is said of what lies from {low:g} to {high:g}"),
    "method-outside": N_("{points:g} points lie outside the scale, {low:g} to {high:g}"),
    "method-no-scale": N_("the measure has no table that gives points"),
    "method-no-parts": N_("no priority parts are named"),
    "method-taken": N_('a method "{id}" is here already'),
    "no-points-scale": N_('"{text}" is no scale'),
    "no-pair": N_('"{text}" is no name with a figure'),
    "cannot-write": N_("it cannot be written: {error}"),
    "method-shipped": N_("a shipped method is not changed; copy it first"),
    "twice-in-joint": N_('"{id}" stands twice in one joint'),
    "unit-not-wanted": N_('"{unit}" does not belong there'),
    "unknown-recess": N_('"{text}" is no recess that is known'),
    "unknown-strength-class": N_("this strength class is not known"),
    "unknown-thread": N_("this thread is not known"),
    "unknown-torque-unit": N_("this unit of torque is not known"),
    "unknown-word": N_('"{word}" is not known here'),
    "unreadable": N_("it cannot be read ({error})"),
    "unwritable": N_("it cannot be written ({error})"),
    "wrong-kind": N_("expected {expected}, found {found}"),
}
ADVICE = {
    "head-too-small": N_("Mark the middle of a head, or set the scale right (;)"),
    "changed-elsewhere": N_("Look at it as it is now, then do it again"),
    "document-damaged": N_("File, Repair makes a new document of what is whole; this one is left as it is"),
    "file-not-writable": N_("Copy the file to where it can be written to"),
    "journal-left": N_("Copy the document and {journal} together to where can be written, and open the copy"),
    "moved-away": N_("Put it back under its name, or export what is shown"),
    "overwritten": N_("Export what is shown; it is not lost as long as this window is open"),
    "nothing-open": N_("Begin one in Prepare, or open one"),
    "opened-for-reading": N_("File, Repair makes a document of it that can be worked with"),
    "photo-damaged": N_("Take it in again from the camera, or go on without it"),
    "bad-correction": N_("Mend the file, or move it away to go on with the shipped table"),
    "after-what-is-later": N_("Name an earlier entry"),
    "base-on-nothing": N_("Leave the key out"),
    "document-unreadable": N_("It may be damaged; use a copy or the exchange file"),
    "file-exists": N_("Choose another name"),
    "bad-learner": N_("Move it away, or take another name"),
    "bad-voice": N_("Delete it, and teach the voice again"),
    "bad-matches": N_("Move it away; a new one is made with the next correction"),
    "folder-exists": N_("Choose a name that is not taken, or an empty folder"),
    "no-such-section": N_("Use some of {known}"),
    "folder-not-writable": N_("Copy the file first"),
    "group-keeps-one": N_("Join the groups instead"),
    "half-released": N_("Release both or neither, then join"),
    "hand-in-group": N_("Use hand_is_tool"),
    "id-taken": N_("Give it another id"),
    "key-twice": N_("Keep one of them"),
    "length-out-of-range": N_("Enter a length above zero, at most {most:g} mm"),
    "lies-on-itself": N_("Break the circle"),
    "newer-layout": N_("Open it with a newer Odd Bolt"),
    "newer-version": N_("Open it with a newer Odd Bolt"),
    "nothing-ticked": N_("Tick what was done, or Esc leaves it all"),
    "no-acts": N_("Leave the key out for one act by hand"),
    "no-base": N_("Name the part that stays put"),
    "no-file-name": N_("Write a name without a slash that does not begin with a point"),
    "no-figure": N_("Write it like: capacity 7900 mAh"),
    "no-length-unit": N_("Write mm, or in for inches"),
    "no-mass-unit": N_("Write g, mg or kg"),
    "no-number": N_("Write it like 1.57 or 1,57"),
    "no-numbered-screws": N_("Mark them on a photograph in the Log"),
    "no-photo-of-bolts": N_("Mark them on a photograph"),
    "no-scale": N_("Set it in the Log: Measure, two points or a card"),
    "no-screw-length": N_("Enter mm above zero, at most {most:g}"),
    "no-such-method": N_("Use one of {known}"),
    "no-such-part": N_("odd-bolt access FILE lists the parts"),
    "not-an-exchange-object": N_("Is this an Odd Bolt exchange file?"),
    "not-finite": N_("Write a finite number or leave the key out"),
    "count-first": N_("Enter the number: in the Log, or in Parts"),
    "not-written": N_("Nothing of it was kept; free some space or check the disk, then try again"),
    "half-a-character": N_("Write it again; it comes from a program that cut a text in two"),
    "number-too-large": N_("Keep it to {most:g} at most"),
    "text-too-long": N_("Keep it to {most} at most"),
    "too-many-keys": N_("Keep it to {most} at most"),
    "number-out-of-range": N_("Enter a number from {least:g} to {most:g}"),
    "off-already": N_("Take the act back if it was logged by mistake"),
    "older-layout": N_("Open it once in the window"),
    "open-elsewhere": N_("Close it there first"),
    "ties-itself": N_("Choose the part that comes off"),
    "too-long": N_("Write {most} at most; a note may be longer"),
    "unit-not-wanted": N_("Write the number only"),
    "unknown-recess": N_("Use one of {known}"),
    "unknown-strength-class": N_("Use one of {known}"),
    "unknown-thread": N_("Write it like M1.6"),
    "unknown-material": N_("Use one of {known}"),
    "no-points-scale": N_("Write it like 0 to 10"),
    "no-pair": N_("Write it like 3: 10; 6: 8; more: 0"),
    "learning-too-few": N_("Time {least} teardowns of the model or more"),
    "learning-unlike": N_("Take passes that time the same acts; leave the others out"),
    "not-lumped": N_("Use the layers instead; it holds up to {most:g}"),
    "unknown-torque-unit": N_("Use one of {known}"),
    "unknown-word": N_("Use one of {known}"),
}
KINDS_OF_VALUE = {"null": N_("null"), "flag": N_("true or false"), "number": N_("a number"), "text": N_("a text"),
                  "list": N_("a list"), "object": N_("an object"), "whole-number": N_("a whole number"),
                  "flag-or-text": N_("true, false or a text"), "flag-or-list": N_("true, false or a list of texts"),
                  "flag-or-ids": N_("true, false or a list of part ids")}
NOUNS = {"act": N_("act"), "answer": N_("answer"), "device": N_("device"), "fact": N_("fact"),
         "fastener": N_("fastener"), "joint": N_("joint"), "log-entry": N_("log entry"), "mark": N_("mark"),
         "object": N_("object"), "footprint": N_("footprint"),
         "confirmed-way": N_("confirmed way"), "pair": N_("pair"), "told-way": N_("told way"), "opinion": N_("opinion"),
         "part": N_("part"), "sub-mark": N_("mark within an opinion"),
         "pass": N_("pass"), "plane": N_("plane"),
         "refit-entry": N_("refit entry"), "use": N_("use of material"), "tightening": N_("round of tightening"),
         "repeat": N_("repetition"), "keep-off": N_("place to keep off"), "procedure": N_("procedure"),
         "settings": N_("settings object"), "spare": N_("spare"),
         "teardown": N_("teardown"), "tool": N_("tool"), "view": N_("view"), "way": N_("way")}
# Paths of refusals that are fields of a form or verbs, not places in a file.
FIELDS = {"mass": N_("mass"), "figure": N_("figure"), "drive": N_("drive"), "torque": N_("torque"),
          "thread": N_("thread"), "unit": N_("unit"), "class": N_("class"), "mat": N_("mat"), "name": N_("name"),
          "diameter_mm": N_("outer diameter"), "pitch_mm": N_("pitch"), "length_mm": N_("length"),
          "head_mm": N_("head diameter"), "head_height_mm": N_("head height"), "across_mm": N_("recess across")}


def _figures(refusal: Refusal) -> dict[str, Any]:
    found = dict(refusal.data)
    for name in ("expected", "found"):
        if name in found:
            found[name] = from_table(KINDS_OF_VALUE, found[name])
    if "noun" in found:
        found["noun"] = from_table(NOUNS, found["noun"])
    if "called" in found:
        found["called"] = said(found["called"])
    if "known" in found and isinstance(found["known"], (list, tuple)):
        found["known"] = ", ".join(found["known"])
    return found


def reason_text(refusal: Refusal) -> str:
    """Why, without the place and the advice."""
    return from_table(REASONS, refusal.code, **_figures(refusal))


def advice_text(refusal: Refusal) -> str:
    """What to do; empty where nothing can be advised."""
    return from_table(ADVICE, refusal.code, **_figures(refusal)) if refusal.code in ADVICE else ""


def place_text(refusal: Refusal) -> str:
    if "called" in refusal.data:
        return ""
    return from_table(FIELDS, refusal.path) if refusal.path in FIELDS else refusal.path


def refusal_text(refusal: Refusal) -> str:
    """The whole of it: where, why, what to do."""
    place, reason, advice = place_text(refusal), reason_text(refusal), advice_text(refusal)
    told = f"{place}: {reason}" if place else reason
    return f"{told}. {advice}" if advice else told


def at_field_text(refusal: Refusal) -> str:
    """Below the field that it is about: why, and what to do, as sentences."""
    advice = advice_text(refusal)
    return f"{reason_text(refusal)}. {advice}." if advice else f"{reason_text(refusal)}."


FAULTS = {"camera": N_("The camera does not answer; check its cable"),
          "scale": N_("The scale does not answer; check its cable"),
          "thermometer": N_("The thermometer does not answer; check its cable"),
          "torque-driver": N_("The torque driver does not answer; check its cable"),
          "microphone": N_("The microphone does not answer; check its cable and the sound settings of the system"),
          "strap": N_("The strap tester does not answer; check its cable"),
          "watched-folder": N_("The watched folder is not there any more")}


def fault_text(fault: InstrumentFault) -> str:
    """What an instrument's failure comes to; a driver's own words where it has some."""
    return fault.told or from_table(FAULTS, fault.instrument)
