"""Small gates: no oversize bodies, no scripts from elsewhere; long answers are compressed."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

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


class Compressed(GZipMiddleware):
    """Answers of the API that are worth it go compressed; pictures and papers are already."""

    #: Bytes below which the wire is quicker than compressing.
    SHORTEST = 10_000

    def process_response(
        self, request: HttpRequest, response: HttpResponseBase
    ) -> HttpResponseBase:
        """The answer, compressed where that pays."""
        kind = response.get("Content-Type", "").partition(";")[0]
        if response.streaming or kind not in ("application/json", "text/csv"):
            return response
        if len(getattr(response, "content", b"")) < self.SHORTEST:
            return response
        return super().process_response(request, response)


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
