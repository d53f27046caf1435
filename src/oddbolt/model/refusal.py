"""What is raised when something from outside cannot be taken in."""


class Refusal(Exception):
    """Input that is refused whole: where, why, and what to do about it.

    `path` is a JSON path (``$.parts[3].on``) or a file's path; the document that was open stays as it was.
    """

    def __init__(self, path: str, reason: str, advice: str = "") -> None:
        super().__init__(path, reason, advice)
        self.path = path
        self.reason = reason
        self.advice = advice

    def __str__(self) -> str:
        return f"{self.path}: {self.reason}" + (f". {self.advice}" if self.advice else "")
