"""How exceptions become answers: one table, one shape, never a 500 for what a person typed."""

from __future__ import annotations

import errno
import logging
from typing import Any

from django.core.exceptions import ObjectDoesNotExist, RequestDataTooBig
from django.db import DataError, IntegrityError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from django.http.multipartparser import MultiPartParserError
from django.http.request import RawPostDataException
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from psycopg.errors import DiskFull

from jungoptic.core.impossible import Impossible
from jungoptic.core.words.sentences import capital

from .accounts.sure import Unsure
from .logs import request_id
from .naming import in_words
from .printing.child import TooLarge
from .reading.child import Busy
from .reading.refusal import Refusal
from .records import Refused

log = logging.getLogger(__name__)

#: Database constraints by name, said plainly.
CONSTRAINTS = {
    "one_role_per_member": ("user", "This person belongs to the production already."),
    "one_card_per_slate": ("slate", "Two cards were issued at the same moment; try again."),
    "one_log_per_piece": ("hours", "Somebody logged this at the same moment; try again."),
    "read_once_by_name": ("name", "This name has acknowledged it already."),
    "one_take_per_number": ("number", "Two takes were logged at the same moment; try again."),
}

#: What pydantic calls it -> what a person can act on.
WORDS = {
    "missing": "is missing",
    "float_parsing": "must be a number",
    "float_type": "must be a number",
    "int_parsing": "must be a whole number",
    "int_type": "must be a whole number",
    "int_from_float": "must be a whole number",
    "finite_number": "must be a finite number",
    "string_type": "must be text",
    "string_too_short": "must not be empty",
    "uuid_parsing": "is not a valid id",
    "uuid_type": "is not a valid id",
    "extra_forbidden": "is not a field of this",
    "bool_parsing": "must be yes or no",
    "json_invalid": "is not valid JSON",
}


def sentence_of(error: dict[str, Any]) -> str:
    """One problem that pydantic found, in words that follow the field's name."""
    kind, context = error["type"], error.get("ctx") or {}
    if kind in {"greater_than_equal", "greater_than"}:
        return f"must be {context.get('ge', context.get('gt')):g} or more"
    if kind in {"less_than_equal", "less_than"}:
        return f"must be {context.get('le', context.get('lt')):g} or less"
    if kind == "string_too_long":
        return f"must be {context.get('max_length')} characters or fewer"
    if kind == "too_long":
        return f"must be {context.get('max_length')} or fewer"
    if kind in {"literal_error", "enum"}:
        return f"must be one of {context.get('expected')}"
    return WORDS.get(kind) or str(error.get("msg", "is not valid"))


def _place(location: tuple[Any, ...]) -> str:
    """`('body', 'payload', 'plates', 0, 'scale')` -> `plates.0.scale`."""
    parts = [str(p) for p in location if p not in {"body", "payload", "path", "query"}]
    return ".".join(parts) or "body"


def in_a_sentence(error: dict[str, Any]) -> str:
    """The same after the field's name, as a person would say it."""
    parts = _place(tuple(error["loc"])).split(".")
    name = next((part for part in reversed(parts) if not part.isdigit()), parts[-1])
    return f"{in_words(name)[0]} {sentence_of(error)}"


#: What is said while the database cannot be reached.
AWAY = "The database is away for a moment; nothing was changed. Try again shortly."


#: What is said when nothing more can be written.
FULL = (
    "The server's disk is full; nothing was changed, and everything can still be read. Whoever "
    "runs this server has to make room."
)


def our_fault() -> str:
    """What a person is told of a mistake of ours, with what finds it in the log."""
    return (
        "Something went wrong on our side; nothing that you did is wrong, and nothing was changed. "
        f"It is written down as {request_id()}."
    )


def install(api: NinjaAPI) -> None:
    """Register the table on `api`."""

    def answer(
        request: HttpRequest, status: int, message: str, fields: dict[str, str] | None = None
    ) -> HttpResponse:
        return api.create_response(
            request, {"message": message, "fields": fields or {}}, status=status
        )

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        by_place = {_place(tuple(e["loc"])): e for e in error.errors}
        fields = {place: sentence_of(e) for place, e in by_place.items()}
        named = "; ".join(in_a_sentence(e) for e in list(by_place.values())[:5])
        return answer(request, 422, f"{capital(named)}.", fields)

    @api.exception_handler(Refused)
    def refused(request: HttpRequest, error: Refused) -> HttpResponse:
        return answer(request, 422, error.message, {error.field: error.message})

    @api.exception_handler(Unsure)
    def unsure(request: HttpRequest, error: Unsure) -> HttpResponse:
        return answer(request, 403, Unsure.MESSAGE, {"proof": Unsure.MESSAGE})

    @api.exception_handler(Refusal)
    def no_such_file(request: HttpRequest, error: Refusal) -> HttpResponse:
        return answer(request, 422, error.sentence, {"file": error.sentence})

    @api.exception_handler(TooLarge)
    def too_large(request: HttpRequest, error: TooLarge) -> HttpResponse:
        return answer(request, 422, str(error))

    @api.exception_handler(Busy)
    def busy(request: HttpRequest, error: Busy) -> HttpResponse:
        response = answer(request, 503, str(error))
        response["Retry-After"] = "30"
        return response

    @api.exception_handler(Impossible)
    def impossible(request: HttpRequest, error: Impossible) -> HttpResponse:
        return answer(request, 422, str(error), {error.field: str(error)} if error.field else None)

    @api.exception_handler(Exception)
    def ours(request: HttpRequest, error: Exception) -> HttpResponse:
        # Anything that is not named here is a mistake of ours, never of what was planned.
        log.error("mistake", exc_info=error)
        return answer(request, 500, our_fault())

    @api.exception_handler(OSError)
    def disk(request: HttpRequest, error: OSError) -> HttpResponse:
        if error.errno not in (errno.ENOSPC, errno.EDQUOT):
            return ours(request, error)
        log.error("disk full", exc_info=error)
        return answer(request, 507, FULL)

    @api.exception_handler(OperationalError)
    def away(request: HttpRequest, error: OperationalError) -> HttpResponse:
        if isinstance(error.__cause__, DiskFull):
            log.error("disk of the database full", exc_info=error)
            return answer(request, 507, FULL)
        log.warning("database away: %s", error)
        response = answer(request, 503, AWAY)
        response["Retry-After"] = "5"
        return response

    @api.exception_handler(RawPostDataException)
    @api.exception_handler(MultiPartParserError)
    def garbled(request: HttpRequest, error: Exception) -> HttpResponse:
        return answer(request, 415, "Send this as JSON (Content-Type: application/json).")

    @api.exception_handler(Http404)
    def missing(request: HttpRequest, error: Http404) -> HttpResponse:
        return answer(request, 404, str(error) or "There is no such thing.")

    @api.exception_handler(ObjectDoesNotExist)
    def gone(request: HttpRequest, error: ObjectDoesNotExist) -> HttpResponse:
        return answer(request, 404, "There is no such thing here, or it was removed.")

    @api.exception_handler(AuthenticationError)
    def stranger(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return answer(request, 401, "Sign in to go on; what you typed is kept.")

    @api.exception_handler(HttpError)
    def told(request: HttpRequest, error: HttpError) -> HttpResponse:
        return answer(request, error.status_code, str(error))

    @api.exception_handler(RequestDataTooBig)
    def oversize(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        return answer(request, 413, "This is larger than fits in one edit.")

    @api.exception_handler(IntegrityError)
    def constraint(request: HttpRequest, error: IntegrityError) -> HttpResponse:
        for name, (field, sentence) in CONSTRAINTS.items():
            if name in str(error):
                return answer(request, 409, sentence, {field: sentence})
        if "within_bounds" in str(error):
            # The forms name the field; what comes so far was worked out by us: written down.
            log.error("out of bounds", exc_info=error)
            return answer(request, 422, "A number here lies outside what can be kept.")
        log.exception("unexpected constraint")
        return answer(request, 409, "This clashes with something changed at the same moment.")

    @api.exception_handler(DataError)
    def unstorable(request: HttpRequest, error: DataError) -> HttpResponse:
        return answer(request, 422, "A value here cannot be stored; check for odd characters.")
