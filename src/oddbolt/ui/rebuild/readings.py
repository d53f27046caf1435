"""What the instruments at the bench read of a step, held against what was told."""

from __future__ import annotations

from typing import Any

from oddbolt.catalog.torque import BREAKING, IMPOSSIBLE, TorqueCheck, check_torque
from oddbolt.instruments.protocols import Bench, InstrumentFault
from oddbolt.model.refusal import Refusal
from oddbolt.reassembly.rebuilding.doses import LESS, MORE, reconcile
from oddbolt.reassembly.rebuilding.putting_back import APPLY, FASTEN, Step
from oddbolt.reassembly.tightening import torque_of
from oddbolt.session.session import Session
from oddbolt.words.rebuilding.steps import dose_text, figure_text
from oddbolt.words.screws import torque_text
from oddbolt.words.translate import tr

LEAST_DOSE_G = 0.3  # less than this the scale cannot tell from nothing
APART = 0.2  # share by which a measured torque may be off what was told: ours


class Readings:
    """Torque driver and scale."""

    def __init__(self, session: Session, instruments: Bench) -> None:
        self._session, self.instruments = session, instruments
        self.on_scale_g: float | None = None  # what the dispenser weighed when the step came up

    def begin(self, step: Step | None) -> None:
        """A step comes up: what is applied is weighed by what goes from the scale."""
        self.on_scale_g = self.weighed() if step is not None and step.do == APPLY else None

    def torque_told(self, step: Step) -> TorqueCheck | None:
        """The torque that is told for a step, judged."""
        told = next(((value, unit) for one in reversed(step.refit.passes if step.refit is not None else ())
                     for value, unit in (torque_of(one),) if value is not None), None)
        return None if told is None else self.judged(step, *told)

    def judged(self, step: Step, value: float, unit: str) -> TorqueCheck | None:
        teardown = self._session.teardown
        fastener = teardown.fastener.get(teardown.joint[step.thing].fastener or "") \
            if step.thing in teardown.joint else None
        try:
            return check_torque(value, unit, fastener.thread if fastener else "",
                                recess=(fastener.drive, fastener.size) if fastener else ("", ""))
        except Refusal:
            return None

    def weighed(self) -> float | None:
        """What lies on the scale, g; None without one, or where it does not answer."""
        scale = self.instruments().scale
        try:
            return None if scale is None else scale.weigh().value
        except InstrumentFault:
            return None

    def dosed(self, step: Step) -> tuple[dict[str, Any], str]:
        """How much lighter the dispenser has become, held against what was told."""
        before, after = self.on_scale_g, self.weighed()
        if before is None or after is None or before - after < LEAST_DOSE_G:
            return {}, ""
        amount = round(before - after, 2)
        found, words = self.held_against(step, amount, "g")
        return {"quantity": amount, "unit": "g"}, words if found in (LESS, MORE) else ""

    @staticmethod
    def held_against(step: Step, amount: float, unit: str) -> tuple[str, str]:
        """What was applied against what was told: the code and the words; empty where no amount was told."""
        told = next((use for use in step.uses if use.qty is not None), None)
        if told is None or told.qty is None:
            return "", ""
        found = reconcile((told.qty, told.unit), (amount, unit), told.material)
        return found.code, dose_text(found, told, amount, unit)

    def measured(self, step: Step) -> tuple[dict[str, Any], str]:
        """What the torque driver or the scale read, with what is to be said of it."""
        if step.do == APPLY:
            return self.dosed(step)
        teardown, driver = self._session.teardown, self.instruments().torque_driver
        joint = teardown.joint.get(step.thing)
        if driver is None or step.do != FASTEN or joint is None or joint.kind != "screw":
            return {}, ""
        try:
            reading = driver.peak_torque()
        except InstrumentFault:
            return {}, tr("The torque driver does not answer; the torque was not read")
        if reading.value <= 0:
            return {}, ""
        keys = {"value": reading.value, "unit": reading.unit}
        check, told = self.judged(step, reading.value, reading.unit), self.torque_told(step)
        if check is not None and check.verdict in (IMPOSSIBLE, BREAKING):
            return keys, tr("Measured {0:g} {1}: {2}").format(reading.value, reading.unit, torque_text(check))
        if check is not None and told is not None and abs(check.torque_nm - told.torque_nm) > APART * told.torque_nm:
            return keys, tr("Measured {0:g} {1}, told was {2}").format(reading.value, reading.unit, figure_text(step))
        return keys, ""
