"""Codes of the core in words for people: findings, evidence, operations. Shared by the window and the command line."""

from __future__ import annotations

from collections.abc import Iterable

from oddbolt.catalog.components import Expected, components
from oddbolt.catalog.defaults import verb_of
from oddbolt.catalog.drivers import Advice, Mismatch
from oddbolt.catalog.policies import cell_limit_c
from oddbolt.catalog.screws import Identified, LikelyScrew
from oddbolt.catalog.tables import caution, mark_kinds, tool_row
from oddbolt.catalog.torque import TorqueCheck
from oddbolt.knowledge.findings import Finding
from oddbolt.knowledge.warnings import Alert
from oddbolt.model.things import Fastener, Joint, Teardown
from oddbolt.reassembly.bolts import LookAlike, Swap
from oddbolt.reassembly.inventory import Order
from oddbolt.reassembly.net import Cycles, Tether
from oddbolt.reassembly.tightening import TighteningPlan
from oddbolt.rules.device_state import Obstacle, Operation, act_of
from oddbolt.rules.policies import APART, CELL, Breach
from oddbolt.rules.structure import Structure
from oddbolt.scoring.evaluate import Ground
from oddbolt.studies.firmness import Firmness
from oddbolt.studies.policy_cost import Price
from oddbolt.studies.whatif import Outcome

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


def evidence_text(teardown: Teardown, evidence: Ground) -> str:
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


def check_text(check: Alert, name: str) -> str:
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


KINDS_OF_SCREW = {"forming": "thread-forming screw for plastic (no standard)",
                  "none": "none of these (shoulder screw, standoff, something else)"}
READINGS = {"diameter_mm": "the outer diameter", "pitch_mm": "the pitch (turns over a length)",
            "head_mm": "the head diameter"}


def candidate_name(candidate: LikelyScrew) -> str:
    if candidate.name in KINDS_OF_SCREW:
        return KINDS_OF_SCREW[candidate.name]
    return f"{candidate.name} x {candidate.pitch_mm:g}" if candidate.family != "inch" else candidate.name


def odds_text(odds: float) -> str:
    """Odds without false digits: "94 %", "less than 1 %"."""
    return "less than 1 %" if odds < 0.01 else f"{min(99, round(odds * 100))} %" if odds < 0.995 else "over 99 %"


def next_reading_text(found: Identified) -> str:
    """What to do to tell the first two apart."""
    if len(found.candidates) < 2 or found.candidates[0].odds > 0.97:
        return "Nothing more needs to be measured."
    first, second = (candidate_name(c) for c in found.candidates[:2])
    if found.next_reading:
        return f"Measure {READINGS[found.next_reading]}: it tells {first} from {second}."
    return f"No calliper reading tells {first} from {second}; try a known nut, or look at the thread under a lens."


def driver_text(advice: Advice) -> str:
    """The driver in a line, with its class."""
    size = " (size not confirmed by a standard)" if advice.size_unconfirmed else ""
    both = TOOL_CLASSES[advice.class_2023_1670] if advice.class_2023_1670 == advice.class_en45554 else \
        f"{TOOL_CLASSES[advice.class_2023_1670]} by (EU) 2023/1670, {TOOL_CLASSES[advice.class_en45554]} by EN 45554"
    return f"{advice.drive.name} driver {advice.drive.code}{advice.size}{size}: {both}"


def mismatch_text(mismatch: Mismatch) -> str:
    if mismatch.text:
        return f"{mismatch.driver}: {mismatch.text}"
    return f"{mismatch.driver}: one size too small; it turns in the recess and rounds it."


def identified_lines(found: Identified, advice: Advice | None) -> list[str]:
    """An identification as lines of text."""
    lines = [f"{odds_text(c.odds):>14}  {candidate_name(c)}" + (f"  [{c.source}; confidence {c.confidence}]" if c.source
                                                               else "") for c in found.candidates]
    if found.length_step_mm is not None:
        lines.append(f"length: {found.length_step_mm:g} mm")
    if found.sizes:
        lines.append("recess size: " + ", ".join(f"{size} {odds_text(odds)}" for size, odds in found.sizes[:3]))
    lines.append(next_reading_text(found))
    if advice is not None:
        lines.append(f"driver: {driver_text(advice)}")
        lines += [f"second choice: {mismatch_text(m)}" for m in advice.second]
        lines += [f"strips: {mismatch_text(m)}" for m in advice.strips]
        if advice.drive.note:
            lines.append(f"note: {advice.drive.note}")
    lines.append("Odds rest on what is usual as well as on what was measured.")
    return lines


TORQUES = {"impossible": "impossible: {thread} of class 8.8 breaks at {breaking}",
           "breaking": "above what breaks it: {thread} of class 8.8 breaks at {breaking}",
           "above-usual": "more than {thread} is tightened to ({tightening} at 90 % of yield)",
           "plausible": "plausible", "low": "very low for {thread} ({tightening} would be 90 % of yield)"}


def torque_text(check: TorqueCheck, thread: str) -> str:
    """The judgement of a torque in words, with the slip that would explain it."""
    text = TORQUES[check.verdict].format(thread=thread, breaking=newton_text(check.breaking_nm),
                                         tightening=newton_text(check.tightening_nm[1]))
    if check.slips:
        text += f"; was it {check.slips[0]}?"
    return text


def newton_text(torque_nm: float) -> str:
    """A torque in the unit it is read in: below one newton-metre in newton-centimetres."""
    return f"{torque_nm * 100:.2g} N·cm" if torque_nm < 1 else f"{torque_nm:.3g} N·m"


SWAPS = {"too-long": "{letter} in the holes of {holes_of} goes {mm:g} mm too deep{parts}",
         "too-short": "{letter} in the holes of {holes_of} holds on {mm:g} mm less thread",
         "other-thread": "{letter} cuts or jams in the thread of {holes_of}",
         "loose": "{letter} finds no hold in the holes of {holes_of}"}
TELLS_APART = {"length_mm": "measure the length: {mm:g} mm apart", "head_mm": "measure the head: {mm:g} mm apart",
               "thread": "measure the outer diameter: {mm:g} mm apart", "": "nothing on record tells them apart"}


def swap_text(teardown: Teardown, swap: Swap) -> str:
    parts = f", into {names_of(teardown, swap.parts)}" if swap.parts else ""
    return SWAPS[swap.code].format(letter=swap.letter, holes_of=swap.holes_of, mm=swap.mm, parts=parts)


def tells_apart_text(pair: LookAlike) -> str:
    return TELLS_APART[pair.measure].format(mm=pair.difference_mm)


def tether_text(teardown: Teardown, tether: Tether) -> str:
    """What is still tied to what, and by which plugs."""
    plugs = names_of(teardown, tether.link.joints)
    return f"{name_of(teardown, tether.part)} is still tied to {name_of(teardown, tether.to)} by {plugs}"


def connector_lines(teardown: Teardown, joint_id: str, cycles: Cycles | None) -> list[str]:
    """A connector in words: how it opens, what breaks, its mating."""
    joint = teardown.joint[joint_id]
    if cycles is None or cycles.type is None:
        return [f"{name_of(teardown, joint_id)}: {joint.type or joint.kind}"]
    row = cycles.type
    low, high = row.cycles
    usual = f"usual {low} to {high} matings ({row.source}, {row.confidence})" if high else ""
    counted = f"opened {cycles.opened}, closed {cycles.closed} times here"
    return [f"{name_of(teardown, joint_id)}: {row.name}, {row.direction}. {row.opens}", f"What breaks: {row.breaks}",
            "; ".join(text for text in (counted, usual) if text) + "."]


WHY_RENEW = {"renew": "is renewed", "destroyed": "was destroyed", "damaged": "was damaged", "lost": "was lost",
             "never-refit": "never goes back used"}


def order_text(teardown: Teardown, order: Order) -> str:
    supplied = ", comes with the spare" if order.supplied else ""
    return f"{name_of(teardown, order.thing)}: {WHY_RENEW[order.why]}{supplied}"


def expected_name(one: Expected) -> str:
    """What was expected, by the catalogue's name of the kind."""
    known = components().get(one.id)
    return known.name if known is not None else one.id[:1].upper() + one.id[1:]


LEVELS = {"started": "all started, loosely", "tight": "tight"}
ORDERS = {"refit": "as the refit says", "order": "in the given order", "crosswise": "crosswise; no order is on record"}


def tightening_text(teardown: Teardown, plan: TighteningPlan) -> str:
    """A plan of tightening in words; a round in another order than the one shown names its marks by their numbers."""
    shown = plan.rounds[-1].order
    lines = [f"{name_of(teardown, plan.joint)}, {ORDERS[plan.source]}:"]
    for number, one in enumerate(plan.rounds, start=1):
        torque = f" to {one.torque:g} {one.unit}" if one.torque is not None else ""
        order = "in the order shown" if one.order == shown else f"marks {', '.join(map(str, one.order))}"
        lines.append(f"{number}. {LEVELS.get(one.level, one.level)}{torque}, {order}")
    return "\n".join([*lines, "The maker's instructions come first."])


OBSTACLES = {"hidden": "Still behind {0}", "tied": "Still tied by {0}", "gone": "Off or open already",
             "way-taken": "Another way has been begun", "way-order": "Begun already; its acts go on in their order"}


def obstacle_text(teardown: Teardown, obstacle: Obstacle) -> str:
    """What stands in the way of an operation."""
    return OBSTACLES[obstacle.code].format(names_of(teardown, obstacle.things))


def short_operation(teardown: Teardown, operation: Operation) -> str:
    """An operation as it stands on a bar: what it is about."""
    if operation.part:
        return name_of(teardown, operation.part)
    joint = teardown.joint[operation.joint]
    return fixing_text(teardown, joint) if joint.kind == "screw" else name_of(teardown, operation.joint)


def number_text(number: int) -> str:
    """A count that may be huge, without false digits."""
    if number < 10_000:
        return str(number)
    power = len(str(number)) - 1
    return f"about {number / 10 ** power:.1f} x 10^{power}" if power < 300 else f"more than 10^{power}"


CHANGES = {"gone": "without {thing}", "pull-tab": "{thing} with pull tabs",
           "cross-recess": "{thing} with a cross recess", "in-front": "{thing} moved in front",
           "halved": "{thing} with half the screws", "part-gone": "without {thing}",
           "one-type": "all screws with one driver"}


def change_text(teardown: Teardown, kind: str, thing: str) -> str:
    """A change of the device in words; `thing` is empty for the whole device."""
    told = CHANGES[kind].format(thing=name_of(teardown, thing) if thing else "")
    return told[:1].upper() + told[1:]


def outcome_lines(teardown: Teardown, outcome: Outcome) -> list[str]:
    """What a change would do: the change, then each part."""
    lines = [change_text(teardown, outcome.kind, outcome.thing)]
    if outcome.second:
        second = change_text(teardown, *outcome.second)
        lines = [f"{lines[0]} and {second[:1].lower()}{second[1:]}"]
    if outcome.second:
        lines.append(f"  together {outcome.steps} steps over all parts; by themselves {outcome.singly}")
    for effect in outcome.effects:
        steps = effect.steps[1] - effect.steps[0]
        seconds = (effect.time_ms[1] - effect.time_ms[0]) / 1000
        sign = "−" if seconds < 0 else "+"
        count = f"{steps:+d} steps, ".replace("-", "−") if steps else ""
        lines.append(f"  {name_of(teardown, effect.part)}: {count}{sign}{duration_text(abs(seconds))}")
    return lines


def firmness_lines(teardown: Teardown, firm: Firmness) -> list[str]:
    """How firm a depth is: the range, and what matters for it."""
    low, high = firm.steps
    steps = f"{low} steps" if low == high else f"{low} to {high} steps"
    times = [duration_text(ms / 1000) for ms in firm.time_ms]
    time = times[0] if times[0] == times[1] else f"{times[0]} to {times[1]}"
    lines = [f"{name_of(teardown, firm.part)}: {steps}, {time}" + (", firm" if firm.is_firm else "")]
    lines += [f"  what {name_of(teardown, thing)} is behind moves it by {by:g} steps" for thing, by in firm.matters]
    if firm.stuck:
        lines.append(f"  in {firm.stuck} of {firm.worlds} cases it could not be freed")
    return lines


def breach_text(teardown: Teardown, breach: Breach) -> str:
    """Where a sequence breaks a policy, and how."""
    names = [name_of(teardown, thing) for thing in breach.things]
    if breach.policy == CELL:
        return f"{names[0]}: heated to {breach.temp_c:g} °C beside a cell, above {cell_limit_c():g} °C"
    if breach.policy == APART:
        return f"{names[0]} and {names[-1]}: solvent and heat at the same time"
    return f"{names[0]}: destroyed when it is released"


def price_text(price: Price) -> str:
    """What keeping to a policy costs."""
    more = []
    if price.steps > 0:
        more.append("1 step" if price.steps == 1 else f"{price.steps} steps")
    if price.time_ms > 0:
        more.append(duration_text(price.time_ms / 1000))
    told = f"costs {' and '.join(more)}" if more else "costs nothing"
    return told if price.proven else f"{told}, as far as is known"
