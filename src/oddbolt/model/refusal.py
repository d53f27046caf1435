"""What is raised when something from outside cannot be taken in."""

from __future__ import annotations

from typing import Any


class Refusal(Exception):
    """Input that is refused whole: where, why as a code, and the figures that belong to it.

    `path` is a JSON path (``$.parts[3].on``) or a file's path; the document that was open stays as it was. What is said
    to a person, and the advice, is made of `code` and `data` by `words.refusals`.
    """

    def __init__(self, path: str, code: str, **data: Any) -> None:
        super().__init__(path, code, data)
        self.path = path
        self.code = code
        self.data = data

    def __str__(self) -> str:
        """For logs and tracebacks: no words for people."""
        return f"{self.path}: {self.code}" + (f" {self.data}" if self.data else "")

    def at(self, path: str) -> Refusal:
        """The same refusal with its place told more exactly."""
        return Refusal(path, self.code, **self.data)
