"""Operations in words, what stands in their way, their limits and cautions, and what they are kept to."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

from oddbolt.catalog.defaults import verb_of
from oddbolt.catalog.policies import cell_limit_c
from oddbolt.catalog.tables import caution
from oddbolt.model.things import HAND, Act, Teardown
from oddbolt.rules.counting import Count
from oddbolt.rules.device_state import Obstacle, Operation, act_of, acts_with
from oddbolt.rules.policies import APART, CELL, Breach
from oddbolt.rules.structure import Structure
from oddbolt.words.figures import duration_text, span_text, steps_text
from oddbolt.words.lengths import figure_text, unit
from oddbolt.words.names import fixing_text, name_of, names_of, tool_name
from oddbolt.words.times import time_text
from oddbolt.words.translate import N_, from_table, of_data, tr, within

if TYPE_CHECKING:
    from oddbolt.studies.policy_cost import Price

OBSTACLES = {"hidden": N_("Still behind {0}"), "tied": N_("Still tied by {0}"), "gone": N_("Off or open already"),
             "way-taken": N_("Another way has been begun"),
             "way-order": N_("Begun already; its acts go on in their order"),
             "unknown": N_("Not on record as something that can be moved")}
LIMITS = {"temp_c": N_("{0} °C"), "angle_deg": N_("angle {0}°"), "depth_mm": N_("{0} deep"),
          "hold_s": N_("hold {0} s"), "lift_mm": N_("lift at most {0}")}


def operation_text(teardown: Teardown, structure: Structure, operation: Operation) -> str:
    """An operation as it would be read aloud."""
    act = act_of(structure, operation)
    if operation.part:
        return lift_text(teardown, operation.part, act, is_only=len(acts_with(structure, operation)) == 1)
    joint = teardown.joint[operation.joint]
    name = name_of(teardown, operation.joint)
    what = f"{fixing_text(teardown, joint)} ({name})" if joint.kind == "screw" and joint.fastener else name
    verb = of_data(verb_of(joint, act))
    if act.tool == HAND:
        return tr("{0} {1}").format(verb, what)
    return tr("{0} {1} with {2}").format(verb, what, within(tool_name(teardown, act.tool)))


def lift_verb(act: Act) -> str:
    """What is done in an act of a lift; what nobody wrote down is lifting."""
    return of_data(act.does) if act.does else tr("lift")


def lift_text(teardown: Teardown, part: str, act: Act, *, is_only: bool) -> str:
    """An act of a lift as it would be read aloud: with what, where the lift has several."""
    name = name_of(teardown, part)
    if is_only:
        return tr("lift {0}").format(name)
    if act.tool == HAND:
        return tr("{0} {1} by hand").format(lift_verb(act), name)
    return tr("{0} {1} with {2}").format(lift_verb(act), name, within(tool_name(teardown, act.tool)))


def act_text(teardown: Teardown, thing: str, act: Act) -> str:
    """An act as it stands in the strip of what is in hand: tool, verb, further tools, wait."""
    joint = teardown.joint.get(thing)
    verb = of_data(verb_of(joint, act)) if joint is not None else lift_verb(act)
    words = [tr("{0}: {1}").format(tool_name(teardown, act.tool), verb)]
    words += [tr("+ {0}").format(within(tool_name(teardown, tool))) for tool in act.also]
    if act.wait_s:
        words.append(tr("wait {0}").format(span_text(act.wait_s, act.wait_to_s)))
    return " · ".join(words)


def short_operation(teardown: Teardown, operation: Operation) -> str:
    """An operation as it stands on a bar: what it is about."""
    if operation.part:
        return name_of(teardown, operation.part)
    joint = teardown.joint[operation.joint]
    return fixing_text(teardown, joint) if joint.kind == "screw" else name_of(teardown, operation.joint)


def obstacle_text(teardown: Teardown, obstacle: Obstacle) -> str:
    """What stands in the way of an operation."""
    return tr(OBSTACLES[obstacle.code]).format(names_of(teardown, obstacle.things))


def limit_text(teardown: Teardown, limit: object) -> str:
    """A protective limit of an act in words; keys it does not know are left out."""
    if not isinstance(limit, dict):
        return str(limit)
    words = [str(limit["where"])] if limit.get("where") else []
    for key, text in LIMITS.items():
        if key in limit:
            value = limit[key]
            words.append(tr(text).format(_span(value, is_length=key.endswith("_mm"))))
    for keep in limit.get("keep_off", ()):
        if isinstance(keep, dict) and "thing" in keep:
            distance = _span(keep.get("mm", "?"), is_length=True)
            words.append(tr("keep {0} off {1}").format(distance, name_of(teardown, keep["thing"])))
    return ", ".join(words)


def _span(value: Any, *, is_length: bool) -> str:
    """A figure of a limit, or from and to; what is none is shown as it is."""
    ends = (value[0], value[-1]) if isinstance(value, list) and value else (value,)
    if any(type(end) not in (int, float) for end in ends):
        return str(value)
    shown = [figure_text(end) if is_length else f"{end:g}" for end in ends]
    text = tr("{0} to {1}").format(*shown) if len(shown) > 1 else shown[0]
    return f"{text} {unit()}" if is_length else text


def cautions_first() -> str:
    return tr("Local codes, the maker's service instructions and licensed practice come first.")


def caution_texts(hazards: Iterable[str]) -> list[str]:
    """Cautions for hazard words, each once; a word the catalogue does not know stands for itself."""
    texts = []
    for hazard in dict.fromkeys(hazards):
        row = caution(hazard)
        if row is None:
            texts.append(tr("Hazard: {0}.").format(hazard))
        elif row.limit:
            texts.append(tr("{0} {1} ({2}).").format(of_data(row.text), of_data(row.limit), of_data(row.source)))
        else:
            texts.append(of_data(row.text))
    return texts


def comes_to(counted: Count) -> str:
    """What a counted sequence comes to: "38 steps, 32 min 04, 2 live"."""
    told = f"{steps_text(counted.steps)}, {time_text(counted)}"
    return tr("{0}, {1} live").format(told, counted.live_acts) if counted.live_acts else told


def breach_text(teardown: Teardown, breach: Breach) -> str:
    """Where a sequence breaks a policy, and how."""
    names = [name_of(teardown, thing) for thing in breach.things]
    if breach.policy == CELL:
        return tr("{0}: heated to {1:g} °C beside a cell, above {2:g} °C").format(
            names[0], breach.temp_c, cell_limit_c())
    if breach.policy == APART:
        return tr("{0} and {1}: solvent and heat at the same time").format(names[0], names[-1])
    return tr("{0}: destroyed when it is released").format(names[0])


def price_text(price: Price) -> str:
    """What keeping to a policy costs."""
    if price.steps > 0 and price.time_ms > 0:
        told = tr("costs {0} and {1}").format(steps_text(price.steps), duration_text(price.time_ms / 1000))
    elif price.steps > 0 or price.time_ms > 0:
        told = tr("costs {0}").format(steps_text(price.steps) if price.steps > 0
                                      else duration_text(price.time_ms / 1000))
    else:
        told = tr("costs nothing")
    return told if price.proven else tr("{0}, as far as is known").format(told)


REMARKS = {"isolates": N_("makes the device safe"), "live": N_("done live"), "destroyed": N_("destroyed"),
           "renew": N_("renew"), "assumed": N_("assumed")}


def remark_text(code: str) -> str:
    return from_table(REMARKS, code)
