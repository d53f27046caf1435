"""What was heard and what can be said, in words."""

from __future__ import annotations

from concurrent.futures.process import BrokenProcessPool

from msgspec.structs import replace

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.hearing.grammar import Grammar, Said, Slot
from oddbolt.hearing.listener import Heard, NoListener
from oddbolt.model.things import Teardown
from oddbolt.session.modes import Gesture
from oddbolt.session.speaking import sentences as code
from oddbolt.session.speaking.dialogue import Turn
from oddbolt.session.typed_line import NotUnderstood, understand
from oddbolt.ui.log.echo import parsed_text, problem_text
from oddbolt.ui.log.keys import WORDS
from oddbolt.words.names import name_of, outcome_name, tool_name
from oddbolt.words.translate import N_, of_data, sentence, tr

PLAIN = {code.YES: N_("Yes"), code.NO: N_("No"), code.UNDO: N_("Take back what was done last"),
         code.REDO: N_("Do again what was taken back"), code.NOTE: N_("A spoken note")}
# What sentences of one kind are for, in the order in which they are listed.
HEADS = {code.LINE: N_("What is undone and lifted"), code.GESTURE: N_("What the keys do"),
         code.OUTCOME: N_("What came of it"), code.ANSWER: N_("Answers"), code.TICK: N_("What was seen"),
         code.NAME: N_("What it is"), code.TYPE: N_("What was undone there"), code.LETTER: N_("Which screws"),
         code.POINT: N_("What is meant"), code.WHOSE: N_("Of what is chosen"), code.CUTS: N_("What it cuts"),
         code.WAIT: N_("How long it takes effect"), code.TOOL: N_("With what"), code.CHOOSE: N_("Choosing"),
         code.WAY: N_("Ways"), code.YES: N_("Yes"), code.NO: N_("No"), code.UNDO: N_("Taking back"),
         code.REDO: N_("Taking back"), code.NOTE: N_("Notes")}
NAMES = {"count": N_("number"), "letter": N_("letter"), "owner": N_("part"), "thing": N_("part or joint"),
         "kind": N_("kind"), "place": N_("number"), "minutes": N_("number"), "seconds": N_("number"),
         "tool": N_("tool"), "recess": N_("recess"), "degrees": N_("degrees"), "method": N_("how"),
         "type": N_("type"), "source": N_("source"), "role": N_("role")}
FEW = 6  # phrases of a slot that are all written down


def heard_text(teardown: Teardown, said: Said) -> str:
    """A sentence as it would count. Raises NotUnderstood for a line that means nothing on this record."""
    tokens = said.tokens
    if said.code == code.LINE:
        return parsed_text(teardown, understand(teardown, " ".join(tokens.values())))
    if said.code in PLAIN:
        return tr(PLAIN[said.code])
    if said.code == code.GESTURE:
        words = sentence(tr(WORDS[Gesture(tokens["gesture"])]))
        return tr("{0}: {1}").format(tokens["place"], words) if "place" in tokens else words
    if said.code == code.ANSWER:
        return sentence(tr(WORDS[Gesture(tokens["answer"])]))
    if said.code == code.OUTCOME:
        return tr("What came of it: {0}").format(outcome_name(tokens["outcome"]))
    if said.code == code.TOOL:
        return tr("With: {0}").format(tool_name(teardown, tokens["tool"]))
    if said.code == code.CHOOSE:
        return tr("Choose number {0}").format(tokens["place"]) if "place" in tokens \
            else tr("Choose {0}").format(name_of(teardown, tokens["thing"]))
    if said.code in (code.POINT, code.WAY):
        name = name_of(teardown, tokens["thing"])
        return tr("It is {0}").format(name) if said.code == code.POINT else tr("The way to {0}").format(name)
    return _about_text(said)


def _about_text(said: Said) -> str:
    tokens = said.tokens
    if said.code == code.WAIT:
        return tr("It takes {0} min").format(tokens["minutes"]) if "minutes" in tokens \
            else tr("It takes {0} s").format(tokens["seconds"])
    if said.code == code.TICK:
        return tr("Tick number {0}, or not").format(tokens["place"])
    if said.code in (code.NAME, code.WHOSE, code.TYPE):
        kind = mark_kinds()[tokens["kind"]] if said.code == code.TYPE else part_kinds()[tokens["kind"]]
        what = tr("It belongs to: {0}") if said.code == code.WHOSE else tr("It is: {0}")
        text = what.format(of_data(kind.name))
    elif said.code == code.LETTER:
        text = tr("Screws {0}").format(tokens["letter"])
    else:
        text = sentence(" ".join(said.words))
    return tr("{0}: {1}").format(tokens["place"], text) if "place" in tokens else text


def refused_text(problem: NotUnderstood, said: Said) -> str:
    return problem_text(problem, " ".join(said.tokens.values()))


def that_can_be(teardown: Teardown, heard: Heard) -> tuple[Heard, str]:
    """Without a line that means nothing on this record; and why the first of the two does not."""
    refused = ""
    for name in ("said", "other"):
        said = getattr(heard, name)
        if said is not None and said.code == code.LINE:
            try:
                heard_text(teardown, said)
            except NotUnderstood as problem:
                refused = refused or (refused_text(problem, said) if name == "said" else "")
                heard = replace(heard, **{name: None})
    return heard, refused


def sayable(grammar: Grammar) -> list[tuple[str, list[str]]]:
    """Headings with the sentences that can be said now; a slot of many phrases by what it is."""
    found: dict[str, list[str]] = {}
    for kind, head in HEADS.items():
        lines = [_line(pattern.slots) for pattern in grammar.patterns if pattern.code == kind]
        if kind == code.GESTURE:
            lines = [phrase for pattern in grammar.patterns if pattern.code == kind and len(pattern.slots) == 1
                     for phrase in pattern.slots[0].phrases]
        found.setdefault(tr(head), []).extend(dict.fromkeys(lines))
    return [(head, lines) for head, lines in found.items() if lines]


def _line(slots: tuple[Slot, ...]) -> str:
    words = []
    for slot in slots:
        if not slot.phrases:
            continue
        few = tr(" or ").join(slot.phrases) if len(slot.phrases) <= FEW and slot.name not in NAMES else ""
        word = few or tr("‹{0}›").format(tr(NAMES[slot.name]) if slot.name in NAMES else slot.name)
        words.append(tr("[{0}]").format(word) if slot.optional else word)
    return " ".join(words)


def slots_of(grammar: Grammar) -> list[tuple[str, list[str]]]:
    """What stands for each slot that is only named in the sentences."""
    found: dict[str, dict[str, None]] = {}
    for pattern in grammar.patterns:
        for slot in pattern.slots:
            if slot.name in NAMES and slot.name not in ("count", "place", "minutes", "seconds", "degrees"):
                found.setdefault(tr(NAMES[slot.name]), {}).update(dict.fromkeys(slot.phrases))
    return [(name, list(phrases)) for name, phrases in found.items()]



def turn_text(teardown: Teardown, turn: Turn, heard: Heard) -> str | None:
    """What became of a sentence; None where what is said of the act itself is enough."""
    if turn is Turn.NOTHING:
        return tr("Not understood; say it once more")
    if turn is Turn.WAITS and heard.said is not None:
        return heard_text(teardown, heard.said)
    if turn is Turn.ASKS and heard.said is not None:
        first = heard_text(teardown, heard.said)
        return tr("{0}? Yes, no; or, answer two: {1}").format(first, heard_text(teardown, heard.other)) \
            if heard.other is not None else tr("{0}? Yes or no").format(first)
    return {Turn.TAKEN_BACK: tr("Taken back"), Turn.DROPPED: tr("Not that; say it once more")}.get(turn)


def no_listener_text(fault: NoListener | BrokenProcessPool) -> str:
    """How the recogniser is added, which is not there or has died."""
    return tr("Speaking needs the extra “voice”: run setup/voice in the folder of Odd Bolt, then begin again. {0}"
              ).format(fault.told if isinstance(fault, NoListener) else "").strip()
