"""Where the camera of a picture stood, worked out once more: by the plan of where it hangs now, and
by what was picked in it since. Loaded where files are read, which is never in a web process."""

from __future__ import annotations

from django.db import transaction

from .. import saving
from ..jobs.work import Work
from ..records import Refused
from ..takes.files import facts, settle
from .boards import board_again
from .fields import PICKED
from .models import Picture
from .picked import picked_by
from .work import Which, picture_of

#: What the answer hangs on.
GONE_BY = ("board", *PICKED)
#: So often it is begun anew for what was changed meanwhile.
TRIES = 20


def found_again(work: Work[Which]) -> None:
    """Work out once more where the camera stood. Raises Refused where nothing says."""
    for _ in range(TRIES):
        if _found(work):
            return


def _found(work: Work[Which]) -> bool:
    """Whether it was worked out, and of what is stored still."""
    picture = picture_of(work, work.params.picture_id)
    read = facts(picture)
    if read is None or not picture.tells_camera:
        raise Refused("picture_id", "No board was seen in this picture, and no marks picked.")
    again = {"board": board_again(picture, read), "picked": picked_by(picture, read)}
    with saving.writing(work.production), transaction.atomic():
        fresh = Picture.objects.select_for_update(of=("self",)).filter(pk=picture.pk).first()
        if fresh is None:
            return True
        if any(getattr(fresh, name) != getattr(picture, name) for name in GONE_BY):
            return False
        if any(getattr(fresh, name) != value for name, value in again.items()):
            for name, value in again.items():
                setattr(fresh, name, value)
            fresh.revision += 1
            fresh.save()
            saving.write_down(work.user, work.production, fresh, "measured")
            if fresh.take is not None:
                settle(work.user, work.production, fresh.take)
        return True
