"""The page that carries the screens, and plain answers outside the API."""

from __future__ import annotations

import sys

from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

from .errors import AWAY, our_fault


@require_safe
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The one HTML page; sets the CSRF cookie that edits need."""
    return render(request, "page.html")


def no_such_api(request: HttpRequest) -> JsonResponse:
    """An address under /api/ that does not exist."""
    return JsonResponse({"message": "There is no such address.", "fields": {}}, status=404)


def stumbled(request: HttpRequest) -> HttpResponse:
    """A mistake of ours outside the API's own table; the database away is one of them."""
    kind = sys.exc_info()[0]
    away = kind is not None and issubclass(kind, OperationalError)
    message, status = (AWAY, 503) if away else (our_fault(), 500)
    response = JsonResponse({"message": message, "fields": {}}, status=status)
    if away:
        response["Retry-After"] = "5"
    return response


def csrf_failed(request: HttpRequest, reason: str = "") -> JsonResponse:
    """The form's token is old: a reload mends it."""
    message = "This page is from before you last signed in. Reload it; what you typed is kept."
    return JsonResponse({"message": message, "fields": {}}, status=403)
