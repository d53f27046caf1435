"""What was seen between two photographs comes to the front of the Log, and goes when it is taken over or left."""

from __future__ import annotations

from typing import TYPE_CHECKING

from oddbolt.knowledge.said.seen import HELD
from oddbolt.ui.log.pages import SEEN
from oddbolt.ui.widgets.overlay import Shown
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.ui.log.log_pieces import LogPieces


def show_seen(panel: LogPieces) -> None:
    """On the page, on its tab and on the photograph, as it is now."""
    acts, pages, page = panel.seen_acts, panel.above, panel.seen_page
    was_shown = bool(page.rows)
    page.show_seen(panel.recorder.session.teardown, acts, panel.seeing.pictures_of)
    # What nobody looks at yet takes no clicks, and no page from in front.
    outlines = [acts.where(n, panel.states.shown) for n in range(len(acts.shown))] if acts.asks else []
    panel.canvas.overlay.seen = tuple(Shown(outline, n + 1, acts.is_ticked(n), n == acts.current)
                                      for n, outline in enumerate(outlines)
                                      if len(outline) > 2 and acts.shown[n].code != HELD)  # the part's own is there
    panel.canvas.port.update()
    pages.setTabText(SEEN, tr("Seen ({0})").format(len(acts.shown)) if acts.shown else tr("Seen"))
    was_in_front = pages.currentIndex() == SEEN
    if acts.shown and acts.asks and not was_in_front and not page.is_in_hand:
        page.is_in_hand = True
        page.page_before = pages.currentIndex()
        pages.setCurrentIndex(SEEN)
    elif was_shown and not acts.shown and was_in_front:
        pages.setCurrentIndex(page.page_before)
    page.is_in_hand = page.is_in_hand and bool(acts.shown)
