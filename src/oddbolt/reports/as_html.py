"""Pages as rich text, and as documents of their own with their pictures inside; names in them may hold anything.

A document is HTML 5 without scripts: it is read in any browser, on paper and on a telephone, with nothing beside it.
"""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Mapping
from html import escape
from importlib.resources import files

from oddbolt.reports.content.tree import (
    Block,
    Chapter,
    Contents,
    Drawing,
    Figure,
    Given,
    Grid,
    Heading,
    Line,
    Page,
    Remark,
    Tick,
    Title,
)
from oddbolt.reports.plain_text import writable
from oddbolt.words.figures import marked_text
from oddbolt.words.translate import language, tr

BOX = "\u2610"


def to_html(page: Page) -> str:
    """For the window: without its pictures."""
    return "".join(_block(block) for block in page.blocks if isinstance(block, Title | Heading | Line | Remark | Tick))


def document(page: Page, pictures: Mapping[int, bytes], drawings: Mapping[str, bytes] | None = None) -> str:
    """A page that needs nothing beside it: pictures (JPEG, by number) and drawings (SVG, by name) are inside."""
    inside = {f"{n}": _data("image/jpeg", body) for n, body in pictures.items()}
    inside |= {name: _data("image/svg+xml", body) for name, body in (drawings or {}).items()}
    chapters = [block for block in page.blocks if isinstance(block, Chapter)]
    title = next((block.text for block in page.blocks if isinstance(block, Title)), "") or (
        chapters[0].text if chapters else tr("Report"))
    body, is_open = [], False
    for block in page.blocks:
        if isinstance(block, Chapter):
            body.append(f"{'</section>' if is_open else ''}<section id='{escape(block.code)}'>"
                        f"<h2>{escape(block.text)}</h2>")
            is_open = True
        elif isinstance(block, Contents):
            body.append(_contents(chapters))
        else:
            body.append(_block_of_document(block, inside, "h3" if chapters else "h2"))
    body += ["</section>"] if is_open else []
    style = files("oddbolt.reports").joinpath("page.css").read_text("utf-8")
    lines = writable("\n".join(line for line in body if line))
    return (f"<!DOCTYPE html>\n<html lang='{escape(language())}'><head><meta charset='utf-8'>"
            f"<meta name='viewport' content='width=device-width, initial-scale=1'>"
            f"<title>{escape(writable(title))}</title><style>{style}</style></head>\n<body>\n<main>\n{lines}\n</main>\n</body></html>\n")


def _data(kind: str, body: bytes) -> str:
    return f"data:{kind};base64,{b64encode(body).decode()}"


def _contents(chapters: list[Chapter]) -> str:
    if not chapters:
        return ""
    lines = "".join(f"<li><a href='#{escape(one.code)}'>{escape(one.text)}</a></li>" for one in chapters)
    name = escape(tr("Contents"))
    return f"<nav aria-label='{name}'><ol>{lines}</ol></nav>"


def _block_of_document(block: Block, inside: Mapping[str, str], heading: str) -> str:
    if isinstance(block, Title):
        return f"<h1>{escape(block.text)}</h1>"
    if isinstance(block, Heading):
        return f"<{heading}>{escape(block.text)}</{heading}>"
    if isinstance(block, Figure | Drawing):
        is_drawn = isinstance(block, Drawing)
        return _picture(inside.get(block.name if isinstance(block, Drawing) else str(block.number), ""),
                        block.caption, is_drawn=is_drawn)
    if isinstance(block, Grid):
        return _grid(block)
    if isinstance(block, Chapter | Contents):
        return ""
    text = escape(block.text)
    if isinstance(block, Tick):
        remark = f" <span class='remark'>({escape(block.remark)})</span>" if block.remark else ""
        check = " check" if block.is_check else ""
        return f"<p class='tick{check}'>{BOX} <b>{text}</b>{remark}</p>"
    if isinstance(block, Line):
        remark = f" <span class='remark'>({escape(block.remark)})</span>" if block.remark else ""
        return f"<p class='inside'>{text}{remark}</p>" if block.inside else f"<p>{text}{remark}</p>"
    return f"<p class='remark'>{text}</p>"


def _picture(source: str, caption: str, *, is_drawn: bool) -> str:
    if not source:
        return ""
    below = f"<figcaption>{escape(caption)}</figcaption>" if caption else ""
    kind = "drawn" if is_drawn else "photo"
    return f"<figure class='{kind}'><img src='{source}' alt='{escape(caption)}'>{below}</figure>"


def _grid(grid: Grid) -> str:
    shown = [n for n, (_, title) in enumerate(grid.columns) if title]
    head = "".join(f"<th scope='col'>{escape(grid.columns[n][1])}</th>" for n in shown)
    rows = "".join(f"<tr>{''.join(_cell(row[n]) for n in shown)}</tr>" for row in grid.rows)
    body = f"<tbody>{rows}</tbody>" if rows else ""
    return (f"<div class='wide'><table><caption>{escape(grid.caption)}</caption><thead><tr>{head}</tr></thead>"
            f"{body}</table></div>")


def _cell(cell: Given) -> str:
    text = escape(marked_text(cell.said, cell.known))
    kinds = [cell.known] if cell.known else []
    if isinstance(cell.value, int | float) and not isinstance(cell.value, bool):
        kinds.append("number")
    names = " ".join(kinds)
    return f"<td class='{names}'>{text}</td>" if names else f"<td>{text}</td>"


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
