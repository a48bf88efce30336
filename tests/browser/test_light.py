"""Light, sun and screens as a person uses them: place, see, mend, play, pick, take along."""

from __future__ import annotations

import csv
import io
import re
from pathlib import Path

import pytest
from icalendar import Calendar
from PIL import Image
from playwright.sync_api import Page, expect

from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.stage.case import Case
from jungoptic.web.kit.models import Room
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.plans.stored import plan_json

from .conftest import open_shot, plate_button, saved, until
from .test_bench import finding, ways_out


@pytest.fixture
def storm(desk: Page) -> Page:
    """The Bench of shot 8: a key on the wrong side, an uneven screen."""
    open_shot(desk, "The mill in the storm")
    return desk


def test_the_key_on_the_wrong_side_is_turned_and_the_map_follows(storm: Page):
    plate_button(storm, "Backing plate").click()
    wrong = finding(storm, "key-side")
    expect(wrong).to_have_attribute("data-verdict", "breaks")
    storm.get_by_label("Light map").check()
    lines = storm.get_by_test_id("light-map").locator("polyline")
    expect(lines.first).to_be_attached()
    before = storm.get_by_test_id("light-map").inner_html()

    ways_out(storm, "key-side").get_by_role("button", name="Do this").first.click()
    expect(finding(storm, "key-side")).to_have_attribute("data-verdict", "holds")
    saved(storm)
    (lamp,) = Plate.objects.get(name="Backing plate").lamps
    assert lamp["y_m"] > 4.75, "behind the action now"
    expect(lines.first).to_be_attached()
    until(
        storm,
        "before => document.querySelector('[data-testid=light-map]').innerHTML !== before",
        before,
    )
    storm.get_by_role("button", name="Undo Remedy").click()
    expect(finding(storm, "key-side")).to_have_attribute("data-verdict", "breaks")


def test_light_this_plate_proposes_and_places(mill: Page):
    mill.get_by_role("tab", name="Light", exact=True).click()
    mill.get_by_role("button", name="Light this plate").click()
    ways = mill.get_by_test_id("light-proposals")
    expect(ways.locator("[data-proposal]").first).to_contain_text("Key:")
    ways.get_by_role("button", name="Do this").first.click()
    expect(ways).to_have_count(0)
    saved(mill)
    plan = load(plan_json(Shot.objects.get(number="2")))
    case = Case.of(plan, plan.plates[0])
    light = lighting(case)
    table = mill.get_by_role("region", name="Lamps at the action")
    expect(table).to_contain_text(light.lamps[0].name)
    expect(table).to_contain_text(f"{light.lamps[0].elevation_deg:.0f}°")
    expect(mill.get_by_role("region", name="Lamps at the action")).to_contain_text("circuit 1")
    expect(table).to_contain_text("licensed electrician only")
    # A performer's cut-out at 1:12 stands on the set.
    expect(table.get_by_role("row", name=re.compile("^Ansa 140 mm"))).to_be_visible()
    mill.get_by_role("button", name="Undo Light this plate").click()
    saved(mill)
    assert Plate.objects.get(name="Mill miniature").lamps[0]["x_m"] == 1.9


def test_gel_opening_and_aim_of_a_lamp(mill: Page):
    mill.get_by_text("1. 650 W fresnel").click()
    mill.get_by_label("Lamp 1, gel").select_option("half blue")
    opening = mill.get_by_role("textbox", name="Lamp 1, opening or frame")
    opening.fill("25 mm")
    opening.press("Enter")
    mill.get_by_label("Lamp 1, aimed at").select_option("a point of its own")
    up = mill.get_by_role("textbox", name="Lamp 1, aimed up")
    up.fill("0.4 m")
    up.press("Enter")
    saved(mill)
    lamp = Plate.objects.get(name="Mill miniature").lamps[0]
    assert (lamp["gel"], lamp["size_m"], lamp["aim_z_m"]) == ("blue-2", 0.025, 0.4)
    expect(finding(mill, "light")).to_have_attribute("data-verdict", "breaks")


def test_the_storys_light_is_told_once_and_judges_every_plate(mill: Page):
    plate_button(mill, "The world").click()
    mill.get_by_label("The key is").select_option("a lamp, a window, a fire")
    ratio = mill.get_by_role("textbox", name=re.compile("^Key over fill"))
    ratio.fill("0.2")
    ratio.press("Enter")
    saved(mill)
    shot = Shot.objects.get(number="2")
    assert (shot.key_kind, shot.key_ratio_stops) == ("lamp", 0.2)
    plate_button(mill, "Mill miniature").click()
    expect(finding(mill, "ratio")).to_have_attribute("data-verdict", "breaks")
    expect(finding(mill, "falloff")).to_have_count(0)


def test_a_lamp_plays_a_storm_and_leaves_as_a_table(storm: Page):
    plate_button(storm, "Backing plate").click()
    storm.get_by_role("tab", name="Light", exact=True).click()
    cue = storm.get_by_role("region", name="Interactive light")
    expect(cue.get_by_test_id("cue-curve")).to_be_visible()
    expect(cue).to_contain_text("can cause seizures")
    lively = cue.get_by_role("textbox", name=re.compile("^How lively"))
    lively.fill("12")
    lively.press("Enter")
    expect(cue).to_contain_text("can make people ill")
    expect(cue.get_by_role("button", name="Play", exact=True)).to_be_disabled()
    lively.fill("0.4")
    lively.press("Enter")
    expect(cue.get_by_role("button", name="Play", exact=True)).to_be_enabled()
    cue.get_by_role("button", name="Play", exact=True).click()
    cue.get_by_role("button", name="Stop").click()
    saved(storm)
    with storm.expect_download() as coming:
        cue.get_by_role("link", name="Levels by frame, CSV").click()
    rows = list(csv.DictReader(io.StringIO(Path(coming.value.path()).read_text())))
    shot = Shot.objects.get(number="8")
    assert len(rows) == round(shot.screen_time_s * shot.playback_fps)
    cue.get_by_role("button", name="Take it away").click()
    expect(cue).to_contain_text("A lamp that plays a fire")


def test_two_lamps_play_and_one_waits_for_its_beat(desk: Page):
    open_shot(desk, "Fire in the kitchen windows")
    plate_button(desk, "Take with moving warm light").click()
    desk.get_by_role("tab", name="Light", exact=True).click()
    cue = desk.get_by_role("region", name="Interactive light")
    flare = cue.get_by_test_id("cue").nth(1)
    expect(flare.get_by_label("Begins")).to_have_value(re.compile("."))
    points = flare.get_by_role("slider")
    expect(points).to_have_count(4)
    expect(cue.get_by_test_id("cues-together")).to_contain_text("All together")
    # A point by keyboard, and one more by hand.
    points.nth(1).focus()
    desk.keyboard.press("Shift+ArrowDown")
    expect(points.nth(1)).to_have_attribute("aria-valuetext", "80 % after 0.25 s")
    # The curve is drawn from the first frame to the last: the beat stands where it is.
    box = flare.get_by_test_id("cue-curve").bounding_box()
    assert box is not None
    desk.mouse.dblclick(box["x"] + box["width"] * 0.985, box["y"] + box["height"] * 0.5)
    expect(points).to_have_count(5)
    saved(desk)
    plate = Plate.objects.get(shot__number="11", name__startswith="Take with")
    (drawn,) = plate.more_cues
    assert [round(k["level"], 2) for k in drawn["keys"]] == [0.05, 0.8, 0.45, 0.3, 0.5]
    assert drawn["keys"][4]["at_s"] > 1.25
    with desk.expect_download() as coming:
        cue.get_by_role("link", name="Levels by frame, CSV").click()
    rows = list(csv.DictReader(io.StringIO(Path(coming.value.path()).read_text())))
    assert {r["2_led_panel_level_percent"] for r in rows[:61]} == {"5.0"}
    assert rows[66]["2_led_panel_level_percent"] == "80.0"
    flare.get_by_role("button", name="Take it away").click()
    expect(cue.get_by_test_id("cue")).to_have_count(1)
    desk.get_by_role("button", name="Undo").click()
    expect(cue.get_by_test_id("cue")).to_have_count(2)


def test_the_sun_over_the_embankment(desk: Page):
    open_shot(desk, "The heron flies over")
    plate_button(desk, "Day plate").click()
    expect(finding(desk, "sun")).to_have_attribute("data-verdict", "holds")
    desk.get_by_role("tab", name="Sun", exact=True).click()
    expect(desk.get_by_test_id("sun-compass")).to_be_visible()
    expect(desk.get_by_text("Golden hours")).to_be_visible()
    # A winter's day: the sun stays too low, and the strip says from when on it does not.
    desk.get_by_label("Day", exact=True).fill("2026-12-20")
    expect(desk.get_by_text("not on this day")).to_be_visible()
    expect(desk.get_by_text(re.compile("does not come up to 35°"))).to_be_visible()
    desk.get_by_role("button", name="Film it on this day").click()
    expect(finding(desk, "sun")).to_have_attribute("data-verdict", "breaks")
    ways_out(desk, "sun").get_by_role("button", name="Do this").first.click()
    expect(finding(desk, "sun")).to_have_attribute("data-verdict", "holds")
    saved(desk)
    day = Plate.objects.get(name="Day plate").film_on
    assert day.year == 2027
    # From the strip with the keyboard, then the calendar.
    desk.get_by_label("Day", exact=True).fill(day.isoformat())
    strip = desk.get_by_test_id("match-strip")
    expect(strip).to_have_attribute("aria-valuetext", re.compile(day.isoformat()))
    strip.focus()
    strip.press("ArrowRight")
    expect(desk.get_by_label("Day", exact=True)).not_to_have_value(day.isoformat())
    with desk.expect_download() as coming:
        desk.get_by_role("link", name=re.compile("as a calendar")).click()
    events = Calendar.from_ical(Path(coming.value.path()).read_bytes()).walk("VEVENT")
    assert len(events) > 20
    night = desk.get_by_role("region", name="Day for night")
    expect(night).to_contain_text("ND before the lens")
    expect(night).to_contain_text("The sky fills")


def test_the_uneven_screen_is_evened_out(storm: Page):
    plate_button(storm, "Foreground").click()
    expect(finding(storm, "evenness")).to_have_attribute("data-verdict", "breaks")
    storm.get_by_role("tab", name="Screen", exact=True).click()
    expect(storm.get_by_test_id("screen-map").locator("polyline").first).to_be_attached()
    remedy = ways_out(storm, "evenness").get_by_text(re.compile("shared out to both sides"))
    remedy.locator("xpath=ancestor::*[.//button][1]").get_by_role("button", name="Do this").click()
    expect(finding(storm, "evenness")).not_to_have_attribute("data-verdict", "breaks")
    saved(storm)
    banks = Plate.objects.get(name__startswith="Foreground").lamps[1:]
    assert {b["x_m"] > -0.66 for b in banks} == {True, False}


def test_colours_are_picked_from_a_still_and_choose_the_screen(storm: Page, tmp_path):
    plate_button(storm, "Foreground").click()
    expect(finding(storm, "screen-colour")).to_contain_text("Moss shawl")
    storm.get_by_role("tab", name="Screen", exact=True).click()
    chooser = storm.get_by_role("region", name="Which screen")
    expect(storm.get_by_test_id("screen-choices").locator("tbody tr").first).to_contain_text(
        "blue screen"
    )
    still = tmp_path / "still.png"
    Image.new("RGB", (64, 48), (30, 60, 150)).save(still)
    chooser.get_by_label("From a still").set_input_files(still)
    chooser.get_by_label(re.compile("^The still")).click()
    expect(chooser.get_by_label("Colour", exact=True)).to_have_value("#1e3c96")
    chooser.get_by_label("Of what").fill("Blue cap")
    chooser.get_by_role("button", name="Add", exact=True).click()
    expect(chooser.get_by_role("list")).to_contain_text("Blue cap")
    saved(storm)
    kept = Plate.objects.get(name__startswith="Foreground").swatches[-1]
    assert (kept["name"], kept["red"], kept["green"], kept["blue"]) == ("Blue cap", 30, 60, 150)
    # The cap rules blue out altogether; before green the shawl keys with work.
    rows = storm.get_by_test_id("screen-choices").locator("tbody tr")
    expect(rows.first).to_contain_text("green screen")
    expect(rows.last).to_contain_text("blue screen")
    expect(rows.last).to_contain_text("Blue cap lies near the blue screen")
    chooser.get_by_role("button", name="Take Moss shawl away").click()
    expect(rows.first).to_contain_text("it keys cleanly")
    expect(rows.first).to_contain_text("green screen")
    expect(finding(storm, "screen-colour")).to_have_attribute("data-verdict", "holds")
    notes = tmp_path / "notes.txt"
    notes.write_text("no picture")
    chooser.get_by_label("From a still").set_input_files(notes)
    expect(chooser.get_by_role("alert")).to_contain_text("not a picture")


def test_how_to_record_and_what_it_costs(storm: Page):
    plate_button(storm, "Foreground").click()
    storm.get_by_role("tab", name="Screen", exact=True).click()
    table = storm.get_by_role("region", name="How to record it")
    example = table.get_by_role("img")
    expect(example).to_have_js_property("complete", True)
    first = example.get_attribute("src")
    table.get_by_role("button", name=re.compile("1920 × 1080 fast")).click()
    expect(example).not_to_have_attribute("src", first)
    assert example.evaluate("img => img.decode().then(() => img.naturalWidth)") == 960
    costs = storm.get_by_role("region", name="What each way costs")
    for way in ("Against a screen", "Cut out by hand", "Overcast sky"):
        expect(costs).to_contain_text(way)


def test_a_skyline_is_traced_in_the_kit(desk: Page):
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    desk.get_by_text("Shots in story order").wait_for()
    desk.get_by_role("link", name="Kit", exact=True).click()
    yard = desk.get_by_role("group", name="Embankment")
    yard.get_by_text("Skyline").click()
    yard.get_by_label("Azimuth and height").fill("90 12, 180 3")
    yard.get_by_role("button", name="Add", exact=True).click()
    expect(yard.get_by_role("button", name=re.compile("^Skyline at 90°, 12° up"))).to_be_visible()
    yard.get_by_test_id("skyline-paper").click(position={"x": 30, "y": 60})
    expect(yard.get_by_role("button", name=re.compile("^Skyline at"))).to_have_count(3)
    point = yard.get_by_role("button", name=re.compile("^Skyline at 90°"))
    point.focus()
    point.press("ArrowUp")
    expect(yard.get_by_role("button", name=re.compile("^Skyline at 90°, 13° up"))).to_be_visible()
    saved(desk)
    horizon = Room.objects.get(name="Embankment").horizon
    assert {"azimuth_deg": 90, "elevation_deg": 13} in horizon
    desk.keyboard.press("Control+z")
    expect(yard.get_by_role("button", name=re.compile("^Skyline at 90°, 12° up"))).to_be_visible()
    saved(desk)
    assert {"azimuth_deg": 90, "elevation_deg": 12} in Room.objects.get(name="Embankment").horizon
    desk.get_by_role("button", name="Redo Change Embankment").click()
    expect(yard.get_by_role("button", name=re.compile("^Skyline at 90°, 13° up"))).to_be_visible()
    yard.get_by_label("Azimuth and height").fill("north, high")
    yard.get_by_role("button", name="Add", exact=True).click()
    expect(yard.get_by_role("alert")).to_contain_text("cannot be read")
    yard.get_by_role("textbox", name=re.compile("^Its clock")).fill("Mars/Olympus")
    yard.get_by_role("textbox", name=re.compile("^Its clock")).press("Enter")
    expect(yard.get_by_text("There is no time zone")).to_be_visible()


def test_a_lamp_is_told_what_it_is_for(mill: Page):
    mill.get_by_role("tab", name="Light", exact=True).click()
    table = mill.get_by_role("region", name="Lamps at the action")
    expect(table.get_by_role("row", name=re.compile("^1. 650 W fresnel key"))).to_be_visible()
    mill.locator("summary", has_text="1. 650 W fresnel").click()
    mill.get_by_label("Lamp 1, meant as").select_option("played")
    # It comes on top then, and the panel is the key.
    expect(table.get_by_role("row", name=re.compile("^2. LED panel key"))).to_be_visible()
    expect(table).to_contain_text("played, on top")
    saved(mill)
    assert Plate.objects.get(name="Mill miniature").lamps[0]["role"] == "played"
    mill.get_by_role("button", name="Undo Meant as").click()
    expect(table.get_by_role("row", name=re.compile("^1. 650 W fresnel key"))).to_be_visible()


def test_the_frame_in_tone_follows_the_lamps_and_is_remembered(mill: Page):
    plate_button(mill, "Mill miniature").click()
    mill.get_by_label("Tone", exact=True).check()
    tone = mill.locator("[data-layer=tone]")
    expect(tone.locator("path").first).to_be_attached()
    fills = tone.locator("path").evaluate_all("all => all.map(p => p.getAttribute('fill'))")
    brightest = max((f for f in fills if f.startswith("rgb")), key=lambda f: int(f[4:].split()[0]))
    mill.locator("summary", has_text="1. 650 W fresnel").click()
    dimmer = mill.get_by_role("textbox", name="Lamp 1, dimmer")
    dimmer.fill("10 %")
    dimmer.press("Enter")
    expect(tone.locator(f'path[fill="{brightest}"]')).to_have_count(0)
    saved(mill)
    mill.reload()
    # How one looks at a shot is remembered on this device.
    expect(mill.get_by_label("Tone", exact=True)).to_be_checked()
    expect(tone.locator("path").first).to_be_attached()
    mill.keyboard.press("n")
    expect(tone).to_have_count(0)


def test_a_lamp_that_stands_in_the_picture_is_told_and_raised_out_of_it(mill: Page):
    plate_button(mill, "Mill miniature").click()
    mill.locator("summary", has_text="1. 650 W fresnel").click()
    right = mill.get_by_role("textbox", name="Lamp 1, to the right")
    right.fill("1.3 m")
    right.press("Enter")
    told = finding(mill, "lamp-in-picture")
    expect(told).to_have_attribute("data-verdict", "breaks")
    expect(told).to_contain_text("650 W fresnel stands in the picture")
    way = ways_out(mill, "lamp-in-picture").locator("li", has_text="Raise 650 W fresnel")
    way.get_by_role("button", name="Do this").click()
    expect(told).to_have_count(0)


def test_walls_that_give_light_back_are_told_in_the_kit_and_counted(mill: Page):
    plate_button(mill, "Mill miniature").click()
    mill.get_by_role("tab", name="Light", exact=True).click()
    lamps = mill.get_by_role("region", name="Lamps at the action")
    expect(lamps).to_contain_text("given back by the room")
    here = mill.url
    mill.get_by_role("link", name="The Lock-Keeper's Heron").click()
    mill.get_by_role("link", name="Kit", exact=True).click()
    garage = mill.get_by_role("group", name="Garage")
    back = garage.get_by_role("textbox", name=re.compile("^Light it gives back"))
    back.fill("2")
    back.press("Enter")
    expect(garage.get_by_role("alert")).to_be_visible()
    back.fill("0")
    back.press("Enter")
    saved(mill)
    assert Room.objects.get(name="Garage").reflectance == 0.0
    mill.goto(here)
    mill.get_by_role("tab", name="Light", exact=True).click()
    expect(lamps).to_contain_text("on a flat meter")
    expect(lamps).not_to_contain_text("given back by the room")
