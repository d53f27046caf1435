"""What is said of a sequence that was found: its figures beside the work as performed, and why it is in this order."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from oddbolt.rules.counting import Count
from oddbolt.rules.device_state import Operation
from oddbolt.search.planner import STEPS, Plan, Planner
from oddbolt.studies.needless import needless_for
from oddbolt.studies.orders import FREE, IMPOSSIBLE, Number, Orders
from oddbolt.studies.retelling import known_without_plans
from oddbolt.words.acts import comes_to, obstacle_text, operation_text, short_operation
from oddbolt.words.figures import duration_text, number_text, steps_text
from oddbolt.words.known import known_text
from oddbolt.words.translate import sentence, tr, within


class Searched(Struct, frozen=True, kw_only=True):
    """The answer of a search: the plan, with everything that is told of it."""

    planner: Planner
    plan: Plan
    orders: Orders | None
    number: Number | None


def figures_text(found: Searched, counted: Count, done: Count, *, is_own: bool) -> str:
    """The plan, the order that is shown where it is the person's own, and what was performed."""
    plan, lines = found.plan, []
    if done.timed:
        lines.append(tr("As performed: {0}").format(comes_to(done)))
        lines += _lost_lines(found.planner, [timed.operation for timed in done.timed], plan.targets)
    bound = tr("proven") if plan.optimal else tr("at least {0}").format(
        plan.lower_bound if plan.objective == STEPS else duration_text(plan.lower_bound / 1000))
    known = known_text(known_without_plans(found.planner, plan))
    lines.append(tr("Best: {0} ({1}; {2})").format(comes_to(plan.count), bound, known))
    if is_own:
        lines.append(tr("Your order: {0}").format(comes_to(counted)))
    if found.number is not None:
        text = tr("Orders of these {0} operations: {1}") if found.number.exact \
            else tr("Orders of these {0} operations: more than {1}")
        lines.append(text.format(len(plan.sequence), number_text(found.number.orders)))
    return "\n".join(lines)


def _lost_lines(planner: Planner, operations: list[Operation], targets: Sequence[str]) -> list[str]:
    """What the work came to for these parts, and what of it they did not need."""
    work = needless_for(planner, operations, targets)
    if work is None:
        return []
    lines = [tr("Up to these parts: {0}").format(comes_to(work.until))]
    if work.needless:
        lines.append(tr("needless for them: {0} operations, {1}, {2}").format(
            len(work.needless), steps_text(work.steps_lost), duration_text(max(0, work.time_lost_ms) / 1000)))
    return lines


def why_text(planner: Planner, orders: Orders, operation: Operation, before: Operation | None) -> str:
    """The chain that leads to an operation, and how it stands to the one chosen before."""
    teardown, lines = planner.teardown, []
    if before is not None and before != operation:
        first, second = short_operation(teardown, before), short_operation(teardown, operation)
        lines.append({FREE: tr("{0} and {1}: either may come first"), IMPOSSIBLE: tr("{1} must come before {0}")}.get(
            orders.relation(before, operation), tr("{0} must come before {1}")).format(first, second) + "\n")
    chain = orders.chain(operation)
    lines.append(sentence(operation_text(teardown, planner.structure, operation)))
    for earlier, later in zip(reversed(chain[:-1]), reversed(chain[1:])):
        reasons = orders.reason(earlier, later)
        why = within(obstacle_text(teardown, reasons[0])) if reasons else tr("to be safe first")
        lines.append(tr("waits for {0} ({1})").format(short_operation(teardown, earlier), why))
    if len(chain) == 1:
        lines.append(tr("waits for nothing"))
    return "\n".join(lines)
