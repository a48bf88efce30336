"""What was filmed of a shot is put together, looked at, and filmed again in another way."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.media.made import still

from .accessible import no_barriers
from .conftest import LONG_MS, first_shot, saved
from .test_filmed import pictures_of, read


def together_of(desk: Page) -> Locator:
    """From the pictures of a shot on to all of them together."""
    desk.get_by_role("link", name="Put together").click()
    room = desk.get_by_test_id("together")
    room.wait_for()
    return room


@pytest.mark.usefixtures("worker")
def test_a_performer_is_laid_into_the_miniature(desk: Page):
    pictures_of(desk, "The tide mill, wide")
    room = together_of(desk)
    layers = room.get_by_test_id("layer")
    expect(layers).to_contain_text(["keyed from green", "the picture behind all else"])
    desk.keyboard.press("p")
    answer = room.get_by_test_id("answer")
    expect(answer).to_contain_text("It works", timeout=LONG_MS)
    shown = room.get_by_role("img", name="What was filmed, put together")
    assert shown.evaluate("image => image.decode().then(() => image.naturalWidth)") == 960
    for way in ("Beside", "Blink", "Difference", "Wipe"):
        room.get_by_role("button", name=way, exact=True).click()
    expect(room.get_by_test_id("compared")).to_have_attribute("data-way", "wipe")
    # Against the dry run that comes with the demo.
    room.get_by_label("Against").select_option(label="The story, were it real")
    expect(room.get_by_role("img", name=re.compile("^The story"))).to_have_count(1)
    no_barriers(desk)

    # Without her, the miniature alone; what is shown says that it was made otherwise.
    layers.first.get_by_label("in", exact=True).uncheck()
    expect(room).to_contain_text("made with other choices")
    room.get_by_role("button", name="Put this frame together").click()
    expect(room).not_to_contain_text("made with other choices", timeout=LONG_MS)
    # Found again as it was left.
    desk.reload()
    expect(layers.first.get_by_label("in", exact=True)).not_to_be_checked()
    # Another frame is another picture.
    desk.keyboard.press("]")
    expect(room).to_contain_text("This is frame 1.")


@pytest.mark.usefixtures("worker")
def test_halves_that_end_too_soon(desk: Page):
    pictures_of(desk, "the twins argue")
    room = together_of(desk)
    half = room.get_by_test_id("layer").filter(has_text="Half A")
    begins = half.get_by_label("The shot begins in its frame")
    begins.fill("500")
    begins.blur()
    saved(desk)
    expect(begins).to_have_value("96")
    desk.get_by_role("button", name=re.compile("^Undo where the shot begins")).click()
    expect(begins).to_have_value("1")
    room.get_by_role("button", name="Put this frame together").click()
    answer = room.get_by_test_id("answer")
    expect(answer).to_contain_text("Film again before the set goes", timeout=LONG_MS)
    expect(room.locator('[data-finding="rough-end"]').first).to_contain_text("108 frames before")
    # The whole is long work: it can be stopped.
    room.get_by_role("button", name="All of it, as a clip").click()
    work = room.get_by_test_id("job-rough-clip")
    work.get_by_role("button", name="Stop").click()
    expect(work).to_have_count(0, timeout=LONG_MS)


@pytest.mark.usefixtures("worker")
def test_from_an_empty_production(desk: Page, tmp_path: Path):
    first_shot(desk)
    desk.get_by_label("Add a plate").select_option("live")
    saved(desk)
    rooms = desk.get_by_role("navigation", name="Rooms of the shot")
    rooms.get_by_role("link", name="Pictures").click()
    desk.get_by_role("link", name="Put together").click()
    room = desk.get_by_test_id("together")
    expect(room).to_contain_text("Nothing of this shot is filmed yet")
    expect(room.get_by_role("button", name="Put this frame together")).to_be_disabled()
    room.get_by_role("link", name="Pictures", exact=True).click()
    pictures = desk.get_by_test_id("pictures")
    drop = pictures.get_by_label(re.compile("^Pictures of .*: files")).first
    drop.set_input_files(str(still(tmp_path / "first.png")))
    read(pictures, "first")
    room = together_of(desk)
    room.get_by_role("button", name="Put this frame together").click()
    expect(room.get_by_test_id("answer")).not_to_be_empty(timeout=LONG_MS)
