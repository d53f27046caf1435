"""A report of the sections that were asked for, in one order; and the short form of a single page."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.reassembly.ledger import ledger_of
from oddbolt.reports.content.report import honesty, judging, matter, opening, ways
from oddbolt.reports.content.report.ground import Ground, Report
from oddbolt.reports.content.strata import section_alone
from oddbolt.reports.content.tree import Block, Drawing, Figure, Line, Page, Remark, Title
from oddbolt.search.planner import Planner
from oddbolt.words.judging.verdicts import class_text, convention_text, firm_text, index_text
from oddbolt.words.translate import N_, from_table, of_data, tr

SHORT = "short"
SHORT_PICTURE_MM, SHORT_SECTION_MM = 62.0, 104.0  # so that the rest has room on one sheet
_MAKERS: dict[str, Callable[[Ground], list[Block]]] = {
    "cover": opening.cover, "device": opening.device, "method": opening.method, "layers": matter.layers,
    "bolts": matter.bolts, "parts": matter.parts, "cables": matter.cables, "sequence": ways.sequence,
    "section": ways.section, "ways": ways.ways, "verdicts": judging.verdicts, "whatif": judging.changes,
    "back": ways.back, "comparison": judging.comparison, "opinions": judging.opinions, "open": honesty.unsettled,
    "sources": honesty.sources, "log": honesty.log}
SECTIONS = tuple(_MAKERS)  # in the order of the document
NAMES = {"cover": N_("Cover and contents"), "device": N_("Device"), "method": N_("Method and convention"),
         "layers": N_("Layers with marked photographs"), "bolts": N_("Bolts and tray"), "parts": N_("Parts and joints"),
         "cables": N_("Cables"), "sequence": N_("Sequence"), "section": N_("Section"), "ways": N_("Ways in words"),
         "verdicts": N_("Verdicts with evidence"), "whatif": N_("What if"), "back": N_("Putting back"),
         "comparison": N_("Beside other devices"), "opinions": N_("Opinions"),
         "open": N_("Assumed, unconfirmed, open"), "sources": N_("Sources"), "log": N_("Log")}
_JUDGED = ("verdicts", "opinions", "open")  # need verdicts


def section_name(section: str) -> str:
    return from_table(NAMES, section)


def compose(planner: Planner, sections: Collection[str] = SECTIONS, others: Sequence[Teardown] = ()) -> \
        Iterator[Report | float]:
    """A share from 0 to 1 as it goes on, last the report.

    Raises Refusal `no-such-section`. Without `others` the section that compares is left out where all are asked for.
    """
    yield from compose_from(Ground(planner, others), sections)


def compose_from(ground: Ground, sections: Collection[str] = SECTIONS) -> Iterator[Report | float]:
    """The same from a ground: sections that were made of it before are not made again."""
    for section in sections:
        if section not in _MAKERS:
            raise Refusal("--sections", "no-such-section", section=section, known=", ".join((*SECTIONS, SHORT)))
    wanted = [section for section in SECTIONS if section in sections
              and (section != "comparison" or ground.others or len(sections) < len(SECTIONS))]
    yield 0.0
    if any(section in wanted and section not in ground.made for section in _JUDGED):
        for _ in ground.find_verdicts():
            yield 0.1
    if "whatif" in wanted and "whatif" not in ground.made:
        for _ in ground.find_outcomes():
            yield 0.2
    for n, section in enumerate(wanted):
        if section not in ground.made:
            ground.made[section] = _MAKERS[section](ground)
        yield 0.3 + 0.7 * (n + 1) / len(wanted)
    yield _report(ground, [block for section in wanted for block in ground.made[section]])


def compose_short(planner: Planner) -> Iterator[Report | float]:
    """One page: a picture, the section, the verdict and the facts that matter."""
    ground = Ground(planner)
    teardown = ground.teardown
    yield 0.0
    for _ in ground.find_verdicts(most=1):
        yield 0.3
    yield 0.9
    blocks: list[Block] = [Title(teardown.device.name or tr("Unnamed device"))]
    by = ", ".join(dict.fromkeys(one.by for one in teardown.sessions if one.by))
    when = max((one.started[:10] for one in teardown.sessions if one.started), default="")
    if by or when:
        blocks.append(Remark(" · ".join(one for one in (by, when) if one)))
    first = next(iter(teardown.pictured), None)
    if first is not None:
        blocks.append(Figure(ground.shot(first), tallest_mm=SHORT_PICTURE_MM))
    if ground.priority:
        ground.drawings["section"] = section_alone(planner, ground.priority)
        blocks.append(Drawing("section", tallest_mm=SHORT_SECTION_MM))
    verdict = next(iter(ground.verdicts), None)
    if verdict is not None:
        said = ", ".join(text for text in (index_text(verdict), class_text(verdict)) if text)
        blocks.append(Line(f"{of_data(verdict.method.name)}: {said}. {firm_text(verdict)}"))
    ledger = ledger_of(teardown)
    blocks += [*(Line(line) for line in judging.headline(ground)),
               Line(tr("Bolts: {0} out, {1} back, {2} odd.").format(ledger.out, ledger.back, ledger.odd)),
               Remark(convention_text(planner.convention.settings))]
    yield _report(ground, blocks)


def _report(ground: Ground, blocks: Sequence[Block]) -> Report:
    shown = {block.number for block in blocks if isinstance(block, Figure)}
    drawn = [block.name for block in blocks if isinstance(block, Drawing)]
    return Report(page=Page(tuple(blocks)), planner=ground.planner,
                  pictures=tuple(one for one in ground.pictures if one.number in shown),
                  drawings={name: ground.drawings[name] for name in drawn})


def finished(making: Iterator[Report | float]) -> Report:
    """The report itself, without its progress."""
    *_, last = making
    assert isinstance(last, Report)
    return last
