"""Pages as rich text, and as documents of their own with their pictures inside; names in them may hold anything."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Callable, Mapping
from html import escape

from oddbolt.reports.content.tree import Block, Figure, Heading, Line, Page, Tick, Title

BOX = "\u2610"
STYLE = """body { font-family: sans-serif; max-width: 48em; margin: 2em auto; padding: 0 1em; color: #1f2a2c; }
img { max-width: 100%; border-radius: 4px; } .remark { color: #5d6a6c; } .check { border-left: 5px solid #a63a12; }
p { margin: 3px 0; } .inside { margin-left: 2.2em; } h2 { margin: 1.2em 0 .3em 0; font-size: 1.1em; }
.tick { margin-top: 8px; padding-left: 6px; } @page { margin: 18mm; }"""
Source = Callable[[int], str]  # what shows the picture of a number: a data address, or the name of a resource


def to_html(page: Page) -> str:
    return "".join(_block(block, lambda _: "") for block in page.blocks)


def document(page: Page, pictures: Mapping[int, bytes], language: str = "en") -> str:
    """A page that needs nothing beside it: pictures (JPEG, by number) are inside."""
    def source(number: int) -> str:
        return f"data:image/jpeg;base64,{b64encode(pictures[number]).decode()}" if number in pictures else ""

    title = next((block.text for block in page.blocks if isinstance(block, Title)), "")
    body = "\n".join(_block_of_document(block, source) for block in page.blocks)
    return (f"<!DOCTYPE html>\n<html lang='{language}'><head><meta charset='utf-8'><title>{escape(title)}</title>"
            f"<style>{STYLE}</style></head>\n<body>\n{body}\n</body></html>\n")


def _block_of_document(block: Block, source: Source) -> str:
    if isinstance(block, Title):
        return f"<h1>{escape(block.text)}</h1>"
    if isinstance(block, Heading):
        return f"<h2>{escape(block.text)}</h2>"
    if isinstance(block, Figure):
        return f"<p><img src='{source(block.number)}' alt=''></p>" if source(block.number) else ""
    text = escape(block.text)
    if isinstance(block, Tick):
        remark = f" <span class='remark'>({escape(block.remark)})</span>" if block.remark else ""
        return f"<p class='tick{' check' if block.is_check else ''}'>{BOX} <b>{text}</b>{remark}</p>"
    if isinstance(block, Line):
        remark = f" <span class='remark'>({escape(block.remark)})</span>" if block.remark else ""
        return f"<p{' class=inside' if block.inside else ''}>{text}{remark}</p>"
    return f"<p class='remark'>{text}</p>"


def _block(block: Block, source: Source) -> str:
    if isinstance(block, Figure):
        return f"<p><img src='{source(block.number)}'></p>" if source(block.number) else ""
    text = escape(block.text)
    if isinstance(block, Title):
        return f"<p style='font-size:large; font-weight:600'>{text}</p>"
    if isinstance(block, Heading):
        return f"<p style='margin:9px 0 2px 0; font-weight:600'>{text}</p>"
    if isinstance(block, Tick):
        remark = f" <span style='color:gray'>({escape(block.remark)})</span>" if block.remark else ""
        return f"<p style='margin:4px 0 1px 0'>{BOX} {text}{remark}</p>"
    if isinstance(block, Line):
        indent = 10 if block.inside else 0
        remark = f" <span style='color:gray'>({escape(block.remark)})</span>" if block.remark else ""
        return f"<p style='margin:1px 0 1px {indent}px'>{text}{remark}</p>"
    return f"<p style='margin:3px 0 3px 10px; color:gray'>{text}</p>"
