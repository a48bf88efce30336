"""Where a picture was taken from, by what is picked in it."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from jungoptic.web.demo import picked
from jungoptic.web.pictures.models import Picture
from jungoptic.web.plans.models import Shot

from .accessible import no_barriers
from .conftest import LONG_MS, first_shot, follow, open_shot, saved


def point(canvas: Locator, x: float, y: float) -> tuple[float, float]:
    """A part of the picture on the screen."""
    box = canvas.bounding_box()
    assert box is not None
    return box["x"] + x * box["width"], box["y"] + y * box["height"]


def drag(desk: Page, canvas: Locator, one: tuple[float, float], two: tuple[float, float]) -> None:
    """From one place in the picture to another."""
    desk.mouse.move(*point(canvas, *one))
    desk.mouse.down()
    desk.mouse.move(*point(canvas, *two), steps=4)
    desk.mouse.up()


@pytest.mark.usefixtures("worker")
def test_marks_tell_where_the_camera_stood_and_which_of_them_is_wrong(desk: Page):
    open_shot(desk, "The tide mill, wide")
    rooms = desk.get_by_role("navigation", name="Rooms of the shot")
    follow(desk, rooms.get_by_role("link", name="Pictures"))
    desk.get_by_role("button", name=re.compile("S002 mill")).click()
    follow(desk, desk.get_by_role("link", name="Where it was taken from"))
    room = desk.get_by_test_id("marks")
    canvas = desk.get_by_test_id("canvas")
    expect(room.get_by_test_id("mark")).to_have_count(6)
    expect(room.get_by_test_id("stood")).to_contain_text("104 mm")
    no_barriers(desk)

    # One is dragged away: it is named, and undo brings it back.
    grip = canvas.get_by_role("button", name=re.compile("^Mark 4"))
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    desk.mouse.move(x, y)
    desk.mouse.down()
    desk.mouse.move(x + 40, y + 25, steps=4)
    expect(desk.get_by_test_id("loupe")).to_be_visible()
    desk.mouse.up()
    expect(room).to_contain_text("Without “Mill wheel: top front left corner”", timeout=LONG_MS)
    saved(desk)
    desk.keyboard.press("Control+z")
    expect(room.get_by_text("findings hold")).to_be_visible(timeout=LONG_MS)
    saved(desk)

    # One more, with tapes of its own; nothing is kept before all three are told.
    room.get_by_role("button", name="Pick a place you taped").click()
    desk.mouse.click(*point(canvas, 0.3, 0.4))
    draft = room.get_by_test_id("draft")
    for label, tape in (("To the right of it", "40 mm"), ("Ahead of it", "0 mm")):
        field = draft.get_by_role("textbox", name=re.compile("^" + label))
        field.fill(tape)
        field.press("Enter")
    expect(room.get_by_test_id("mark")).to_have_count(6)
    field = draft.get_by_role("textbox", name=re.compile("^Above the floor"))
    field.fill("300 mm")
    field.press("Enter")
    expect(room.get_by_test_id("mark")).to_have_count(7)
    saved(desk)
    # By the keys too.
    canvas.get_by_role("button", name=re.compile("^Mark 7")).press("ArrowRight")
    saved(desk)
    expect(room.get_by_text(re.compile("off by"))).to_have_count(7, timeout=LONG_MS)


@pytest.mark.usefixtures("worker")
def test_an_old_photograph_gives_the_story_its_camera(desk: Page, tmp_path: Path):
    """From an empty production."""
    first_shot(desk)
    name = Shot.objects.latest("created_at").production.name
    desk.get_by_role("link", name="Second film").first.click()
    desk.get_by_text("Shots in story order").wait_for()
    follow(desk, desk.get_by_role("link", name="Pictures", exact=True))
    photograph = tmp_path / "1911.jpg"
    picked.photograph().save(photograph)
    desk.get_by_label("Pictures of the production: files").set_input_files([str(photograph)])
    link = desk.get_by_role("link", name="Where it was taken from")
    expect(link).to_be_visible(timeout=LONG_MS)
    follow(desk, link)
    room = desk.get_by_test_id("edges")
    canvas = desk.get_by_test_id("canvas")
    expect(room).to_contain_text("Two edges of each of two directions")
    edges, (man,) = picked.edges()
    ways = {"across": "level, across the view", "ahead": "level, away from you", "up": "plumb"}
    for direction, word in ways.items():
        room.get_by_role("button", name=word).click()
        for one in [e for e in edges if e.direction == direction]:
            drag(desk, canvas, (one.x1, one.y1), (one.x2, one.y2))
    expect(room.get_by_test_id("edge")).to_have_count(len(edges))
    room.get_by_role("button", name="something of known height").click()
    drag(desk, canvas, (man.foot_x, man.foot_y), (man.top_x, man.top_y))
    tall = room.get_by_role("textbox", name=re.compile("^Known height 1"))
    tall.fill("1.70 m")
    tall.press("Enter")
    taken = room.get_by_test_id("taken")
    expect(taken).to_contain_text(
        re.compile(r"Lens above the ground\s*1\.[56]\d\d m"), timeout=LONG_MS
    )
    expect(taken).to_contain_text(re.compile(r"Tilt\s*[23]\.\d° up"))
    expect(desk.get_by_test_id("horizon")).to_be_visible()
    no_barriers(desk)
    saved(desk)

    room.get_by_label("Take it for the story’s camera of").select_option(index=1)
    room.get_by_role("button", name="Take it for the story’s camera").click()
    expect(room).to_contain_text("sees as this picture does")
    shot = Shot.objects.get(production__name=name)
    assert 1.45 < shot.camera_height_m < 1.68
    assert 24.0 < shot.focal_mm * 24.9 / shot.sensor_width_mm < 28.5
    desk.keyboard.press("Control+z")
    expect(room.get_by_text("sees as this picture does")).to_have_count(0)
    saved(desk)


@pytest.mark.usefixtures("worker")
def test_a_ball_tells_how_the_set_was_lit(desk: Page):
    open_shot(desk, "Kitchen: the twins argue")
    rooms = desk.get_by_role("navigation", name="Rooms of the shot")
    follow(desk, rooms.get_by_role("link", name="Pictures"))
    desk.get_by_role("button", name=re.compile("S003 balls")).click()
    follow(desk, desk.get_by_role("link", name="Where it was taken from"))
    room, canvas = desk.get_by_test_id("balls"), desk.get_by_test_id("canvas")
    balls = room.get_by_test_id("ball")
    expect(balls).to_have_count(2)
    expect(balls.first).to_contain_text("from the left, behind the action")
    expect(balls.nth(1)).to_contain_text("Key side over shadow side: 2.4 stops")
    expect(desk.get_by_test_id("dial")).to_be_visible()
    no_barriers(desk)

    # The chrome one is traced anew, where it was.
    traced = Picture.objects.get(name=picked.BALLED).balls[0]
    balls.first.get_by_role("button", name="Remove ball 1").click()
    expect(balls).to_have_count(1)
    saved(desk)
    room.get_by_role("button", name="Chrome ball").click()
    middle = (traced["x"], traced["y"])
    drag(desk, canvas, middle, (traced["x"] + traced["radius"], traced["y"]))
    expect(balls).to_have_count(2)
    expect(balls.nth(1)).to_contain_text("from the left, behind the action", timeout=LONG_MS)
    saved(desk)
    # Somewhere on the wall there is no ball, and it says so.
    room.get_by_role("button", name="Grey ball").click()
    drag(desk, canvas, (0.2, 0.7), (0.25, 0.7))
    expect(balls).to_have_count(3)
    expect(balls.nth(2).get_by_role("alert")).to_contain_text("Nothing yet:", timeout=LONG_MS)
    saved(desk)
    desk.keyboard.press("Control+z")
    expect(balls).to_have_count(2)
    # By the arrow keys its middle goes a pixel at a time, as one edit.
    grip = canvas.get_by_role("button", name=re.compile("^Chrome ball 2, its middle"))
    before = Picture.objects.get(name=picked.BALLED).balls[1]["x"]
    grip.focus()
    with desk.expect_response(lambda answer: answer.request.method == "PATCH"):
        for _ in range(3):
            desk.keyboard.press("ArrowRight")
    saved(desk)
    pixel = 1.0 / Picture.objects.get(name=picked.BALLED).look_width_px
    after = Picture.objects.get(name=picked.BALLED).balls[1]["x"]
    assert after == pytest.approx(before + 3.0 * pixel, abs=0.1 * pixel)
