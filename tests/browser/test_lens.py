"""A lens is measured by stills of a board, kept as it was measured, and gone by."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from jungoptic.web.demo.films import HERE
from jungoptic.web.kit.models import Lens
from jungoptic.web.plans.models import Plate

from .accessible import no_barriers
from .conftest import LONG_MS, follow, saved
from .test_bench import finding


@pytest.mark.usefixtures("worker")
def test_a_lens_of_the_demo_is_measured_and_the_bench_goes_by_it(desk: Page):
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    follow(desk, desk.get_by_role("link", name="Kit", exact=True))
    lens = desk.get_by_role("group", name="20 mm prime", exact=True)
    expect(lens).to_contain_text("Not measured")
    lens.get_by_role("link", name="Measure it").click()
    room = desk.get_by_test_id("lens-room")
    expect(room.get_by_text("corners of the board")).to_have_count(9)
    room.get_by_label("White paper, for the corners").select_option("L20 white")
    room.get_by_role("button", name="Measure it").click()
    answer = room.get_by_test_id("lens-answer")
    expect(answer).to_contain_text("20 mm on the ring are 20.", timeout=LONG_MS)
    expect(answer).to_contain_text("stops darker")
    expect(room.get_by_text(re.compile("turned .*, off by 0"))).to_have_count(9)
    no_barriers(desk)
    answer.get_by_role("button", name="Keep it with the lens").click()
    expect(room.get_by_test_id("lens-kept")).to_contain_text("20 mm on the ring are 20.")
    saved(desk)
    # A step like any other.
    desk.keyboard.press("Control+z")
    expect(room.get_by_test_id("lens-kept")).to_have_count(0)
    desk.keyboard.press("Control+Shift+z")
    expect(room.get_by_test_id("lens-kept")).to_be_visible()
    saved(desk)

    # A shot that films with it and with another: its lines bow, and the Frame shows how.
    day = Plate.objects.filter(shot__number="13", name="Day plate")
    day.update(lens=Lens.objects.get(name="28 mm prime"))
    desk.get_by_role("link", name="The Lock-Keeper's Heron").first.click()
    follow(desk, desk.get_by_role("link", name="The heron flies over the moonlit flats"))
    desk.get_by_test_id("drawing-elevation").wait_for()
    expect(finding(desk, "bend")).to_contain_text("where it meets a plate that another lens filmed")
    expect(desk.locator('[data-mark="bent"]').first).to_be_attached()


@pytest.mark.usefixtures("worker")
def test_from_an_empty_production(desk: Page):
    desk.get_by_label("A new production").fill("Nothing yet")
    desk.get_by_role("button", name="Make it").click()
    desk.get_by_role("link", name="Kit", exact=True).click()
    desk.get_by_role("button", name="Add a lens").click()
    desk.get_by_role("link", name="Measure it").click()
    room = desk.get_by_test_id("lens-room")
    expect(room).to_contain_text("The kit has no body yet")
    expect(room.get_by_role("button", name="Measure it")).to_be_disabled()
    room.get_by_role("link", name="Add the one they were taken with").click()
    desk.get_by_role("button", name="Add a body").click()
    desk.get_by_role("button", name="Super 35").click()
    expect(desk.get_by_label("Sensor width used")).to_have_value("24.9 mm")
    desk.get_by_role("link", name="Measure it").click()

    # Numbered stills count one by one here, and need not come in one go.
    stills = sorted(HERE.glob("L20-?.jpg"))
    drop = room.get_by_label("Stills of the board: files")
    drop.set_input_files(stills[:3])
    expect(room.get_by_text("corners of the board")).to_have_count(3, timeout=LONG_MS)
    expect(room).to_contain_text("3 of at least 5 stills")
    drop.set_input_files(stills[3:])
    expect(room.get_by_text("corners of the board")).to_have_count(9, timeout=LONG_MS)
    room.get_by_role("button", name="Measure it").click()
    # The new lens says 35 mm, and is none: nothing can be kept of that.
    answer = room.get_by_test_id("lens-answer")
    expect(answer).to_contain_text("no mark is so far off", timeout=LONG_MS)
    expect(answer).to_contain_text("Nothing is kept of this")
    expect(answer.get_by_role("button", name="Keep it with the lens")).to_have_count(0)
