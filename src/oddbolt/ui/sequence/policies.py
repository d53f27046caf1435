"""Switches for what a plan keeps to before anything else, each with what it costs and where it is broken."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QLabel, QVBoxLayout, QWidget

from oddbolt.model.things import Teardown
from oddbolt.rules.policies import APART, CELL, KEEP, Breach
from oddbolt.studies.policy_cost import ISOLATE, Price
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.acts import breach_text, price_text
from oddbolt.words.translate import tr

INDENT = 20  # px: the text of a switch begins there


class Policies(QWidget):
    """A switch for each policy. Off, a policy is still told of where the plan breaks it."""

    changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        texts = {ISOLATE: tr("Make safe first"),
                 APART: tr("No solvent while heat is on"),
                 CELL: tr("No cell heated above its limit"),
                 KEEP: tr("Nothing destroyed on the way")}
        self.boxes = {policy: QCheckBox(text) for policy, text in texts.items()}
        self.lines: dict[str, QLabel] = {policy: label("", "faint", wrap=True) for policy in texts}
        self.performed = label("", "faint", wrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        for policy, switch in self.boxes.items():
            box.addWidget(switch)
            self.lines[policy].setIndent(INDENT)
            box.addWidget(self.lines[policy])
            switch.toggled.connect(lambda _: self.changed.emit())
        explain((self.boxes[ISOLATE], tr("Nothing is done to live parts before the power is off")),
                (self.boxes[APART], tr("Solvent vapour and a hot tool never at the same time")),
                (self.boxes[CELL], tr("No way that heats the cell beyond what it bears")),
                (self.boxes[KEEP], tr("No way that leaves a part or a fixing unusable")))
        box.addSpacing(6)
        box.addWidget(self.performed)
        box.addWidget(label(tr("Local codes, the maker's instructions and licensed practice come first."), "faint",
                            wrap=True))
        box.addStretch(1)

    def kept(self) -> list[str]:
        return [policy for policy, switch in self.boxes.items() if switch.isChecked()]

    def set_kept(self, kept: Sequence[str]) -> None:
        """Without a word: nothing is searched anew."""
        for policy, switch in self.boxes.items():
            switch.blockSignals(True)
            switch.setChecked(policy in kept)
            switch.blockSignals(False)

    def show_plan(self, teardown: Teardown, broken: Sequence[Breach], live_acts: int,
                  prices: Mapping[str, Price]) -> None:
        """Where the plan shown breaks each policy, and what those kept cost it."""
        for policy, line in self.lines.items():
            told = [breach_text(teardown, breach) for breach in broken if breach.policy == policy]
            if told and self.boxes[policy].isChecked():
                told = [tr("cannot be kept. {0}").format(text) for text in told]
            if policy == ISOLATE and live_acts:
                told.append(tr("{0} live acts in this plan").format(live_acts))
            if policy in prices:
                told.append(price_text(prices[policy]))
            line.setText("\n".join(told))
            line.setVisible(bool(told))

    def show_performed(self, teardown: Teardown, broken: Sequence[Breach]) -> None:
        """What the work as performed broke."""
        lines = [breach_text(teardown, breach) for breach in broken]
        self.performed.setText(tr("As performed:") + "\n" + "\n".join(lines) if lines else "")
        self.performed.setVisible(bool(lines))
