"""Prepare: what is said and checked before the first screw; begins a new teardown."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.catalog.tables import categories, safety_items
from oddbolt.instruments.protocols import Bench, InstrumentFault
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.session.prepare import Preparation, tools_of_similar
from oddbolt.store.files import read_teardown
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.pieces.sheet import explain, label, scrolled, sheet, tip
from oddbolt.ui.pieces.tick import Tick
from oddbolt.words.acts import caution_texts, cautions_first
from oddbolt.words.names import tool_name
from oddbolt.words.refusals import fault_text, refusal_text
from oddbolt.words.translate import of_data, tr

TARGET = 44
STRAP_LIMIT_MOHM = 35.0  # IEC 61340-5-1:2016, wrist strap system, from memory, high

LOOKED_INTO = 20  # earlier teardowns, at most


class PreparePanel(QWidget):
    """A form that asks for nothing it can do without: Begin works at once."""

    open_asked = Signal()
    demo_asked = Signal(str)  # which one
    heating_asked = Signal()
    begun = Signal(object, object)  # a Preparation, and the earlier teardown or None

    def __init__(self, folder: Path, choose_earlier: Callable[[], Path | None],
                 bench: Bench) -> None:
        super().__init__()
        self._folder = folder
        self._choose_earlier = choose_earlier
        self._bench = bench
        self._earlier: Teardown | None = None
        self.category, self.name, self.variant = QComboBox(), QLineEdit(), QLineEdit()
        self.base, self.by, self.place = QLineEdit(), QLineEdit(), QLineEdit()
        self.earlier = QPushButton(tr("From an earlier model…"))
        self.earlier_name = label("", "faint", wrap=True)
        self.checks: dict[str, QCheckBox] = {}
        self.test_strap = QPushButton(tr("Test the strap"))
        self.strap = label("", "faint", wrap=True)
        self.tools = QListWidget()
        self.unread = label("", "faint", wrap=True)
        self._jobs = Jobs(self)
        self.cautions = label("", "caution", wrap=True)
        self.begin = QPushButton(tr("Begin"))
        self.problem = label("", "echo", wrap=True)
        explain((self.category, tr("What kind of device it is: its usual base, tools and hazards follow")),
                (self.name, tr("What the record is called; the file is named after it")),
                (self.variant, tr("Which build of the model it is, where there are several")),
                (self.base, tr("The part that stays when all others are off")),
                (self.by, tr("Who takes it apart")), (self.place, tr("Where it is taken apart")),
                (self.earlier, tr("Take over parts and joints of a record of an earlier model, to be checked")),
                (self.tools, tr("Untick what does not lie there")),
                (self.test_strap, tr("Read the strap tester, where one is connected")),
                (self.begin, tr("Make the document and go to the Log")))
        self._build()
        self.category.currentIndexChanged.connect(lambda _: self._category_chosen())
        self.earlier.clicked.connect(lambda _: self._take_earlier())
        self.test_strap.clicked.connect(lambda _: self._test_strap())
        self.begin.clicked.connect(lambda _: self.begun.emit(self.preparation(), self._earlier))
        self._category_chosen()

    def _build(self) -> None:
        for row in categories():
            self.category.addItem(of_data(row.name), row.category)
        form = QGridLayout()
        form.setHorizontalSpacing(12)
        form.setVerticalSpacing(8)
        fields = ((tr("Category"), self.category), (tr("Name"), self.name),
                  (tr("Variant"), self.variant), (tr("Stays on the mat"), self.base),
                  (tr("Analyst"), self.by), (tr("Bench"), self.place))
        for n, (text, field) in enumerate(fields):
            field.setMinimumHeight(TARGET - 10)
            field.setAccessibleName(text)
            form.addWidget(label(text, "faint"), n, 0)
            form.addWidget(field, n, 1)
        device = QWidget()
        box = QVBoxLayout(device)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(form)
        box.addWidget(self.earlier)
        box.addWidget(self.earlier_name)
        self.tools.setAccessibleName(tr("Tools laid out"))
        left = QVBoxLayout()
        left.addWidget(sheet(tr("A new teardown: the device"), device))
        hint = label(tr("From the category, and from earlier teardowns in your folder; untick what is not there."),
                     "faint", wrap=True)
        left.addWidget(sheet(tr("Tools to lay out"), hint, self.tools, self.unread, stretch=2), 1)
        right = QVBoxLayout()
        right.addWidget(sheet(tr("Before the first screw"), scrolled(self._safety()), stretch=1), 1)
        right.addWidget(self.cautions)
        right.addWidget(self.problem)
        right.addWidget(self.begin)
        right.addLayout(self._others())
        for button in (self.earlier, self.test_strap):
            button.setObjectName("big")
        self.begin.setObjectName("go")
        whole = QHBoxLayout(self)
        whole.setContentsMargins(10, 8, 10, 8)
        whole.setSpacing(10)
        whole.addLayout(left, 2)
        whole.addLayout(right, 3)

    def _others(self) -> QHBoxLayout:
        """What else one may do than begin."""
        others = QHBoxLayout()
        open_button, demo_button = QPushButton(tr("Open a teardown…")), QPushButton(tr("Look at a demo"))
        open_button.clicked.connect(lambda _: self.open_asked.emit())
        self.demos = QMenu(demo_button)
        for name, text in (("dunlin-2", tr("Slate tablet Dunlin 2")),
                           ("bittern", tr("Bench radio Bittern, with faults to find")),
                           ("curlew", tr("Field camera Curlew, recorded by two"))):
            self.demos.addAction(text, lambda name=name: self.demo_asked.emit(name))
        demo_button.setMenu(self.demos)
        heating = QPushButton(tr("Heating guide…"))
        heating.clicked.connect(lambda _: self.heating_asked.emit())
        for button, text in ((heating, tr("How long a cover is to be warmed, and how warm the cell is then")),
                             (open_button, tr("A working document, or an exchange file")),
                             (demo_button, tr("Invented devices, recorded whole"))):
            button.setToolTip(tip(text))
            button.setObjectName("big")
            others.addWidget(button)
        return others

    def _safety(self) -> QWidget:
        """The checklist, each item with its reason."""
        content = QWidget()
        column = QVBoxLayout(content)
        column.setSpacing(2)
        for item in safety_items():
            tick = Tick(of_data(item.text))
            tick.setMinimumHeight(TARGET - 14)
            tick.box.setAccessibleDescription(of_data(item.reason))
            tick.box.setToolTip(tip(of_data(item.reason)))
            self.checks[item.id] = tick.box
            reason = label(of_data(item.reason), "faint", wrap=True)
            reason.setContentsMargins(28, 0, 0, 6)
            column.addWidget(tick)
            if item.id == "strap":
                line = QHBoxLayout()
                line.setContentsMargins(28, 0, 0, 0)
                line.addWidget(self.test_strap)
                line.addWidget(self.strap, 1)
                column.addLayout(line)
            column.addWidget(reason)
        column.addWidget(label(cautions_first(), "faint", wrap=True))
        column.addStretch(1)
        return content

    def _category_chosen(self) -> None:
        row = next(c for c in categories() if c.category == self.category.currentData())
        self.base.setPlaceholderText(row.base)
        self.name.setPlaceholderText(of_data(row.name))
        self.cautions.setText("\n".join(caution_texts(row.hazards[:3])))
        self.tools.clear()
        self._lay_out(row.tools)
        self.unread.setText("")
        self._jobs.start("similar", lambda: _similar(self._folder, row.category), self._take_similar, self._failed)

    def _take_similar(self, found: tuple[list[Teardown], list[str]]) -> None:
        """Tools of earlier teardowns of the category; what could not be read is named and keeps nobody from working."""
        teardowns, unread = found
        self._lay_out(tools_of_similar(teardowns))
        if unread:
            self.unread.setText(tr("Passed over, because they cannot be read: {0}").format(", ".join(unread)))

    def _failed(self, words: str) -> None:
        self.problem.setText(words)

    def _lay_out(self, tools: Iterable[str]) -> None:
        there = {self.tools.item(n).data(Qt.ItemDataRole.UserRole) for n in range(self.tools.count())}
        for tool in dict.fromkeys(tools):
            if tool in there:
                continue
            item = QListWidgetItem(tool_name(Teardown.nothing(), tool))
            item.setData(Qt.ItemDataRole.UserRole, tool)
            item.setCheckState(Qt.CheckState.Checked)
            self.tools.addItem(item)

    def stop(self) -> None:
        """Before the window closes."""
        self._jobs.stop_all()

    def _take_earlier(self) -> None:
        path = self._choose_earlier()
        if path is None:
            return
        try:
            self._earlier = read_teardown(path)
        except Refusal as refusal:
            self.problem.setText(refusal_text(refusal))
            return
        self.problem.setText("")
        device = self._earlier.device
        row = self.category.findData(device.category)
        self.category.setCurrentIndex(max(0, row))
        self.earlier_name.setText(tr("Parts and joints as {0} had them: {1} parts, {2} joints").format(
            device.name or path.name, len(self._earlier.parts), len(self._earlier.joints)))

    def _test_strap(self) -> None:
        """Read the tester; the item is ticked by a good reading, never unticked by a bad one alone."""
        tester = self._bench().strap
        if tester is None:
            self.strap.setText(tr("No tester is connected; tick by hand"))
            return
        try:
            reading = tester.resistance()
        except InstrumentFault as fault:
            self.strap.setText(fault_text(fault))
            return
        good = reading.value < STRAP_LIMIT_MOHM
        self.strap.setText(tr("{0:g} megohm: {1}").format(reading.value, tr("good") if good
                                                               else tr("too high, check clip and cord")))
        self.checks["strap"].setChecked(good)

    def preparation(self) -> Preparation:
        texts = {item.id: item.text for item in safety_items()}
        ticked = [self.tools.item(n) for n in range(self.tools.count())]
        return Preparation(
            name=self.name.text().strip(), category=self.category.currentData(), variant=self.variant.text().strip(),
            base=self.base.text().strip(), by=self.by.text().strip(), place=self.place.text().strip(),
            tools=tuple(i.data(Qt.ItemDataRole.UserRole) for i in ticked if i.checkState() == Qt.CheckState.Checked),
            checked=tuple((id_, texts[id_]) for id_, box in self.checks.items() if box.isChecked()))


def _similar(folder: Path, category: str) -> Iterator[tuple[list[Teardown], list[str]]]:
    """Earlier teardowns of the category in the folder, and the names of those that cannot be read."""
    found: list[Teardown] = []
    unread: list[str] = []
    for path in sorted(folder.glob("*.oddbolt"))[:LOOKED_INTO]:
        yield found, unread
        try:
            teardown = read_teardown(path)
        except Refusal as refusal:
            if refusal.code != "older-layout":  # opened once, it is read
                unread.append(path.name)
            continue
        if teardown.device.category == category:
            found.append(teardown)
    yield found, unread
