"""What is computed of a set map, as the API tells it."""

from __future__ import annotations

from pydantic import BaseModel

from jungoptic.core.drawings.set_map import set_drawing
from jungoptic.core.frames.laid_out import SetEdges, StandingPiece, Taped
from jungoptic.core.frames.reached import Arm
from jungoptic.core.frames.set_report import SetReport
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import Plate, Shot, seen_from_own
from jungoptic.core.plan.findings import Finding
from jungoptic.core.plan.plate import BUILT
from jungoptic.core.plan.set_map import SetPiece, Side
from jungoptic.core.plan.sheet import POSED, Sheet
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.marks import FixedPoint
from jungoptic.core.study.set_extent import Surface, set_extent
from jungoptic.core.words.drawing import Drawing

from ..frames.set_fields import SetPieceFields


class ReachedAnswer(BaseModel):
    """A thing that is posed: how far its farthest pose is from where somebody can stand (null: no
    arm gets there), and how many poses are beyond an arm, the first at frame `first`."""

    thing_id: str
    name: str
    poses: int
    away_m: float | None
    frame: int
    beyond: int
    first: int | None


class SetAngle(BaseModel):
    """One angle on a set: how large what it shows has to be there, and what stays bare (0..1).
    `drawn`: there is a set or a screen."""

    plate_id: str
    name: str
    surfaces: tuple[Surface, ...]
    bare: float
    advice: str
    drawn: bool


class SetMapAnswer(BaseModel):
    """A set map. `edges`: as told or as what stands there needs; `rows`: everything with its two
    tapes; `laid`: pieces as they stand; `arm`: whose arm it is judged by, null where nothing is
    posed; `open_sides`: where there is room to stand; `begin_with`: pieces to start from."""

    edges: SetEdges
    fixed: tuple[FixedPoint, FixedPoint]
    rows: tuple[Taped, ...]
    laid: tuple[StandingPiece, ...]
    arm: Arm | None
    open_sides: tuple[Side, ...]
    reached: list[ReachedAnswer]
    findings: tuple[Finding, ...]
    drawing: Drawing
    angles: list[SetAngle]
    begin_with: list[SetPieceFields]


class TapedPlace(BaseModel):
    """Where two tapes meet on a stage, and how far off that may be; null where they cross too
    flatly to tell."""

    x_m: float
    y_m: float
    error_m: float | None


def map_answer(shot: Shot, case: Case, sheet: Sheet, found: SetReport) -> SetMapAnswer:
    """All of a set map as the API tells it; `shot`: with every view and plate of it."""
    return SetMapAnswer(
        edges=found.edges,
        fixed=found.fixed,
        rows=found.rows,
        laid=tuple(p for p in found.laid if p.key),
        arm=found.arm,
        open_sides=found.sides,
        reached=[ReachedAnswer.model_validate(r, from_attributes=True) for r in found.reached],
        findings=found.findings,
        drawing=set_drawing(case, found),
        angles=angles_on(shot, case.plate),
        begin_with=[
            SetPieceFields.model_validate(p, from_attributes=True)
            for p in pieces_of_story(case, sheet)
        ],
    )


def angles_on(shot: Shot, plate: Plate) -> list[SetAngle]:
    """Every angle of the shot on a set of this scale, the plate's own first."""
    built = [p for p in shot.plates if p.kind in BUILT and p.scale == plate.scale]
    found = []
    for one in [plate, *(p for p in built if p.id != plate.id)]:
        try:
            case = Case.of(seen_from_own(shot, one), one)
        except Impossible:
            # Another plate that cannot be filmed is no angle, and no reason to tell nothing.
            case = None
        if case is not None:
            extent = set_extent(case)
            found.append(
                SetAngle(
                    plate_id=one.id,
                    name=one.name,
                    surfaces=extent.surfaces,
                    bare=extent.bare,
                    advice=extent.advice,
                    drawn=extent.drawn,
                )
            )
    return found


def pieces_of_story(case: Case, sheet: Sheet) -> list[SetPiece]:
    """A piece for every built thing of the story that stands on this set and that no column of the
    sheet poses."""
    posed = {column.thing_id for column in sheet.columns if column.kind in POSED}
    things = [s for s in case.shot.stand_ins_of(case.plate) if s.kind in ("box", "card")]
    own = [s for s in things if s.id not in posed]
    return [SetPiece(f"piece-{i}", s.name, s.id) for i, s in enumerate(own, start=1)]
