"""Settings: what a person prefers. Text size is seen at once, the rest from the next start on."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.folders import config_folder, data_folder, state_folder
from oddbolt.model.refusal import Refusal
from oddbolt.paint.palette import Palette
from oddbolt.store import preferences
from oddbolt.store.preferences import LENGTHS, LOOKS
from oddbolt.ui.pieces.sheet import Echo, label
from oddbolt.ui.shell import application
from oddbolt.ui.theme.style import dress
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import catalogues, tr

SIZES = (0.9, 1.0, 1.15, 1.3, 1.5, 1.75, 2.0)


class SettingsSheet(QDialog):
    def __init__(self, parent: QWidget, palette: Palette) -> None:
        super().__init__(parent)
        self._palette, self._before = palette, preferences.read()
        self.setWindowTitle(tr("Settings"))
        self.text, self.look, self.language, self.lengths = QComboBox(), QComboBox(), QComboBox(), QComboBox()
        for size in SIZES:
            self.text.addItem(tr("{0:.0f} %").format(size * 100), size)
        for look, name in zip(LOOKS, (tr("as the system"), tr("light"), tr("dark"))):
            self.look.addItem(name, look)
        for code, name in (("", tr("as the system")), ("en", tr("English")), *((c, c) for c in catalogues())):
            self.language.addItem(name, code)
        for unit, name in zip(LENGTHS, (tr("millimetres"), tr("inches"))):
            self.lengths.addItem(name, unit)
        self.simulated = QCheckBox(tr("Simulated instruments beside every record; what they measure says so"))
        self.folder = QLineEdit(self._before.folder)
        self.folder.setPlaceholderText(str(data_folder()))
        self.choose = QPushButton(tr("Choose…"))
        self.choose.clicked.connect(lambda _: self._choose_folder())
        self.problem = Echo()
        nearest = min(SIZES, key=lambda size: abs(size - self._before.text))
        self.text.setCurrentIndex(SIZES.index(nearest))
        self.look.setCurrentIndex(LOOKS.index(self._before.look))
        self.language.setCurrentIndex(max(0, self.language.findData(self._before.language)))
        self.lengths.setCurrentIndex(LENGTHS.index(self._before.lengths))
        self.simulated.setChecked(self._before.simulated_bench)
        self._build()
        self.text.activated.connect(lambda _: self._dress(self.text.currentData()))
        self.rejected.connect(lambda: self._dress(self._before.text))

    def _build(self) -> None:
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        place = QHBoxLayout()
        place.addWidget(self.folder, 1)
        place.addWidget(self.choose)
        for n, (name, field) in enumerate(((tr("Text"), self.text), (tr("Look"), self.look),
                                           (tr("Language"), self.language), (tr("Lengths in"), self.lengths))):
            field.setAccessibleName(name)
            grid.addWidget(label(name, "faint"), n, 0)
            grid.addWidget(field, n, 1)
        self.folder.setAccessibleName(tr("Folder for new work"))
        grid.addWidget(label(tr("New work in"), "faint"), 4, 0)
        grid.addLayout(place, 4, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(8)
        column.addLayout(grid)
        column.addWidget(self.simulated)
        where = tr("Kept in {0}; corrections of the tables in {1}; the log of errors in {2}.").format(
            config_folder(), data_folder() / "tables", state_folder())
        later = tr("Look, language, lengths, instruments and folder take effect at the next start.")
        hint = label(f"{later}\n{where}", "faint", wrap=True)
        hint.setMinimumWidth(460)
        column.addWidget(hint)
        column.addWidget(self.problem)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.keep)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)

    def _dress(self, scale: float) -> None:
        dress(application(), self._palette, scale)

    def _choose_folder(self) -> None:
        start = self.folder.text() or str(data_folder())
        name = QFileDialog.getExistingDirectory(self, tr("Folder for new work"), start)
        if name:
            self.folder.setText(name)

    def keep(self) -> None:
        """Write them down; said here where that cannot be."""
        folder = self.folder.text().strip()
        if folder and not Path(folder).is_dir():
            self.problem.say(tr("{0} is no folder").format(folder), alarm=True)
            return
        try:
            preferences.write(replace(
                preferences.read(), text=self.text.currentData(), look=self.look.currentData(),
                language=self.language.currentData(),
                lengths=self.lengths.currentData(), simulated_bench=self.simulated.isChecked(), folder=folder))
        except Refusal as refusal:
            self.problem.say(refusal_text(refusal), alarm=True)
            return
        self.accept()
