"""Files on disk, whole or not at all."""

from __future__ import annotations

import base64
import contextlib
import datetime
import errno
import io
import logging
import os
import re
import tempfile
from functools import partial
from pathlib import Path
from typing import Any

from django.core.files import File
from django.core.files.base import ContentFile
from django.core.files.storage import FileSystemStorage, default_storage
from django.db import transaction
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from PIL import Image

log = logging.getLogger(__name__)


class WholeFiles(FileSystemStorage):
    """Writes under a name of its own first, has it on the disk, and only then gives it its real
    name: a full disk or a crash leaves no half file that something refers to."""

    #: What is not finished is called so; `sweep` takes it away.
    UNFINISHED = ".part-"

    def _save(self, name: str, content: Any) -> str:
        target = Path(self.path(name))
        target.parent.mkdir(parents=True, exist_ok=True)
        handle, part = tempfile.mkstemp(prefix=self.UNFINISHED, dir=target.parent)
        try:
            with os.fdopen(handle, "wb") as file:
                for chunk in content.chunks():
                    file.write(chunk)
                file.flush()
                os.fsync(file.fileno())
            os.chmod(part, 0o644)
            # Fails where the name is taken, which renaming would overwrite.
            os.link(part, target)
        finally:
            with contextlib.suppress(FileNotFoundError):
                os.unlink(part)
        _on_the_disk(target.parent)
        return name

    def take_in(self, path: Path, name: str) -> str:
        """Keep a file that is whole and on this disk already, without copying it; its name."""
        target = Path(self.path(name))
        target.parent.mkdir(parents=True, exist_ok=True)
        try:
            os.link(path, target)
        except FileExistsError:
            return name
        except OSError as error:
            # Another disk, or one that knows no links.
            if error.errno not in (errno.EXDEV, errno.EPERM, errno.ENOTSUP):
                raise
            with path.open("rb") as data:
                return self.save(name, File(data))
        os.chmod(target, 0o644)
        _on_the_disk(target.parent)
        return name


def _on_the_disk(folder: Path) -> None:
    """The names in a folder survive a crash from here on."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


#: A file that nothing refers to may belong to a save that is still going on.
YOUNGEST = datetime.timedelta(days=1)


def sweep(folder: str, used: set[str]) -> list[str]:
    """Delete the files of `folder` that are not among `used`; their names. What a crash or a full
    disk left behind ends here."""
    try:
        there = default_storage.listdir(folder)[1]
    except FileNotFoundError:
        return []
    before = timezone.now() - YOUNGEST
    gone = []
    for name in (f"{folder}/{file}" for file in there):
        if name not in used and default_storage.get_modified_time(name) < before:
            default_storage.delete(name)
            gone.append(name)
    return gone


#: How good a kept picture is: one 960 pixels wide takes some 40 kB.
QUALITY = 88
#: Pictures never change under their address; a browser may keep them.
KEPT = "private, max-age=31536000, immutable"


def keep_picture(name: str, pixels: Any, exact: bool = False) -> str:
    """A picture (h, w, 3) of eight bits as a WebP file, `exact`: to the last bit; where it lies."""
    data = io.BytesIO()
    Image.fromarray(pixels).save(data, "WEBP", quality=QUALITY, method=4, lossless=exact)
    stored: str = default_storage.save(f"{name}.webp", ContentFile(data.getvalue()))
    return stored


def _opened(name: str, gone: str) -> File[bytes]:
    try:
        return default_storage.open(name, "rb")
    except FileNotFoundError:
        raise Http404(gone) from None


def served(name: str, content_type: str, gone: str) -> FileResponse:
    """A file that never changes under its address. Raises Http404, with the words of `gone`, where
    it is not there any more."""
    answer = FileResponse(_opened(name, gone), content_type=content_type)
    answer["Cache-Control"] = KEPT
    return answer


#: A part of a file, as a browser asks for it: from a byte to a byte, or so many at its end.
SPAN = re.compile(r"bytes=(\d{0,15})-(\d{0,15})", re.ASCII)


def served_clip(request: HttpRequest, name: str, gone: str) -> HttpResponseBase:
    """The same of a clip that is made here, which a browser moves through part by part. More than
    one part at a time, or what is no part at all, gets the whole (RFC 9110, section 14)."""
    asked = SPAN.fullmatch(request.headers.get("Range", ""))
    if asked is None or not any(asked.groups()):
        whole = served(name, "video/webm", gone)
        whole["Accept-Ranges"] = "bytes"
        return whole
    with _opened(name, gone) as file:
        size = file.size
        first, last = (int(v) if v else None for v in asked.groups())
        if first is None:
            first, last = max(size - (last or 0), 0), None
        last = size - 1 if last is None else min(last, size - 1)
        if first > last:
            return HttpResponse(status=416, headers={"Content-Range": f"bytes */{size}"})
        file.seek(first)
        data = file.read(last - first + 1)
    part = HttpResponse(data, status=206, content_type="video/webm")
    part["Content-Range"] = f"bytes {first}-{last}/{size}"
    part["Accept-Ranges"], part["Cache-Control"] = "bytes", KEPT
    return part


def in_document(name: str) -> str:
    """A picture inside a document, as a data address; "" when its file is missing."""
    try:
        with default_storage.open(name, "rb") as file:
            data = base64.b64encode(file.read()).decode("ascii")
    except OSError:
        # The rest of the paper is worth having all the same.
        log.warning("picture missing: %s", name)
        return ""
    kind = Path(name).suffix.removeprefix(".").replace("jpg", "jpeg")
    return f"data:image/{kind};base64,{data}"


def forget(names: list[str]) -> None:
    """Delete files, once it is certain that nothing refers to them any more."""
    for name in names:
        transaction.on_commit(partial(default_storage.delete, name))
