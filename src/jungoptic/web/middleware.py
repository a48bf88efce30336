"""Small gates: no oversize bodies, no scripts from elsewhere; long answers are compressed."""

from __future__ import annotations

import gzip
import secrets
from collections.abc import Callable
from io import BytesIO

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.gzip import re_accepts_gzip
from django.utils.cache import patch_vary_headers

Handler = Callable[[HttpRequest], HttpResponse]

#: A part of a file that is sent in parts (tus 1.0.0).
PART = "application/offset+octet-stream"


def refuse_oversize(get_response: Handler) -> Handler:
    """Answer 413 before reading a body larger than the limit."""

    def handle(request: HttpRequest) -> HttpResponse:
        length = request.META.get("CONTENT_LENGTH") or "0"
        kind = request.META.get("CONTENT_TYPE", "")
        files, part = kind.startswith("multipart/form-data"), kind == PART
        limit = settings.FILE_UPLOAD_LIMIT if files else settings.DATA_UPLOAD_MAX_MEMORY_SIZE
        limit = settings.PART_LIMIT if part else limit
        if length.isdigit() and int(length) > limit:
            what = "a file may have" if files else "that fits in one edit"
            what = "that is taken in one part" if part else what
            message = f"This is larger than {limit // 1000:,} kB, the most {what}."
            return JsonResponse({"message": message, "fields": {}}, status=413)
        return get_response(request)

    return handle


def json_only(get_response: Handler) -> Handler:
    """Answer 415 to what the API does not read. A form of another site can send a few plain types
    without asking; none of them is taken."""

    def handle(request: HttpRequest) -> HttpResponse:
        kind = request.META.get("CONTENT_TYPE", "").partition(";")[0].strip().lower()
        length = request.META.get("CONTENT_LENGTH") or "0"
        taken = kind in {"application/json", "multipart/form-data", PART}
        if request.path.startswith("/api/") and length != "0" and not taken:
            message = "Send this as JSON (Content-Type: application/json)."
            return JsonResponse({"message": message, "fields": {}}, status=415)
        return get_response(request)

    return handle


#: Bytes below which the wire is quicker than compressing.
SHORTEST = 10_000


def compressed(get_response: Handler) -> Handler:
    """Answers of the API that are worth it go compressed; pictures and papers are already."""

    def handle(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        kind = response.get("Content-Type", "").partition(";")[0]
        if response.streaming or kind not in ("application/json", "text/csv"):
            return response
        if len(response.content) < SHORTEST or response.has_header("Content-Encoding"):
            return response
        patch_vary_headers(response, ("Accept-Encoding",))
        if re_accepts_gzip.search(request.META.get("HTTP_ACCEPT_ENCODING", "")):
            response.content = quickly(response.content)
            response["Content-Length"] = str(len(response.content))
            response["Content-Encoding"] = "gzip"
        return response

    return handle


def quickly(content: bytes) -> bytes:
    """Compressed with the least effort: a drag is answered many times a second, and more effort
    takes four times as long for a tenth less. Under a name of random length, as Django does it, so
    that how long it is tells nothing of a secret in it (BREACH)."""
    packed = BytesIO()
    name = "a" * secrets.randbelow(100)
    with gzip.GzipFile(name, "wb", compresslevel=1, fileobj=packed, mtime=0) as file:
        file.write(content)
    return packed.getvalue()


#: What of the device a page may use: the camera takes frames, and nothing else is asked for.
MAY_USE = "camera=(self), microphone=(), geolocation=(), payment=(), usb=(), serial=(), midi=()"


def content_security(get_response: Handler) -> Handler:
    """Everything comes from this server, so nothing else may load or frame it."""
    policy = (
        "default-src 'self'; img-src 'self' data: blob:; style-src 'self'; "
        "object-src 'none'; base-uri 'self'; frame-ancestors 'none'; form-action 'self'"
    )

    def handle(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if not settings.DEBUG:
            response.setdefault("Content-Security-Policy", policy)
        response.setdefault("Permissions-Policy", MAY_USE)
        return response

    return handle
