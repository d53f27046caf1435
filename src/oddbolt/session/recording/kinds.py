"""Which type and tool a kind of joint is marked with: those used last, and the next type when it is asked for again."""

from __future__ import annotations

from msgspec import Struct, field

from oddbolt.catalog.tables import MarkKind, mark_kinds
from oddbolt.session.verbs.marking import Kind


class KindsUsed(Struct):
    """Remembered as long as the window is open."""

    types: dict[str, int] = field(default_factory=dict)  # kind -> place of its type
    tools: dict[tuple[str, str], str] = field(default_factory=dict)  # kind of joint and type -> tool used last

    def armed(self, id_: str, now: Kind | None) -> Kind:
        """The kind as it is marked next: with the type used last, or the next one where the kind is armed already."""
        row = mark_kinds()[id_]
        if means(row, now) and row.types:
            self.types[id_] = (self.types.get(id_, 0) + 1) % len(row.types)
        place = self.types.get(id_, 0)
        type_ = row.types[place] if row.types else ""
        usual = row.tools[place] if place < len(row.tools) else ""
        return Kind(joint=row.kind, type=type_, tool=self.tools.get((row.kind, type_), usual))

    def as_type(self, id_: str, type_: str) -> Kind:
        """The kind with a type that was said; the next is marked with it too."""
        self.types[id_] = mark_kinds()[id_].types.index(type_)
        return self.armed(id_, None)

    def remembered(self) -> dict[str, str]:
        """Kinds of the table whose next mark gets a tool that was chosen, with that tool."""
        found = {}
        for id_, row in mark_kinds().items():
            place = self.types.get(id_, 0)
            tool = self.tools.get((row.kind, row.types[place] if row.types else ""), "")
            if tool:
                found[id_] = tool
        return found

    def remember_tool(self, joint: str, type_: str, tool: str) -> None:
        """The tool taken last for a kind and type is the one for the next."""
        self.tools[joint, type_] = tool


def means(row: MarkKind, kind: Kind | None) -> bool:
    """Whether what is armed is of a row of the table of kinds."""
    return kind is not None and not kind.letter and row.kind == kind.joint and (
        not row.types or kind.type in row.types)
