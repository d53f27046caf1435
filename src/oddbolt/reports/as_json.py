"""What the command line answers, as plain JSON values with stable keys (docs/format.md, "The command line")."""

from __future__ import annotations

from typing import Any

from oddbolt.catalog.drivers import Advice
from oddbolt.catalog.screws import Identified
from oddbolt.model.things import Settings
from oddbolt.rules.counting import Timed
from oddbolt.rules.device_state import act_of, is_last_act
from oddbolt.rules.policies import Breach
from oddbolt.scoring.evaluate import Ground, Verdict, assumed_on, tools_of
from oddbolt.search.planner import STEPS, Plan, Planner
from oddbolt.studies.replacement import Replacement
from oddbolt.studies.retelling import known_of, like

JsonObject = dict[str, Any]


def convention_json(settings: Settings) -> JsonObject:
    return {"hand_is_tool": settings.hand_is_tool, "tool_groups": [list(group) for group in settings.tool_groups],
            "own_step": list(settings.own_step), "each_tool": settings.each_tool,
            "isolate_first": settings.isolate_first, "tool_change_s": settings.tool_change_s,
            "turn_s": settings.turn_s}


def operation_json(planner: Planner, timed: Timed) -> JsonObject:
    operation = timed.operation
    if operation.part:
        what: JsonObject = {"op": "remove", "part": operation.part}
    else:
        what = {"op": "release", "joint": operation.joint, "way": operation.way, "act": operation.act}
    return {**what, "tool": timed.tool, "side": timed.kind.side, "step": timed.step,
            "start_s": timed.start_ms / 1000, "active_s": timed.kind.active_ms / 1000,
            "wait_s": timed.kind.wait_ms / 1000}


def plan_json(planner: Planner, plan: Plan) -> JsonObject:
    """The fields that `access` and `sequence` share."""
    if not plan.feasible:
        return {"feasible": False, "blocked_by": list(plan.blocked_by)}
    counted = plan.count
    structure = planner.structure
    released = [t.operation for t in counted.timed if is_last_act(structure, t.operation)]
    removed = [t.operation.part for t in counted.timed if t.operation.part]
    ways = [(operation.joint, act_of(structure, operation)[0]) for operation in released]
    hazards = {h for _, way in ways for h in way.hazards}
    hazards.update(h for part in removed for h in structure.removals[part].part.hazards)
    in_steps = plan.objective == STEPS
    return {"feasible": True, "optimal": plan.optimal, "steps": counted.steps,
            "lower_bound": plan.lower_bound if in_steps else plan.lower_bound / 1000, "time_s": counted.time_ms / 1000,
            "live_acts": counted.live_acts, "parts_removed": removed,
            "joints_released": [operation.joint for operation in released], "tools": tools_of(planner, plan),
            "renewals": [joint for joint, way in ways if way.reuse != "reusable"], "hazards": sorted(hazards),
            "assumed": assumed_on(planner, plan), "known": known_of(like(planner), planner, plan),
            "operations": [operation_json(planner, timed) for timed in counted.timed],
            **({"breaches": [breach_json(b) for b in plan.breaches]} if planner.policies else {})}


def breach_json(breach: Breach) -> JsonObject:
    return {"policy": breach.policy, "things": list(breach.things), "temp_c": breach.temp_c}


def replace_json(replacement: Replacement) -> JsonObject | None:
    few, many = replacement.few, replacement.many
    if not (few.feasible and many.feasible):
        return None
    return {"targets": list(replacement.targets), "steps": [few.count.steps, many.count.steps],
            "time_s": [few.count.time_ms / 1000, many.count.time_ms / 1000]}


def access_json(planner: Planner, objective: str, parts: list[JsonObject]) -> JsonObject:
    return {"format": "oddbolt-access", "version": 1, "objective": objective,
            "convention": convention_json(planner.convention.settings), "parts": parts}


def sequence_json(planner: Planner, plan: Plan, cannot: tuple[str, ...]) -> JsonObject:
    return {"format": "oddbolt-sequence", "version": 1, "objective": plan.objective,
            "convention": convention_json(planner.convention.settings), "targets": list(plan.targets),
            "cannot": list(cannot), **plan_json(planner, plan)}


def evidence_json(evidence: Ground) -> JsonObject:
    return {"code": evidence.code, "things": list(evidence.things), "value": evidence.value, "basis": evidence.basis,
            **({"known": evidence.known} if evidence.known else {})}


def assess_json(verdict: Verdict) -> JsonObject:
    method = verdict.method
    return {
        "format": "oddbolt-assessment", "version": 1, "method": method.id, "name": method.name,
        "source": method.source, "edition": method.edition, "convention": convention_json(verdict.convention),
        "index": [round(value, method.decimals) for value in verdict.index], "classes": list(verdict.classes),
        "firm": verdict.is_firm, "assumed": list(verdict.assumed), "known": dict(verdict.known),
        "criteria": [{"criterion": score.criterion.id, "weight": score.criterion.weight,
                      "points": [round(value, 4) for value in score.points], "rule": score.criterion.rule,
                      "confidence": score.criterion.confidence,
                      "evidence": [evidence_json(e) for e in score.evidence],
                      "parts": [{"role": part.role, "part": part.part, "weight": part.weight,
                                 "points": list(part.points), "fails": part.fails,
                                 "evidence": [evidence_json(e) for e in part.evidence]} for part in score.parts]}
                     for score in verdict.criteria],
        "unknowns": [{"criterion": u.criterion, "role": u.role, "spread": round(u.spread, 4)}
                     for u in verdict.unknowns],
    }


def identify_json(found: Identified, advice: Advice | None) -> dict[str, Any]:
    """The answer of `identify screw --json`."""
    row: dict[str, Any] = {
        "format": "oddbolt-identify", "version": 1,
        "candidates": [{"name": c.name, "family": c.family, "odds": round(c.odds, 4), "pitch_mm": c.pitch_mm,
                        "source": c.source, "confidence": c.confidence,
                        "heads": [{"form": form, "source": source} for form, source in c.heads]}
                       for c in found.candidates],
        "sizes": [{"size": size, "odds": round(odds, 4)} for size, odds in found.sizes],
        "length_step_mm": found.length_step_mm, "next_reading": found.next_reading or None,
        "doubt": None if found.doubt is None else {"field": found.doubt.field, "value": found.doubt.value,
                                                   "marking": found.doubt.marking, "measure": found.doubt.measure}}
    if advice is not None:
        row["driver"] = {"tool": advice.tool, "class_2023_1670": advice.class_2023_1670,
                         "class_en45554": advice.class_en45554, "size_unconfirmed": advice.size_unconfirmed,
                         "second": [m.driver for m in advice.second], "strips": [m.driver for m in advice.strips]}
    return row
