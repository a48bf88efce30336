"""The room of a lens: the board to measure it by, and where that is in its stills."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from jungoptic.core.board.number import Paper

from ..kit.models import Lens
from ..permissions import Verb, enter
from ..pictures.models import Picture
from ..printing.child import pdf
from ..schemas import Out
from ..takes.boards import number_by, sheet_html
from ..takes.files import board

router = Router(tags=["lenses"])


class LensStill(Out):
    """A still of a lens in which the board was found: where its corners lie, pixels of a picture of
    `width_px` x `height_px`."""

    picture_id: uuid.UUID
    places: list[tuple[float, float]]
    outline: list[tuple[float, float]]
    width_px: int
    height_px: int


@router.get("/{uuid:production_id}/lenses/{uuid:pk}/stills", response=list[LensStill])
def lens_stills(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """The stills of a lens in which the board was found, oldest first."""
    lens = Lens.objects.filter(production=enter(request, production_id, Verb.VIEW)).get(pk=pk)
    found = []
    pictures = Picture.objects.filter(lens=lens, put_away=False).exclude(board=None)
    for picture in pictures:
        seen = board(picture)
        if seen is not None:
            names = ("places", "outline", "width_px", "height_px")
            told = {name: getattr(seen.found, name) for name in names}
            found.append({"picture_id": picture.pk, **told})
    return found


@router.get("/{uuid:production_id}/lenses/{uuid:pk}/board", response=bytes)
def print_lens_board(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, paper: Paper = "A4"
) -> HttpResponse:
    """The board to measure a lens by, as a PDF. Any other board does as well."""
    lens = Lens.objects.filter(production=enter(request, production_id, Verb.VIEW)).get(pk=pk)
    address = request.build_absolute_uri(f"/productions/{production_id}/kit/lenses/{pk}")
    says = ("Measuring a lens: nine stills, each turned", "another way, into every corner")
    html = sheet_html(number_by(lens.pk), paper, address, lens.name[:20], says, foot="")
    response = HttpResponse(pdf(html), content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="board-lens-{paper}.pdf"'
    return response
