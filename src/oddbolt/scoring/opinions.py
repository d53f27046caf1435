"""What a record says for and against an opinion: points of the parts and criteria that its matters or reasons name."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator

from msgspec import Struct

from oddbolt.model.things import Opinion, Teardown
from oddbolt.scoring.evaluate import CriterionScore, PartScore, Verdict
from oddbolt.scoring.measures.looking import Ground

FOR, AGAINST, NEITHER = "for", "against", "neither"
MIDDLE = 0.5
MARGIN = 0.15  # shares of a scale that lie no further apart say neither


class Leaning(Struct, frozen=True, kw_only=True):
    """Evidence of one criterion beside a mark: whether it speaks for it or against it."""

    matter: str
    criterion: str
    part: str
    says: str
    share: float  # of the scale, what the criterion gives
    mark: float | None  # of the whole, what the person gives
    grounds: tuple[Ground, ...]


def evidence_for(teardown: Teardown, verdict: Verdict, opinion: Opinion) -> Iterator[Leaning]:
    """For each matter that is marked, and each part that the reasons name, what the criteria say of it."""
    matters = [(one.name, one.mark / one.of if one.mark is not None and one.of else None) for one in opinion.marks]
    whole = opinion.mark / opinion.of if opinion.mark is not None and opinion.of else None
    matters += [(name, whole) for name in _named(teardown, opinion.reasons)
                if name not in (matter for matter, _ in matters)]
    for matter, mark in matters:
        parts = parts_called(teardown, matter)
        for score in verdict.criteria:
            for part in score.parts:
                if part.part in parts:
                    yield _leaning(verdict, matter, mark, score, part)


def parts_called(teardown: Teardown, name: str) -> set[str]:
    """Parts that a word means: by name, kind or role."""
    word = name.strip().casefold()
    if not word:
        return set()
    return {part.id for part in teardown.parts
            if word in (part.name.casefold(), part.kind.casefold(), part.id.casefold())
            or any(word == role.replace("_", " ") for role in part.role)}


def _named(teardown: Teardown, text: str) -> list[str]:
    """Words of the reasons that mean a part with a role."""
    words = dict.fromkeys(re.findall(r"\w+", text))
    roles = {part.id for part in teardown.parts if part.role}
    return [word for word in words if parts_called(teardown, word) & roles]


def _leaning(verdict: Verdict, matter: str, mark: float | None, score: CriterionScore, part: PartScore) -> Leaning:
    low, high = (0.0, float(len(score.criterion.letters) - 1)) if score.criterion.letters else verdict.method.scale
    middle = sum(part.points) / 2
    share = (middle - low) / (high - low) if high > low and not math.isnan(middle) else math.nan
    if mark is None or math.isnan(share) or (abs(share - MIDDLE) < MARGIN and abs(mark - MIDDLE) < MARGIN):
        says = NEITHER
    else:
        says = FOR if abs(share - mark) <= MARGIN or (share - MIDDLE) * (mark - MIDDLE) > 0 else AGAINST
    return Leaning(matter=matter, criterion=score.criterion.id, part=part.part, says=says, share=share, mark=mark,
                   grounds=part.evidence)
