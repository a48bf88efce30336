"""Several cameras in a shot, and recipes that set up their trick: from an empty production."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from jungoptic.web.plans.models import Plate, Shot, StandIn

from .conftest import first_shot, open_shot, plate_button, saved
from .test_bench import finding, ways_out


def with_kit(page: Page) -> None:
    """Choose the kit that is offered for the plate in hand."""
    ways_out(page, "kit").get_by_role("button", name="Do this").first.click()
    expect(page.get_by_test_id("drawing-elevation")).to_be_visible()


def test_a_close_up_is_cut_into_a_shot(desk: Page):
    first_shot(desk)
    desk.get_by_label("Add a plate").select_option("miniature")
    plate_button(desk, "Miniature").wait_for()
    desk.get_by_role("button", name="Another view of this shot").click()
    views = desk.get_by_role("group", name="Views of this shot")
    expect(views.get_by_role("button", name=re.compile("^Close-up"))).to_have_attribute(
        "aria-pressed", "true"
    )
    # Nothing of the first camera's is filmed here yet.
    expect(plate_button(desk, "Miniature")).to_have_count(0)
    for label, text in (("Focal length", "60 mm"), ("Stands ahead", "3 m"), ("Turned", "90")):
        field = desk.get_by_label(re.compile(f"^{label}"))
        field.fill(text)
        field.press("Enter")
    desk.get_by_label("Add a plate").select_option("live")
    desk.get_by_label("Add a stand-in").select_option("figure")
    desk.get_by_role("button", name=re.compile(r"^Figure \d")).wait_for()
    desk.get_by_role("button", name="Done").click()
    expect(finding(desk, "kit")).to_contain_text("Choose a body")
    with_kit(desk)
    saved(desk)
    shot = Shot.objects.get(title="A tower at dusk")
    (view,) = shot.views
    assert (view["focal_mm"], view["stands_ahead_m"], view["turned_deg"]) == (60.0, 3.0, 90.0)
    plate = Plate.objects.get(shot=shot, kind="live")
    assert str(plate.view_id) == view["id"]
    # Six metres before a camera that looks to the right, three metres ahead.
    figure = StandIn.objects.get(plate=plate)
    assert (round(figure.x_m, 3), round(figure.y_m, 3)) == (6.0, 3.0)
    # The first camera sees its own; the plate can be given to it.
    views.get_by_role("button", name=re.compile("^First camera")).click()
    expect(plate_button(desk, "Miniature")).to_be_visible()
    expect(plate_button(desk, "Live plate")).to_have_count(0)
    views.get_by_role("button", name=re.compile("^Close-up")).click()
    expect(desk.get_by_role("button", name="Remove this view")).to_be_disabled()
    plate_button(desk, "Live plate").click()
    desk.get_by_role("combobox", name="View", exact=True).select_option(label="First camera")
    expect(plate_button(desk, "Miniature")).to_be_visible()
    expect(plate_button(desk, "Live plate")).to_be_visible()
    views.get_by_role("button", name=re.compile("^Close-up")).click()
    desk.get_by_role("button", name="Remove this view").click()
    expect(views).to_have_count(0)
    saved(desk)
    assert Shot.objects.get(pk=shot.pk).views == []
    desk.get_by_role("button", name="Undo Remove Close-up").click()
    expect(views).to_be_visible()


def test_the_slowed_close_up_of_the_demo_is_judged_by_its_own_time(desk: Page):
    open_shot(desk, "Kitchen: the twins argue")
    views = desk.get_by_role("group", name="Views of this shot")
    views.get_by_role("button", name=re.compile("^Ansa, close")).click()
    expect(desk.get_by_test_id("story-time")).to_contain_text("2.5 s")
    plate_button(desk, "Ansa's face").click()
    expect(finding(desk, "rate")).to_contain_text("48 fps needed")
    desk.get_by_role("link", name="Lock-off", exact=True).click()
    choice = desk.get_by_role("combobox", name="View", exact=True)
    choice.wait_for()
    expect(desk.get_by_role("button", name="Half A: Ansa")).to_be_visible()
    choice.select_option(label="Ansa, close")
    expect(desk.get_by_role("button", name="Ansa's face")).to_be_visible()
    expect(desk.get_by_role("button", name="Half A: Ansa")).to_have_count(0)


def test_a_recipe_sets_up_its_trick(desk: Page):
    first_shot(desk)
    desk.get_by_role("link", name="Method", exact=True).click()
    desk.get_by_label("Any other recipe of the book").select_option(label="Thrown across a split")
    told = desk.get_by_test_id("tricks")
    expect(told).to_contain_text("a line between A: throw and filler action and B: landing")
    expect(told).to_contain_text("a throw of 14 frames across it")
    desk.get_by_role("button", name="Apply to this shot").click()
    expect(desk.get_by_text("Thrown across a split is applied.")).to_be_visible()
    shot = Shot.objects.get(title="A tower at dusk")
    assert len(shot.splits) == 1
    assert [b["name"] for b in shot.beats] == ["It leaves the hand", "It lands"]
    desk.get_by_role("link", name="Lock-off", exact=True).click()
    desk.get_by_role("button", name="Timing").click()
    beats = desk.get_by_role("region", name=re.compile("Beats|Timing")).first
    expect(beats).to_contain_text("It lands")
