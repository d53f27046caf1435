"""What was done, as a code with its figures: for the menu, the history and the line that says what was recorded."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from msgspec import Struct, field

TEXT = "text"  # a label of a document from before labels were codes: its words, as they were


class Label(Struct, frozen=True):
    """`code` names the verb; `data` holds JSON values, things as `model.naming.called` gives them."""

    code: str
    data: Mapping[str, Any] = field(default_factory=dict)

    def dumps(self) -> str:
        """As it is kept on disk."""
        return json.dumps({"code": self.code, **self.data}, ensure_ascii=False, separators=(",", ":"))

    @classmethod
    def loads(cls, text: str) -> Label:
        """What `dumps` wrote; anything else is taken for the words of an older document."""
        try:
            body = json.loads(text)
        except ValueError:
            body = None
        if not isinstance(body, dict) or not isinstance(body.get("code"), str):
            return cls(TEXT, {"text": text})
        return cls(body.pop("code"), body)
