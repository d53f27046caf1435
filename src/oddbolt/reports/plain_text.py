"""Names may hold anything; documents of XML and HTML may not hold all of it."""

from __future__ import annotations

import re

# All but what XML 1.0 may hold (its section 2.2); HTML takes these for errors too.
_FORBIDDEN = re.compile("[^\t\n\r\x20-\x7e\x85\xa0-\ud7ff\ue000-\ufdcf\ufdf0-\ufffd\U00010000-\U0010ffff]")


def writable(text: str) -> str:
    """Without control characters, lone halves of pairs and what is no character."""
    return _FORBIDDEN.sub("", text)


def writable_svg(body: bytes) -> bytes:
    """The same of a drawing as Qt writes it."""
    return writable(body.decode("utf-8", errors="replace")).encode()
