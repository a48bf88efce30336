"""From HTML to PDF, with nothing fetched from anywhere. For the child alone: the library that lays
out pages takes long to load, and much memory."""

from __future__ import annotations

from typing import Any


def document(html: str) -> Any:
    """The laid-out pages of a document; pictures must lie in it as data addresses."""
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher

    fetcher = URLFetcher(allowed_protocols=["data"], allow_redirects=False, fail_on_errors=True)
    return HTML(string=html, url_fetcher=fetcher).render()
