"""What cameras stand on and what is hung, from an empty production: owned, asked about, chosen."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from jungoptic.web.kit.models import Cloth, Support
from jungoptic.web.plans.models import Plate

from .conftest import first_shot, plate_button, saved
from .test_bench import finding, ways_out
from .test_placing import typed
from .test_views import with_kit


def performer(desk: Page) -> None:
    """Somebody before a screen in a shot whose camera stands 2.6 m high, and a kit that has a low
    stand and a board of 1.2 by 2.4 m."""
    first_shot(desk)
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="Kit", exact=True).click()
    expect(desk.get_by_text("No support yet.")).to_be_visible()
    desk.get_by_role("button", name="Low stand with a head").click()
    desk.get_by_role("button", name="Green board, 1.2 × 2.4 m").click()
    expect(desk.get_by_role("group", name="Green board, 1.2 × 2.4 m")).to_be_visible()
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="A tower at dusk").click()
    typed(desk, "Height", "2.6 m")
    desk.get_by_label("Add a plate").select_option("screen")
    desk.get_by_label("Add a stand-in").select_option("figure")
    desk.get_by_role("button", name=re.compile(r"^Figure \d")).wait_for()
    typed(desk, "Away", "5 m")
    plate_button(desk, "Performer on a screen").click()
    with_kit(desk)


def test_a_camera_nothing_owned_holds_and_a_screen_nobody_can_hang(desk: Page):
    performer(desk)
    expect(finding(desk, "support")).to_have_attribute("data-verdict", "breaks")
    expect(finding(desk, "support")).to_contain_text("higher than it goes")
    # A new screen begins as large as the board that is owned.
    expect(desk.get_by_role("textbox", name="Screen width")).to_have_value("1.200 m")
    typed(desk, "Screen width", "3 m")
    expect(finding(desk, "cloth")).to_have_attribute("data-verdict", "breaks")
    found = ways_out(desk, "cloth")
    found.locator("li", has_text="Green board").first.get_by_role("button", name="Do this").click()
    board = Cloth.objects.get(name="Green board, 1.2 × 2.4 m")
    expect(desk.get_by_label("Hung from")).to_have_value(str(board.pk))
    saved(desk)
    plate = Plate.objects.get(shot__title="A tower at dusk")
    assert plate.cloth == board
    assert plate.screen_width_m <= 2.4
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(desk.get_by_role("textbox", name="Screen width")).to_have_value("3.000 m")


def test_another_support_is_added_chosen_and_lent(desk: Page):
    performer(desk)
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="Kit", exact=True).click()
    desk.get_by_role("button", name="Tripod", exact=True).click()
    tripod = desk.get_by_role("group", name="Tripod", exact=True)
    highest = tripod.get_by_label("Highest")
    highest.fill("100 mm")
    highest.press("Enter")
    expect(tripod.get_by_role("alert")).to_contain_text("heights")
    highest.fill("2.6 m")
    highest.press("Enter")
    saved(desk)
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="A tower at dusk").click()
    plate_button(desk, "Performer on a screen").click()
    expect(finding(desk, "support")).to_have_attribute("data-verdict", "holds")
    desk.get_by_label("Stands on").select_option("Low stand with a head")
    expect(finding(desk, "support")).to_have_attribute("data-verdict", "breaks")
    found = ways_out(desk, "support")
    found.locator("li", has_text="Tripod").get_by_role("button", name="Do this").click()
    saved(desk)
    plate = Plate.objects.get(shot__title="A tower at dusk")
    assert plate.support == Support.objects.get(name="Tripod", production=plate.shot.production)
    # What is taken out of the kit is not there any more; nothing is lost but the choice.
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="Kit", exact=True).click()
    desk.get_by_role("button", name="Remove support Tripod").click()
    desk.get_by_role("button", name="Remove it").click()
    expect(tripod).to_have_count(0)
    plate.refresh_from_db()
    assert plate.support is None
