"""Tables that leave as CSV."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable
from typing import Any

from django.http import HttpResponse


def slug(text: str) -> str:
    """A name as part of a file's name."""
    return re.sub("[^a-z0-9]+", "-", text.lower()).strip("-") or "sheet"


def safe_cell(value: Any) -> Any:
    """Text that a spreadsheet would run as a formula gets a leading apostrophe."""
    if isinstance(value, str) and value[:1] in {"=", "+", "-", "@", "\t", "\r"}:
        return "'" + value
    return "" if value is None else value


def csv_response(name: str, header: Iterable[str], rows: Iterable[Iterable[Any]]) -> HttpResponse:
    """A table as a CSV download; what a spreadsheet would run as a formula is disarmed."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(header)
    writer.writerows([safe_cell(cell) for cell in row] for row in rows)
    response = HttpResponse(text.getvalue().encode("utf-8"), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
