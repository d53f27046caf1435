"""Which screw is it: calliper readings as they are typed, candidates with their odds as they follow."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QTreeWidget,
    QVBoxLayout,
    QWidget,
)

from oddbolt.catalog import drivers, screws
from oddbolt.catalog.screws import Identified, Readings
from oddbolt.model.quantity import read_length_mm, read_number
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fastener
from oddbolt.ui.pieces.sheet import explain, label, tip
from oddbolt.ui.pieces.sorting import BY, Row, sortable
from oddbolt.words.figures import odds_text
from oddbolt.words.lengths import figure_text, unit, with_unit
from oddbolt.words.refusals import at_field_text
from oddbolt.words.screws import doubt_text, driver_text, mismatch_text, next_reading_text, screw_name
from oddbolt.words.translate import of_data, tr

FIELDS = ("diameter_mm", "pitch_mm", "length_mm", "head_mm", "head_height_mm", "across_mm")
SHOWN = 5  # candidates


class Identify(QWidget):
    """A form and its answer; what is wrong with a field stands below it."""

    write_asked = Signal(object)  # a fastener without a letter: what was found, for the letter in hand
    add_asked = Signal(object)  # the same as another letter of the tray
    photo_asked = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.found: Identified | None = None
        self._filling = False
        self.readings = Readings()
        names = {"diameter_mm": tr("Outer diameter"), "pitch_mm": tr("Pitch, or turns/mm"),
                 "length_mm": tr("Length"), "head_mm": tr("Head diameter"),
                 "head_height_mm": tr("Head height"), "across_mm": tr("Recess across")}
        self.fields = {name: QLineEdit() for name in FIELDS}
        self.problems: dict[str, QLabel] = {}
        self.drive, self.size, self.colour, self.magnet = QComboBox(), QComboBox(), QComboBox(), QComboBox()
        self._fill_choices()
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(2)
        for n, name in enumerate(FIELDS):
            self._add_field(grid, n, name, names[name])
        choices = ((self.drive, tr("Recess")), (self.size, tr("Driver size")),
                   (self.colour, tr("Colour")), (self.magnet, tr("Magnet")))
        for n, (combo, text) in enumerate(choices, start=len(FIELDS)):
            combo.setAccessibleName(text)
            combo.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            combo.currentIndexChanged.connect(lambda _: self.refresh())
            grid.addWidget(label(text, "faint"), n // 2 * 3, n % 2)
            grid.addWidget(combo, n // 2 * 3 + 1, n % 2)
        explain((self.drive, tr("The shape of the recess")), (self.size, tr("The driver that fits it")),
                (self.colour, tr("Of the head")), (self.magnet, tr("Whether a magnet lifts it: steel, or not")),
                *((self.fields[name], text) for name, text in (
                    ("diameter_mm", tr("Over the thread, by calliper")),
                    ("pitch_mm", tr("From crest to crest, or turns for a millimetre")),
                    ("length_mm", tr("Below the head; of a countersunk one, all of it")),
                    ("head_mm", tr("Across the head")), ("head_height_mm", tr("Without the thread")),
                    ("across_mm", tr("The recess, from side to side")))))
        self._put_together(grid)
        self.refresh()

    def _put_together(self, grid: QGridLayout) -> None:
        """Readings above, what they may be, what to do about it."""
        self.list = QTreeWidget()
        self.list.setColumnCount(2)
        self.list.setHeaderLabels([tr("Odds"), tr("Screw")])
        self.list.setRootIsDecorated(False)
        self.list.setAccessibleName(tr("What the screw may be"))
        self.list.header().setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        self.list.setMinimumHeight(112)
        sortable(self.list, self.refresh)
        self.advice = label("", "", wrap=True)
        self.advice.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.photo = QPushButton(tr("By photo"))
        self.photo.setToolTip(tr("Head diameter and recess, proposed from a mark of this letter and the scale"))
        self.write = QPushButton(tr("Write down"))
        self.add = QPushButton(tr("New letter"))
        explain((self.list, tr("Ranked by how well the readings fit; the odds add up")),
                (self.write, tr("Write what was found to the letter in hand")),
                (self.add, tr("Take what was found for another kind of screw on the tray")))
        buttons = QHBoxLayout()
        for button, signal in ((self.photo, None), (self.write, self.write_asked), (self.add, self.add_asked)):
            button.setObjectName("big")
            button.setSizePolicy(QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Fixed)
            buttons.addWidget(button)
            if signal is not None:
                button.clicked.connect(lambda _, s=signal: s.emit(self.fastener()))
        self.photo.clicked.connect(lambda _: self.photo_asked.emit())
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        box.addLayout(grid)
        box.addWidget(self.list, 1)
        box.addWidget(self.advice)
        box.addLayout(buttons)

    def _add_field(self, grid: QGridLayout, n: int, name: str, text: str) -> None:
        field, problem = self.fields[name], label("", "problem", wrap=True)
        field.setAccessibleName(text)
        field.setPlaceholderText(unit())
        field.setMaxLength(40)
        field.setMinimumWidth(60)
        field.textChanged.connect(lambda _: self.refresh())
        problem.hide()
        self.problems[name] = problem
        row, column = n // 2 * 3, n % 2
        grid.addWidget(label(text, "faint"), row, column)
        grid.addWidget(field, row + 1, column)
        grid.addWidget(problem, row + 2, column)

    def _fill_choices(self) -> None:
        self.drive.addItem("–", "")
        for drive in drivers.drives().values():
            self.drive.addItem(f"{drive.code}  {of_data(drive.name)}", drive.code)
        self.drive.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.drive.setMinimumContentsLength(8)
        self.drive.currentIndexChanged.connect(lambda _: self._fill_sizes())
        for text, value in (("–", ""), (tr("silver"), "silver"), (tr("black"), "black"),
                            (tr("yellow"), "yellow")):
            self.colour.addItem(text, value)
        for text, value in (("–", None), (tr("a magnet lifts it"), True), (tr("a magnet does not"), False)):
            self.magnet.addItem(text, value)
        self._fill_sizes()

    def _fill_sizes(self) -> None:
        drive = drivers.drives().get(self.drive.currentData())
        self.size.blockSignals(True)
        self.size.clear()
        self.size.addItem("–", "")
        for size in drive.sizes() if drive else ():
            self.size.addItem(size, size)
        self.size.blockSignals(False)

    # -- reading and answering

    def show_fastener(self, fastener: Fastener) -> None:
        """Begin with what is on record of a letter; readings of another are taken away."""
        self._filling = True
        for field in self.fields.values():
            field.clear()
        self.drive.setCurrentIndex(max(0, self.drive.findData(fastener.drive)))
        self.size.setCurrentIndex(max(0, self.size.findData(fastener.size)))
        self.colour.setCurrentIndex(max(0, self.colour.findData(fastener.colour)))
        self.magnet.setCurrentIndex(0)
        for name, value in (("length_mm", fastener.length_mm), ("head_mm", fastener.head_mm)):
            if value:
                self.fields[name].setText(figure_text(value))
        self._filling = False
        self.refresh()

    def propose(self, head_mm: float | None, drive: str) -> None:
        """Take over what a photograph shows; it can be changed like anything typed."""
        if head_mm is not None:
            self.fields["head_mm"].setText(figure_text(round(head_mm, 1)))
        if drive:
            self.drive.setCurrentIndex(max(0, self.drive.findData(drive)))

    def refresh(self) -> None:
        """Read the fields and answer; while they are being filled, not for each of them."""
        if self._filling:
            return
        given, wrong = {}, False
        for name, field in self.fields.items():
            problem = ""
            if field.text().strip():
                try:
                    given[name] = self._read(name, field.text())
                except Refusal as refusal:
                    problem = at_field_text(refusal)
                    wrong = True
            self.problems[name].setText(problem)
            self.problems[name].setVisible(bool(problem))
        self.readings = Readings(drive=self.drive.currentData() or "", size=self.size.currentData() or "",
                                 colour=self.colour.currentData() or "", magnetic=self.magnet.currentData(), **given)
        self.found = None if wrong else screws.identify(self.readings)
        self._show()

    def _read(self, name: str, text: str) -> float:
        if name == "pitch_mm" and text.strip().lower().endswith("/mm"):
            return 1 / read_number(text.strip()[:-3], name, least=0.1, most=20)
        return read_length_mm(with_unit(text), name, screws.LARGEST_MM)

    @property
    def has_readings(self) -> bool:
        return self.readings != Readings() and any(getattr(self.readings, name) is not None for name in FIELDS[:2])

    def _show(self) -> None:
        self.list.clear()
        found = self.found
        self.write.setToolTip(tr("What was found becomes what is known of the letter in hand"))
        self.write.setEnabled(found is not None and self.has_readings)
        self.add.setEnabled(found is not None and self.has_readings)
        if found is None:
            self.advice.setText(tr("Mend what is marked; nothing is concluded from the rest."))
            return
        if not self.has_readings:
            self.advice.setText(tr("Measure the outer diameter first, then the pitch.") + self._driver_text())
            return
        for candidate in found.candidates[:SHOWN]:
            item = Row([odds_text(candidate.odds), screw_name(candidate)])
            item.setData(0, BY, -candidate.odds)
            item.setTextAlignment(0, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            item.setToolTip(1, tip(f"{candidate.source}; {candidate.confidence}"))
            self.list.addTopLevelItem(item)
        # The size is chosen among markings here; only a width may have been read off the driver.
        doubt = f"\n{doubt_text(found.doubt)}" if found.doubt is not None and found.doubt.field == "across_mm" else ""
        self.advice.setText(next_reading_text(found) + doubt + self._driver_text())

    def _driver_text(self) -> str:
        if not self.readings.drive:
            return ""
        sizes = self.found.sizes if self.found else ()
        advice = drivers.advise(self.readings.drive, self.readings.size or (sizes[0][0] if sizes else ""))
        lines = [tr("Driver: {0}").format(driver_text(advice))]
        lines += [tr("Strips it: {0}").format(mismatch_text(m)) for m in advice.strips[:2]]
        lines += [tr("Second choice: {0}").format(mismatch_text(m)) for m in advice.second[:1]]
        return "\n" + "\n".join(lines)

    def fastener(self) -> Fastener:
        """What was found, without a letter: the likeliest thread, the step of length."""
        found = self.found
        first = found.candidates[0] if found is not None else None
        thread = first.name if first is not None and first.pitch_mm is not None else ""
        size = self.readings.size or (found.sizes[0][0] if found is not None and found.sizes else "")
        heads = first.heads if first is not None else ()
        made = Fastener(id="", drive=self.readings.drive, size=size if self.readings.drive else "", thread=thread,
                        length_mm=self.readings.length_mm,
                        head_mm=self.readings.head_mm, head=heads[0][0] if heads else "",
                        colour=self.readings.colour)
        return replace(made, extra={})
