"""A procedure as a page that another person can work from: cautions, tools, what to have at hand and what is thrown
away first, then step by step with pictures, torques, doses and boxes to tick."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from msgspec import Struct

from oddbolt.model.things import Teardown
from oddbolt.reassembly.rebuilding.jobs import Job, tool_of_step
from oddbolt.reassembly.rebuilding.pictures import Picture, picture_of
from oddbolt.reassembly.rebuilding.putting_back import CHECK, Step
from oddbolt.reports.content.tree import Block, Figure, Heading, Line, Page, Remark, Tick, Title, section
from oddbolt.search.planner import Planner
from oddbolt.words.acts import caution_texts, cautions_first, operation_text
from oddbolt.words.figures import interval_text
from oddbolt.words.names import name_of, names_of, tool_name
from oddbolt.words.rebuilding.steps import details, discard_text, figure_text, item_text, reason_text, step_text
from oddbolt.words.translate import sentence, tr


class Illustration(Struct, frozen=True, kw_only=True):
    """The picture of some steps: its number on the page, the view with its marks, and the letter of its screws."""

    number: int
    picture: Picture
    letter: str


class Procedure(Struct, frozen=True, kw_only=True):
    """The page with its pictures; a block `Figure` of the page names one by its number."""

    page: Page
    pictures: tuple[Illustration, ...]


def procedure_page(planner: Planner, job: Job) -> Procedure:
    """Way in, where the device is closed, swap and way back."""
    teardown = planner.teardown
    device = teardown.device.name or tr("the device")
    title = tr("{0}: replace {1}").format(device, name_of(teardown, job.part)) if job.part \
        else tr("{0}: put back").format(device)
    pictures: list[Illustration] = []

    def number_of(picture: Picture, letter: str) -> int:
        pictures.append(Illustration(number=len(pictures) + 1, picture=picture, letter=letter))
        return len(pictures)

    return Procedure(page=Page((Title(title), *job_blocks(planner, job, number_of))), pictures=tuple(pictures))


def job_blocks(planner: Planner, job: Job, number_of: Callable[[Picture, str], int]) -> list[Block]:
    """The job below its title; `number_of` takes the picture of a step, with the letter of its screws, and gives the
    number it is shown under."""
    blocks: list[Block] = [Remark(_about(planner.teardown, job)), *_first_page(planner, job)]
    if job.way_in is not None:
        blocks += _way_in(planner, job)
    return [*blocks, *_way_back(planner.teardown, job, number_of)]


def footer_text(teardown: Teardown, page: int, pages: int) -> str:
    """At the foot of every sheet: which record in which state, and where the figures are from."""
    by = ", ".join(dict.fromkeys(one.by for one in teardown.sessions if one.by)) or tr("nobody named")
    begun = max((one.started[:10] for one in teardown.sessions if one.started), default=tr("no date"))
    return tr("{0} · record of {1}, {2}, {3} entries · torques by the instruction, times recorded, else estimated · "
              "{4} of {5}").format(teardown.device.name or tr("the device"), by, begun, len(teardown.log), page, pages)


def _about(teardown: Teardown, job: Job) -> str:
    took = interval_text(job.time.seconds, job.time.low_s, job.time.high_s)
    text = tr("Putting back: {0} steps, {1}").format(len(job.plan.steps), took)
    if job.untimed:
        text = tr("{0}; of {1} steps no time is known").format(text, job.untimed)
    if teardown.device.variant:
        text = tr("{0}; variant {1}").format(text, teardown.device.variant)
    return text


def _first_page(planner: Planner, job: Job) -> list[Block]:
    teardown = planner.teardown
    texts = caution_texts(_hazards(planner, job))
    tools = list(dict.fromkeys(tool for step in job.plan.steps if (tool := tool_of_step(planner, step))))
    if job.way_in is not None and job.way_in.count is not None:
        tools = list(dict.fromkeys([*(timed.tool for timed in job.way_in.count.timed), *tools]))
    blocks = [*section(tr("Cautions"), texts), Remark(cautions_first()),
              *section(tr("Tools"), [", ".join(tool_name(teardown, tool) for tool in tools)] if tools else [],
                       otherwise=tr("bare hands")),
              *section(tr("To have at hand"), [item_text(teardown, item) for item in job.shopping.items],
                       otherwise=tr("nothing"))]
    if job.shopping.discards:
        blocks += section(tr("Thrown away"), [discard_text(teardown, one) for one in job.shopping.discards])
        blocks.append(Remark(tr("Local rules for waste come first.")))
    if job.plan.closes_live:
        blocks.append(Line(tr("Closed live: {0}").format(names_of(teardown, job.plan.closes_live))))
    if job.plan.unplaced:
        blocks += section(tr("In the instruction, without a place here"), [
            step_text(teardown, Step(do=one.do, thing=one.thing or "", refit=one)) for one in job.plan.unplaced])
    return blocks


def _hazards(planner: Planner, job: Job) -> Iterable[str]:
    for one in job.off:
        part = planner.teardown.part.get(one.thing)
        if part is not None:
            yield from part.hazards
            continue
        yield from planner.structure.releases[one.thing].ways[one.way].hazards


def _way_in(planner: Planner, job: Job) -> list[Block]:
    assert job.way_in is not None and job.way_in.count is not None
    blocks: list[Block] = [Heading(tr("Way in"))]
    for timed in job.way_in.count.timed:
        text = sentence(operation_text(planner.teardown, planner.structure, timed.operation))
        blocks.append(Tick(tr("{0}. {1}").format(timed.step, text)))
    return blocks


def _way_back(teardown: Teardown, job: Job, number_of: Callable[[Picture, str], int]) -> list[Block]:
    """Steps in order; a picture before the first of the steps that it shows."""
    blocks: list[Block] = [Heading(tr("Putting back"))]
    for number, step in enumerate(job.plan.steps, start=1):
        found = picture_of(teardown, step)
        joint = teardown.joint.get(step.thing)
        if found is not None and joint is not None and joint.kind == "screw" and found.marks:
            blocks.append(Figure(number_of(found, joint.fastener or "")))
        figure = figure_text(step)
        text = tr("{0}. {1}").format(number, step_text(teardown, step))
        is_check = step.do == CHECK and step.refit is not None and step.refit.blocks
        text = tr("{0}: {1}").format(text, figure) if figure and figure not in text else text
        blocks.append(Tick(text, reason_text(step), is_check))
        blocks += [Line(detail, inside=True) for detail in details(teardown, step)]
    return blocks
