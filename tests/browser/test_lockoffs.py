"""One set-up that serves two shots, from an empty production."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from jungoptic.web.plans.models import Plate

from .conftest import first_shot, plate_button, saved
from .test_bench import finding, ways_out
from .test_placing import typed
from .test_views import with_kit

NAME = "Its name: plates with the same name share it"


def live_plate(desk: Page) -> None:
    """A live plate with kit, somebody in it, in the shot in hand."""
    desk.get_by_label("Add a plate").select_option("live")
    desk.get_by_label("Add a stand-in").select_option("figure")
    desk.get_by_role("button", name=re.compile(r"^Figure \d")).wait_for()
    typed(desk, "Away", "5 m")
    plate_button(desk, "Live plate").click()
    with_kit(desk)
    saved(desk)


def another_shot(desk: Page, title: str) -> None:
    desk.get_by_role("link", name="Second film").first.click()
    desk.get_by_label("What we see").fill(title)
    desk.get_by_role("button", name="Add the shot").click()
    desk.get_by_role("link", name=title).click()


def lock_off(desk: Page) -> None:
    desk.get_by_role("link", name="Lock-off").click()
    nav = desk.get_by_role("navigation", name="Tricks and plates")
    nav.get_by_role("button", name=re.compile("Live plate")).click()


def test_one_set_up_serves_two_shots(desk: Page):
    first_shot(desk)
    live_plate(desk)
    lock_off(desk)
    expect(desk.get_by_text("This plate stands alone.")).to_be_visible()
    typed(desk, NAME, "hall")
    saved(desk)

    another_shot(desk, "The hall is empty")
    live_plate(desk)
    lock_off(desk)
    typed(desk, NAME, "hall")
    told = desk.get_by_test_id("elsewhere")
    expect(told).to_contain_text("A tower at dusk: Live plate")
    expect(finding(desk, "lock")).to_have_attribute("data-verdict", "holds")
    expect(finding(desk, "lock")).to_contain_text("Live plate of shot")

    # Another stop here: told here, and there.
    desk.get_by_role("link", name="Bench").click()
    plate_button(desk, "Live plate").click()
    expect(desk.get_by_test_id("lock-note")).to_contain_text("have to be the same")
    typed(desk, "Stop", "f/8")
    expect(finding(desk, "lock")).to_have_attribute("data-verdict", "breaks")
    expect(finding(desk, "lock")).to_contain_text("Stop is f/8, where Live plate of shot")
    saved(desk)
    found = ways_out(desk, "lock").locator("li", has_text="Take everything over from Live plate")
    found.get_by_role("button", name="Do this").click()
    expect(finding(desk, "lock")).to_have_attribute("data-verdict", "holds")
    saved(desk)
    stops = Plate.objects.filter(lock_group="hall").values_list("f_number", flat=True)
    assert len(stops) == 2
    assert len(set(stops)) == 1

    # Another name, in both shots; and then a set-up of its own.
    lock_off(desk)
    desk.get_by_role("button", name="Rename this lock-off").click()
    desk.get_by_label("New name, in every shot").fill("The great hall")
    desk.get_by_role("button", name="Rename", exact=True).click()
    expect(desk.get_by_label(NAME)).to_have_value("The great hall")
    assert Plate.objects.filter(lock_group="The great hall").count() == 2
    desk.get_by_role("button", name="Give this plate one of its own").click()
    expect(desk.get_by_test_id("elsewhere")).to_have_count(0)
    saved(desk)
    assert Plate.objects.filter(lock_group="The great hall").count() == 1
    desk.get_by_role("button", name="Undo A lock-off of its own").click()
    expect(desk.get_by_test_id("elsewhere")).to_be_visible()
    saved(desk)

    # The days and hours know that it stands once.
    desk.get_by_role("link", name="Second film").first.click()
    desk.get_by_role("link", name="Hours").first.click()
    expect(desk.get_by_text(re.compile("set up for shot 1")).first).to_be_visible()


def test_a_tall_picture_is_filmed_with_the_camera_on_its_side(desk: Page):
    first_shot(desk)
    # Upright, and as wide as eight millimetres of sensor are behind the 14 mm lens.
    for label, text in (("Width", "1080"), ("Height", "1920"), ("Focal length", "43.6 mm")):
        field = desk.get_by_label(label, exact=True).last
        field.fill(text)
        field.press("Enter")
    saved(desk)
    live_plate(desk)
    # So it was chosen with the kit; standing up it sees too little.
    camera = desk.get_by_label("The camera", exact=True)
    expect(camera).to_have_value("left")
    expect(finding(desk, "view")).to_have_attribute("data-verdict", "holds")
    camera.select_option("")
    expect(finding(desk, "view")).to_have_attribute("data-verdict", "breaks")
    turn = ways_out(desk, "view").locator("li", has_text="Turn the camera on its side")
    turn.get_by_role("button", name="Do this").click()
    expect(camera).to_have_value("left")
    expect(finding(desk, "view")).to_have_attribute("data-verdict", "holds")
    saved(desk)
    assert Plate.objects.get(name="Live plate").on_side == "left"
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(finding(desk, "view")).to_have_attribute("data-verdict", "breaks")
    camera.select_option("right")
    expect(finding(desk, "view")).to_have_attribute("data-verdict", "holds")
    saved(desk)
    desk.get_by_role("button", name="Issue a set card").click()
    expect(desk.get_by_text("right side down")).to_be_visible()
