"""The command line: everything the window computes, without it. Exit codes as docs/format.md says."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import Any

from oddbolt.cli import papers
from oddbolt.cli.reading import print_json, read
from oddbolt.effort.learning import fit
from oddbolt.effort.own_logs import paces, pass_times_s
from oddbolt.effort.sums import effort_rows, time_of
from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.giving_away import TELLS
from oddbolt.model.quantity import read_length_mm, read_number
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Settings, Teardown
from oddbolt.reassembly.findings import findings
from oddbolt.reports import as_json as answers
from oddbolt.rules.policies import POLICIES
from oddbolt.search.planner import STEPS, TIME, Plan, Planner
from oddbolt.store.files import is_document, read_with_digests, write_whole
from oddbolt.store.twin import LeftOut
from oddbolt.words.acts import breach_text, operation_text
from oddbolt.words.figures import duration_text, interval_text
from oddbolt.words.findings import finding_text
from oddbolt.words.judging.verdict_lines import effort_lines, learning_lines, method_lines, pace_lines, verdict_lines
from oddbolt.words.known import known_text
from oddbolt.words.names import name_of
from oddbolt.words.photographs import left_out_lines
from oddbolt.words.refusals import at_field_text, refusal_text
from oddbolt.words.repairs import repaired_lines
from oddbolt.words.screws import identified_lines
from oddbolt.words.terminal import say
from oddbolt.words.translate import N_, tr, use_system_language

LENGTHS = {"--diameter": "diameter_mm", "--pitch": "pitch_mm", "--length": "length_mm", "--head": "head_mm",
           "--head-height": "head_height_mm", "--across": "across_mm"}
ANSWERED, SOME_FINDINGS, NOT_READABLE = 0, 1, 2


def run(arguments: Sequence[str]) -> int:
    """Run one command; returns the exit code. Messages go to standard error, answers to standard output."""
    use_system_language()
    options = _parser().parse_args(arguments)
    try:
        return options.run(options)
    except Refusal as refusal:
        say(f"odd-bolt: {refusal_text(refusal)}", file=sys.stderr)
        return NOT_READABLE
    except BrokenPipeError:
        return ANSWERED


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="odd-bolt", description=tr("Teardowns, counted and judged. Without a "
                                     "command the window opens: odd-bolt [FILE], odd-bolt --demo."))
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def command(name: str, does: Callable[[argparse.Namespace], int], text: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text, description=text)
        made.set_defaults(run=does)
        made.add_argument("file", metavar="FILE", type=Path,
                          help=tr("a working document (.oddbolt) or an exchange file"))
        return made

    command("check", _check, tr("Findings; exit 0 none, 1 some, 2 not readable."))
    access = command("access", _access, tr("Depth, time, tools, hazards and the sequence for each part."))
    access.add_argument("--part", metavar="ID", action="append", help=tr("this part only; may be repeated"))
    access.add_argument("--replace", action="store_true", help=tr("also what a replacement takes"))
    sequence = command("sequence", _sequence, tr("One best sequence that removes all targets."))
    sequence.add_argument("--target", metavar="ID", action="append", help=tr("may be repeated; default: every part"))
    for made in (access, sequence):
        made.add_argument("--objective", choices=(STEPS, TIME), default=STEPS)
        made.add_argument("--entered", action="store_true", help=tr("leave measured times out"))
        made.add_argument("--keep", choices=POLICIES, action="append", default=[],
                          help=tr("a safety policy that plans keep to as far as they can; may be repeated"))
        made.add_argument("--json", action="store_true", help=tr("one JSON object"))
    assess = command("assess", _assess, tr("A score with the evidence for each criterion."))
    assess.add_argument("--method", metavar="ID", action="append",
                        help=tr("may be repeated; default: those that fit the category of the device"))
    assess.add_argument("--json", action="store_true", help=tr("one JSON object"))
    papers.add_procedure(command("procedure", papers.procedure,
                                 tr("Putting back, or replacing a part, as a page to work from.")))
    papers.add_report(command("report", papers.report, tr("A report of the record, of the sections that are named.")))
    effort = command("effort", _effort, tr("How long each act and each way takes, and how that is known."))
    effort.add_argument("--json", action="store_true", help=tr("one JSON object"))
    for made in (access, sequence, assess, effort):
        made.add_argument("--pace", metavar="FILE", type=Path, action="append",
                          help=tr("estimate at the analyst's pace in the log of this record; may be repeated"))
    _others(command("agree", _agree, tr("How far several analysts' records of one model agree.")))
    _others(command("compare", _compare, tr("Several devices beside each other, and why they differ from the first.")))
    methods = commands.add_parser("methods", help=tr("The scoring methods there are."))
    methods.set_defaults(run=_methods)
    methods.add_argument("--json", action="store_true", help=tr("one JSON object"))
    _documents(command)
    _identify(commands)
    return parser


def _documents(command: Callable[..., argparse.ArgumentParser]) -> None:
    """The parsers of what writes files."""
    export = command("export", _export, tr("Write an open format."))
    export.add_argument("--to", choices=("json",), required=True)
    export.add_argument("-o", "--output", metavar="PATH", type=Path, required=True)
    export.add_argument("--leave-out", choices=TELLS, action="append", default=[],
                        help=tr("of what a document tells beside the work; may be repeated"))
    take_in = command("import", _import, tr("An exchange file with its photographs into a working document."))
    take_in.add_argument("-o", "--output", metavar="FILE", type=Path, required=True)
    mend = command("repair", _repair, tr("A new document of what is whole in a damaged one, which stays as it is; "
                                         "exit 1 when something was lost."))
    mend.add_argument("-o", "--output", metavar="FILE", type=Path, required=True)


def _others(agree: argparse.ArgumentParser) -> None:
    agree.add_argument("others", metavar="FILE", type=Path, nargs="+")
    agree.add_argument("--json", action="store_true", help=tr("one JSON object"))


def _identify(commands: Any) -> None:
    """The parser of `identify`, and what it may be asked about."""
    identify = commands.add_parser("identify", help=tr("What something is, by its measures."),
                                   description=tr("What something is, by its measures."))
    what = identify.add_subparsers(required=True, metavar="WHAT")
    screw = what.add_parser("screw", help=tr("candidates with their odds"),
                            description=tr("Threads that a screw may have, with their odds; the recess, the driver, "
                            "and what to measure next. Lengths in mm, or with in behind them."))
    screw.set_defaults(run=_identify_screw)
    screw.add_argument("--drive", default="", help=tr("recess: PH, PZ, T, IP, PL, Y, SL, HX"))
    screw.add_argument("--size", default="", help=tr("size of the driver that fits"))
    for option, text in zip(LENGTHS, (tr("outer diameter"), tr("pitch"), tr("length below the head"),
                                      tr("head diameter"), tr("head height"), tr("across the recess"))):
        screw.add_argument(option, metavar="MM", help=text)
    screw.add_argument("--turns-per-mm", metavar="N", help=tr("instead of the pitch"))
    screw.add_argument("--colour", default="", help=tr("silver, black, yellow"))
    screw.add_argument("--magnetic", choices=("yes", "no"))
    screw.add_argument("--json", action="store_true", help=tr("one JSON object"))


def _identify_screw(options: argparse.Namespace) -> int:
    from oddbolt.catalog import drivers, screws

    given = {field: read_length_mm(text, option, screws.LARGEST_MM) for option, field in LENGTHS.items()
             if (text := getattr(options, option.strip("-").replace("-", "_"))) is not None}
    if options.turns_per_mm is not None and "pitch_mm" not in given:
        given["pitch_mm"] = 1 / read_number(options.turns_per_mm, "--turns-per-mm", least=0.1, most=20)
    magnetic = None if options.magnetic is None else options.magnetic == "yes"
    readings = screws.Readings(drive=options.drive.upper(), size=options.size, colour=options.colour,
                               magnetic=magnetic, **given)
    found = screws.identify(readings)
    advice = drivers.advise(readings.drive, readings.size or (found.sizes[0][0] if found.sizes else "")) \
        if readings.drive else None
    if options.json:
        print_json(answers.identify_json(found, advice))
    else:
        say("\n".join(identified_lines(found, advice)))
    return ANSWERED


def _check(options: argparse.Namespace) -> int:
    teardown, pictures = read(options.file, read_with_digests)
    found = findings(teardown, pictures)
    for finding in found:
        say(f"{finding.code}: {finding_text(teardown, finding)}")
    if not found:
        say(tr("no findings"))
    return SOME_FINDINGS if found else ANSWERED


def _planner(options: argparse.Namespace) -> Planner:
    teardown = read(options.file)
    return Planner(teardown, _times(options)(teardown), policies=options.keep)


def _known_parts(teardown: Teardown, planner: Planner, ids: list[str], option: str) -> list[str]:
    for id_ in ids:
        if id_ not in teardown.part:
            raise Refusal(option, "no-such-part", id=id_)
        if id_ not in planner.structure.present:
            raise Refusal(option, "not-in-variant", variant=teardown.device.variant, id=id_)
    return list(dict.fromkeys(ids))


def _access(options: argparse.Namespace) -> int:
    planner = _planner(options)
    teardown = planner.teardown
    ids = _known_parts(teardown, planner, options.part or list(planner.structure.removals), "--part")
    rows = []
    for id_ in ids:
        plan = planner.plan([id_], options.objective)
        row = {"part": id_, **answers.plan_json(planner, plan)}
        if options.replace:
            row["replace"] = answers.replace_json(planner, id_, options.objective)
        rows.append(row)
        if not options.json:
            _print_access(planner, id_, plan, row, verbose=bool(options.part))
    if options.json:
        print_json(answers.access_json(planner, options.objective, rows))
    else:
        _print_convention(planner)
    return ANSWERED


def _print_access(planner: Planner, id_: str, plan: Plan, row: dict[str, Any], *, verbose: bool) -> None:
    name = name_of(planner.teardown, id_)
    if not plan.feasible:
        say(tr("{0}: {1}: cannot be taken off; kept in by {2}").format(id_, name, ", ".join(plan.blocked_by)))
        return
    steps = _value_text(row["steps"], plan, STEPS)
    time = _value_text(_time_text(row), plan, TIME)
    text = tr("{0}: {1}: {2} steps, {3}, {5}, {4} live") if row["live_acts"] else tr("{0}: {1}: {2} steps, {3}, {5}")
    say(text.format(id_, name, steps, time, row["live_acts"], known_text(row["known"])))
    if row.get("replace"):
        low, high = row["replace"]["steps"]
        steps = str(low) if low == high else tr("{0} to {1}").format(low, high)
        back = row["replace"]["back_time_s"]
        times = " – ".join(dict.fromkeys(duration_text(seconds) for seconds in back))
        say(tr("  replace: {0} steps, removes {1}; putting back {2}").format(
            steps, ", ".join(row["replace"]["targets"]), times))
    if verbose:
        _print_operations(planner, plan, row)


def _value_text(value: object, plan: Plan, objective: str) -> str:
    """The figure of the objective says whether it is proven; the other is what the sequence comes to."""
    if plan.objective != objective:
        return str(value)
    bound = plan.lower_bound if objective == STEPS else f"{plan.lower_bound / 1000:g} s"
    return tr("{0} (proven)").format(value) if plan.optimal else tr("{0} (at least {1})").format(value, bound)


def _time_text(row: dict[str, Any]) -> str:
    return interval_text(row["time_s"], *row["time_interval_s"])


ROWS = {"tools": N_("  tools: {0}"), "renewals": N_("  renewals: {0}"), "hazards": N_("  hazards: {0}"),
        "assumed": N_("  assumed: {0}")}


def _print_operations(planner: Planner, plan: Plan, row: dict[str, Any]) -> None:
    for timed in plan.count.timed:
        text = tr("  step {0:2d} {1:8.1f} s  {2}  LIVE") if timed.live else tr("  step {0:2d} {1:8.1f} s  {2}")
        say(text.format(timed.step, timed.start_ms / 1000,
                          operation_text(planner.teardown, planner.structure, timed.operation)))
    for key, text in ROWS.items():
        if row[key]:
            say(tr(text).format(", ".join(row[key])))
    for breach in plan.breaches if planner.policies else ():
        say(tr("  against {0}: {1}").format(breach.policy, breach_text(planner.teardown, breach)))


def _print_convention(planner: Planner) -> None:
    say(_convention_line(planner.convention.settings))


def _convention_line(settings: Settings) -> str:
    pairs = answers.convention_json(settings).items()
    return tr("convention: {0}").format(", ".join(f"{key} {json.dumps(value)}" for key, value in pairs))


def _sequence(options: argparse.Namespace) -> int:
    planner = _planner(options)
    cannot: tuple[str, ...] = ()
    if options.target:
        targets = _known_parts(planner.teardown, planner, options.target, "--target")
    else:
        cannot = planner.never_free
        targets = [id_ for id_ in planner.structure.removals if id_ not in cannot]
    plan = planner.plan(targets, options.objective)
    row = answers.sequence_json(planner, plan, cannot)
    if options.json:
        print_json(row)
        return ANSWERED
    if plan.feasible:
        say(tr("{0} parts: {1} steps, {2}, {3}").format(
            len(targets), _value_text(row["steps"], plan, STEPS), _value_text(_time_text(row), plan, TIME),
            known_text(row["known"])))
        _print_operations(planner, plan, row)
    else:
        say(tr("cannot be done; in the way: {0}").format(", ".join(plan.blocked_by)))
    if cannot:
        say(tr("can never be taken off: {0}").format(", ".join(cannot)))
    _print_convention(planner)
    return ANSWERED


def _assess(options: argparse.Namespace) -> int:
    from oddbolt.scoring.method import fitting_methods, load_method
    from oddbolt.scoring.planned import AllPlanned
    from oddbolt.scoring.standing import judged_fully

    teardown = read(options.file)
    methods = [load_method(id_) for id_ in options.method or fitting_methods(teardown.device.category)]
    plans = AllPlanned(_times(options))
    verdicts = [judged_fully(teardown, method, plans) for method in methods]
    if options.json:
        found = [answers.assess_json(verdict) for verdict in verdicts]
        print_json(found[0] if len(found) == 1 and options.method else
                    {"format": "oddbolt-assessments", "version": 1, "verdicts": found})
        return ANSWERED
    for verdict in verdicts:
        say("\n".join(verdict_lines(teardown, verdict)))
        say(_convention_line(verdict.convention))
        say(tr("Figures are from memory of the text; the text of the law decides.") + "\n")
    return ANSWERED


def _methods(options: argparse.Namespace) -> int:
    from oddbolt.scoring.method import load_method, method_ids

    methods = [load_method(id_) for id_ in method_ids()]
    if options.json:
        print_json(answers.methods_json(methods))
    else:
        say("\n".join(method_lines(methods)))
    return ANSWERED


def _times(options: argparse.Namespace) -> Callable[[Teardown], KnownTimes]:
    """Times as the options say: measured ones left out or not, at the pace of the logs named or not."""
    known = paces(read(path) for path in options.pace) if options.pace else {}
    entered_only = getattr(options, "entered", False)
    return lambda record: KnownTimes(record, entered_only=entered_only, paces=known)


def _effort(options: argparse.Namespace) -> int:
    teardown = read(options.file)
    named = options.pace or [options.file]
    logs = [read(path) for path in named if path.resolve() != options.file.resolve()]
    known = paces([*([teardown] if len(logs) < len(named) else ()), *logs])
    times = KnownTimes(teardown, paces=known if options.pace else {})
    planner = Planner(teardown, times)
    rows = list(effort_rows(planner))
    ways = [(part.id, time_of(plan.count)) for part in teardown.parts if part.role
            and part.id in planner.structure.present and (plan := planner.plan([part.id])).count is not None]
    curve, why_none = None, ""
    try:
        curve = fit(pass_times_s([teardown, *logs]))
    except Refusal as refusal:
        why_none = at_field_text(refusal)
    if options.json:
        print_json(answers.effort_json(planner, rows, ways, known, curve))
        return ANSWERED
    say("\n".join([*effort_lines(teardown, rows, ways), *pace_lines(known),
                   *(learning_lines(curve) if curve is not None else [tr("no learning curve: {0}").format(why_none)])]))
    _print_convention(planner)
    return ANSWERED


def _agree(options: argparse.Namespace) -> int:
    from oddbolt.comparing.analysts import agreed, orders
    from oddbolt.comparing.criteria import on_criteria
    from oddbolt.scoring.method import fitting_methods, load_method
    from oddbolt.words.judging.agreement import agreed_text, criterion_text, orders_text

    paths = [options.file, *options.others]
    records = [read(path) for path in paths]
    convention = records[0].settings
    planners = [Planner(record, KnownTimes(record), convention) for record in records]
    found, order = agreed(planners), orders(planners)
    criteria = [one for id_ in fitting_methods(records[0].device.category)
                for one in on_criteria(records, load_method(id_))]
    if options.json:
        print_json(answers.agreement_json([str(path) for path in paths], found, order, criteria))
        return ANSWERED
    lines = [agreed_text(one) for one in found] or [tr("The records have no role or mark in common")]
    lines += [orders_text(one, [path.name for path in paths]) for one in order]
    say("\n".join([*lines, *(f"{one.method}, {criterion_text(one)}" for one in criteria)]))
    _print_convention(planners[0])
    return ANSWERED


def _compare(options: argparse.Namespace) -> int:
    from oddbolt.comparing.devices import compared
    from oddbolt.store.matches import read_matches
    from oddbolt.words.judging.comparing import comparison_lines, names_apart

    records = [read(path) for path in (options.file, *options.others)]
    convention = records[0].settings

    def make(record: Teardown) -> Planner:
        return Planner(record, KnownTimes(record), convention)

    kept = read_matches(options.file)
    told = {n: kept[path.name] for n, path in enumerate(options.others, start=1) if path.name in kept}
    rows = compared(make, [make(record) for record in records], told)
    names = names_apart(records)
    if options.json:
        print_json(answers.comparison_json(names, convention, rows))
        return ANSWERED
    say("\n".join(comparison_lines(records, names, rows)) or tr("The records have no role in common"))
    say(_convention_line(convention))
    return ANSWERED


def _export(options: argparse.Namespace) -> int:
    if options.output.exists():
        raise Refusal(str(options.output), "file-exists")
    if is_document(options.file):
        from oddbolt.store.document import Document
        from oddbolt.store.twin import export_json

        with Document.open(options.file, read_only=True) as document:
            _say_left_out(export_json(document, options.output, options.leave_out))
    else:
        write_whole(options.output, exchange.dumps(read(options.file)).encode())
    return ANSWERED


def _say_left_out(left_out: Iterable[LeftOut]) -> None:
    for line in left_out_lines((one.name, one.why) for one in left_out):
        say(tr("odd-bolt: photographs left out, {0}").format(line), file=sys.stderr)


def _import(options: argparse.Namespace) -> int:
    from oddbolt.store.twin import import_json

    read(options.file)
    document, left_out = import_json(options.file, options.output)
    document.close()
    _say_left_out(left_out)
    return ANSWERED


def _repair(options: argparse.Namespace) -> int:
    from oddbolt.store.repair import repair

    *_, done = repair(options.file, options.output)
    lines = repaired_lines(done)
    say("\n".join(lines))
    return SOME_FINDINGS if done.lost_commands or done.lost_rows or done.lost_photos else ANSWERED
