"""The lines of a card for whoever brings the grip: what the camera stands on, and what is hung."""

from __future__ import annotations

from ..judging.cloth import size_of
from ..judging.limits import CLOTH_NEARLY_M
from ..judging.support import best, lacking
from ..stage import hung
from ..stage.case import Case
from ..words import quantities as say
from .card_line import CardLine


def support_lines(case: Case) -> list[CardLine]:
    """What holds the camera, and how high its base is there; nothing where no support is known."""
    found = best(case)
    if found is None or found.holding is None:
        return []
    holding = found.holding
    lacks = lacking(case, holding, found.asks)
    at = f"base {say.length(float(holding.plate_m))} above the {holding.on}"
    by = [rig.name for rig in (holding.along, holding.lift) if rig is not None]
    name = " with ".join([holding.support.name, *by])
    return [CardLine("Camera stands", "Stands on", name, "; ".join([at, *lacks]))]


def cloth_lines(case: Case) -> list[CardLine]:
    """What a screen is cut from; nothing where no cloth is known."""
    if not hung.has_cloth(case.plate):
        return []
    found = hung.best(case.shot, case.plate)
    if found is None:
        return []
    hanging, short = found
    cloth = hanging.cloth
    side = "on its side" if hanging.turned else "upright"
    small = f", {say.length(short)} too small" if short > CLOTH_NEARLY_M else ""
    return [CardLine("Backing", "Cut from", cloth.name, f"{size_of(cloth)}, {side}{small}")]
