"""Calculators without memory: a plan goes in, every number and drawing comes out."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from dataclasses import replace
from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import BaseModel, Field, TypeAdapter, ValidationError

from jungoptic.core import planner
from jungoptic.core.cards.hazards import HAZARDS
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import Plate, Shot, check_shot, seen_from_own
from jungoptic.core.plan.findings import Remedy, Verdict
from jungoptic.core.remedies.pairs import MOST as MOST_PAIRS
from jungoptic.core.remedies.pairs import pairs
from jungoptic.core.remedies.standing import standing
from jungoptic.core.remedies.whole import borrowed_or_rewritten, ways_out
from jungoptic.core.report.shot_report import plate_report, report
from jungoptic.core.report.tricks import Tricks, tricks
from jungoptic.core.stage.case import Case
from jungoptic.core.words import quantities as say

from ..errors import sentence_of
from ..plans.api import shots_of
from ..plans.bridge import Plan, PlanPlate, core_plate, load, to_core
from ..plans.fields import PlateFields
from ..plans.models import Shot as StoredShot
from ..plans.stored import plan_json
from ..productions.models import Production
from ..records import Refused
from ..schemas import Fields, Within
from .answers import PlateAnswer, ShotAnswer, plate_answer, shot_answer

router = Router(tags=["calculators"])

#: So many pairs of changes are tried in one request: about as long as a report takes.
PAIRS_AT_ONCE = 6


class NotationFields(Fields):
    """How the quantities in sentences are written."""

    length: Literal["metric", "feet"] = "metric"
    light: Literal["lux", "footcandles"] = "lux"
    stop: Literal["decimal", "thirds"] = "decimal"

    def core(self) -> say.Notation:
        """As the core takes it."""
        return say.Notation(self.length, self.light, self.stop)


class Look(BaseModel):
    """What is to be told of a plan. `remedies` of all findings may be left out (see `/ways-out` for
    those of one), and with them the study, unless `study` is asked for; `at` is the part of the
    screen time that the pictures show; the plate `selected` also gets its rail, study and light,
    with `light_map` as a map, and the `drawings` of its stage. `others`: of which plates beside it.
    `workings`: whose are shown. `tone`: every plate in tone."""

    remedies: bool = True
    study: bool | None = None
    at: Annotated[float, Within(0, 1)] = 0.0
    selected: uuid.UUID | None = None
    view_id: uuid.UUID | None = None
    light_map: bool = False
    drawings: bool = True
    others: bool = True
    tone: bool = False
    workings: Literal["all", "selected", "none"] = "all"
    notation: NotationFields = NotationFields()

    def answer(self, shot: Shot, kept: str = "") -> HttpResponse:
        """The shot as it is asked about."""
        selected = None if self.selected is None else str(self.selected)
        with say.written_in(self.notation.core()):
            found = report(
                shot,
                self.remedies,
                at=self.at,
                selected=selected,
                view=None if self.view_id is None else str(self.view_id),
                light_map=self.light_map,
                with_study=self.study,
                drawings=self.drawings,
                others=self.others,
                worked=self.workings != "none",
                tone=self.tone,
            )
            whose = self.workings
            return shot_answer(
                found,
                kept,
                lambda plate: whose == "all" or (whose == "selected" and plate == selected),
            )


class Question(Plan, Look):
    """A plan, and what is to be told of it."""


@router.post("/shot", response=ShotAnswer)
def calculate_shot(request: HttpRequest, payload: Question) -> Any:
    """Derive and judge every plate of a shot. Nothing is stored."""
    return payload.answer(to_core(payload))


# --- the planner -------------------------------------------------------------------------------


class WishFields(Fields):
    """What counts, 0 (not at all) to 3 (most)."""

    quality: Annotated[float, Within(0, 3)] = 1.0
    changes: Annotated[float, Within(0, 3)] = 1.0
    light: Annotated[float, Within(0, 3)] = 1.0
    own_only: bool = False
    keep_scale: bool = False


class PlateQuestion(Plan):
    """A plan and one plate of it."""

    plate_id: uuid.UUID
    notation: NotationFields = NotationFields()

    def shot_and_plate(self) -> tuple[Shot, Plate]:
        """The core's shot and the plate asked about; `Refused` when it is not in the plan."""
        shot = to_core(self)
        found = next((p for p in shot.plates if p.id == str(self.plate_id)), None)
        if found is None:
            raise Refused("plate_id", "This plate is not in the plan.")
        return seen_from_own(shot, found), found


def case_or_refused(shot: Shot, plate: Plate) -> Case:
    """The case of a plate; `Refused` while its kit is not chosen or its optics are impossible."""
    try:
        case = Case.of(shot, plate)
    except Impossible as error:
        raise Refused(error.field or "plate_id", f"{error}") from error
    if case is None:
        raise Refused("lens_id", "Choose a body, a mode and a lens first.")
    return case


def stored_plate(
    production: Production, pk: uuid.UUID, plate_id: uuid.UUID
) -> tuple[StoredShot, Shot, Plate]:
    """A stored shot, and one of its plates, as the core takes them."""
    stored = shots_of(production).select_related("production").get(pk=pk)
    shot = load(plan_json(stored))
    plate = next((p for p in shot.plates if p.id == str(plate_id)), None)
    if plate is None:
        raise Refused("plate_id", "There is no such plate in this shot.")
    return stored, seen_from_own(shot, plate), plate


class FindingQuestion(PlateQuestion):
    """One finding of one plate, by the key of its rule."""

    key: Annotated[str, Field(max_length=40)]


class WaysOut(BaseModel):
    """Ways out of one finding, tried against every rule of all plates they touch, best first; and
    what it would take where nothing in the plan does."""

    remedies: list[Remedy]
    otherwise: str


@router.post("/ways-out", response=WaysOut)
def find_ways_out(request: HttpRequest, payload: FindingQuestion) -> Any:
    """What would mend one finding. Nothing is stored; a rule that has nothing to say, or holds, has
    none."""
    shot, plate = payload.shot_and_plate()
    check_shot(shot)
    with say.written_in(payload.notation.core()):
        finding = standing(shot, plate).by_key.get(payload.key)
        if finding is None or finding.verdict is Verdict.HOLDS:
            return WaysOut(remedies=[], otherwise="")
        found = list(ways_out(shot, plate, finding))
        more = "" if found else borrowed_or_rewritten(shot, plate, finding)
        return WaysOut(remedies=found, otherwise=more)


class PairsQuestion(FindingQuestion):
    """One finding of a plan, and how many pairs of changes have been tried before."""

    begin: Annotated[int, Within(0, MOST_PAIRS)] = 0


class PairsOut(BaseModel):
    """Two changes together that mend one finding, each tried as a whole, best first; how many have
    been tried by now, of at most `of`, and whether there are more to try."""

    remedies: list[Remedy]
    tried: int
    of: int
    more: bool


@router.post("/pairs-out", response=PairsOut)
def find_pairs_out(request: HttpRequest, payload: PairsQuestion) -> Any:
    """Some more pairs of changes tried against one finding. Long work in short steps: whoever asks
    goes on while there are `more`, and stops by not asking. Nothing is stored."""
    shot, plate = payload.shot_and_plate()
    check_shot(shot)
    with say.written_in(payload.notation.core()):
        finding = standing(shot, plate).by_key.get(payload.key)
        if finding is None:
            return PairsOut(remedies=[], tried=payload.begin, of=MOST_PAIRS, more=False)
        part = pairs(shot, plate, finding, payload.begin, PAIRS_AT_ONCE)
        found = [trial.remedy for _, trial in sorted(part.found, key=lambda one: one[0])]
        return PairsOut(remedies=found, tried=part.tried, of=MOST_PAIRS, more=part.more)


class PlannerQuestion(PlateQuestion):
    """One plate to plan, and what is wished for."""

    wishes: WishFields = WishFields()


@router.post("/planner", response=planner.Search)
def plan_plate(request: HttpRequest, payload: PlannerQuestion) -> Any:
    """Search the kit of the plan for ways to film one plate. Nothing is stored."""
    shot, plate = payload.shot_and_plate()
    with say.written_in(payload.notation.core()):
        return planner.search(shot, plate, planner.Wishes(**payload.wishes.model_dump()), most=8)


class Compared(PlateQuestion):
    """One plate, and up to three sets of decisions to lay beside one another."""

    candidates: Annotated[list[dict[str, Any]], Field(min_length=1, max_length=3)]
    at: Annotated[float, Within(0, 1)] = 0.0


def _changed(payload: Compared, changes: dict[str, Any]) -> Plate:
    """The plate with some decisions changed, refused by name when they make no sense."""
    base = next(p for p in payload.plates if p.id == payload.plate_id)
    unknown = sorted(set(changes) - set(PlateFields.model_fields))
    if unknown:
        raise Refused(unknown[0], f"{unknown[0]} is not a decision of a plate.")
    try:
        # In JSON's own terms, so that ids and dates are read as they were sent.
        return core_plate(PlanPlate.model_validate({**base.model_dump(mode="json"), **changes}))
    except ValidationError as error:
        field = str(error.errors()[0]["loc"][0])
        raise Refused(field, f"{field} {sentence_of(dict(error.errors()[0]))}.") from error


@router.post("/compare", response=list[PlateAnswer])
def compare(request: HttpRequest, payload: Compared) -> Any:
    """The same plate decided in several ways. Nothing is stored."""
    shot, plate = payload.shot_and_plate()
    answers = []
    with say.written_in(payload.notation.core()):
        for changes in payload.candidates:
            tried = _changed(payload, changes)
            others = tuple(tried if p.id == plate.id else p for p in shot.plates)
            answers.append(
                plate_answer(
                    plate_report(replace(shot, plates=others), tried, False, at=payload.at)
                )
            )
    return answers


# --- what if something is not there -------------------------------------------------------------


class Without(Fields):
    """Kit that is taken away. `whole`: plan every plate anew, not only those that used it."""

    without: Annotated[list[uuid.UUID], Field(max_length=200)] = []
    whole: bool = False

    @property
    def ids(self) -> frozenset[str]:
        """As the core names them."""
        return frozenset(str(pk) for pk in self.without)


class ChangeOut(BaseModel):
    """One plate before and after; see `core.planner.Change`."""

    shot_id: str
    plate_id: str
    plate: str
    uses: bool
    before: Verdict | None
    after: Verdict | None
    changed: bool
    instead: planner.Way | None


def changes_out(found: Iterable[planner.Change]) -> list[dict[str, Any]]:
    """Changes, ready for JSON."""
    return [{**vars(change), "changed": change.changed} for change in found]


class WithoutQuestion(Plan):
    """A plan and what is taken away from its kit."""

    taken: Without = Without()
    notation: NotationFields = NotationFields()


@router.post("/replan", response=list[ChangeOut])
def replan_shot(request: HttpRequest, payload: WithoutQuestion) -> Any:
    """Follow one shot to a kit without some things. Nothing is stored."""
    with say.written_in(payload.notation.core()):
        return changes_out(
            planner.replan([("", to_core(payload))], payload.taken.ids, payload.taken.whole)
        )


@router.post("/tricks", response=Tricks)
def study_tricks(request: HttpRequest, payload: PlateQuestion) -> Any:
    """What one plate shares, how it is split, cast, rigged, cut, tracked and timed. Nothing is
    stored."""
    shot, plate = payload.shot_and_plate()
    with say.written_in(payload.notation.core()):
        return HttpResponse(
            _TRICKS.dump_json(tricks(case_or_refused(shot, plate))), content_type="application/json"
        )


_TRICKS: TypeAdapter[Tricks] = TypeAdapter(Tricks)


class HazardOut(Schema):
    """A hazard that can be marked on a plate, and its cautions."""

    key: str
    name: str
    cautions: list[str]


@router.get("/hazards", response=list[HazardOut])
def list_hazards(request: HttpRequest) -> Any:
    """The table of hazards."""
    return list(HAZARDS)
