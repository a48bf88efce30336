"""Rooms with many pictures, in Chromium: a film of five hundred played, a shot of two hundred takes
opened."""

from __future__ import annotations

import copy
import re
import shutil
import statistics
import uuid
from typing import Any

#: Pictures in the film, and takes on the page.
FILM, TAKES = 500, 200
#: So many of them fill a screen.
FIRST = 20
#: The page is opened so often.
ROUNDS = 7

#: Milliseconds from the beginning of the navigation until all takes stand on the page and a frame
#: has been painted after that with the processor at rest.
READY = """
(count) => new Promise((done) => {
  const look = () => {
    if (document.querySelectorAll('[data-testid=take]').length < count)
      requestAnimationFrame(look);
    else
      requestAnimationFrame(() => {
        const channel = new MessageChannel();
        channel.port1.onmessage = () => done(performance.now());
        channel.port2.postMessage(0);
      });
  };
  look();
})
"""


def measure() -> str:
    """The table as Markdown. Leaves shot 6 with a long film and another one with many takes."""
    from throwaway import chromium, demo_server, open_demo

    animated = _long_film()
    filmed = _many_takes()
    with demo_server() as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        open_demo(page, address)
        rounds = [_played(page, f"{address}{animated}") for _ in range(2)]
        opened = [_opened(browser, address, filmed) for _ in range(ROUNDS)]
    new, opened = opened[0], opened[1:]
    played = "\n".join(
        f"| {name} | {shown} | {late} |"
        for name, (shown, late) in zip(("for the first time", "again"), rounds, strict=True)
    )
    first, ready, longest = (statistics.median(column) for column in zip(*opened, strict=True))
    return (
        "## Rooms with many pictures\n\n"
        f"A film of {FILM} pictures, 24 a second, played in headless Chromium.\n\n"
        "| played | frames | of these too late |\n| --- | ---: | ---: |\n"
        f"{played}\n\n"
        f"The Pictures of a shot with {TAKES} more takes, one picture each, opened in a window of "
        "their own. Aim: a second until they can be used.\n\n"
        f"| opened | the first {FIRST} takes, ms | all, ms | longest task, ms |\n"
        "| --- | ---: | ---: | ---: |\n"
        f"| with every take to be judged | {new[0]:.0f} | {new[1]:.0f} | {new[2]:.0f} |\n"
        f"| as they were ({ROUNDS - 1} times) | {first:.0f} | {ready:.0f} | {longest:.0f} |"
    )


def _long_film() -> str:
    """Where the table of shot 6 lies, its film made long by showing its pictures again."""
    from jungoptic.web.blocks.models import Block, Exposure

    block = Block.objects.filter(shot__number="6").latest("created_at")
    own = list(Exposure.objects.filter(block=block))
    count = Exposure.objects.filter(block__shot=block.shot).count()
    last = max(one.number for one in own)
    made = []
    for n in range(FILM - count):
        one = copy.copy(own[n % len(own)])
        one.pk, one.number = uuid.uuid4(), last + 1 + n
        made.append(one)
    Exposure.objects.bulk_create(made)
    block.order = [*block.order, *(one.number for one in made)]
    block.save()
    block.shot.screen_time_s = FILM / 24.0
    block.shot.save()
    shot = block.shot
    return f"/productions/{shot.production_id}/shots/{shot.pk}/frames/{block.plate_id}"


def _many_takes() -> str:
    """Where the Pictures of a shot lie, with many more takes of one of its plates."""
    from django.conf import settings

    from jungoptic.web.pictures.models import Picture

    old = Picture.objects.filter(take__isnull=False, state="read").first()
    assert old is not None
    assert old.take is not None
    root = settings.MEDIA_ROOT
    for n in range(TAKES):
        take, picture = copy.copy(old.take), copy.copy(old)
        take.pk, take.number = uuid.uuid4(), 100 + n
        take.save(force_insert=True)
        picture.pk, picture.take = uuid.uuid4(), take
        picture.save(force_insert=True)
        for frame in old.looks:
            shutil.copy(f"{root}/{old.look(frame)}", f"{root}/{picture.look(frame)}")
    shot = old.take.card.plate.shot
    return f"/productions/{shot.production_id}/shots/{shot.pk}/pictures"


def _played(page: Any, address: str) -> tuple[int, int]:
    """Frames that were played, and how many of them came too late to be shown."""
    page.goto(address)
    finder = page.get_by_test_id("finder")
    page.get_by_text(re.compile(rf"{FILM} of \d+ taken")).wait_for()
    page.keyboard.press("p")
    shown = page.wait_for_function(
        """(least) => {
          const told = document.querySelector('[data-testid=finder]').textContent;
          const at = Number(/frame (\\d+)/.exec(told)?.[1] ?? 0);
          return at >= least && at;
        }""",
        arg=FILM,
        timeout=60_000,
    )
    late = int(finder.get_attribute("data-late") or 0)
    page.keyboard.press("Escape")
    return int(shown.json_value()), late


def _opened(browser: Any, address: str, path: str) -> tuple[float, float, float]:
    """Milliseconds until the first takes stand on the page, until all do, and of its longest
    task."""
    from throwaway import open_demo

    from .sheets import WATCH

    page = browser.new_page(viewport={"width": 1280, "height": 800})
    open_demo(page, address)
    page.add_init_script(f"({WATCH})()")
    page.goto(address + path, wait_until="commit")
    first, ready = (float(page.evaluate(READY, count)) for count in (FIRST, TAKES))
    page.wait_for_timeout(1000)
    longest = max(page.evaluate("() => window.long"), default=0.0)
    page.close()
    return first, ready, float(longest)
