"""On set: the card on a phone, a take in three taps, its verdict; and accessibility everywhere."""

from __future__ import annotations

import datetime
import re

from playwright.sync_api import Page, expect

from jungoptic.web.plans.models import Plate
from jungoptic.web.takes.models import SetCard, Take

from .accessible import nothing_serious
from .conftest import open_shot, saved


def test_from_the_plan_to_a_verdict_on_a_phone(mill: Page):
    mill.get_by_role("button", name=re.compile("^Ansa on green")).click()
    mill.get_by_role("button", name="Issue a set card").click()
    mill.set_viewport_size({"width": 390, "height": 844})
    expect(mill.get_by_label("Slate", exact=True)).to_have_text("2B-1")
    expect(mill.get_by_role("region", name="Cautions")).to_contain_text("Follow local codes")
    wide = mill.evaluate("document.documentElement.scrollWidth")
    assert wide <= 390, "the card must not scroll sideways on a phone"

    # Three taps: open, circle, save. As planned, so it is kept.
    mill.get_by_role("button", name="Log take 1").click()
    mill.get_by_role("button", name="Circled").click()
    mill.get_by_role("button", name="Save take 1").click()
    mill.get_by_role("link", name=re.compile("what it costs")).click()
    expect(mill.get_by_role("region", name="Verdict")).to_contain_text("Keep it")

    # The next one was focused too near: it goes again, and the page says what cost it. That it
    # stood lower is put right by a reframe, so far away.
    mill.go_back()
    mill.get_by_role("button", name="Log take 2").click()
    mill.get_by_role("textbox", name="Lens axis height at the sensor mark").fill("450 mm")
    mill.get_by_role("textbox", name="Focus from the sensor mark").fill("1.5 m")
    mill.get_by_label("Note").fill("Cloth was in the way")
    mill.get_by_role("button", name="Save take 2").click()
    mill.get_by_role("link", name=re.compile("Cloth was in the way")).click()
    expect(mill.get_by_role("region", name="Verdict")).to_contain_text("Go again")
    expect(mill.get_by_role("table")).to_contain_text("450 mm")
    expect(mill.get_by_role("table")).to_contain_text("px after the best reframe")
    assert Take.objects.filter(card__slate="2B-1").count() == 2

    # Correcting a slip of the finger judges again.
    mill.get_by_role(
        "button", name="Lens axis height at the sensor mark: back to the derived value"
    ).click()
    mill.get_by_role("button", name="Focus from the sensor mark: back to the derived value").click()
    expect(mill.get_by_role("region", name="Verdict")).to_contain_text("Keep it")


def test_a_take_half_typed_survives_a_reload(desk: Page):
    open_shot(desk, "the twins argue")
    desk.get_by_role("link", name="card 3A-1").click()
    desk.get_by_role("button", name="Log take 2").click()
    desk.get_by_role("textbox", name="Tilt").fill("-2.9")
    desk.get_by_label("Note").fill("rain on the roof")
    desk.reload()
    expect(desk.get_by_role("textbox", name="Tilt")).to_have_value("-2.9°")
    expect(desk.get_by_label("Note")).to_have_value("rain on the roof")
    desk.get_by_role("button", name="Save take 2").click()
    expect(desk.get_by_role("link", name=re.compile("rain on the roof"))).to_be_visible()


def test_an_impossible_reading_is_refused_and_kept(desk: Page):
    open_shot(desk, "the twins argue")
    desk.get_by_role("link", name="card 3A-1").click()
    desk.get_by_role("button", name="Log take 2").click()
    desk.get_by_role("textbox", name="Focus from the sensor mark").fill("30 mm")
    desk.get_by_role("button", name="Save take 2").click()
    expect(desk.get_by_role("alert")).to_contain_text("lies inside the lens")
    expect(desk.get_by_role("textbox", name="Focus from the sensor mark")).to_have_value("30.0 mm")
    assert Take.objects.filter(card__slate="3A-1").count() == 1


def test_card_exports_and_print(desk: Page):
    open_shot(desk, "the twins argue")
    desk.get_by_role("button", name=re.compile("^The world")).click()
    for link, name in (("Plates, CSV", "shot-3-plates.csv"), ("Everything, JSON", "export.json")):
        with desk.expect_download() as download:
            desk.get_by_role("link", name=link).click()
        assert download.value.suggested_filename.endswith(name)
    card = SetCard.objects.get(slate="3A-1")
    production = card.production_of().pk
    answer = desk.request.get(
        f"{desk.url.split('/productions')[0]}/api/productions/{production}/cards/{card.pk}/pdf"
    )
    assert answer.body().startswith(b"%PDF")


def test_a_viewer_may_look_and_not_touch(desk: Page, live_server):
    desk.get_by_role("button", name="Sign out supervisor").click()
    desk.get_by_label("User name").fill("visitor")
    desk.get_by_label("Password").fill("heron-at-the-lock")
    desk.get_by_role("button", name="Sign in").click()
    desk.get_by_role("heading", name="Productions").wait_for()
    open_shot(desk, "The tide mill, wide")
    expect(desk.get_by_label("Stop", exact=True)).to_be_disabled()
    expect(desk.get_by_role("button", name="Issue a set card")).to_be_disabled()
    expect(desk.get_by_role("button", name="Do this")).to_have_count(0)


def test_another_productions_address_says_so(desk: Page, live_server):
    desk.goto(f"{live_server.url}/productions/0b9f6a0e-3c4e-4a55-9d8e-6d3f6a1b2c3d")
    expect(desk.get_by_role("alert")).to_contain_text("no such production")


def test_no_serious_accessibility_issue_on_any_screen(desk: Page):
    def check(where: str) -> None:
        desk.wait_for_timeout(300)
        nothing_serious(desk, where)

    check("productions")
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    desk.get_by_text("Shots in story order").wait_for()
    check("board")
    for name, ready in (
        ("Recipes", desk.get_by_test_id("drawing-plan")),
        ("Continuity", desk.get_by_text("Light side, place by place")),
        ("Hours and days", desk.get_by_test_id("whole-hours")),
        ("Board", desk.get_by_text("Shots in story order")),
    ):
        rooms = desk.get_by_role("navigation", name="Rooms of the production")
        rooms.get_by_role("link", name=name).click()
        ready.wait_for()
        check(name)
    desk.get_by_role("checkbox", name="Choose shot 2", exact=True).click()
    desk.get_by_role("button", name="In and out").click()
    check("board with a choice and a menu")
    desk.get_by_role("menuitem", name="Bring in a table").click()
    desk.get_by_label("File").wait_for()
    check("import")
    desk.goto(desk.url.removesuffix("/import"))
    desk.get_by_role("link", name="The heron flies").click()
    for name, ready in (
        ("Method", desk.get_by_text("Saving work here")),
        ("Sketches", desk.get_by_text("Poplar is 7.400 m").first),
        ("Hours and cautions", desk.get_by_test_id("shot-hours")),
    ):
        rooms = desk.get_by_role("navigation", name="Rooms of the shot")
        rooms.get_by_role("link", name=name).click()
        ready.wait_for()
        check(name)
    desk.go_back()
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    desk.get_by_text("Shots in story order").wait_for()
    desk.get_by_role("link", name="Kit", exact=True).click()
    desk.get_by_role("button", name="Add a lens").wait_for()
    desk.get_by_text("What if something were lent out?").click()
    check("kit")
    desk.goto(desk.url.removesuffix("/kit"))
    desk.get_by_role("link", name="the twins argue").click()
    desk.get_by_test_id("drawing-elevation").wait_for()
    check("bench")
    for name in ("Light", "Sun", "Screen", "Marks", "Worth a tape", "Set and detail", "Planner"):
        desk.get_by_role("tab", name=name, exact=True).click()
        check(f"bench, {name}")
    desk.get_by_role("button", name="Units").click()
    check("units")
    desk.keyboard.press("Escape")
    desk.get_by_role("tab", name="Stage").click()
    desk.get_by_role("button", name=re.compile("^The world")).click()
    check("world")
    desk.get_by_role("button", name=re.compile("^Half A")).click()
    desk.get_by_role("link", name="card 3A-1").click()
    desk.get_by_role("button", name="Log take 2").click()
    check("card")
    desk.get_by_role("link", name=re.compile("what it costs")).click()
    desk.get_by_role("region", name="Verdict").wait_for()
    check("take")
    desk.goto(re.sub(r"/(shots|takes|cards)/.*", "", desk.url))
    desk.get_by_role("link", name="The mill in the storm").click()
    desk.get_by_test_id("drawing-elevation").wait_for()
    for name, ready in (
        ("Light", desk.get_by_role("region", name="Lamps at the action")),
        ("Sun", desk.get_by_test_id("sun-compass")),
        ("Screen", desk.get_by_test_id("screen-choices")),
    ):
        desk.get_by_role("tab", name=name, exact=True).click()
        ready.wait_for()
        check(f"lit bench, {name}")
    desk.get_by_role("button", name="Sign out supervisor").click()
    desk.get_by_role("button", name="Sign in").wait_for()
    check("sign-in")


def test_signing_up_and_changing_the_password(page: Page, live_server):
    page.goto(live_server.url)
    page.get_by_role("button", name="Make an account").click()
    page.get_by_label("User name").fill("newcomer")
    page.get_by_label("Password").fill("short")
    page.get_by_role("button", name="Make the account").click()
    expect(page.get_by_role("alert")).to_contain_text("too short")
    page.get_by_label("Password").fill("a-long-tide-table")
    page.get_by_role("button", name="Make the account").click()
    page.get_by_text("You belong to no production yet").wait_for()
    page.get_by_role("button", name="Your account").click()
    page.get_by_label("Present password").fill("a-long-tide-table")
    page.get_by_label("New password").fill("another-tide-table")
    page.get_by_role("button", name="Change it").click()
    expect(page.get_by_role("dialog").get_by_role("status")).to_contain_text("is changed")


def test_everything_saved_is_there_after_a_reload(mill: Page):
    stop = mill.get_by_label("Stop", exact=True)
    stop.fill("f/9")
    stop.press("Enter")
    saved(mill)
    mill.reload()
    expect(mill.get_by_label("Stop", exact=True)).to_have_value("f/9")


def test_two_halves_are_held_against_each_other_and_their_days_too(desk: Page):
    open_shot(desk, "the twins argue")
    desk.get_by_role("button", name=re.compile("^Half B: Ilse")).click()
    day = desk.get_by_label("Filmed on", exact=True)
    first = Plate.objects.get(name="Half A: Ansa").film_on
    day.fill(f"{first + datetime.timedelta(days=2)}")
    apart = desk.locator("[data-finding=days]").first
    expect(apart).to_contain_text("untouched for 2 nights")
    saved(desk)
    # Half A was filmed with a camera that had slipped; half B is filmed as planned.
    desk.get_by_role("button", name="Issue a set card").click()
    desk.get_by_role("button", name="Issue it all the same").click()
    desk.get_by_role("button", name="Log take 1").click()
    desk.get_by_role("button", name="Save take 1").click()
    desk.get_by_role("link", name=re.compile("what it costs")).click()
    verdict = desk.get_by_role("region", name="Verdict")
    expect(verdict).to_contain_text("the join with Half A: Ansa, 3A-1 take 1")
    expect(desk.get_by_text("The camera stood elsewhere")).to_be_visible()
    desk.goto(re.sub("/takes/.*", "/hours", desk.url))
    expect(desk.get_by_test_id("parted")).to_contain_text("untouched for 2 nights")
