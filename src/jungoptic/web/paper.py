"""From HTML to PDF, with nothing fetched from anywhere."""

from __future__ import annotations

from typing import Any


def document(html: str) -> Any:
    """The laid-out pages of a document; pictures must lie in it as data addresses."""
    # Imported here: the library takes long to load, and only printing needs it.
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher

    fetcher = URLFetcher(allowed_protocols=["data"], allow_redirects=False, fail_on_errors=True)
    return HTML(string=html, url_fetcher=fetcher).render()


def pdf(html: str) -> bytes:
    """The PDF bytes of a document."""
    return bytes(document(html).write_pdf())
