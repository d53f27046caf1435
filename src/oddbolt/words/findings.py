"""Findings, alerts at the act and what a record does not let be true, in words."""

from __future__ import annotations

from oddbolt.knowledge.checks.findings import Finding
from oddbolt.knowledge.checks.warnings import Alert
from oddbolt.model.things import Teardown
from oddbolt.words.names import name_of, names_of
from oddbolt.words.translate import N_, from_table, tr

FINDINGS = {
    "never-free": N_("{thing} can never be taken off; what keeps it in: {others}"),
    "never-clear": N_("{thing} is behind {others}, and nothing that can be lifted parts the two"),
    "confirmed-blocked": N_("{thing} was said to come off, or open, where it now waits for {others}"),
    "held-by-nothing": N_("nothing holds {thing}; a joint may be missing"),
    "captive-isolator": N_("{thing} is marked as isolator but is captive, so it cannot make the device safe"),
    "idle-isolator": N_("{thing} is marked as isolator but has no operation, so it cannot make the device safe"),
    "no-isolator": N_("no isolator is recorded, so live acts cannot be counted; to be done dead: {others}"),
    "tally-differs": N_("{thing}: {tally} screws were counted on this view and {marks} are marked"),
    "marks-differ": N_("{thing}: the joint has {count} screws and {marks} are marked"),
    "never-released": N_("{thing} was never released in the log"),
    "left-on": N_("{others} was put on ({thing}) and never taken off"),
    "first-met-at-refit": N_("{thing} is first met while putting back"),
    "torque-cannot-be": N_("{thing}: {torque} would break the screw ({where}); was {others} meant?"),
    "torque-cannot-be-at-all": N_("{thing}: {torque} would break the screw ({where})"),
    "blank-name": N_("{thing} has no name"),
    "same-name": N_("{thing} has the same name as {others}"),
    "over-a-screw": N_("{thing} is marked on a screw of {others}; one of the two is meant"),
    "holds-nothing-named": N_("{thing}: what these screws hold has neither name nor kind"),
    "same-picture": N_("{thing} is the same picture as {others}"),
    "log-hidden": N_("{thing}: by the record this was still behind {others}"),
    "log-tied": N_("{thing}: by the record this was still tied by {others}"),
    "log-gone": N_("{thing}: {others} was off or open already"),
    "log-way-order": N_("{thing}: the acts of {others} were not done in their order"),
    "log-way-taken": N_("{thing}: another way to release {others} had been begun"),
    "log-reach": N_("{thing}: within reach were {others}, but the record puts the first behind the others"),
    "log-unknown": N_("{thing}: names a way or an act that is not there, or a thing that cannot be moved"),
}
ALERTS = {
    "live": N_("{name} was opened live: the device is not safe yet"),
    "count-short": N_("{name}: {marks:g} marked, {count:g} counted; is one under a label?"),
    "solvent-beside-heat": N_("{name}: solvent while something is still hot. Vapour can catch fire; let it cool first"),
}


def finding_text(teardown: Teardown, finding: Finding) -> str:
    code, others = finding.code, names_of(teardown, finding.others)
    if code == "torque-cannot-be":  # the others are units
        others = tr(" or ").join(finding.others)
        code = code if finding.others else "torque-cannot-be-at-all"
    return from_table(FINDINGS, code, thing=name_of(teardown, finding.thing), others=others, **dict(finding.figures))


def alert_text(alert: Alert, name: str) -> str:
    return from_table(ALERTS, alert.code, name=name, **dict(alert.figures))
