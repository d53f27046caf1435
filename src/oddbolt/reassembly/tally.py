"""The odd bolt: what came out, what went back, and the difference that must be zero at the end."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.model.things import Teardown
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, readings


class BoltTally(Struct, frozen=True, kw_only=True):
    """Bolts by the log. `uncertain` joints have no count; their bolts are in neither figure."""

    out: int
    back: int
    lost: int
    uncertain: tuple[str, ...]
    by_letter: tuple[tuple[str, int, int], ...]  # fastener, out, back

    @property
    def odd(self) -> int:
        return self.out - self.back - self.lost


def tally_bolts(teardown: Teardown) -> BoltTally:
    """Count the screws that the log released and fastened again. A lost one is out and will not go back."""
    is_out: dict[str, bool] = {}
    lost = 0
    for entry in readings(teardown):
        joint = teardown.joint.get(entry.thing or "")
        if joint is None or joint.kind != "screw":
            continue
        if entry.do == "release" and entry.outcome in OUTCOMES_THAT_RELEASE:
            is_out[joint.id] = True
            if entry.outcome == "lost":
                lost += round(entry.quantity or 1)
        elif entry.do == "fasten" and entry.outcome != "failed" and joint.id in is_out:
            is_out[joint.id] = False
    out: dict[str, int] = {}
    back: dict[str, int] = {}
    uncertain = []
    for id_, still_out in is_out.items():
        joint = teardown.joint[id_]
        if joint.count is None:
            uncertain.append(id_)
            continue
        letter = joint.fastener or "?"
        out[letter] = out.get(letter, 0) + joint.count
        back[letter] = back.get(letter, 0) + (0 if still_out else joint.count)
    return BoltTally(out=sum(out.values()), back=sum(back.values()), lost=lost, uncertain=tuple(uncertain),
                     by_letter=tuple((letter, out[letter], back[letter]) for letter in sorted(out)))
