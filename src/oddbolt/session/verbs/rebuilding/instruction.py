"""The instruction for the whole device, and procedures with a name: their entries and what they are for."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.snapshot import ids_of
from oddbolt.model.things import CLOSED, Procedure, Refit, Teardown
from oddbolt.session.verbs.plain import Done


def set_entries(teardown: Teardown, procedure: str, entries: Sequence[Refit]) -> Done:
    """The entries of a procedure, or of the whole device where `procedure` is empty."""
    if not procedure:
        return Done(Label("instruction-whole"), replace(teardown, refit=tuple(entries)))
    changed = replace(_of(teardown, procedure), entries=tuple(entries))
    return Done(Label("instruction", {"name": changed.name or changed.id}), _with(teardown, changed))


def add_procedure(teardown: Teardown, name: str, for_: str = "", from_: str = CLOSED) -> Done:
    """A procedure without entries; for a part, or going on from another one."""
    name = name.strip()
    if not name:
        raise Refusal("name", "needs-name")
    stem = "".join(c if c.isalnum() else "-" for c in name.lower()).strip("-") or "procedure"
    taken, id_, n = ids_of(teardown, "procedures"), stem, 2
    while id_ in taken:
        id_, n = f"{stem}-{n}", n + 1
    made = Procedure(id=id_, name=name, for_=for_ or None, from_=from_)
    return Done(Label("add-procedure", {"name": name}), replace(teardown, procedures=(*teardown.procedures, made)), id_)


def change_procedure(teardown: Teardown, procedure: str, name: str, for_: str, from_: str) -> Done:
    changed = replace(_of(teardown, procedure), name=name.strip() or procedure, for_=for_ or None, from_=from_)
    return Done(Label("instruction", {"name": changed.name}), _with(teardown, changed))


def delete_procedure(teardown: Teardown, procedure: str) -> Done:
    """Without a procedure; one that goes on from it or does it within is in the way."""
    gone = _of(teardown, procedure)
    users = [one for one in teardown.procedures if one.id != procedure and (
        one.from_ == procedure or any(entry.procedure == procedure for entry in one.entries))]
    if users:
        raise Refusal(procedure, "procedure-in-use", by=users[0].name or users[0].id)
    return Done(Label("delete-procedure", {"name": gone.name or gone.id}), replace(
        teardown, procedures=tuple(one for one in teardown.procedures if one.id != procedure)))


def _of(teardown: Teardown, procedure: str) -> Procedure:
    found = next((one for one in teardown.procedures if one.id == procedure), None)
    if found is None:
        raise Refusal(procedure, "no-procedure", id=procedure)
    return found


def _with(teardown: Teardown, changed: Procedure) -> Teardown:
    return replace(teardown, procedures=tuple(changed if one.id == changed.id else one for one in teardown.procedures))
