"""Pages as rich text, and as documents of their own with their pictures inside; names in them may hold anything."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Callable, Mapping
from html import escape
from importlib.resources import files

from oddbolt.reports.content.tree import Block, Figure, Heading, Line, Page, Remark, Tick, Title

BOX = "\u2610"
JPEG = "data:image/jpeg;base64,"
Source = Callable[[int], str]  # the address of the data of a picture, by its number


def to_html(page: Page) -> str:
    """For the window: without its pictures."""
    return "".join(_block(block) for block in page.blocks if not isinstance(block, Figure))


def document(page: Page, pictures: Mapping[int, bytes]) -> str:
    """A page that needs nothing beside it: pictures (JPEG, by number) are inside."""
    def source(number: int) -> str:
        return JPEG + b64encode(pictures[number]).decode() if number in pictures else ""

    title = next((block.text for block in page.blocks if isinstance(block, Title)), "")
    body = "\n".join(_block_of_document(block, source) for block in page.blocks)
    style = files("oddbolt.reports").joinpath("page.css").read_text("utf-8")
    return (f"<!DOCTYPE html>\n<html lang='en'><head><meta charset='utf-8'><title>{escape(title)}</title>"
            f"<style>{style}</style></head>\n<body>\n{body}\n</body></html>\n")


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


def _block(block: Title | Heading | Line | Remark | Tick) -> str:
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
