"""Qt's own dialogs in the language of the program, by the files that Qt ships."""

from __future__ import annotations

from PySide6.QtCore import QCoreApplication, QLibraryInfo, QTranslator


def use_language_of_dialogs(app: QCoreApplication, language: str) -> bool:
    """Whether there is a file for it. No language: Qt stays in English, as the program does."""
    if not language:
        return False
    translator = QTranslator(app)
    folder = QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)
    return translator.load(f"qtbase_{language}", folder) and app.installTranslator(translator)
