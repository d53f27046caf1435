"""Pages as rich text; names in them may hold anything."""

from __future__ import annotations

from html import escape

from oddbolt.reports.content.tree import Block, Heading, Line, Page, Title


def to_html(page: Page) -> str:
    return "".join(map(_block, page.blocks))


def _block(block: Block) -> str:
    text = escape(block.text)
    if isinstance(block, Title):
        return f"<p style='font-size:large; font-weight:600'>{text}</p>"
    if isinstance(block, Heading):
        return f"<p style='margin:9px 0 2px 0; font-weight:600'>{text}</p>"
    if isinstance(block, Line):
        indent = 10 if block.inside else 0
        remark = f" <span style='color:gray'>({escape(block.remark)})</span>" if block.remark else ""
        return f"<p style='margin:1px 0 1px {indent}px'>{text}{remark}</p>"
    return f"<p style='margin:3px 0 3px 10px; color:gray'>{text}</p>"
