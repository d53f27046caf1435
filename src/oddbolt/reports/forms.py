"""The forms in which a report is written, by their codes."""

from __future__ import annotations

HTML, PDF, CSV, SVG, GRAPHML, JSON, PHOTOS = "html", "pdf", "csv", "svg", "graphml", "json", "photos"
FORMS = (HTML, PDF, CSV, SVG, GRAPHML, JSON, PHOTOS)
FOLDERS = (CSV, SVG, PHOTOS)
