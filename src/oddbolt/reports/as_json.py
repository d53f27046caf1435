"""What the command line answers, as plain JSON values with stable keys (docs/format.md, "The command line")."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

from oddbolt.catalog.drivers import Advice
from oddbolt.catalog.screws import Identified
from oddbolt.effort.learning import LearningCurve
from oddbolt.effort.pace import Pace
from oddbolt.effort.sums import Interval, time_of
from oddbolt.model.shapes import write_record
from oddbolt.model.things import Settings
from oddbolt.reassembly.rebuilding.jobs import Job, replacing
from oddbolt.reassembly.rebuilding.putting_back import Step
from oddbolt.reassembly.tightening import torque_ncm
from oddbolt.rules.counting import Timed
from oddbolt.rules.device_state import acts_with, releases, removes, way_of
from oddbolt.rules.policies import Breach
from oddbolt.rules.times import Estimate
from oddbolt.scoring.evaluate import Verdict, assumed_on, letters_of
from oddbolt.scoring.measures.looking import Ground, tools_of
from oddbolt.scoring.method import PROFILE, Method
from oddbolt.search.planner import STEPS, Plan, Planner
from oddbolt.studies.replacement import replacement
from oddbolt.studies.retelling import known_of, like

if TYPE_CHECKING:
    from oddbolt.comparing.analysts import Agreed, Orders
    from oddbolt.comparing.criteria import OnCriterion
    from oddbolt.comparing.devices import Row

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
        if len(acts_with(planner.structure, operation)) > 1:
            what["act"] = operation.act  # of a lift in several acts; it is off with the last
    else:
        what = {"op": "release", "joint": operation.joint, "way": operation.way, "act": operation.act}
    return {**what, "tool": timed.tool, "side": timed.kind.side, "step": timed.step,
            "start_s": timed.start_ms / 1000, "active_s": timed.kind.active_ms / 1000,
            "active_interval_s": [round(timed.known.low_s, 1), round(timed.known.high_s, 1)],
            "time_basis": timed.known.basis,
            "wait_s": timed.kind.wait_ms / 1000}


def plan_json(planner: Planner, plan: Plan) -> JsonObject:
    """The fields that `access` and `sequence` share."""
    if not plan.feasible:
        return {"feasible": False, "blocked_by": list(plan.blocked_by)}
    counted = plan.count
    structure = planner.structure
    released = [t.operation for t in counted.timed if releases(structure, t.operation)]
    removed = [t.operation.part for t in counted.timed if removes(structure, t.operation)]
    ways = [(operation.joint, way_of(structure, operation)) for operation in released]
    hazards = {h for _, way in ways for h in way.hazards}
    hazards.update(h for part in removed for h in structure.removals[part].part.hazards)
    in_steps = plan.objective == STEPS
    return {"feasible": True, "optimal": plan.optimal, "steps": counted.steps,
            "lower_bound": plan.lower_bound if in_steps else plan.lower_bound / 1000, "time_s": counted.time_ms / 1000,
            "time_interval_s": interval_json(time_of(counted)),
            "live_acts": counted.live_acts, "parts_removed": removed,
            "joints_released": [operation.joint for operation in released], "tools": tools_of(planner, plan),
            "renewals": [joint for joint, way in ways if way.reuse != "reusable"], "hazards": sorted(hazards),
            "assumed": assumed_on(planner, plan), "known": known_of(like(planner), planner, plan),
            "operations": [operation_json(planner, timed) for timed in counted.timed],
            **({"breaches": [breach_json(b) for b in plan.breaches]} if planner.policies else {})}


def interval_json(interval: Interval) -> list[float]:
    return [round(interval.low_s, 1), round(interval.high_s, 1)]


def breach_json(breach: Breach) -> JsonObject:
    return {"policy": breach.policy, "things": list(breach.things), "temp_c": breach.temp_c}


def replace_json(planner: Planner, part: str, objective: str) -> JsonObject | None:
    """What a replacement takes; few and many where it is not told what the spare brings along."""
    found = replacement(planner, part, objective)
    few, many, back = found.few, found.many, replacing(planner, part)
    if not (few.feasible and many.feasible) or back is None:
        return None
    return {"targets": list(found.targets), "steps": [few.count.steps, many.count.steps],
            "time_s": [few.count.time_ms / 1000, many.count.time_ms / 1000],
            "back_time_s": [round(job.time.seconds, 1) for job in (back.few, back.many)],
            "back_time_interval_s": [interval_json(job.time) for job in (back.few, back.many)],
            "back_untimed": [job.untimed for job in (back.few, back.many)]}


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
        "format": "oddbolt-assessment", "version": 1, "method": method.id, "name": method.name, "kind": method.kind,
        "source": method.source, "edition": method.edition, "convention": convention_json(verdict.convention),
        "index": None if method.kind == PROFILE else [_rounded(value, method.decimals) for value in verdict.index],
        "unit": method.unit, "classes": list(verdict.classes), "fails": list(verdict.fails), "firm": verdict.is_firm,
        "over_all": _standing_json(verdict), "assumed": list(verdict.assumed), "known": dict(verdict.known),
        "criteria": [{"criterion": score.criterion.id, "weight": score.criterion.weight,
                      "points": [_rounded(value, 4) for value in score.points], "letters": list(score.letters),
                      "fails": score.fails, "rule": score.criterion.rule, "confidence": score.criterion.confidence,
                      "evidence": [evidence_json(e) for e in score.evidence],
                      "parts": [{"role": part.role, "part": part.part, "weight": part.weight,
                                 "points": [_rounded(value, 4) for value in part.points], "fails": part.fails,
                                 "letters": list(letters_of(score.criterion, part.points)),
                                 "evidence": [evidence_json(e) for e in part.evidence]} for part in score.parts]}
                     for score in verdict.criteria],
        "unknowns": [{"criterion": u.criterion, "role": u.role, "spread": round(u.spread, 4)}
                     for u in verdict.unknowns],
    }


def _rounded(value: float, decimals: int) -> float | None:
    """A figure of an answer; null where there is none."""
    return None if math.isnan(value) else round(value, decimals)


def _standing_json(verdict: Verdict) -> JsonObject | None:
    """How far a verdict holds, and what could move it."""
    standing = verdict.standing
    if standing is None:
        return None
    decimals = verdict.method.decimals
    return {"index": [_rounded(value, decimals) for value in standing.index], "classes": list(standing.classes),
            "worlds": standing.worlds, "all_worlds": standing.exact,
            "moves": [{"kind": move.source.kind, "criterion": move.source.criterion, "role": move.source.role,
                       "things": list(move.source.things), "name": move.source.name,
                       "index": [round(value, 4) for value in move.index], "classes": list(move.classes),
                       "spread": round(move.spread, 4), "bits": round(move.bits, 4), "share": round(move.share, 4),
                       "given": move.is_given} for move in standing.moves]}


def methods_json(methods: Iterable[Method]) -> JsonObject:
    return {"format": "oddbolt-methods", "version": 1, "methods": [
        {"method": one.id, "name": one.name, "kind": one.kind, "source": one.source, "edition": one.edition,
         "categories": list(one.categories), "own": one.is_own, "unconfirmed": list(one.unconfirmed)}
        for one in methods]}


def estimate_json(one: Estimate) -> JsonObject:
    return {"seconds": round(one.seconds, 2), "interval_s": [round(one.low_s, 2), round(one.high_s, 2)],
            "basis": one.basis, "source": one.source, "readings": one.readings}


def effort_json(planner: Planner, rows: Iterable[tuple[str, str, Estimate]], ways: Iterable[tuple[str, Interval]],
                paces: Mapping[str, Pace], curve: LearningCurve | None) -> JsonObject:
    return {"format": "oddbolt-effort", "version": 1, "convention": convention_json(planner.convention.settings),
            "acts": [{"thing": thing, "verb": verb, **estimate_json(one)} for thing, verb, one in rows],
            "ways": [{"part": part, "time_s": round(took.seconds, 1), "time_interval_s": interval_json(took),
                      "basis": took.basis, "shares": {basis: round(share, 3) for basis, share in took.shares}}
                     for part, took in ways],
            "pace": [{"verb": pace.verb, "ratio": round(pace.ratio, 4), "interval": [round(pace.low, 4),
                                                                                   round(pace.high, 4)],
                      "readings": pace.readings, "shrunk": pace.is_shrunk} for pace in paces.values()],
            "learning": None if curve is None else {
                "model": "wright-unit", "first_s": round(curve.first_s, 1), "rate": round(curve.rate, 4),
                "rate_interval": [round(curve.rate_low, 4), round(curve.rate_high, 4)],
                "passes": curve.repetitions}}


def procedure_json(planner: Planner, job: Job) -> JsonObject:
    """The answer of `procedure --to json`: torques in N·cm, times in seconds."""
    return {
        "format": "oddbolt-procedure", "version": 1, "device": planner.teardown.device.name, "part": job.part or None,
        "way_in": None if job.way_in is None else plan_json(planner, job.way_in),
        "steps": [_step_json(step) for step in job.plan.steps],
        "closes_live": list(job.plan.closes_live), "displaced": list(job.plan.displaced),
        "unplaced": [write_record(entry) for entry in job.plan.unplaced], "is_feasible": job.plan.is_feasible,
        "items": [{"material": one.material, "kind": one.kind, "qty": one.qty, "unit": one.unit, "supply": one.supply,
                   "for": list(one.things)} for one in job.shopping.items],
        "discards": [{"thing": one.thing, "apart": one.rule.name if one.rule is not None else None}
                     for one in job.shopping.discards],
        "time_s": round(job.time.seconds, 1), "time_interval_s": interval_json(job.time), "untimed": job.untimed}


def agreement_json(files: Sequence[str], found: Iterable[Agreed], order: Iterable[Orders],
                   criteria: Iterable[OnCriterion] = ()) -> JsonObject:
    """The answer of `agree --json`; null where a figure is not defined."""
    def figure(value: float) -> float | None:
        return None if math.isnan(value) else round(value, 6)

    return {"format": "oddbolt-agreement", "version": 1, "files": list(files),
            "matters": [{"matter": one.matter, "metric": one.alpha.metric, "alpha": figure(one.alpha.value),
                         "interval": [figure(one.alpha.low), figure(one.alpha.high)], "mark": one.alpha.mark,
                         "pairable": one.alpha.pairable, "names": list(one.names)} for one in found],
            "orders": [{"one": one.one, "other": one.other, "common": one.common, "tau_b": figure(one.tau),
                        "p": figure(one.p)} for one in order],
            "criteria": [{"method": one.method, "criterion": one.criterion.id, "roles": list(one.roles),
                          "points": [list(row) for row in one.points], "metric": one.alpha.metric,
                          "alpha": figure(one.alpha.value), "interval": [figure(one.alpha.low), figure(one.alpha.high)],
                          "kappa": None if one.kappa is None else figure(one.kappa.value),
                          "kappa_interval": None if one.kappa is None else [figure(one.kappa.low),
                                                                            figure(one.kappa.high)]}
                         for one in criteria]}


def comparison_json(names: Sequence[str], convention: Settings, rows: Iterable[Row]) -> JsonObject:
    """The answer of `compare --json`: `why` of each device but the first."""
    return {"format": "oddbolt-comparison", "version": 1, "devices": list(names),
            "convention": convention_json(convention), "roles": [{
                "role": row.role,
                "reached": [None if one is None else {
                    "part": one.part, "steps": one.steps, "time_s": None if one.time is None else round(
                        one.time.seconds, 1),
                    "time_interval_s": None if one.time is None else interval_json(one.time)} for one in row.reached],
                "why": [None if found is None else {
                    "difference": found.difference, "remainder": found.remainder,
                    "causes": [{"side": cause.side, "thing": cause.thing, "what": cause.what, "steps": cause.steps}
                               for cause in found.causes]} for found in row.why]} for row in rows]}


def _step_json(step: Step) -> JsonObject:
    torques = [ncm for one in (step.refit.passes if step.refit is not None else ()) if (ncm := torque_ncm(one))]
    return {"do": step.do, "thing": step.thing or None, "reason": step.reason, "live": step.is_live,
            "new": step.is_new, "forced": step.is_forced, "torque_ncm": round(torques[-1], 3) if torques else None,
            "instruction": None if step.refit is None else write_record(step.refit)}


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
