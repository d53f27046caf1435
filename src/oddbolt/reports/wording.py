"""Codes of the core in words for people: findings, evidence, operations. Shared by the window and the command line."""

from __future__ import annotations

from collections.abc import Iterable

from oddbolt.catalog.defaults import verb_of
from oddbolt.catalog.tables import caution, mark_kinds, tool_row
from oddbolt.model.things import Fastener, Joint, Teardown
from oddbolt.planning.bench import Operation, act_of
from oddbolt.planning.checks import Check
from oddbolt.planning.findings import Finding
from oddbolt.planning.structure import Structure
from oddbolt.scoring.evaluate import Evidence

SIDES = {"front": "front", "back": "back", "edge": "edge", "any": "either side"}

FINDINGS = {
    "never-free": "{thing} can never be taken off; what keeps it in: {others}",
    "never-clear": "{thing} is behind {others}, and nothing that can be lifted parts the two",
    "held-by-nothing": "nothing holds {thing}; a joint may be missing",
    "captive-isolator": "{thing} is marked as isolator but is captive, so it cannot make the device safe",
    "idle-isolator": "{thing} is marked as isolator but has no operation, so it cannot make the device safe",
    "no-isolator": "no isolator is recorded, so live acts cannot be counted; to be done dead: {others}",
    "tally-differs": "{thing}: {tally} screws were counted on this view and {marks} are marked",
    "marks-differ": "{thing}: the joint has {count} screws and {marks} are marked",
    "never-released": "{thing} was never released in the log",
    "left-on": "{others} was put on ({thing}) and never taken off",
    "first-met-at-refit": "{thing} is first met while putting back",
    "log-hidden": "{thing}: by the record this was still behind {others}",
    "log-tied": "{thing}: by the record this was still tied by {others}",
    "log-gone": "{thing}: {others} was off or open already",
    "log-way-order": "{thing}: the acts of {others} were not done in their order",
    "log-way-taken": "{thing}: another way to release {others} had been begun",
    "log-reach": "{thing}: within reach were {others}, but the record puts the first behind the others",
    "log-unknown": "{thing}: names a way or an act that is not there, or a thing that cannot be moved",
}


def name_of(teardown: Teardown, id_: str) -> str:
    """The name of a part, joint, view or log entry; what it is where it has none, else its id."""
    part, joint = teardown.part.get(id_), teardown.joint.get(id_)
    if part is not None:
        return part.name or ("the next part" if not part.kind and part.basis == "assumed" else part.id)
    if joint is None:
        return id_
    return joint.name or _joint_name(teardown, joint)


def _joint_name(teardown: Teardown, joint: Joint) -> str:
    """A joint that was marked and not named: "Cover, A", "Cell, plug"."""
    if joint.basis not in ("assumed", "seen") or not joint.of:
        return joint.id
    kinds = [row for row in mark_kinds().values()
             if row.kind == joint.kind and (not joint.type or joint.type in row.types)]
    what = joint.fastener or (kinds[0].name if kinds else joint.kind.capitalize())
    alike = joint.kind, joint.fastener, joint.of[:1]
    same = [j.id for j in teardown.joints if (j.kind, j.fastener, j.of[:1]) == alike]
    number = f" {same.index(joint.id) + 1}" if len(same) > 1 else ""
    return f"{name_of(teardown, joint.of[0])}, {what}{number}"


def names_of(teardown: Teardown, ids: tuple[str, ...] | list[str]) -> str:
    return ", ".join(name_of(teardown, id_) for id_ in ids) or "nothing"


def tool_name(teardown: Teardown, tool: str) -> str:
    own = next((t.name for t in teardown.tools if t.id == tool and t.name), "")
    return own or tool_row(tool).name


def finding_text(teardown: Teardown, finding: Finding) -> str:
    return FINDINGS[finding.code].format(thing=name_of(teardown, finding.thing),
                                         others=names_of(teardown, finding.others), **dict(finding.figures))


def fixing_text(teardown: Teardown, joint: Joint) -> str:
    """A joint in short: "4 A PH00", or its name."""
    if joint.kind == "screw" and joint.fastener:
        fastener = teardown.fastener[joint.fastener]
        number = "?" if joint.count is None else str(joint.count)
        return f"{number} {fastener.id} {fastener.drive}{fastener.size}".strip()
    return joint.name or joint.id


def operation_text(teardown: Teardown, structure: Structure, operation: Operation) -> str:
    """An operation as it would be read aloud."""
    if operation.part:
        return f"lift {name_of(teardown, operation.part)}"
    joint = teardown.joint[operation.joint]
    _, act = act_of(structure, operation)
    name = name_of(teardown, operation.joint)
    what = f"{fixing_text(teardown, joint)} ({name})" if joint.kind == "screw" and joint.fastener else name
    tool = "" if act.tool == "hand" else f" with {_in_sentence(tool_name(teardown, act.tool))}"
    return f"{verb_of(joint, act)} {what}{tool}"


def _in_sentence(name: str) -> str:
    return name[:1].lower() + name[1:]


def limit_text(teardown: Teardown, limit: object) -> str:
    """A protective limit of an act in words; keys it does not know are left out."""
    if not isinstance(limit, dict):
        return str(limit)
    words = [str(limit["where"])] if limit.get("where") else []
    for key, text in (("temp_c", "{0} °C"), ("angle_deg", "angle {0}°"), ("depth_mm", "{0} mm deep"),
                      ("hold_s", "hold {0} s"), ("lift_mm", "lift at most {0} mm")):
        if key in limit:
            value = limit[key]
            span = f"{value[0]:g} to {value[-1]:g}" if isinstance(value, list) and value else f"{value}"
            words.append(text.format(span))
    for keep in limit.get("keep_off", ()):
        if isinstance(keep, dict) and "thing" in keep:
            words.append(f"keep {keep.get('mm', '?')} mm off {name_of(teardown, keep['thing'])}")
    return ", ".join(words)


def duration_text(seconds: float) -> str:
    """A time without false digits: "12 s", "3 min 10", "1 h 05"."""
    if seconds < 10:
        return f"{seconds:.1f} s"
    if seconds < 60:
        return f"{seconds:.0f} s"
    minutes, rest = divmod(round(seconds), 60)
    if minutes < 60:
        return f"{minutes} min {rest:02d}" if rest else f"{minutes} min"
    return f"{minutes // 60} h {minutes % 60:02d}"


TOOL_CLASSES = {"none": "no tool", "basic": "basic tool", "supplied_with_part": "supplied with the spare",
                "supplied_with_product": "supplied with the product", "commercial": "commercially available",
                "proprietary": "proprietary", "unknown": "class not known"}


def evidence_text(teardown: Teardown, evidence: Evidence) -> str:
    things = names_of(teardown, evidence.things) if evidence.things else ""
    if evidence.code == "depth":
        return f"{evidence.value} steps, {evidence.basis}"
    if evidence.code == "fastener":
        return f"{evidence.value}: {things}" if things else f"{evidence.value}: nothing to undo"
    if evidence.code == "tool":
        tool = tool_name(teardown, evidence.things[0])
        return f"{tool}: {TOOL_CLASSES.get(evidence.value, evidence.value)}"
    if evidence.code == "answer":
        source = f", {evidence.things[0]}" if evidence.things and evidence.things[0] else ""
        return f"answered {evidence.value} ({evidence.basis}{source})"
    return {"unanswered": "not answered yet", "no-part": "no part has this role yet",
            "absent": "not in this device",
            "answer-not-understood": f"the answer {evidence.value} does not fit this criterion",
            "never-free": f"cannot be taken off; kept in by {things}"}[evidence.code]


ROLES = {"battery": "Battery", "display": "Display", "back_cover": "Back cover", "front_camera": "Front camera",
         "rear_camera": "Rear camera", "charging_port": "Charging port", "button": "Button",
         "microphone": "Microphone", "speaker": "Speaker"}


def role_name(role: str) -> str:
    return ROLES.get(role, role.replace("_", " ").capitalize())


CHECKS = {
    "live": "{0} was opened live: the device is not safe yet",
    "count-short": "{0}: {marks:g} marked, {count:g} counted; is one under a label?",
    "solvent-beside-heat": "{0}: solvent while something is still hot. Vapour can catch fire; let it cool first",
}


def check_text(check: Check, name: str) -> str:
    return CHECKS[check.code].format(name, **dict(check.figures))


def fastener_text(fastener: Fastener) -> str:
    """A fastener type in a line: "A: PH00 M1.4 x 3, pan, black"."""
    size = f"{fastener.thread} x {fastener.length_mm:g}" if fastener.length_mm else fastener.thread
    words = [f"{fastener.drive}{fastener.size} {size}".strip(), fastener.head, fastener.colour]
    return f"{fastener.id}: {', '.join(word for word in words if word)}"


CAUTIONS_FIRST = "Local codes, the maker's service instructions and licensed practice come first."


def caution_texts(hazards: Iterable[str]) -> list[str]:
    """Cautions for hazard words, each once; a word the catalogue does not know stands for itself."""
    texts = []
    for hazard in dict.fromkeys(hazards):
        row = caution(hazard)
        limit = f" {row.limit} ({row.source})." if row and row.limit else ""
        texts.append(f"{row.text}{limit}" if row else f"Hazard: {hazard}.")
    return texts
