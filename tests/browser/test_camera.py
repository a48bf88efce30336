"""Taking pictures at the table: with the simulated camera from an empty production, with a camera
of the browser, from a card; what each says, taken again, put in, dropped, fetched back, played."""

from __future__ import annotations

import re
from pathlib import Path

import cv2
import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from jungoptic.web.blocks.models import Block, Exposure
from jungoptic.web.plans.models import Plate
from tests.conftest import make_kit

from .accessible import no_barriers
from .conftest import add_puppet, first_shot, open_shot, saved


def pictures(page: Page) -> Locator:
    return page.get_by_test_id("exposure")


def said(page: Page, number: int) -> Locator:
    return page.locator(f'[data-testid="said"][data-picture="{number}"]')


def finding(page: Page, number: int, key: str) -> Locator:
    return said(page, number).locator(f'[data-finding="{key}"]')


def take(page: Page, number: int) -> None:
    """Take the picture of that number, with the space bar."""
    button = page.locator("[data-take]")
    expect(button).to_have_text(f"Take picture {number}")
    expect(button).to_have_attribute("aria-disabled", "false")
    page.keyboard.press("Space")
    said(page, number).wait_for()


def look_through(page: Page, which: str) -> None:
    page.get_by_role("combobox", name="Camera").select_option(label=which)
    expect(page.get_by_test_id("finder")).to_have_attribute("data-shows", "live")
    expect(page.locator("[data-take]")).to_have_attribute("aria-disabled", "false")


@pytest.fixture
def table(desk: Page) -> Page:
    """The table of a puppet in a production that begins empty."""
    first_shot(desk)
    add_puppet(desk)
    desk.get_by_role("link", name="Frames", exact=True).click()
    begin = desk.get_by_role("button", name="Begin with what stands in this plate")
    expect(begin).to_be_enabled()
    begin.click()
    saved(desk)
    plate = Plate.objects.select_related("shot__production").get(shot__title="A tower at dusk")
    Plate.objects.filter(pk=plate.pk).update(**make_kit(plate.shot.production))
    desk.get_by_role("link", name="Take its pictures").click()
    desk.get_by_test_id("camera-room").wait_for()
    return desk


def test_a_block_from_an_empty_production(table: Page):
    expect(table.get_by_text("No camera looks yet")).to_be_visible()
    expect(table.get_by_text("0 of 96 taken")).to_be_visible()
    look_through(table, "the simulated one")
    for number in (1, 2, 3):
        take(table, number)
    expect(finding(table, 3, "taken-moved")).to_have_attribute("data-verdict", "holds")
    expect(table.get_by_test_id("asks")).to_contain_text("a new pose")
    # A knock is told at once; undo takes the picture back, and it is taken again.
    table.get_by_label("knock the camera").check()
    take(table, 4)
    expect(finding(table, 4, "taken-stands")).to_have_attribute("data-verdict", "strains")
    expect(finding(table, 4, "taken-stands")).to_contain_text("was touched")
    table.keyboard.press("Control+z")
    expect(pictures(table)).to_have_count(3)
    table.get_by_label("knock the camera").uncheck()
    table.get_by_label("forget the move").check()
    take(table, 4)
    expect(finding(table, 4, "taken-moved")).to_contain_text("a move was forgotten")
    # It is taken again in its place.
    pictures(table).nth(3).click()
    table.get_by_role("button", name="Take it again").click()
    expect(table.locator("[data-take]")).to_have_text("Take 4 again")
    table.keyboard.press("Space")
    expect(finding(table, 4, "taken-moved")).to_have_attribute("data-verdict", "holds")
    expect(pictures(table)).to_have_count(4)
    # One is put in, one is dropped and fetched back.
    pictures(table).nth(0).click()
    table.get_by_role("button", name="Put one in behind").click()
    take(table, 2)
    expect(pictures(table)).to_have_count(5)
    table.get_by_role("button", name="Back to the end of the film").click()
    pictures(table).nth(1).click()
    table.keyboard.press("Delete")
    expect(pictures(table)).to_have_count(4)
    block = Block.objects.get(shot__title="A tower at dusk")
    assert block.order == [1, 2, 3, 6]
    assert {e.number for e in block.exposures.all()} == {1, 2, 3, 4, 5, 6, 7}
    table.get_by_text("3 dropped, kept for a month").click()
    table.get_by_role("button", name="Fetch dropped picture 7 back").click()
    expect(pictures(table)).to_have_count(5)
    # All of it stands after the page is opened anew.
    table.reload()
    expect(table.get_by_text("5 of 96 taken")).to_be_visible()


def test_the_demo_tells_its_knock_and_its_flicker_and_plays(desk: Page):
    open_shot(desk, "The heron unfolds its wings")
    desk.get_by_role("link", name="Frames", exact=True).click()
    desk.get_by_test_id("sheet").wait_for()
    # The pace is told by the camera.
    expect(desk.get_by_test_id("sat")).to_have_count(2)
    expect(desk.get_by_test_id("sat").first).to_contain_text("pictures 1 to 40")
    desk.get_by_role("link", name="Take its pictures").click()
    expect(desk.get_by_text("60 of 98 taken")).to_be_visible()
    film = desk.get_by_test_id("film")
    film.evaluate("(list) => list.scrollTo(0, 22 * 58)")
    knocked = desk.get_by_role("button", name="Picture 23: strains")
    knocked.click()
    expect(finding(desk, 23, "taken-stands")).to_contain_text("was touched")
    expect(desk.get_by_test_id("finder")).to_have_attribute("data-shows", "picture")
    desk.keyboard.press("ArrowRight")
    expect(said(desk, 24)).to_be_visible()
    expect(said(desk, 24)).to_contain_text("3 findings hold")
    film.evaluate("(list) => list.scrollTo(0, 33 * 58)")
    desk.get_by_role("button", name="Picture 34: strains").click()
    expect(finding(desk, 34, "taken-light")).to_contain_text("darker")
    desk.keyboard.press("p")
    expect(desk.get_by_test_id("finder")).to_have_attribute("data-shows", "film")
    expect(desk.get_by_test_id("finder")).to_contain_text(re.compile(r"frame ([2-9]|\d\d)"))
    desk.keyboard.press("Escape")
    expect(desk.get_by_text("No camera looks yet")).to_be_visible()
    # It goes on where it ended, and the set can be held against how it stood.
    look_through(desk, "the simulated one")
    take(desk, 61)
    # What lies over the live picture is still there after the film was played.
    finder = desk.get_by_test_id("finder")
    expect(finder).to_have_attribute("data-laid", "1")
    desk.keyboard.press("p")
    expect(finder).to_contain_text(re.compile(r"frame ([2-9]|\d\d)"))
    desk.keyboard.press("Escape")
    expect(finder).to_have_attribute("data-shows", "live")
    desk.get_by_role("button", name="Begin another block").click()
    desk.get_by_role("button", name="Compare the set with it").click()
    expect(desk.get_by_test_id("moves")).to_contain_text("It stands as it did", timeout=30_000)


def test_a_camera_of_the_browser_with_what_is_laid_over_it(table: Page):
    look_through(table, "fake_device_0")
    take(table, 1)
    exposure = Exposure.objects.get(block__shot__title="A tower at dusk")
    assert exposure.source == "camera"
    assert exposure.stored.endswith(".jpeg")
    finder = table.get_by_test_id("finder")
    expect(finder).to_have_attribute("data-laid", "1")
    table.keyboard.press("b")
    expect(table.get_by_role("button", name="Blink")).to_have_attribute("aria-pressed", "true")
    table.keyboard.press("d")
    expect(table.get_by_role("button", name="Difference")).to_have_attribute("aria-pressed", "true")
    table.get_by_label("thirds").check()
    expect(finder.locator('[data-layer="grid"]')).to_have_count(1)
    table.get_by_label("as planned").check()
    expect(finder.locator('[data-layer="outlines"] path').first).to_be_attached()


def test_without_a_kit_the_simulated_camera_says_what_it_lacks(table: Page):
    Plate.objects.filter(shot__title="A tower at dusk").update(lens=None)
    table.get_by_role("combobox", name="Camera").select_option(label="the simulated one")
    expect(table.get_by_role("alert")).to_contain_text("Choose a body, a mode and a lens first")


def test_a_camera_that_is_refused_says_why_and_loses_nothing(table: Page):
    table.evaluate(
        "() => { navigator.mediaDevices.getUserMedia = () =>"
        " Promise.reject(new DOMException('no', 'NotReadableError')) }"
    )
    table.get_by_role("combobox", name="Camera").select_option(label="fake_device_0")
    expect(table.get_by_role("alert")).to_contain_text("Another program holds the camera")
    look_through(table, "the simulated one")
    expect(table.get_by_role("alert")).to_have_count(0)
    take(table, 1)


def test_a_picture_that_could_not_be_kept_waits_and_is_kept_once(table: Page):
    look_through(table, "the simulated one")
    take(table, 1)
    posts = "**/exposures?*"
    table.route(posts, lambda route: route.abort())
    table.keyboard.press("Space")
    alert = table.get_by_role("alert").filter(has_text="The picture waits here")
    expect(alert).to_be_visible()
    table.unroute(posts)
    alert.get_by_role("button", name="Keep it").click()
    said(table, 2).wait_for()
    expect(pictures(table)).to_have_count(2)
    expect(table.get_by_role("alert")).to_have_count(0)


def test_files_of_a_card_come_in_by_their_numbers(table: Page, tmp_path: Path):
    dice = np.random.default_rng(3)
    back = cv2.resize(dice.uniform(60, 160, (36, 64, 3)).astype(np.float32), (640, 360))
    files = []
    for number in (10, 8, 9, 11, 13):
        shown = back.copy()
        shown[120:200, 20 * number : 20 * number + 60] = 200
        files.append(tmp_path / f"HERON_{number}.jpg")
        cv2.imwrite(str(files[-1]), shown.astype(np.uint8))
    table.get_by_label("Files of a camera's card").set_input_files(files)
    expect(table.get_by_role("alert")).to_contain_text("number 12 is missing")
    expect(pictures(table)).to_have_count(5)
    # What is no picture stops the rest, which says how far it came.
    broken = tmp_path / "HERON_14.jpg"
    broken.write_bytes(b"\xff\xd8\xff nothing")
    table.get_by_label("Files of a camera's card").set_input_files([broken])
    expect(table.get_by_role("alert").filter(has_text="HERON_14.jpg")).to_contain_text(
        "0 of 1 files are in"
    )
    expect(pictures(table)).to_have_count(5)


def test_the_room_can_be_used_by_everybody(desk: Page):
    open_shot(desk, "The heron unfolds its wings")
    desk.get_by_role("link", name="Frames", exact=True).click()
    desk.get_by_role("link", name="Take its pictures").click()
    look_through(desk, "the simulated one")
    desk.keyboard.press("ArrowLeft")
    said(desk, 60).wait_for()
    no_barriers(desk)


def test_a_set_that_is_built_again_tells_what_to_move(table: Page):
    look_through(table, "the simulated one")
    take(table, 1)
    table.get_by_role("button", name="Begin another block").click()
    table.get_by_label("knock the camera").check()
    table.get_by_role("button", name="Compare the set with it").click()
    moves = table.get_by_test_id("moves")
    expect(moves).to_contain_text("camera", timeout=30_000)
    expect(moves).to_contain_text("turned")
    table.get_by_label("knock the camera").uncheck()
    expect(moves).not_to_contain_text("turned", timeout=30_000)
    table.get_by_role("button", name="Enough").click()
    table.locator("[data-take]").focus()
    take(table, 2)
    assert Block.objects.filter(shot__title="A tower at dusk").count() == 2
