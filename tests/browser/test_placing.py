"""A piece that is filmed near and placed in post, as a person decides on it: from an empty
production, and out of a room that is too short."""

from __future__ import annotations

import csv
import io
import re

from playwright.sync_api import Page, expect

from jungoptic.web.plans.models import Plate

from .conftest import first_shot, plate_button, saved
from .test_bench import finding, ways_out
from .test_views import with_kit


def typed(page: Page, label: str, text: str) -> None:
    """A number typed into a field of the sheet."""
    field = page.get_by_label(re.compile(f"^{label}")).first
    field.fill(text)
    field.press("Enter")


def far_away(desk: Page) -> None:
    """An empty shot gets somebody on a screen, thirty metres off."""
    first_shot(desk)
    desk.get_by_label("Add a plate").select_option("screen")
    desk.get_by_label("Add a stand-in").select_option("figure")
    desk.get_by_role("button", name=re.compile(r"^Figure \d")).wait_for()
    typed(desk, "Away", "30 m")
    plate_button(desk, "Performer on a screen").click()
    with_kit(desk)


def test_from_nothing_to_where_post_lays_it(desk: Page):
    far_away(desk)
    desk.get_by_role("checkbox", name=re.compile("^filmed near and large")).check()
    told = desk.get_by_test_id("in-post")
    expect(told).to_contain_text("all")
    distance = desk.get_by_role("textbox", name="Lens to the middle of it")
    expect(distance).to_have_value("3.600 m")
    distance.fill("6 m")
    distance.press("Enter")
    desk.get_by_text("findings hold").click()
    expect(finding(desk, "placed")).to_contain_text("Filmed 6.000 m from the lens")
    saved(desk)
    plate = Plate.objects.get(shot__title="A tower at dusk")
    assert (plate.placed_in_post, plate.placed_from_m) == (True, 6.0)
    with desk.expect_download() as leaving:
        desk.get_by_role("link", name="Every frame, CSV").click()
    rows = list(csv.DictReader(io.StringIO(leaving.value.path().read_text())))
    assert [int(row["frame"]) for row in rows] == list(range(1, len(rows) + 1))
    shown = told.locator("td").nth(1).inner_text().removesuffix(" px")
    assert abs(float(rows[0]["middle_x_px"]) - float(shown)) < 0.06
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(distance).to_have_value("3.600 m")
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(told).to_have_count(0)


def test_a_room_that_is_too_short_offers_it(desk: Page):
    far_away(desk)
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="Kit", exact=True).click()
    desk.get_by_role("button", name="Garage").click()
    saved(desk)
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="A tower at dusk").click()
    plate_button(desk, "Performer on a screen").click()
    # The cloth is no higher than the room.
    typed(desk, "Screen height", "2.2 m")
    desk.get_by_role("combobox", name="Room", exact=True).select_option(index=1)
    expect(finding(desk, "room")).to_have_attribute("data-verdict", "breaks")
    found = ways_out(desk, "room")
    way = found.locator("li", has_text="place it in post")
    way.get_by_role("button", name="Do this").click()
    expect(desk.get_by_test_id("in-post")).to_be_visible()
    saved(desk)
    assert Plate.objects.get(shot__title="A tower at dusk").placed_in_post
