"""What the safety policies of plans go by: how hot a cell may get, and which acts give heat or solvent vapour."""

from __future__ import annotations

from oddbolt.catalog.tables import table

HEAT, SOLVENT = "heat", "solvent"


def cell_limit_c() -> float:
    """The temperature, °C, above which a cell is not heated."""
    return float(table("policies.toml")["cell"]["limit_c"])


def gives(verb: str, tool: str) -> str:
    """HEAT or SOLVENT for an act that gives it while it works and waits; empty for any other."""
    rows = table("policies.toml")
    for name in (HEAT, SOLVENT):
        if verb in rows[name]["verbs"] or (not verb and tool in rows[name]["tools"]):
            return name
    return ""
