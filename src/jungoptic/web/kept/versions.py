"""What tells one state of rows from another, however they were written."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any, NamedTuple

from django.contrib.postgres.aggregates import StringAgg
from django.db.models import F, Model, QuerySet, Value
from django.db.models.expressions import RawSQL


class Rows(NamedTuple):
    """The rows of a model that have one of `ids` in `by`."""

    model: type[Model]
    ids: Collection[Any]
    by: str = "id"

    def told(self, number: int) -> QuerySet[Any]:
        """Their `number`, and by each id a digest of all that stands in them."""
        # Its own name is all of a row, as text.
        whole = RawSQL(f'md5("{self.model._meta.db_table}"::text)', ())
        rows = self.model._base_manager.filter(**{f"{self.by}__in": list(self.ids)}).order_by()
        found = rows.values(named=F(self.by)).annotate(
            number=Value(number), version=StringAgg(whole, "", order_by="pk")
        )
        told: QuerySet[Any] = found.values_list("number", "named", "version")
        return told


def versions(*asked: Rows) -> list[dict[Any, str]]:
    """For each of what is asked a digest of all that stands in the rows of an id, by that id;
    several rows of one id count together. The database works it out, in one question, so that
    nothing large is fetched for it."""
    first, *others = (rows.told(number) for number, rows in enumerate(asked))
    found: list[dict[Any, str]] = [{} for _ in asked]
    for number, named, version in first.union(*others, all=True):
        found[number][named] = version
    return found
