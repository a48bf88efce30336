"""One frame of many. Loaded where files are read, which is never in a web
process."""

from __future__ import annotations

import cv2

from jungoptic.media.averaged import averaged, middle
from jungoptic.media.kinds import Unreadable

from ..jobs.work import Work
from ..records import Refused
from . import disk
from .averages import Stretch
from .work import running


def average(work: Work[Stretch]) -> None:
    """The mean or the median of a stretch of frames, as a PNG of sixteen bits a colour."""
    wanted = work.params
    picture, read = running(work, wanted.picture_id)
    if wanted.first > read.frames:
        raise Refused("first", f"{picture.name} has {read.frames:,} frames.")
    with disk.at_hand(list(picture.files.select_related("picture"))) as paths:
        try:
            made_of = averaged if wanted.way == "mean" else middle
            made, count = made_of(
                paths,
                read,
                wanted.first,
                wanted.last,
                lambda done, of: work.tell(done, of, "frames"),
            )
        except Unreadable as error:
            raise Refused("picture_id", str(error)) from error
    whole, data = cv2.imencode(".png", cv2.cvtColor(made, cv2.COLOR_RGB2BGR))
    if not whole:
        raise Refused("picture_id", "The picture could not be written.")
    work.keep({"frames": count})
    name = "quiet" if wanted.way == "mean" else "clean"
    work.keep_file(f"{picture.name} {name}.png", "image/png", data.tobytes())
