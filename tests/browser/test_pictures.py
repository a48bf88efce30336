"""Looking before anyone carries a lamp: a plate developed, and all plates put together."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from jungoptic.render.engine import MISSING, available
from jungoptic.web.developed.models import Developed
from jungoptic.web.plans.models import Plate

from .accessible import no_barriers
from .conftest import LONG_MS, open_shot, plate_button, saved, until
from .test_bench import finding, ways_out

#: The clips of a page, as it has them.
BOTH = "[...document.querySelectorAll('video')]"
pytestmark = pytest.mark.skipif(not available(), reason=MISSING)


@pytest.mark.usefixtures("worker")
def test_a_plate_and_what_would_mend_it_are_developed(desk: Page):
    Developed.objects.all().delete()
    open_shot(desk, "The tide mill, wide")
    plate_button(desk, "Mill miniature").click()
    desk.get_by_role("tab", name="Picture").click()
    expect(desk.get_by_test_id("developed")).to_contain_text("light is followed from the lamps")
    mine = desk.get_by_role("figure", name=re.compile("as its stage films it"))
    mine.get_by_role("button", name=re.compile("^Develop")).click()
    picture = desk.get_by_test_id("developed-plate")
    expect(picture).to_be_visible(timeout=LONG_MS)
    expect(picture).to_have_attribute("data-stands", "true")
    # It has come, and is a picture.
    assert picture.evaluate("image => image.decode().then(() => image.naturalWidth)") >= 480

    # A place of it is looked at pixel for pixel, from the keyboard too.
    place = desk.get_by_role("button", name=re.compile("^Look closely"))
    place.focus()
    for key in ("ArrowRight", "ArrowUp", "Enter"):
        place.press(key)
    close = desk.get_by_test_id("closely")
    expect(close).to_have_attribute("data-stands", "true", timeout=LONG_MS)
    assert Developed.objects.exclude(at=[]).get().at == [0.52, 0.48]

    stop = desk.get_by_role("textbox", name=re.compile("^Stop"))
    stop.fill("f/4")
    stop.press("Enter")
    expect(picture).to_have_attribute("data-stands", "false")
    expect(mine).to_contain_text("the plan has moved on")
    saved(desk)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(picture).to_have_attribute("data-stands", "true")

    # A way out is seen before it is made; what is planned has been developed already.
    # Its camera stands too high; a base below the ground lets it stand as low as it belongs.
    lower = ways_out(desk, "floor").locator("li", has_text="Let the camera base sit")
    lower.get_by_role("button", name="See it").click()
    dialog = desk.get_by_role("dialog", name=re.compile("^Let the camera base sit"))
    pictures = dialog.get_by_role("img")
    # The large picture of what is planned may still be in the making.
    expect(pictures).to_have_count(2, timeout=LONG_MS)
    expect(pictures.first).to_have_attribute("alt", re.compile("^As planned"))
    dialog.get_by_role("button", name="Wipe", exact=True).click()
    expect(desk.get_by_test_id("compared")).to_have_attribute("data-way", "wipe")
    no_barriers(desk)
    # Looked at, nothing is changed; done from here, it is the same as done beside it.
    before = Plate.objects.get(name="Mill miniature")
    dialog.get_by_role("button", name="Do this").click()
    expect(dialog).to_have_count(0)
    expect(picture).to_have_attribute("data-stands", "false")
    expect(mine).to_contain_text("the plan has moved on")
    saved(desk)
    expect(finding(desk, "floor")).to_have_attribute("data-verdict", "holds")
    assert Plate.objects.get(pk=before.pk).revision > before.revision
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(picture).to_have_attribute("data-stands", "true")

    # And so is a way of the planner.
    desk.get_by_role("tab", name="Planner").click()
    desk.locator('[data-way="1"]').get_by_label("compare").check()
    desk.get_by_role("button", name="Develop them").click()
    expect(desk.get_by_test_id("developed-way")).to_have_count(1, timeout=LONG_MS)
    assert all(one.change["changes"] for one in Developed.objects.exclude(change_key=""))


def test_a_dry_run_is_looked_at_in_every_way(desk: Page):
    open_shot(desk, "The tide mill, wide")
    rooms = desk.get_by_role("navigation", name="Rooms of the shot")
    rooms.get_by_role("link", name="Dry run").click()
    expect(desk.get_by_role("button", name="Film five moments")).to_be_enabled()
    things = desk.get_by_role("region", name="What stands in both")
    expect(things).to_contain_text(re.compile(r"Tide mill.*than the story"))
    expect(things).to_contain_text(re.compile(r"Ansa.*not lit yet"))
    ansa = things.get_by_role("button", name=re.compile("^Ansa"))
    ansa.click()
    expect(ansa).to_have_attribute("aria-pressed", "true")
    # What does not hold is circled in both pictures.
    wrong = desk.get_by_role("region", name="What does not hold")
    falloff = wrong.get_by_role("button", name=re.compile("Mill miniature: fall-off"))
    falloff.click()
    expect(falloff).to_have_attribute("aria-pressed", "true")
    expect(desk.locator('ellipse[stroke="var(--breaks)"]')).to_have_count(2)
    falloff.click()
    expect(desk.locator('ellipse[stroke="var(--breaks)"]')).to_have_count(0)
    compared = desk.get_by_test_id("compared")
    for way in ("Wipe", "Blink", "Difference"):
        desk.get_by_role("button", name=way, exact=True).click()
        expect(compared).to_have_attribute("data-way", way.lower())
    desk.get_by_role("button", name="Wipe", exact=True).click()
    desk.get_by_label("Where the line of the wipe is").fill("20")
    no_barriers(desk)


@pytest.mark.usefixtures("worker")
def test_a_dry_run_is_filmed_as_a_clip_and_stands_on_the_board(desk: Page):
    # Nothing moves in it: every plate is filmed once, whatever the clip's length.
    open_shot(desk, "The empty chairs")
    desk.get_by_role("link", name="Dry run").click()
    desk.get_by_role("button", name="Film a clip").click()
    reel = desk.get_by_test_id("reel")
    expect(reel.locator("video")).to_have_count(2, timeout=LONG_MS)
    until(desk, f"{BOTH}.every(v => v.readyState > 1)")
    moment = desk.get_by_role("slider", name="Moment of the clip")
    expect(moment).to_have_attribute("aria-valuetext", re.compile("^0.0 of 2.0 seconds"))
    desk.get_by_role("button", name="Play", exact=True).click()
    until(desk, f"{BOTH}.every(v => v.currentTime > 0)")
    desk.get_by_role("button", name="Stop", exact=True).click()
    moment.fill("1")
    expect(moment).to_have_attribute("aria-valuetext", re.compile("^1.0 of"))
    assert reel.locator("video").evaluate_all("all => all.map(v => v.currentTime)") == [1, 1]
    desk.get_by_role("button", name="Wipe", exact=True).click()
    expect(desk.get_by_test_id("compared").locator("video")).to_have_count(2)
    no_barriers(desk)
    # Its frame is one press away.
    frame = desk.get_by_role("group", name="Frame or clip").get_by_role("button", name="Frame")
    frame.click()
    expect(reel).to_have_count(0)

    # What was developed stands on the Board where that is wanted, and stays so.
    desk.get_by_role("link", name="The shots").click()
    row = desk.get_by_role("list", name="Shots").get_by_role("listitem").first
    expect(row.locator("img[data-developed]")).to_have_count(0)
    desk.get_by_role("button", name="Developed pictures").click()
    picture = row.locator('img[data-developed="run"]')
    expect(picture).to_have_count(1)
    assert picture.evaluate("image => image.decode().then(() => image.naturalWidth)") >= 480
    desk.reload()
    expect(picture).to_have_count(1)
