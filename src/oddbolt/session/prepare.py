"""A new teardown: from a category, from an earlier model, or blank."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.catalog.tables import categories, driver_for
from oddbolt.model.things import Device, LogEntry, Part, Pass, Teardown, Tool


class Preparation(Struct, frozen=True, kw_only=True):
    """What is said before the first screw."""

    name: str = ""
    category: str = "other"
    variant: str = ""
    base: str = ""  # name of the part that stays on the mat; empty: the category's
    by: str = ""
    place: str = ""
    tools: tuple[str, ...] = ()
    checked: tuple[tuple[str, str], ...] = ()  # items of the safety checklist that were done: id, words


def new_teardown(preparation: Preparation, started: str, earlier: Teardown | None = None) -> Teardown:
    """An empty record of a category: base, main board, fastener letters as they come. `earlier` gives what is known of
    the model: its parts and joints, by word of the earlier record, without log and photographs."""
    row = next((c for c in categories() if c.category == preparation.category), categories()[-1])
    log = tuple(LogEntry(id=f"e{n}", t=0, do="inspect", text=text, value=True, finding=id_)
                for n, (id_, text) in enumerate(preparation.checked, start=1))
    sessions = (Pass(pass_=1, by=preparation.by, started=started, place=preparation.place),)
    if earlier is not None:
        device = replace(earlier.device, name=preparation.name or earlier.device.name, serial="",
                         variant=preparation.variant or earlier.device.variant)
        told = {"parts": tuple(_told(p) for p in earlier.parts), "joints": tuple(_told(j) for j in earlier.joints)}
        return replace(earlier, device=device, log=log, sessions=sessions, views=(), opinions=(), answers=(), **told)
    base = Part(id="base", name=preparation.base or row.base, kind="frame")
    board = Part(id="main-board", name=row.board, kind="board", basis="assumed")
    device = Device(name=preparation.name, category=row.category, variant=preparation.variant, base=base.id)
    tools = tuple(Tool(id=tool) for tool in preparation.tools or row.tools)
    return Teardown(device=device, tools=tools, parts=(base, board), log=log, sessions=sessions,
                    given=frozenset(("format", "version")))  # written out, as every file needs them


def _told(thing):
    return replace(thing, basis="told" if thing.basis in ("done", "seen") else thing.basis)


def tools_of_similar(earlier: list[Teardown]) -> list[str]:
    """Tools that earlier devices of the kind needed, those used most first."""
    often: dict[str, int] = {}
    for teardown in earlier:
        used = {e.tool for e in teardown.log if e.tool} | {
            driver_for(f.drive, f.size) for f in teardown.fasteners if f.drive}
        for tool in used - {"hand"}:
            often[tool] = often.get(tool, 0) + 1
    return sorted(often, key=lambda tool: (-often[tool], tool))
