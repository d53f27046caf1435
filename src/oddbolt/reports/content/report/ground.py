"""What the sections of a report are made from: one record with its plans, found once; and what they ask to be drawn."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import cached_property

from msgspec import Struct

from oddbolt.comparing.devices import Row, compared
from oddbolt.effort.sums import Interval, time_of
from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import ASSUMED, Teardown, View
from oddbolt.reassembly.net import Net
from oddbolt.reassembly.rebuilding.pictures import Picture
from oddbolt.reassembly.tray import TrayLayer
from oddbolt.reports.content.strata import DrawnSection
from oddbolt.reports.content.tree import ESTIMATED, GUESSED, MEASURED, Block, Cell, Given, Page
from oddbolt.rules.counting import Count
from oddbolt.scoring.evaluate import Verdict
from oddbolt.scoring.method import fitting_methods, load_method
from oddbolt.scoring.planned import AllPlanned, Times
from oddbolt.scoring.standing import judge
from oddbolt.search.planner import Plan, Planner
from oddbolt.studies.retelling import GUESSED as WAY_GUESSED
from oddbolt.studies.retelling import known_without_plans
from oddbolt.studies.whatif import Outcome, what_if
from oddbolt.words.figures import interval_text, steps_text


class Shot(Struct, frozen=True, kw_only=True):
    """A photograph with its marks burned in: a state of the device, or the portrait of a part."""

    number: int
    view: View


class StepShot(Struct, frozen=True, kw_only=True):
    """The picture of a step of putting back."""

    number: int
    picture: Picture
    letter: str


class DrawnLanes(Struct, frozen=True, kw_only=True):
    """Counted sequences as lanes below each other, each with its title."""

    lanes: tuple[tuple[str, Count], ...]


class DrawnMat(Struct, frozen=True, kw_only=True):
    title: str
    layer: TrayLayer


class Chart(Struct, frozen=True, kw_only=True):
    """Depth against time of the priority parts of devices: a point each, named."""

    devices: tuple[str, ...]
    points: tuple[ChartPoint, ...]


class ChartPoint(Struct, frozen=True, kw_only=True):
    device: int
    role: str
    steps: int
    low_s: float
    seconds: float
    high_s: float


def chart_of(names: Sequence[str], rows: Sequence[Row]) -> Chart:
    """Of devices beside each other, whatever can be taken off."""
    return Chart(devices=tuple(names), points=tuple(
        ChartPoint(device=n, role=row.role, steps=one.steps, low_s=one.time.low_s, seconds=one.time.seconds,
                   high_s=one.time.high_s) for row in rows for n, one in enumerate(row.reached)
        if one is not None and one.steps is not None and one.time is not None))


Drawn = DrawnSection | DrawnLanes | DrawnMat | Net | Chart
Picked = Shot | StepShot


class Report(Struct, frozen=True, kw_only=True):
    """The pages with what they show: a block `Figure` names a picture by its number, `Drawing` a drawing by its
    name."""

    page: Page
    planner: Planner
    pictures: tuple[Picked, ...]
    drawings: Mapping[str, Drawn]

    @property
    def teardown(self) -> Teardown:
        return self.planner.teardown


class Ground:
    """One record, told by one convention; `others` are records that it is compared with, `times` at whose pace."""

    def __init__(self, planner: Planner, others: Sequence[Teardown] = (), times: Times = KnownTimes,
                 is_stopped: Callable[[], bool] | None = None) -> None:
        """`is_stopped` is asked by whatever plans for long; `planner` may ask the same."""
        self._is_stopped = is_stopped
        self.planner = planner
        self.others = others
        self.times = times
        self.pictures: list[Picked] = []
        self.drawings: dict[str, Drawn] = {}
        self.verdicts: list[Verdict] = []
        self.outcomes: list[Outcome] = []
        self.made: dict[str, list[Block]] = {}  # sections

    @property
    def teardown(self) -> Teardown:
        return self.planner.teardown

    @cached_property
    def priority(self) -> list[str]:
        """Parts with a role, in the order of the record."""
        return [part.id for part in self.teardown.parts if part.role and part.id in self.planner.structure.present]

    def plan(self, part: str) -> Plan:
        return self.planner.plan([part])

    def make(self, record: Teardown) -> Planner:
        """A planner of a record by the same convention; of the own one, the one that is there."""
        if record is self.teardown:
            return self.planner
        return Planner(record, self.times(record), self.planner.convention.settings, self._is_stopped)

    @cached_property
    def compared(self) -> list[Row]:
        return compared(self.make, [self.planner, *(self.make(other) for other in self.others)])

    def find_verdicts(self, most: int | None = None) -> Iterator[None]:
        """By all methods that fit, or the first of them; a `yield` is progress."""
        plans, found_all = AllPlanned(self.times, self._is_stopped), []
        for id_ in fitting_methods(self.teardown.device.category)[:most]:
            for found in judge(self.teardown, load_method(id_), plans, bits=False, moves_too=most is None):
                last = found
                yield None
            found_all.append(last)
        self.verdicts = found_all

    def find_outcomes(self) -> Iterator[None]:
        """What each change of the design would do."""
        for found in what_if(self.make, self.teardown, self.priority, pairs=False):
            self.outcomes = found
            yield None

    # -- pictures and drawings

    def shot(self, view: View) -> int:
        """The number under which a photograph is shown."""
        self.pictures.append(Shot(number=len(self.pictures) + 1, view=view))
        return len(self.pictures)

    def step_shot(self, picture: Picture, letter: str) -> int:
        self.pictures.append(StepShot(number=len(self.pictures) + 1, picture=picture, letter=letter))
        return len(self.pictures)

    # -- figures with how they are known

    def depth(self, plan: Plan) -> Given:
        """Steps to a part: guessed where nobody has looked at the way."""
        if plan.count is None:
            return Given(None, "–")
        known = known_without_plans(self.planner, plan)
        text = str(plan.count.steps) if plan.optimal else f"{plan.lower_bound}–{plan.count.steps}"
        return Given(plan.count.steps, text, GUESSED if known == WAY_GUESSED else "")

    def time(self, plan: Plan) -> Given:
        return Given(None, "–") if plan.count is None else duration(time_of(plan.count))


def duration(took: Interval) -> Given:
    """A time: measured only where all of it was, estimated where any of it is."""
    return Given(round(took.seconds, 1), interval_text(took.seconds, took.low_s, took.high_s),
                 took.basis if took.basis in (MEASURED, ESTIMATED) else "")


def by_basis(value: Cell, text: str, basis: str) -> Given:
    """A figure of the record: what the program assumed looks guessed."""
    return Given(value, text, GUESSED if basis == ASSUMED else "")


def steps_given(steps: int | None) -> Given:
    return Given(None, "–") if steps is None else Given(steps, steps_text(steps))
