"""The heating guide in words."""

from __future__ import annotations

from oddbolt.effort.heating import Guide
from oddbolt.words.figures import duration_text
from oddbolt.words.translate import N_, tr

ASSUMPTIONS = {
    "constant": N_("Assumed: a source of one temperature, nothing lost aside, no latent heat, properties of 25 °C."),
    "contact": N_("How well heat gets into the cover is the least known of it: the limits beside the time are of it."),
    "guide": N_("A guide, never a permission: measure, and stop at the limit of the cell. The maker's instructions and "
                "the rules of your place come first.")}


def guide_lines(found: Guide, release_c: float) -> list[str]:
    """When the bond is warm, how warm the cell is then, and whether a touch burns."""
    if found.time_s is None:
        lines = [tr("The bond does not reach {0:g} °C within half an hour; it comes to {1:.0f} °C.").format(
            release_c, found.usual.borders_c[1])]
    else:
        latest = duration_text(found.latest_s) if found.latest_s is not None else tr("never")
        lines = [tr("The bond reaches {0:g} °C after {1} ({2} to {3}).").format(
            release_c, duration_text(found.time_s), duration_text(found.earliest_s or 0.0), latest)]
    if found.cell_c is not None:
        text = tr("The cell is then at {0:.0f} °C: above its usual limit of {1:g} °C. Do not heat it so.") \
            if found.is_too_hot_for_cell else tr("The cell is then at {0:.0f} °C; its usual limit is {1:g} °C. Waiting "
                                                 "longer only brings it closer.")
        lines.append(text.format(found.cell_c, found.cell_limit_c))
    lines.append(tr("The cover is at {0:.0f} °C; a touch of a minute burns from {1:g} °C on (ISO 13732-1).").format(
        found.usual.borders_c[0], found.burn_c))
    return lines
