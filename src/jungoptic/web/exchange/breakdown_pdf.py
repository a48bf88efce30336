"""The breakdown on paper, made behind the scenes: every shot with its sketch, plates and why, hours
and cautions."""

from __future__ import annotations

from typing import Any

from django.template.loader import render_to_string

from jungoptic.core.cards.hazards import BY_KEY as HAZARDS

from ..board.board import pictures
from ..breakdown.hours_api import totals
from ..breakdown.loading import Loaded, hazards_of, load_breakdown
from ..developed.shot_picture import ShotPicture
from ..jobs.work import Kind, Nothing, Work
from ..permissions import Verb
from ..plans.models import Shot
from ..plans.views import whole_seconds
from ..printing.child import BOOK, pdf
from ..sketches.pdf import picture_address
from ..storage import in_document


def _print(work: Work[Nothing]) -> None:
    production = work.production
    loaded = load_breakdown(production)
    shots = []
    # The pages are laid out at the end, in one go: that is about as much again.
    steps = 2 * len(loaded.shots)
    developed = pictures(production, [shot.pk for shot in loaded.shots])
    for number, shot in enumerate(loaded.shots):
        work.tell(number, steps, "steps")
        shots.append(_on_paper(loaded, shot, developed.get(shot.pk)))
    html = render_to_string(
        "exchange/breakdown.html",
        {"production": production, "shots": shots, "whole": totals(loaded)["whole"]},
    )
    work.tell(len(shots), steps, "steps")
    work.keep_file("breakdown.pdf", "application/pdf", pdf(html, BOOK))


#: What a developed picture shows, as it is called beside a sketch.
CALLED = {"run": "dry run", "story": "the story, developed", "plate": "a plate, developed"}


def _on_paper(loaded: Loaded, shot: Shot, developed: ShotPicture | None) -> dict[str, Any]:
    on_set, in_post = loaded.hours_of(shot)
    sketch = next(iter(shot.sketches.all()), None)
    return {
        "shot": shot,
        "seconds": whole_seconds(shot),
        "sketch": "" if sketch is None else picture_address(sketch, thumb=True),
        "developed": ""
        if developed is None or not developed.current
        else in_document(developed.file),
        "called": "" if developed is None else CALLED[developed.of],
        "recipes": ", ".join(u.name for u in shot.recipe_uses.all()),
        "plates": list(shot.plates.all()),
        "set": on_set,
        "post": in_post,
        "cautions": [
            f"{HAZARDS[key].name}: {' '.join(HAZARDS[key].cautions)}"
            for key in hazards_of(shot.plates.all())
        ],
        "remarks": [f.sentence for f in loaded.continuity_of(shot) if f.verdict != "holds"],
    }


BREAKDOWN = Kind("breakdown-pdf", "Breakdown on paper", Verb.VIEW, Nothing, _print)
