"""What studies found, in words: changes of the device, how firm a depth is."""

from __future__ import annotations

from oddbolt.model.things import Teardown
from oddbolt.studies.firmness import Firmness
from oddbolt.studies.whatif import Outcome
from oddbolt.words.figures import MINUS, duration_text, signed_text, steps_text
from oddbolt.words.known import known_text
from oddbolt.words.names import name_apart, name_of
from oddbolt.words.translate import N_, from_table, sentence, tr, within

REDESIGNS = {"gone": N_("without {thing}"), "pull-tab": N_("{thing} with pull tabs"),
             "cross-recess": N_("{thing} with a cross recess"), "in-front": N_("{thing} moved in front"),
             "halved": N_("{thing} with half the screws"), "part-gone": N_("without {thing}"),
             "one-type": N_("all screws with one driver")}


def redesign_text(teardown: Teardown, kind: str, thing: str) -> str:
    """A change of the device in words; `thing` is empty for the whole device."""
    return sentence(from_table(REDESIGNS, kind, thing=name_apart(teardown, thing) if thing else ""))


def outcome_lines(teardown: Teardown, outcome: Outcome) -> list[str]:
    """What a change would do: the change, then each part."""
    lines = [redesign_text(teardown, outcome.kind, outcome.thing)]
    if outcome.second:
        lines = [tr("{0} and {1}").format(lines[0], within(redesign_text(teardown, *outcome.second))),
                 tr("  together {0} steps over all parts; by themselves {1}").format(outcome.steps, outcome.singly)]
    for effect in outcome.effects:
        steps = effect.steps[1] - effect.steps[0]
        seconds = (effect.time_ms[1] - effect.time_ms[0]) / 1000
        time = (MINUS if seconds < 0 else "+") + duration_text(abs(seconds))
        name = name_of(teardown, effect.part)
        lines.append(tr("  {0}: {1} steps, {2}").format(name, signed_text(steps), time) if steps
                     else f"  {name}: {time}")
    return lines


def firmness_lines(teardown: Teardown, firm: Firmness) -> list[str]:
    """How firm a depth is: the range, and what matters for it."""
    low, high = firm.steps
    steps = steps_text(low) if low == high else tr("{0} to {1} steps").format(low, high)
    times = [duration_text(ms / 1000) for ms in firm.time_ms]
    time = times[0] if times[0] == times[1] else tr("{0} to {1}").format(*times)
    text = tr("{0}: {1}, {2}, firm ({3})") if firm.is_firm else tr("{0}: {1}, {2} ({3})")
    lines = [text.format(name_of(teardown, firm.part), steps, time, known_text(firm.known))]
    lines += [tr("  what {0} is behind moves it by {1:g} steps").format(name_of(teardown, thing), by)
              for thing, by in firm.matters]
    if firm.stuck:
        lines.append(tr("  in {0} of {1} cases it could not be freed").format(firm.stuck, firm.worlds))
    return lines
