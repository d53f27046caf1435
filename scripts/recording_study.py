"""How well a record made by an ordinary analyst ends in the truth: tables for docs/methods/access.md.

From the root: .venv/bin/python -m scripts.recording_study [--devices N] [--held-out] [--without answers]
With --retold the analyst looks at the ways afterwards: a curve against rounds and acts, and how well the labels hold.
"""

from __future__ import annotations

import argparse
from collections import defaultdict
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from typing import Any

from msgspec import Struct

from oddbolt.knowledge.guesses import Guesses
from oddbolt.studies.retelling import KNOWN
from scripts.study.analyst import WATCHED, Analyst
from scripts.study.archetypes import HELD_OUT, TUNED_ON, device
from scripts.study.mended import FACTS, mended
from scripts.study.retelling import ASKED, OTHER, SELF, Reteller, Tally
from scripts.study.score import Part, judge, share

GIVEN_BACK = {**{f"only {fact}": {fact} for fact in FACTS},
              **{f"all but {fact}": set(FACTS) - {fact} for fact in FACTS}, "all": set(FACTS)}


class Outcome(Struct, kw_only=True):
    """One device, recorded."""

    archetype: int
    acts: int
    operations: int
    recorded: list[Part]  # as it was recorded
    ceiling: list[Part]  # all that is on record as it truly is; what was forgotten stays forgotten
    given_back: dict[str, list[Part]]  # with some facts as they truly are


Job = tuple[int, tuple[int, ...], frozenset[str], int]  # seed, archetypes, what is left out, lifts a photograph
LEFT_OUT = ("answers", "footprints")


def work(job: Job) -> Outcome:
    seed, archetypes, without, photographs = job
    hidden = device(seed, archetypes)
    done = Analyst(hidden, seed, answers="answers" not in without, footprints="footprints" not in without,
                   photographs=photographs).record()
    itself = {one: one for one in hidden.things}
    return Outcome(archetype=hidden.archetype, acts=done.acts, operations=done.operations,
                   recorded=judge(hidden, done.teardown, done.hidden_of),
                   ceiling=judge(hidden, hidden.truth(done.forgotten), itself),
                   given_back={name: judge(hidden, mended(hidden, done.teardown, done.hidden_of, facts), done.hidden_of)
                               for name, facts in GIVEN_BACK.items()})


def study(seeds: Sequence[int], archetypes: tuple[int, ...], processes: int = 2,
          without: frozenset[str] = frozenset(), photographs: int = 0) -> list[Outcome]:
    """Devices with these seeds, each recorded once; `without` leaves answers or footprints out; `photographs`: after
    so many lifts one says what they had covered."""
    jobs = [(seed, archetypes, without, photographs) for seed in seeds]
    if processes < 2:
        return [work(job) for job in jobs]
    with ProcessPoolExecutor(processes) as pool:
        return list(pool.map(work, jobs, chunksize=4))


def table(outcomes: Sequence[Outcome]) -> list[str]:
    """By archetype and in all."""
    by: dict[str, list[Outcome]] = defaultdict(list)
    for outcome in outcomes:
        by[f"{outcome.archetype}"].append(outcome)
    by["all"] = list(outcomes)
    heads = ("archetype", "parts", "strict", "exact", "on record", "never free", "signed error", "ceiling",
             "acts an operation")
    lines = [f"| {' | '.join(heads)} |", "|---" * len(heads) + "|"]
    for name, some in by.items():
        parts = [part for outcome in some for part in outcome.recorded]
        ceiling = [part for outcome in some for part in outcome.ceiling]
        off = [part.steps - part.true_steps for part in parts if part.steps is not None]
        lines.append(
            f"| {name} | {len(parts)} | {share(sum(p.is_strict for p in parts), len(parts))} | "
            f"{sum(p.is_exact for p in parts) / len(parts):.1%} | "
            f"{sum(p.is_on_record for p in parts) / len(parts):.1%} | "
            f"{sum(p.is_never_free for p in parts)} | {sum(off) / max(1, len(off)):+.2f} | "
            f"{sum(p.is_strict for p in ceiling) / len(ceiling):.1%} | "
            f"{sum(o.acts for o in some) / sum(o.operations for o in some):.2f} |")
    return lines


def table_of_facts(outcomes: Sequence[Outcome]) -> list[str]:
    """What the record would be worth if some of its facts were true."""
    lines = ["", "| as they truly are | exact | strict |", "|---|---|---|"]
    for name in GIVEN_BACK:
        parts = [part for outcome in outcomes for part in outcome.given_back[name]]
        lines.append(f"| {name} | {sum(p.is_exact for p in parts) / len(parts):.1%} | "
                     f"{sum(p.is_strict for p in parts) / len(parts):.1%} |")
    return lines


LIFTS_A_PHOTOGRAPH = (0, 1, 2, 3, 5)  # 0: drawn by hand


def table_of_photographs(seeds: Sequence[int], archetypes: tuple[int, ...], processes: int) -> Iterator[str]:
    """What footprints are worth that come from photographs, by how many lifts lie between two; row by row."""
    yield from ("| footprints | strict | exact | never free | acts an operation |", "|---|---|---|---|---|")
    for lifts in (*LIFTS_A_PHOTOGRAPH, WATCHED, None):
        without = frozenset(("footprints",)) if lifts is None else frozenset()
        some = study(seeds, archetypes, processes, without, lifts or 0)
        parts = [part for outcome in some for part in outcome.recorded]
        name = {None: "none", 0: "drawn by hand", WATCHED: "the camera watches"}.get(
            lifts, f"a photograph every {lifts} lifts")
        yield (f"| {name} | {share(sum(p.is_strict for p in parts), len(parts))} | "
               f"{sum(p.is_exact for p in parts) / len(parts):.1%} | {sum(p.is_never_free for p in parts)} | "
               f"{sum(o.acts for o in some) / sum(o.operations for o in some):.2f} |")


# Reasons of the first guesses, by their codes, and what a person says while recording: each left out in turn.
RULES = ("opened-layer", "small-cover", "under-film", "under-cable", "under-bulk", "underside", "covers", "own-screws",
         "footprint")


@contextmanager
def without_rule(code: str) -> Iterator[None]:
    """First guesses as if a reason had never been thought of."""
    whole = Guesses._reasons

    def less(self: Guesses, *args: Any, **keys: Any) -> dict[str, tuple[str, float]]:
        return {x: self._weak(x) if found[0] == code else found for x, found in whole(self, *args, **keys).items()}

    Guesses._reasons = less  # type: ignore[method-assign]
    try:
        yield
    finally:
        Guesses._reasons = whole  # type: ignore[method-assign]


def ablated(job: tuple[int, tuple[int, ...], str]) -> tuple[list[Part], int, int]:
    """One device, recorded with a rule or a gesture left out: parts, acts, operations."""
    seed, archetypes, left_out = job
    hidden = device(seed, archetypes)
    with without_rule(left_out):
        done = Analyst(hidden, seed, answers=left_out != "answers", footprints=left_out != "footprints").record()
    return judge(hidden, done.teardown, done.hidden_of), done.acts, done.operations


def table_of_ablations(seeds: Sequence[int], archetypes: tuple[int, ...], processes: int) -> Iterator[str]:
    yield from ("| left out | strict | exact | never free | acts an operation |", "|---|---|---|---|---|")
    with ProcessPoolExecutor(processes) as pool:
        for left_out in ("nothing", *LEFT_OUT, *RULES):
            some = list(pool.map(ablated, [(seed, archetypes, left_out) for seed in seeds], chunksize=4))
            parts = [part for found, _, _ in some for part in found]
            yield (f"| {left_out} | {share(sum(p.is_strict for p in parts), len(parts))} | "
                   f"{sum(p.is_exact for p in parts) / len(parts):.1%} | {sum(p.is_never_free for p in parts)} | "
                   f"{sum(acts for _, acts, _ in some) / sum(number for _, _, number in some):.2f} |")


class Told(Struct, kw_only=True):
    """One device, recorded and retold."""

    archetype: int
    operations: int
    recording: int  # acts
    telling: int
    parts: list[Part]
    tallies: list[Tally]


# How far the ways are looked at: strips that are corrected, questions with yes or no afterwards, and by whom each way
# is looked at once more at the end.
STAGES: dict[str, tuple[int, int, tuple[str, ...]]] = {
    "recorded": (0, 0, ()), "one strip": (1, 0, ()), "two strips": (2, 0, ()), "three, and yes or no": (3, ASKED, ()),
    "and once more by the same": (3, ASKED, (SELF,)), "and twice more by the same": (3, ASKED, (SELF, SELF)),
    "and once more by another": (3, ASKED, (OTHER,)), "by the same, then another": (3, ASKED, (SELF, OTHER))}
Stage = tuple[int, tuple[int, ...], frozenset[str], str, bool]  # seed, archetypes, left out, stage, overlooks


def tell(job: Stage) -> Told:
    seed, archetypes, without, stage, overlooks = job
    hidden = device(seed, archetypes)
    analyst = Analyst(hidden, seed, answers="answers" not in without, footprints="footprints" not in without)
    analyst.record()
    before = analyst.acts
    rounds, asked, again = STAGES[stage]
    tallies = Reteller(analyst, seed, overlooks=overlooks, rounds=rounds, asked=asked, again=again).tell()
    return Told(archetype=hidden.archetype, operations=analyst.operations, recording=before,
                telling=analyst.acts - before, tallies=tallies,
                parts=judge(hidden, analyst.session.teardown, analyst.hidden_of))


def retold(seeds: Sequence[int], archetypes: tuple[int, ...], stage: str, *, overlooks: bool, processes: int = 2,
           without: frozenset[str] = frozenset()) -> list[Told]:
    jobs = [(seed, archetypes, without, stage, overlooks) for seed in seeds]
    if processes < 2:
        return [tell(job) for job in jobs]
    with ProcessPoolExecutor(processes) as pool:
        return list(pool.map(tell, jobs, chunksize=4))


def row_of(name: str, some: Sequence[Told]) -> str:
    """Strict and exact, never free, acts an operation while recording and afterwards, and how the labels held."""
    parts = [part for one in some for part in one.parts]
    operations = sum(one.operations for one in some)
    labels = []
    for known in KNOWN:
        those = [part for one in some for tally in one.tallies if tally.known == known
                 for part in one.parts if part.part == tally.part]
        labels.append(f"{len(those)}, {sum(p.is_strict for p in those) / len(those):.1%}" if those else "–")
    return (f"| {name} | {share(sum(p.is_strict for p in parts), len(parts))} | "
            f"{sum(p.is_exact for p in parts) / len(parts):.1%} | {sum(p.is_never_free for p in parts)} | "
            f"{sum(one.recording for one in some) / operations:.2f} + "
            f"{sum(one.telling for one in some) / operations:.2f} | {' | '.join(labels)} |")


def table_of_ways(seeds: Sequence[int], archetypes: tuple[int, ...], processes: int,
                  without: frozenset[str]) -> Iterator[str]:
    """The curve against rounds, for an analyst who overlooks and one who does not, row by row; the last by archetype
    too."""
    heads = ("", "strict", "exact", "never free", "acts an operation", *(f"{known}: number, strict" for known in KNOWN))
    yield from (f"| {' | '.join(heads)} |", "|---" * len(heads) + "|")
    some: list[Told] = []
    for overlooks, who in ((False, "overlooks nothing"), (True, "overlooks")):
        for stage in STAGES:
            if stage != "recorded" if overlooks else STAGES[stage][2] in ((), (SELF,)):
                some = retold(seeds, archetypes, stage, overlooks=overlooks, processes=processes, without=without)
                yield row_of(f"{stage}, {who}" if stage != "recorded" else stage, some)
        yield from (row_of(f"archetype {one}, {who}", [told for told in some if told.archetype == one])
                    for one in archetypes if any(told.archetype == one for told in some))


def show(rows: Iterator[str]) -> None:
    """Each row as soon as it is known: the whole takes an hour or more."""
    for row in rows:
        print(row, flush=True)


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--devices", type=int, default=120)
    parser.add_argument("--held-out", action="store_true", help="the archetypes that nothing was tuned on")
    parser.add_argument("--processes", type=int, default=2)
    parser.add_argument("--first", type=int, default=0, help="seed of the first device")
    parser.add_argument("--without", action="append", choices=LEFT_OUT, default=[], help="gestures left out")
    parser.add_argument("--retold", action="store_true", help="the ways are looked at afterwards")
    parser.add_argument("--photographs", action="store_true", help="footprints by photographs, every few lifts")
    parser.add_argument("--ablate", action="store_true", help="each rule and each gesture left out in turn")
    options = parser.parse_args()
    seeds = range(options.first, options.first + options.devices)
    archetypes = HELD_OUT if options.held_out else TUNED_ON
    if options.photographs:
        show(table_of_photographs(seeds, archetypes, options.processes))
        return
    if options.ablate:
        show(table_of_ablations(seeds, archetypes, options.processes))
        return
    if options.retold:
        show(table_of_ways(seeds, archetypes, options.processes, frozenset(options.without)))
        return
    outcomes = study(seeds, archetypes, options.processes, frozenset(options.without))
    print("\n".join([*table(outcomes), *table_of_facts(outcomes)]))


if __name__ == "__main__":
    main()
