"""Fonts and the style sheet, made from the palette; dark or light by the system."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtGui import QColor, QFont, QPalette
from PySide6.QtWidgets import QApplication

from oddbolt.paint.fonts import FAMILY
from oddbolt.paint.palette import Palette

RESOURCES = Path(__file__).resolve().parent.parent / "resources"
BASE_PT = 10


def dress(app: QApplication, palette: Palette, text_scale: float = 1.0) -> None:
    """Set font, colours and style sheet of the whole program, which `shell.application` started."""
    font = QFont(FAMILY)
    font.setPointSizeF(BASE_PT * text_scale)
    app.setFont(font)
    colours = QPalette()
    for role, name in ((QPalette.ColorRole.Window, palette.page), (QPalette.ColorRole.WindowText, palette.ink),
                       (QPalette.ColorRole.Base, palette.sunk), (QPalette.ColorRole.AlternateBase, palette.sheet),
                       (QPalette.ColorRole.Text, palette.ink), (QPalette.ColorRole.Button, palette.sheet),
                       (QPalette.ColorRole.ButtonText, palette.ink), (QPalette.ColorRole.Highlight, palette.accent),
                       (QPalette.ColorRole.HighlightedText, palette.on_accent),
                       (QPalette.ColorRole.ToolTipBase, palette.sheet), (QPalette.ColorRole.ToolTipText, palette.ink),
                       (QPalette.ColorRole.PlaceholderText, palette.faint), (QPalette.ColorRole.Mid, palette.line)):
        colours.setColor(role, QColor(name))
    for role in (QPalette.ColorRole.Text, QPalette.ColorRole.ButtonText, QPalette.ColorRole.WindowText):
        colours.setColor(QPalette.ColorGroup.Disabled, role, QColor(palette.faint))
    app.setPalette(colours)
    app.setStyleSheet(_sheet(palette, str(RESOURCES / f"arrow-{palette.name}.svg"), text_scale))


# Large because it is one style sheet.
def _sheet(p: Palette, arrow: str, text_scale: float) -> str:
    return f"""
    QMainWindow, QWidget#desk {{ background: {p.page}; }}
    QFrame#sheet {{ background: {p.sheet}; border: 1px solid {p.line}; border-radius: 7px; }}
    QLabel#title {{ font-weight: 600; color: {p.ink}; }}
    QLabel#faint {{ color: {p.faint}; }}
    QLabel#caution {{ color: {p.ink}; background: {p.sunk}; border: 0; border-left: 4px solid {p.warn};
        padding: 4px 4px 4px 8px; }}
    QLabel#problem {{ color: {p.warn}; }}
    QPushButton#offer {{ padding: 3px 8px; min-height: 20px; }}
    QLabel#badge {{ color: {p.on_accent}; background: {p.accent}; border-radius: 4px; padding: 1px 6px; }}
    QLabel#echo {{ color: {p.ink}; padding: 2px 4px; }}
    QLabel#echo[alarm="true"] {{ color: {p.warn}; font-weight: 600; }}
    QListView, QTreeView, QTextBrowser {{ background: {p.sunk}; border: 1px solid {p.line}; border-radius: 5px;
        alternate-background-color: {p.sheet}; }}
    QListView::item {{ padding: 3px 5px; }}
    QTreeView::item {{ padding: 3px 2px; }}
    QListView::item:selected, QTreeView::item:selected {{ background: {p.accent}; color: {p.on_accent}; }}
    QHeaderView::section {{ background: {p.sheet}; color: {p.faint}; border: 0; border-bottom: 1px solid {p.line};
        padding: 4px; }}
    QPushButton, QToolButton {{ background: {p.sheet}; border: 1px solid {p.line}; border-radius: 6px;
        padding: 5px 10px; min-height: 20px; color: {p.ink}; }}
    QPushButton:hover, QToolButton:hover {{ border-color: {p.accent}; }}
    QPushButton:focus, QToolButton:focus {{ border: 2px solid {p.accent}; padding: 4px 9px; }}
    QPushButton:checked, QToolButton:checked {{ background: {p.accent}; color: {p.on_accent};
        border-color: {p.accent}; }}
    QPushButton:disabled, QToolButton:disabled {{ color: {p.faint}; background: {p.page}; }}
    QToolButton#tool {{ padding: 1px 2px; font-size: {9 * text_scale:g}pt; min-height: 40px; }}
    QToolButton#tool:focus {{ padding: 0px 1px; }}
    QToolButton#tool::menu-indicator {{ image: none; }}
    QPushButton#big, QToolButton#answer {{ min-height: 34px; padding: 4px 6px; }}
    QPushButton#big:focus {{ padding: 3px 5px; }}
    QToolButton#act {{ padding: 3px 8px; min-height: 20px; border-style: dashed; text-align: left; }}
    QToolButton#act:focus {{ padding: 2px 7px; }}
    QToolButton#act::menu-indicator {{ image: none; }}
    QToolButton#answer::menu-indicator {{ image: none; }}
    QPushButton#go {{ background: {p.accent}; color: {p.on_accent}; border-color: {p.accent}; min-height: 36px;
        font-weight: 600; }}
    QPushButton#go:focus {{ border: 3px solid {p.warn}; }}
    QPushButton#glove, QPushButton#glove-go {{ min-height: {64 * text_scale:g}px; }}
    QPushButton#glove-go {{ background: {p.accent}; color: {p.on_accent}; border-color: {p.accent}; }}
    QPushButton#go:disabled, QPushButton#glove-go:disabled {{ background: {p.page}; color: {p.faint};
        border-color: {p.line}; }}
    QLabel#limits {{ color: {p.ink}; background: {p.sunk}; border: 0; border-left: 4px solid {p.accent};
        padding: 3px 4px 3px 8px; }}
    QScrollArea#plain, QWidget#inside {{ background: transparent; border: 0; }}
    QWidget#named-next {{ background: {p.sunk}; border: 1px solid {p.accent}; border-radius: 5px; }}
    QScrollArea#plain > QWidget {{ background: transparent; }}
    QTabWidget::pane {{ border: 0; padding-top: 4px; }}
    QTabBar::tab {{ background: {p.page}; color: {p.faint}; border: 0; border-bottom: 3px solid {p.line};
        padding: 7px 12px; min-height: 20px; }}
    QTabBar::tab:selected {{ color: {p.ink}; font-weight: 600; border-bottom-color: {p.accent}; }}
    QTabBar::tab:focus {{ color: {p.accent}; }}
    QProgressBar {{ background: {p.sunk}; border: 1px solid {p.line}; border-radius: 5px; color: {p.ink};
        text-align: left; padding-left: 8px; }}
    QProgressBar[textVisible="false"] {{ padding-left: 0; }}
    QProgressBar::chunk {{ background: {p.line}; border-radius: 4px; }}
    QWidget#rail {{ background: {p.accent if p.name == 'light' else p.sheet}; }}
    QWidget#rail QToolButton {{ background: transparent; border: 0; border-radius: 0; padding: 5px 2px;
        color: {'#D6E2E5' if p.name == 'light' else p.faint}; }}
    QWidget#rail QToolButton:checked {{ background: {p.page}; color: {p.ink}; font-weight: 600; }}
    QWidget#rail QToolButton:disabled {{ color: {'#6E8891' if p.name == 'light' else p.line}; }}
    QWidget#rail QToolButton:focus {{ border-left: 4px solid {'#F0B48A' if p.name == 'light' else p.warn}; }}
    QMenuBar {{ background: {p.page}; color: {p.ink}; }}
    QMenuBar::item:selected, QMenu::item:selected {{ background: {p.accent}; color: {p.on_accent}; }}
    QMenu {{ background: {p.sheet}; color: {p.ink}; border: 1px solid {p.line}; }}
    QScrollArea {{ background: {p.sheet}; border: 1px solid {p.line}; border-radius: 7px; }}
    QComboBox, QDoubleSpinBox, QLineEdit {{ background: {p.sunk}; border: 1px solid {p.line}; border-radius: 5px;
        padding: 3px 6px; min-height: 20px; }}
    QComboBox:focus, QDoubleSpinBox:focus, QLineEdit:focus {{ border: 2px solid {p.accent}; }}
    QComboBox::drop-down {{ border: 0; width: 24px; }}
    QComboBox::down-arrow {{ image: url("{arrow}"); width: 10px; height: 7px; }}
    QCheckBox::indicator:unchecked, QListView::indicator:unchecked {{ background: {p.sunk};
        border: 1px solid {p.faint}; border-radius: 3px; width: 12px; height: 12px; }}
    QSplitter::handle {{ background: {p.page}; }}
    QToolTip {{ background: {p.sheet}; color: {p.ink}; border: 1px solid {p.line}; padding: 4px; }}
    """
