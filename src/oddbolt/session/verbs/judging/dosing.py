"""A dose in the record: what was put on, how much, and what it fills."""

from __future__ import annotations

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.session.verbs.plain import Done, label_of, log_entry


def apply_dose(teardown: Teardown, thing: str, *, material: str, mass_g: float, gap_mm: float, area_mm2: float,
               density_g_cm3: float, t: float, weighed: bool) -> Done:
    """Mass in g on an area, with the gap it fills; `weighed` mass is done, reckoned mass is told."""
    for name, value in (("mass", mass_g), ("gap", gap_mm), ("area", area_mm2), ("density", density_g_cm3)):
        if not value > 0:
            raise Refusal(name, "figure-above-zero")
    if thing not in teardown.part and thing not in teardown.joint:
        raise Refusal(thing, "no-such-thing", id=thing)
    value = {"material": material, "gap_mm": round(gap_mm, 4), "area_mm2": round(area_mm2, 2),
             "density_g_cm3": density_g_cm3}
    after = log_entry(teardown, do="apply", thing=thing, quantity=round(mass_g, 4), unit="g", value=value, t=t,
                      basis="done" if weighed else "told")
    return Done(label_of("dose", teardown, thing), after)
