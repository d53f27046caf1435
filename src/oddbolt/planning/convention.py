"""How steps are counted and changes of tool and turns are charged: the settings, made ready for counting."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from oddbolt.catalog.policies import gives
from oddbolt.model.things import HAND, Settings

ANY_SIDE = "any"


def milliseconds(seconds: float) -> int:
    """Times are added as whole milliseconds, so that a bound and a value can be compared exactly."""
    return round(seconds * 1000)


@dataclass(frozen=True, slots=True, kw_only=True)
class ActKind:
    """What the counting rules need to know of an act or a removal."""

    tool_class: str | None  # None: a manual act that is aside
    own_step: bool  # always a step of its own
    extra_steps: int  # further tools at the same time, where each counts
    is_removal: bool
    side: str
    active_ms: int
    wait_ms: int = 0
    gives: str = ""  # heat or solvent, where acts that give the one are kept from those that give the other

    def leaves(self, tool: str | None, side: str | None) -> tuple[str | None, str | None]:
        """The tool in hand and the side up after it, from those before it."""
        return (tool if self.tool_class is None else self.tool_class), (side if self.side == ANY_SIDE else self.side)


class Convention:
    """Settings as used; `settings` is what is printed with every result."""

    def __init__(self, settings: Settings, *, keeps_apart: bool = False) -> None:
        """`keeps_apart`: no solvent while heat is on, and no heat while solvent soaks."""
        self.settings = settings
        self.keeps_apart = keeps_apart
        self.tool_change_ms = milliseconds(settings.tool_change_s)
        self.turn_ms = milliseconds(settings.turn_s)
        self._group = {tool: f"group {n}" for n, tools in enumerate(settings.tool_groups) for tool in tools}
        self._own = frozenset(settings.own_step)

    def tool_class(self, tool: str) -> str | None:
        if tool == HAND and not self.settings.hand_is_tool:
            return None
        return self._group.get(tool, tool)

    def setup_ms(self, kind: ActKind, tool: str | None, side: str | None) -> int:
        """The change of tool and the turn before an act; the first tool and the first side cost nothing."""
        change = self.tool_change_ms if kind.tool_class is not None and tool not in (None, kind.tool_class) else 0
        turn = self.turn_ms if kind.side != ANY_SIDE and side not in (None, kind.side) else 0
        return change + turn

    def kind(self, *, tool: str, also: tuple[str, ...], does: str, is_removal: bool, side: str, active_s: float,
             wait_s: float = 0) -> ActKind:
        return ActKind(tool_class=self.tool_class(tool), own_step=bool(does) and does in self._own,
                       extra_steps=len(also) if self.settings.each_tool else 0, is_removal=is_removal, side=side,
                       active_ms=milliseconds(active_s), wait_ms=milliseconds(wait_s),
                       gives=gives(does, tool) if self.keeps_apart and not is_removal else "")


def number_steps(kinds: Iterable[ActKind]) -> tuple[list[int], int]:
    """The step each act belongs to, from 1, and the number of steps with further tools counted.

    EN 45554:2020: a step is an operation that finishes with the removal of a part and/or with a change of tool.
    """
    numbers: list[int] = []
    step, is_open, tool, extra = 0, False, None, 0
    for kind in kinds:
        changes = kind.tool_class is not None and tool is not None and kind.tool_class != tool
        if not is_open or changes or kind.own_step:
            step, is_open, tool = step + 1, True, None
        numbers.append(step)
        extra += kind.extra_steps
        if kind.tool_class is not None:
            tool = kind.tool_class
        if kind.is_removal or kind.own_step:
            is_open, tool = False, None
    return numbers, step + extra
