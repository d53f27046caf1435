"""How well a record made by an ordinary analyst ends in the truth: tables for docs/methods/access.md.

From the root: .venv/bin/python -m scripts.recording_study [--devices N] [--held-out] [--without answers]
"""

from __future__ import annotations

import argparse
from collections import defaultdict
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor

from msgspec import Struct

from scripts.study.analyst import Analyst
from scripts.study.archetypes import HELD_OUT, TUNED_ON, device
from scripts.study.mended import FACTS, mended
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


Job = tuple[int, tuple[int, ...], frozenset[str]]  # seed, archetypes, what is left out
LEFT_OUT = ("answers", "footprints")


def work(job: Job) -> Outcome:
    seed, archetypes, without = job
    hidden = device(seed, archetypes)
    done = Analyst(hidden, seed, answers="answers" not in without, footprints="footprints" not in without).record()
    itself = {one: one for one in hidden.things}
    return Outcome(archetype=hidden.archetype, acts=done.acts, operations=done.operations,
                   recorded=judge(hidden, done.teardown, done.hidden_of),
                   ceiling=judge(hidden, hidden.truth(done.forgotten), itself),
                   given_back={name: judge(hidden, mended(hidden, done.teardown, done.hidden_of, facts), done.hidden_of)
                               for name, facts in GIVEN_BACK.items()})


def study(seeds: Sequence[int], archetypes: tuple[int, ...], processes: int = 2,
          without: frozenset[str] = frozenset()) -> list[Outcome]:
    """Devices with these seeds, each recorded once; `without` leaves answers or footprints out."""
    jobs = [(seed, archetypes, without) for seed in seeds]
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


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--devices", type=int, default=120)
    parser.add_argument("--held-out", action="store_true", help="the archetypes that nothing was tuned on")
    parser.add_argument("--processes", type=int, default=2)
    parser.add_argument("--first", type=int, default=0, help="seed of the first device")
    parser.add_argument("--without", action="append", choices=LEFT_OUT, default=[], help="gestures left out")
    options = parser.parse_args()
    seeds = range(options.first, options.first + options.devices)
    archetypes = HELD_OUT if options.held_out else TUNED_ON
    outcomes = study(seeds, archetypes, options.processes, frozenset(options.without))
    print("\n".join([*table(outcomes), *table_of_facts(outcomes)]))


if __name__ == "__main__":
    main()
