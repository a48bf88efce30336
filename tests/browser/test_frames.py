"""The frame bench: a sheet begun, marked, moved and taken to the table."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from jungoptic.web.accounts.models import User
from jungoptic.web.frames.models import Sheet
from jungoptic.web.plans.models import Shot
from jungoptic.web.productions.models import Membership

from .accessible import nothing_serious
from .conftest import LONG_MS, add_puppet, first_shot, open_shot, plate_button, saved


def cell(page: Page, key: str, frame: int) -> Locator:
    return page.locator(f'[data-cell="{key}:{frame}"]')


def told(page: Page, key: str) -> Locator:
    return page.locator(f'[data-finding="{key}"]')


def marks(title: str, number: int = 0) -> list[tuple[int, str, int]]:
    sheet = Sheet.objects.get(shot__title=title)
    return [(m["frame"], m["name"], m["every"]) for m in sheet.columns[number]["marks"]]


@pytest.fixture
def wings(desk: Page) -> Page:
    """The sheet of shot 6."""
    open_shot(desk, "The heron unfolds its wings")
    desk.get_by_role("link", name="Frames", exact=True).click()
    desk.get_by_test_id("sheet").wait_for()
    expect(cell(desk, "part-1", 1)).to_have_text("folded")
    return desk


def test_a_first_sheet_from_an_empty_production(desk: Page):
    first_shot(desk)
    desk.get_by_role("link", name="Frames", exact=True).click()
    expect(desk.get_by_text("No plate yet. A sheet belongs to a plate")).to_be_visible()
    desk.get_by_role("link", name="Bench", exact=True).first.click()
    add_puppet(desk)
    desk.get_by_role("link", name="Frames", exact=True).click()
    expect(desk.get_by_text("come to 96 pictures for 96 frames")).to_be_visible()
    begin = desk.get_by_role("button", name="Begin with what stands in this plate")
    expect(begin).to_be_enabled()
    begin.click()
    expect(desk.get_by_text("96 pictures for 96 frames")).to_be_visible()
    # From frame 5 to 8 on twos, by hand; then it goes on by ones.
    cell(desk, "part-1", 5).click()
    for _ in range(3):
        desk.keyboard.press("Shift+ArrowDown")
    desk.keyboard.press("2")
    expect(desk.get_by_text("94 pictures for 96 frames")).to_be_visible()
    # A pose with a name, held for a second: a stop.
    cell(desk, "part-1", 9).click()
    desk.keyboard.press("h")
    expect(desk.get_by_text("7 pictures for 96 frames")).to_be_visible()
    desk.keyboard.press("Enter")
    desk.get_by_label("Figure, frame 9").fill("listens")
    desk.keyboard.press("Enter")
    expect(cell(desk, "part-1", 9)).to_contain_text("listens")
    expect(told(desk, "sheet-stops")).to_contain_text("from frame 9 to 96")
    saved(desk)
    assert marks("A tower at dusk") == [(1, "", 1), (5, "", 2), (9, "listens", 0)]
    # All of it can be taken back, step by step.
    for _ in range(3):
        desk.keyboard.press("Control+z")
    expect(desk.get_by_text("96 pictures for 96 frames")).to_be_visible()
    desk.get_by_role("button", name="Redo").click()
    expect(desk.get_by_text("94 pictures for 96 frames")).to_be_visible()
    saved(desk)
    assert marks("A tower at dusk") == [(1, "", 1), (5, "", 2), (9, "", 1)]


def test_replacements_blink_and_repeat(wings: Page):
    wings.get_by_label("Add a column").select_option("piece")
    saved(wings)
    cell(wings, "piece-1", 4).click()
    wings.get_by_role("button", name="Blink").click()
    expect(cell(wings, "piece-1", 5)).to_have_text("shut")
    # The walk of a blink again, right behind it.
    cell(wings, "piece-1", 4).click()
    cell(wings, "piece-1", 11).click(modifiers=["Shift"])
    wings.keyboard.press("r")
    expect(cell(wings, "piece-1", 13)).to_have_text("shut")
    # Frames in, and out again, move what follows.
    cell(wings, "piece-1", 2).click()
    wings.keyboard.press("i")
    expect(cell(wings, "piece-1", 6)).to_have_text("shut")
    wings.keyboard.press("x")
    expect(cell(wings, "piece-1", 5)).to_have_text("shut")
    # A mark is chosen by its name, taken hold of and dragged to another frame.
    cell(wings, "piece-1", 13).locator('[data-grip="mark"]').click()
    expect(cell(wings, "piece-1", 13)).to_have_attribute("aria-selected", "true")
    cell(wings, "piece-1", 13).locator('[data-grip="mark"]').drag_to(cell(wings, "piece-1", 15))
    expect(cell(wings, "piece-1", 15)).to_have_text("shut")
    saved(wings)
    title = "The heron unfolds its wings"
    named = [m for m in marks(title, 3) if m[1] == "shut"]
    assert [m[0] for m in named] == [5, 15]


def test_a_move_is_bent_on_its_curve_and_counted_in_turns(wings: Page):
    wings.get_by_role("columnheader", name="Wing").click()
    panel = wings.get_by_label("Column", exact=True)
    expect(panel).to_contain_text("122.4° from end to end")
    expect(told(wings, "sheet-rough")).to_contain_text("Steps of")
    end = panel.get_by_role("slider", name="End of stretch 1")
    end.focus()
    wings.keyboard.press("Shift+ArrowRight")
    frames = panel.get_by_role("group", name="Stretch 1").get_by_label("Frames", exact=True)
    expect(frames).to_have_value("50")
    # Without its rig it goes in exact degrees, and nothing is rough any more.
    panel.get_by_label("Rig", exact=True).select_option(label="none: to the exact place")
    expect(told(wings, "sheet-rough")).to_have_count(0)
    wings.get_by_role("button", name="Undo").click()
    expect(told(wings, "sheet-rough")).to_have_count(1)
    # A point on the curve, by a double click on it.
    curve = panel.get_by_test_id("move-curve")
    box = curve.bounding_box()
    assert box
    wings.mouse.dblclick(box["x"] + box["width"] * 0.25, box["y"] + box["height"] * 0.6)
    expect(panel.get_by_role("slider", name="Point 1 of stretch 1")).to_be_visible()
    expect(panel).to_contain_text("By its curve through 1 point.")
    saved(wings)
    leg = Sheet.objects.get(shot__number="6").columns[1]["legs"][0]
    assert leg["frames"] == 50
    assert len(leg["curve"]) == 1
    # Papers and programs are there to take along.
    for name, begins in (("Printed chart", b"%PDF"), ("G-code", b"(Wing")):
        href = panel.get_by_role("link", name=name).get_attribute("href")
        assert href
        found = wings.request.get(f"{wings.url.split('/productions')[0]}{href}")
        assert found.body().startswith(begins)
    strip = panel.get_by_role("link", name="Strip of marks at true size")
    expect(strip).to_have_attribute("href", re.compile("strip.pdf"))


def test_the_camera_follows_the_story_and_days_tell_the_pace(wings: Page):
    Shot.objects.filter(number="6").update(move_away_m=2.0)
    wings.reload()
    wings.get_by_test_id("sheet").wait_for()
    # The story's camera fills its column by itself.
    expect(wings.get_by_role("columnheader", name="Push in")).to_contain_text("by the shot")
    wings.get_by_label("Add a column").select_option("axis")
    panel = wings.get_by_label("Column", exact=True)
    panel.get_by_label("What moves").select_option(label="Push in")
    follows = panel.get_by_label("follows the story, divided by the scale")
    follows.check()
    # Two metres of the story are a third of a metre at 1:6.
    expect(panel).to_contain_text("333")
    expect(told(wings, "sheet-off")).to_have_attribute("data-verdict", "holds")
    days = wings.get_by_label("How far it has come")
    expect(days).to_contain_text("60 of 120 frames stand")
    days.get_by_label("to").fill("80")
    days.get_by_label("hours").fill("0")
    days.get_by_role("button", name="Log the day").click()
    expect(days.get_by_role("alert")).to_contain_text("more than 0")
    days.get_by_label("hours").fill("4")
    days.get_by_role("button", name="Log the day").click()
    expect(days).to_contain_text("80 of 120 frames stand")
    saved(wings)
    # It goes on behind what the camera tells of.
    (day,) = Sheet.objects.get(shot__number="6").worked
    assert (day["first"], day["last"]) == (61, 80)


def test_a_walk_along_the_wall_is_photographed_at_intervals(desk: Page):
    open_shot(desk, "Dawn over the flooded town")
    desk.get_by_role("link", name="Frames", exact=True).click()
    walk = desk.get_by_label("Time-lapse", exact=True)
    expect(walk).to_contain_text("144 photographs in 29 min")
    expect(told(desk, "lapse-step")).to_contain_text("Near kerb")
    # Shorter steps glide: the same walk is cut to a third.
    for label, text in (("Path to the right", "10 m"), ("Path ahead", "8 m")):
        field = walk.get_by_label(re.compile(f"^{label}"))
        field.fill(text)
        field.press("Enter")
    expect(told(desk, "lapse-step")).to_have_attribute("data-verdict", "holds")
    walk.get_by_label("Held").select_option(label="by hand")
    expect(walk).to_contain_text("94 % of the picture is left")
    walk.get_by_role("button", name="Not at intervals").click()
    expect(walk.get_by_role("button", name="Photograph it at intervals")).to_be_visible()
    desk.get_by_role("button", name="Undo").click()
    expect(walk).to_contain_text("94 % of the picture is left")
    saved(desk)
    lapse = Sheet.objects.get(shot__number="1").lapse
    assert (lapse["path_right_m"], lapse["held"]) == (10.0, "hand")
    # A plate that is not photographed so is asked; what is done there is not done to the other.
    plate_button(desk, "Reference point").click()
    # What comes to stand above the button moves it down.
    expect(desk.get_by_text("come to 144 pictures")).to_be_visible()
    walk.get_by_role("button", name="Photograph it at intervals").click()
    expect(walk).to_contain_text("144 photographs in 12 min")
    saved(desk)
    sheets = Sheet.objects.filter(shot__number="1")
    assert sorted(sheet.lapse["interval_s"] for sheet in sheets) == [5.0, 12.0]


def test_what_is_taken_back_outlives_a_change_of_the_plate_itself(wings: Page):
    cell(wings, "part-1", 12).click()
    wings.keyboard.press("h")
    expect(wings.get_by_role("button", name="Undo")).to_be_enabled()
    wings.get_by_label("Poses").select_option(label="on twos")
    saved(wings)
    wings.get_by_role("button", name="Undo").click()
    expect(cell(wings, "part-1", 14)).to_have_text("●")
    saved(wings)
    assert (12, "", 0) not in marks("The heron unfolds its wings")


def test_nothing_serious_for_a_screen_reader(wings: Page):
    nothing_serious(wings, "a part")
    wings.get_by_role("columnheader", name="Wing").click()
    wings.get_by_test_id("move-curve").wait_for()
    nothing_serious(wings, "a move")
    plate_button(wings, "Move chart").click()
    wings.get_by_role("button", name="Photograph it at intervals").click()
    expect(wings.get_by_text("120 photographs")).to_be_visible()
    nothing_serious(wings, "a time-lapse")


def test_a_viewer_reads_the_sheet_and_changes_nothing(desk: Page):
    Membership.objects.filter(user=User.objects.get(username="supervisor")).update(role="viewer")
    open_shot(desk, "The heron unfolds its wings")
    desk.get_by_role("link", name="Frames", exact=True).click()
    cell(desk, "part-1", 12).click()
    for key in ("2", "h", "Delete", "i", "Enter"):
        desk.keyboard.press(key)
    expect(cell(desk, "part-1", 12)).to_have_text("●")
    expect(desk.get_by_role("toolbar", name="Marks")).to_have_count(0)
    expect(desk.get_by_label("Add a column")).to_have_count(0)
    expect(desk.get_by_label("Stands for")).to_be_disabled()
    expect(desk.get_by_role("button", name="Log the day")).to_have_count(0)
    assert Sheet.objects.get(shot__number="6").revision == 1


def test_what_is_animated_stands_in_hours(desk: Page):
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    rooms = desk.get_by_role("navigation", name="Rooms of the production")
    rooms.get_by_role("link", name="Hours and days").click()
    desk.get_by_role("tab", name="Animated").click()
    wings = desk.locator('[data-table="Animation"]')
    expect(wings).to_contain_text("60 of 98 pictures taken")
    expect(wings).to_contain_text("an hour measured here")
    expect(wings.get_by_role("table", name="Blocks")).to_contain_text("First evening")
    expect(wings.get_by_role("table", name="Days at the table")).to_contain_text("pictures 1 to 40")
    expect(desk.get_by_text("Building a set again costs")).to_be_visible()
    # What nobody has begun goes by the usual pace.
    expect(desk.locator('[data-table="Puppet against a screen"]')).to_contain_text("usual 60")
    nothing_serious(desk)
    wings.get_by_role("link", name=re.compile("Animation")).click()
    expect(cell(desk, "part-1", 1)).to_have_text("folded")


@pytest.mark.usefixtures("worker")
def test_a_performance_stands_beside_the_rows(desk: Page):
    """What was filmed of somebody, with a clap in its first second, beside a sheet of another."""
    open_shot(desk, "the twins argue")
    desk.get_by_role("link", name="Frames", exact=True).click()
    desk.get_by_test_id("sheet").wait_for()
    desk.get_by_role("heading", name="Beside the rows").click()
    desk.get_by_label("A clip, or pictures in a row").select_option(label="K003 half A")
    desk.get_by_role("button", name="Make its small pictures").click()
    large = desk.get_by_test_id("beside")
    expect(large.get_by_role("img")).to_have_accessible_name(
        "Frame 1 of what stands beside row 1", timeout=LONG_MS
    )
    rows = desk.get_by_test_id("sheet").get_by_role("row")
    # The demo claps at 0.62 s: in the fifteenth or the sixteenth of 24 a second.
    loud = "[...document.querySelectorAll('[data-loud]')].map(one => Number(one.dataset.loud))"
    levels = desk.evaluate(loud)
    assert levels.index(max(levels)) in (14, 15)
    assert max(levels) > 0.7 > 0.2 > sorted(levels)[len(levels) // 2]
    # It begins ten rows later.
    begins = desk.get_by_label("Its first frame stands at row")
    begins.fill("11")
    begins.press("Enter")
    expect(desk.get_by_text("Nothing of it stands beside row 1.")).to_be_visible()
    expect(rows.nth(1).locator("[data-loud]")).to_have_count(0)
    saved(desk)
    assert Sheet.objects.get(shot__title__endswith="the twins argue").reference["at"] == 11
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(large.get_by_role("img")).to_be_visible()
