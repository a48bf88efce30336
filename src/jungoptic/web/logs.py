"""Logs as lines of JSON, each with the request it belongs to; one line for every answer."""

from __future__ import annotations

import logging
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar
from typing import Any

from django.http import HttpRequest, HttpResponse

from . import callers

Handler = Callable[[HttpRequest], HttpResponse]

#: A calculation that takes longer is worth a look, seconds.
SLOW_S = 1.0

log = logging.getLogger("jungoptic.requests")
_request: ContextVar[str] = ContextVar("request", default="")


def request_id() -> str:
    """The request being answered; "" outside one."""
    return _request.get()


class WithRequest(logging.Filter):
    """Adds the request to every line."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Let every line pass, with the request on it."""
        record.request_id = request_id()
        return True


def written_down(get_response: Handler) -> Handler:
    """Give every request an id, answer with it, and write one line when it is done."""

    def handle(request: HttpRequest) -> HttpResponse:
        token = _request.set(uuid.uuid4().hex[:12])
        address = callers.begin(request)
        began = time.perf_counter()
        try:
            response = get_response(request)
            response["X-Request-Id"] = request_id()
            _tell(request, response.status_code, time.perf_counter() - began)
            return response
        finally:
            callers.end(address)
            _request.reset(token)

    return handle


def _tell(request: HttpRequest, status: int, took_s: float) -> None:
    """One line; louder for what failed or was slow."""
    slow = request.path.startswith("/api/calc/") and took_s > SLOW_S
    level = logging.ERROR if status >= 500 else logging.WARNING if slow else logging.INFO
    told: dict[str, Any] = {
        "method": request.method,
        "path": request.path,
        "status": status,
        "ms": round(took_s * 1000.0, 1),
        # Only who has been asked for already: a log line must not ask the database.
        "user": getattr(getattr(request, "_cached_user", None), "pk", None),
    }
    log.log(level, "slow calculation" if slow else "answered", extra=told)
