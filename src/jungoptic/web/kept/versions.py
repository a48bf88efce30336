"""What tells one state of rows from another, however they were written."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from django.contrib.postgres.aggregates import StringAgg
from django.db.models import Model
from django.db.models.expressions import RawSQL


def versions(model: type[Model], ids: Collection[Any], by: str = "id") -> dict[Any, str]:
    """A digest of all that stands in the rows of a model, for every id that a row has in `by`;
    several rows of one id count together. The database works it out, so that nothing large is
    fetched for it."""
    table = model._meta.db_table
    # Its own name is all of a row, as text.
    whole = RawSQL(f'md5("{table}"::text)', ())
    rows = model._base_manager.filter(**{f"{by}__in": list(ids)}).values(by)
    return dict(
        rows.annotate(version=StringAgg(whole, "", order_by="pk")).values_list(by, "version")
    )
