"""What cameras stand on, what is hung and who is there, from an empty production."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from jungoptic.web.kit.models import Cloth, Support
from jungoptic.web.plans.models import Plate, StandIn

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


def test_somebody_by_name_stands_for_a_figure_and_is_away_on_the_day(desk: Page):
    first_shot(desk)
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="Kit", exact=True).click()
    expect(desk.get_by_text("Nobody yet.")).to_be_visible()
    desk.get_by_role("button", name="performer", exact=True).click()
    person = desk.get_by_role("region", name="People").get_by_role("group")
    person.get_by_label("Name").fill("Anna")
    person.get_by_label("Name").press("Enter")
    person.get_by_label("Tall, shoes on").fill("1.52 m")
    person.get_by_label("Tall, shoes on").press("Enter")
    person.get_by_label("There from").fill("2026-10-03")
    person.get_by_label("until").fill("2026-10-02")
    expect(person.get_by_role("alert")).to_contain_text("Anna leaves before they come")
    person.get_by_label("until").fill("2026-10-09")
    saved(desk)
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_role("link", name="A tower at dusk").click()
    desk.get_by_label("Add a plate").select_option("live")
    plate_button(desk, "Live plate").wait_for()
    desk.get_by_label("Add a stand-in").select_option("figure")
    desk.get_by_role("button", name=re.compile(r"^Figure \d")).wait_for()
    desk.get_by_label("Is", exact=True).select_option("Anna")
    saved(desk)
    stands = StandIn.objects.get(shot__title="A tower at dusk")
    assert stands.person is not None
    assert (stands.person.name, stands.name, stands.height_m) == ("Anna", "Anna", 1.52)
    plate_button(desk, "Live plate").click()
    with_kit(desk)
    expect(finding(desk, "people")).to_contain_text("give this plate a day")
    desk.get_by_label("Filmed on", exact=True).fill("2026-10-12")
    expect(finding(desk, "people")).to_have_attribute("data-verdict", "breaks")
    found = ways_out(desk, "people")
    found.locator("li", has_text="3 October").get_by_role("button", name="Do this").click()
    expect(desk.get_by_label("Filmed on", exact=True)).to_have_value("2026-10-03")
    # One step back, and who it is has stayed.
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(finding(desk, "people")).to_have_attribute("data-verdict", "breaks")
