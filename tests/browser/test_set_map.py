"""A set map: drawn, measured by two tapes, reached, and taken to the set."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect

from jungoptic.web.frames.models import Sheet
from jungoptic.web.plans.models import Plate

from .accessible import barriers
from .conftest import add_puppet, first_shot, follow, open_shot, plate_button, saved


def told(page: Page, key: str) -> Locator:
    return page.locator(f'[data-finding="{key}"]')


def to_map(page: Page) -> None:
    page.get_by_role("link", name="Frames", exact=True).first.click()
    follow(page, page.get_by_role("link", name="Its set map"))


def test_a_first_map_from_an_empty_production(desk: Page):
    first_shot(desk)
    add_puppet(desk)
    to_map(desk)
    expect(desk.get_by_text("Nothing is on this map yet")).to_be_visible()
    expect(desk.get_by_role("alert")).to_contain_text("Choose a body, a mode and a lens first")
    follow(desk, desk.get_by_role("link", name="To the Bench"))
    plate_button(desk, "Puppet").click()
    desk.get_by_label("Body", exact=True).select_option(index=1)
    desk.get_by_label("Lens", exact=True).select_option(index=1)
    saved(desk)
    to_map(desk)
    expect(desk.get_by_test_id("drawing-set")).to_be_visible()
    desk.get_by_role("button", name="Add a piece").click()
    hand = desk.get_by_role("region", name="Piece in hand")
    expect(hand.get_by_role("heading", name="Piece 1")).to_be_visible()
    hand.get_by_label("Name").fill("Tower")
    wide = hand.get_by_role("textbox", name="Wide")
    wide.fill("2 m")
    wide.press("Enter")
    saved(desk)
    assert Sheet.objects.get(shot__title="A tower at dusk").set_map["pieces"][0]["width_m"] == 2.0

    # A piece is put where two tapes meet; tapes that do not meet say so and change nothing.
    for end, text in (("left", "2.5 m"), ("right", "1.8 m")):
        tape = hand.get_by_role("textbox", name=f"Tape from the {end} end")
        tape.fill(text)
        tape.press("Enter")
        expect(tape).to_have_value(re.compile(text.split()[0]))
    saved(desk)
    piece = Sheet.objects.get(shot__title="A tower at dusk").set_map["pieces"][0]
    assert abs((piece["x_m"] + 1.0) ** 2 + piece["y_m"] ** 2 - 2.5**2) < 0.01
    tape = hand.get_by_role("textbox", name="Tape from the left end")
    tape.fill("20 mm")
    tape.press("Enter")
    expect(hand.get_by_role("alert")).to_contain_text("do not meet")
    again = Sheet.objects.get(shot__title="A tower at dusk").set_map["pieces"][0]
    assert again == piece

    # Its ends go with the camera; at the corners of the set they stay.
    expect(told(desk, "set-fixed")).to_contain_text("Choose two points that stay")
    desk.get_by_role("button", name="Begin them at the near corners").click()
    expect(told(desk, "set-fixed")).to_have_count(0)
    saved(desk)
    assert Plate.objects.get(shot__title="A tower at dusk").fix_left_x_m is not None
    for _ in range(2):
        desk.keyboard.press("Control+z")
    expect(told(desk, "set-fixed")).to_have_count(1)
    saved(desk)
    assert Plate.objects.get(shot__title="A tower at dusk").fix_left_x_m is None
    assert barriers(desk) == []


def test_what_no_arm_reaches_and_what_lets_somebody_in(desk: Page):
    open_shot(desk, "The heron unfolds its wings")
    desk.get_by_role("link", name="Frames", exact=True).click()
    # The sheet itself tells of it.
    expect(told(desk, "set-reach")).to_have_attribute("data-verdict", "breaks")
    to_map(desk)
    reach = told(desk, "set-reach")
    expect(reach).to_contain_text("Nils, who reaches 750 mm, is short of all of its")
    expect(reach).to_contain_text("Roll Reed bank out")
    expect(desk.get_by_role("region", name="Within reach")).to_contain_text("Puppet")
    angles = desk.get_by_role("region", name="How large for each angle")
    expect(angles).to_contain_text("Light lock")

    # From the far side it is no better; a narrower set is.
    right = desk.get_by_role("textbox", name="Right edge")
    right.fill("0.7 m")
    right.press("Enter")
    expect(reach).to_have_attribute("data-verdict", "holds")
    saved(desk)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(reach).to_have_attribute("data-verdict", "breaks")

    # A piece is dragged by its grip; one of the story has none.
    grip = desk.locator('[data-grip="piece-4"]')
    expect(desk.locator('[data-grip="piece-2"]')).to_have_count(0)
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    desk.mouse.move(x, y)
    desk.mouse.down()
    desk.mouse.move(x + 20, y - 30, steps=4)
    desk.mouse.up()
    hand = desk.get_by_role("region", name="Piece in hand")
    expect(hand.get_by_role("heading", name="Mooring post")).to_be_visible()
    saved(desk)
    post = Sheet.objects.get(shot__number="6").set_map["pieces"][3]
    assert post["x_m"] > -0.55
    assert post["y_m"] > 2.7

    # Whoever looks on a phone sees the same, in one column.
    desk.set_viewport_size({"width": 390, "height": 844})
    assert desk.evaluate("document.documentElement.scrollWidth") <= 390
    expect(desk.get_by_test_id("drawing-set")).to_be_visible()
    page = desk.request.get(
        desk.url.split("/productions")[0]
        + (desk.get_by_role("link", name="On paper").get_attribute("href") or "")
    )
    assert page.body().startswith(b"%PDF")
