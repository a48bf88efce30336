"""The API: one NinjaAPI, sessions with CSRF, a router per noun."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema
from ninja.renderers import BaseRenderer
from ninja.security import django_auth
from pydantic_core import to_json

from . import errors
from .accounts.api import router as accounts
from .accounts.devices_api import router as devices
from .accounts.passkeys_api import router as passkeys
from .blocks.api import router as blocks
from .blocks.at_table import router as at_table
from .board.api import router as board
from .breakdown.cautions_api import router as cautions
from .breakdown.continuity_api import router as continuity
from .breakdown.hours_api import router as hours
from .breakdown.steps_api import router as steps
from .calc.api import router as calc
from .calc.bench_api import router as bench
from .calc.cue_api import files as cue_files
from .calc.cue_api import router as cue
from .calc.in_post_api import files as in_post_files
from .calc.kept_api import router as kept
from .calc.light_api import files as light_files
from .calc.light_api import router as light
from .calc.replan_api import router as replan
from .developed.api import router as developed
from .exchange.api import router as exchange
from .exchange.board_api import router as board_exchange
from .frames.api import calculator as sheets
from .frames.api import router as frames
from .health import router as health
from .history.api import router as history
from .jobs.api import router as jobs
from .kit.api import router as kit
from .lenses.api import router as lenses
from .pictures.api import router as pictures
from .pictures.board_api import router as picture_boards
from .pictures.strips import router as picture_strips
from .pictures.uploads import router as uploads
from .plans.api import router as plans
from .plans.lockoffs_api import router as lockoffs
from .productions.api import router as productions
from .productions.people_api import door as invited
from .productions.people_api import router as people
from .recipes.api import book_router
from .recipes.api import router as recipes
from .rough.api import router as rough
from .schemas import Problem
from .set_maps.api import calculator as set_maps
from .set_maps.api import router as set_map_files
from .sketches.api import router as sketches
from .takes.api import router as takes
from .takes.card_api import router as cards
from .takes.crew_api import door as crew
from .takes.crew_api import router as crew_links


class StrictJson(BaseRenderer):
    """JSON as the standard has it: infinity, which JSON cannot say, becomes null (RFC 8259)."""

    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        """Serialise `data` in one go."""
        return to_json(data, inf_nan_mode="null")


#: What a file is, by the end of its address.
KINDS = {
    ".png": ("image/png",),
    ".csv": ("text/csv",),
    ".pdf": ("application/pdf",),
    "/pdf": ("application/pdf",),
    "/board": ("application/pdf",),
    ".ics": ("text/calendar",),
    ".gcode": ("text/plain",),
    "/picture": ("image/png", "image/jpeg", "image/webp"),
    "/look": ("image/jpeg",),
    "/{file_id}": ("application/octet-stream",),
}


def _say_what_files_are(path: str, operation: dict[str, Any]) -> None:
    """An answer that is a file says so, with its kind; a timeline is JSON of another's making."""
    content = operation["responses"].get(200, {}).get("content", {})
    if content.get("application/json", {}).get("schema", {}).get("format") != "binary":
        return
    kinds = next((k for end, k in KINDS.items() if path.endswith(end)), ())
    told = content.pop("application/json") if kinds else {"schema": {"type": "object"}}
    for kind in kinds or ("application/json",):
        content[kind] = told


class Described(NinjaAPI):
    """The API, whose description also says how every error answers."""

    def get_openapi_schema(self, *args: Any, **options: Any) -> OpenAPISchema:
        """Each operation may answer an error; all have one shape."""
        schema = super().get_openapi_schema(*args, **options)
        schema["components"]["schemas"].setdefault(
            "Problem", Problem.model_json_schema(ref_template="#/components/schemas/{model}")
        )
        problem = {"schema": {"$ref": "#/components/schemas/Problem"}}
        told = {
            "description": "A sentence that a person can act on, and one per field.",
            "content": {"application/json": problem},
        }
        for path, operations in schema["paths"].items():
            for operation in operations.values():
                _say_what_files_are(path, operation)
                operation["responses"].setdefault("4XX", told)
                operation["responses"].setdefault("5XX", told)
        return schema


def members_only(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """The description of the API is for who is signed in."""

    @functools.wraps(view)
    def asked(request: HttpRequest, *args: Any, **options: Any) -> HttpResponse:
        if request.user.is_authenticated:
            return view(request, *args, **options)
        message = "Sign in to read how the API is spoken to."
        return JsonResponse({"message": message, "fields": {}}, status=401)

    return asked


api = Described(
    title="Jungoptic",
    version="1",
    auth=django_auth,
    renderer=StrictJson(),
    docs_decorator=members_only,
)
errors.install(api)


api.add_router("/health", health)
for router in (accounts, devices, passkeys, invited, crew):
    api.add_router("/", router)
api.add_router("/calc", calc)
api.add_router("/calc", kept)
api.add_router("/calc", light)
api.add_router("/calc", cue)
api.add_router("/calc", sheets)
api.add_router("/calc", set_maps)
api.add_router("/recipes", book_router)
for router in (
    productions,
    people,
    history,
    kit,
    lenses,
    plans,
    lockoffs,
    replan,
    bench,
    light_files,
    cue_files,
    in_post_files,
    frames,
    set_map_files,
    cards,
    crew_links,
    takes,
    exchange,
    board_exchange,
    sketches,
    developed,
    pictures,
    picture_boards,
    picture_strips,
    rough,
    blocks,
    at_table,
    uploads,
    board,
    recipes,
    steps,
    hours,
    cautions,
    continuity,
    jobs,
):
    api.add_router("/productions", router)
