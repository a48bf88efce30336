"""Planning on the Bench: the rail, screen time, lamps and rooms, planner, marks, units, what-if."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from jungoptic.core import planner
from jungoptic.core.report.shot_report import report
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.plans.stored import plan_json

from .conftest import LONG_MS, open_shot, saved
from .test_bench import drag, finding, ways_out


def core_shot(number: str):
    """The stored shot as the core has it."""
    return load(plan_json(Shot.objects.select_related("production").get(number=number)))


def core_plate(number: str, name: str):
    """The core's report of one stored plate, with its study."""
    shot = core_shot(number)
    plate = next(p for p in shot.plates if p.name == name)
    found = report(shot, selected=plate.id)
    return next(p for p in found.plates if p.plate_id == plate.id)


def tab(page: Page, name: str) -> None:
    page.get_by_role("tab", name=name).click()


def grip(page: Page, name: str) -> Locator:
    return page.get_by_test_id("rail").locator(f'[data-grip="{name}"]')


@pytest.fixture
def wheel(desk: Page) -> Page:
    """The Bench of shot 9, whose wheel needs a faster body."""
    open_shot(desk, "The spring tide breaks the wheel")
    return desk


@pytest.fixture
def heron(desk: Page) -> Page:
    """The Bench of shot 13, where camera and heron move."""
    open_shot(desk, "The heron flies over the moonlit flats")
    return desk


class TestRail:
    def test_a_thing_is_dragged_along_it_and_undone(self, mill: Page):
        gate = StandIn.objects.get(name="Lock gate")
        drag(mill, f'[data-testid="rail"] [data-grip="rail-{gate.pk}"]', 60, 0)
        saved(mill)
        after = StandIn.objects.get(name="Lock gate")
        # 707 px of rail from 0.1 m to 10 km: 60 px are a factor of about 2.66.
        assert 40 < after.y_m < 56
        assert after.x_m == gate.x_m
        expect(mill.get_by_label("Away from the camera")).to_have_value(f"{after.y_m:.2f} m")
        mill.keyboard.press("Control+z")
        saved(mill)
        mill.wait_for_timeout(300)
        assert StandIn.objects.get(name="Lock gate").y_m == gate.y_m

    def test_arrow_keys_move_by_round_steps(self, mill: Page):
        gate = StandIn.objects.get(name="Lock gate")
        grip(mill, f"rail-{gate.pk}").focus()
        mill.keyboard.press("ArrowRight")
        saved(mill)
        assert StandIn.objects.get(name="Lock gate").y_m == pytest.approx(gate.y_m + 0.1)

    def test_a_plate_moves_with_all_its_things_in_one_step(self, mill: Page):
        plate = Plate.objects.get(name="Mill miniature")
        before = {s.name: s.y_m for s in plate.stand_ins.all()}
        bar = grip(mill, f"plate-{plate.pk}")
        bar.focus()
        for _ in range(3):
            mill.keyboard.press("Shift+ArrowRight")
        saved(mill)
        mill.wait_for_timeout(400)
        after = {s.name: s.y_m for s in plate.stand_ins.all()}
        steps = {round(after[name] - before[name], 3) for name in before}
        assert steps == {3.0}
        for _ in range(3):
            mill.keyboard.press("Control+z")
        saved(mill)
        mill.wait_for_timeout(500)
        assert {s.name: s.y_m for s in plate.stand_ins.all()} == before

    def test_focus_is_dragged_snaps_to_things_and_goes_back(self, mill: Page):
        focus = grip(mill, "focus")
        wanted = core_plate("2", "Mill miniature").rail.passes[0].focus_m
        assert float(focus.get_attribute("aria-valuenow") or 0) == pytest.approx(wanted)
        town = StandIn.objects.get(name="Painted town")
        places = [mill.locator(f'[data-grip="{g}"] circle').last.bounding_box() for g in (
            "focus", f"rail-{town.pk}")]  # fmt: skip
        assert places[0] is not None
        assert places[1] is not None
        # Two pixels off the town's own distance: it falls onto it.
        way = places[1]["x"] + places[1]["width"] / 2 - places[0]["x"] - places[0]["width"] / 2 + 2
        drag(mill, '[data-testid="rail"] [data-grip="focus"]', way, 0)
        saved(mill)
        plate = Plate.objects.get(name="Mill miniature")
        shot = core_shot("2")
        depth = next(d for d in report(shot).depths if d.stand_in_id == str(town.pk))
        ends = (depth.near_m, (depth.near_m + depth.far_m) / 2, depth.far_m)
        assert min(abs(plate.focus_world_m - end) for end in ends) < 1e-3
        expect(finding(mill, "depth")).not_to_have_attribute("data-verdict", "holds")
        grip(mill, "focus").focus()
        mill.keyboard.press("Home")
        saved(mill)
        assert Plate.objects.get(name="Mill miniature").focus_world_m is None

    def test_it_zooms_and_remembers(self, mill: Page):
        box = mill.get_by_test_id("rail").bounding_box()
        assert box is not None
        mill.mouse.move(box["x"] + 350, box["y"] + 60)
        mill.mouse.wheel(0, -900)
        expect(mill.get_by_test_id("rail")).not_to_contain_text("10,000 m")
        tab(mill, "Worth a tape")
        mill.reload()
        expect(mill.get_by_test_id("rail")).not_to_contain_text("10,000 m")
        expect(mill.get_by_role("tab", name="Worth a tape")).to_have_attribute(
            "aria-selected", "true"
        )
        mill.get_by_test_id("rail").dblclick(position={"x": 5, "y": 5})
        expect(mill.get_by_test_id("rail")).to_contain_text("10,000 m")


class TestScreenTime:
    def test_scrubbing_shows_every_moment_through_the_moved_camera(self, heron: Page):
        heron.get_by_label("Screen time").fill("168")
        expect(heron.get_by_test_id("frame-number")).to_have_text("frame 168 of 168")
        want = report(core_shot("13"), at=1.0)
        ilse = StandIn.objects.get(shot__number="13", name="Ilse")
        there = next(g for g in want.grips if g.stand_in_id == str(ilse.pk))
        circle = heron.locator(f'[data-testid="frame"] [data-grip="{ilse.pk}"] circle').first
        if 0 < there.x_px < 1920:
            expect(circle).to_have_attribute("cx", re.compile(f"^{int(there.x_px)}"))
        heron.keyboard.press("Tab")
        heron.locator("h1").first.evaluate("() => document.activeElement.blur()")
        heron.keyboard.press(",")
        expect(heron.get_by_test_id("frame-number")).to_have_text("frame 167 of 168")
        heron.get_by_label("Screen time").fill("1")
        heron.get_by_role("button", name="Play").click()
        heron.get_by_role("button", name="Hold").click()

    def test_the_move_is_typed_and_judged_at_its_worst_frame(self, mill: Page):
        mill.get_by_role("button", name=re.compile("^The world")).click()
        crane = mill.get_by_label("Crane")
        crane.fill("-50 cm")
        crane.press("Enter")
        saved(mill)
        assert Shot.objects.get(number="2").move_up_m == -0.5
        mill.get_by_role("button", name=re.compile("^Mill miniature")).click()
        told = next(f for f in core_plate("2", "Mill miniature").findings if f.key == "move")
        expect(finding(mill, "move")).to_contain_text(told.sentence)
        expect(finding(mill, "move")).to_contain_text("at frame 144")


class TestStage:
    def test_a_lamp_is_placed_typed_dragged_and_counted(self, mill: Page):
        mill.get_by_role("button", name=re.compile("^Ansa on green")).click()
        mill.get_by_label("Place a lamp").select_option("LED panel")
        mill.get_by_text("1. LED panel").click()
        height = mill.get_by_label("Lamp 1, up")
        height.fill("2.2 m")
        height.press("Enter")
        saved(mill)
        plate = Plate.objects.get(name="Ansa on green")
        assert plate.lamps[0]["z_m"] == 2.2
        light = next(f for f in core_plate("2", "Ansa on green").findings if f.key == "light")
        expect(finding(mill, "light")).to_contain_text(light.sentence)
        drag(mill, '[data-testid="drawing-plan"] [data-grip="lamp-0"]', 30, 0)
        saved(mill)
        moved = Plate.objects.get(name="Ansa on green").lamps[0]
        assert moved["y_m"] > plate.lamps[0]["y_m"]
        assert moved["x_m"] == pytest.approx(plate.lamps[0]["x_m"])
        mill.keyboard.press("Control+z")
        saved(mill)
        mill.wait_for_timeout(300)
        assert Plate.objects.get(name="Ansa on green").lamps == plate.lamps

    def test_a_room_too_short_is_drawn_said_and_mended(self, mill: Page):
        mill.get_by_role("button", name=re.compile("^Ansa on green")).click()
        mill.get_by_role("combobox", name="Room", exact=True).select_option("Garage")
        room = finding(mill, "room")
        expect(room).to_have_attribute("data-verdict", "breaks")
        expect(room).to_contain_text("too short")
        ways_out(mill, "room").get_by_text("Film it in the Yard").wait_for()
        room.get_by_role("button", name="Do this").first.click()
        expect(finding(mill, "room")).to_have_attribute("data-verdict", "holds")
        saved(mill)
        assert Plate.objects.get(name="Ansa on green").room.name == "Yard"

    def test_a_mirror_lowers_the_lens(self, mill: Page):
        mill.get_by_label("by way of a mirror").check()
        expect(finding(mill, "floor")).to_contain_text("flop it in post")
        expect(finding(mill, "floor")).to_have_attribute("data-verdict", "holds")

    def test_plates_are_hidden_and_the_frame_is_looked_at_closely(self, mill: Page):
        plate = Plate.objects.get(name="Ansa on green")
        drawn = mill.locator(f'[data-testid="frame"] [data-plate="{plate.pk}"]')
        expect(drawn).to_have_count(1)
        mill.get_by_role("button", name="In the Frame: Ansa on green").click()
        expect(drawn).to_have_count(0)
        frame = mill.get_by_test_id("frame")
        whole = frame.get_attribute("viewBox")
        mill.keyboard.press("+")
        expect(frame).not_to_have_attribute("viewBox", whole or "")
        boxes = [
            [float(part) for part in (text or "").split()]
            for text in (whole, frame.get_attribute("viewBox"))
        ]
        # Its middle stays where it is.
        for axis in (0, 1):
            middles = [box[axis] + box[axis + 2] / 2 for box in boxes]
            assert middles[0] == pytest.approx(middles[1], abs=0.5)
        mill.keyboard.press("0")
        expect(frame).to_have_attribute("viewBox", whole or "")
        mill.keyboard.press("l")
        box = frame.bounding_box()
        assert box is not None
        mill.mouse.move(box["x"] + 200, box["y"] + 100)
        # One delivered pixel for each on the screen.
        expect(mill.get_by_test_id("loupe")).to_have_attribute("viewBox", re.compile(r" 190 190$"))
        mill.keyboard.press("f")
        expect(mill.get_by_label("After the reframe")).to_be_checked()


class TestPlanner:
    def test_the_ways_are_the_cores_and_one_is_taken_and_undone(self, wheel: Page):
        tab(wheel, "Planner")
        shot = core_shot("9")
        plate = next(p for p in shot.plates if p.name == "Wheel, breaking")
        want = planner.search(shot, plate, planner.Wishes(), most=8)
        expect(wheel.get_by_test_id("planner-count")).to_contain_text(
            f"{want.candidates:,} ways tried against {len(want.rules)} rules"
        )
        first = wheel.locator('[data-way="1"]')
        expect(first).to_contain_text(want.ways[0].reasons[0])
        expect(first).to_have_attribute("data-verdict", str(want.ways[0].verdict))
        first.get_by_role("button", name="Do this").click()
        saved(wheel)
        kept = Plate.objects.get(name="Wheel, breaking")
        for name, value in want.ways[0].changes.items():
            stored = getattr(kept, name)
            assert (str(stored) if name.endswith("_id") else stored) == value
        expect(finding(wheel, "rate")).not_to_have_attribute("data-verdict", "breaks")
        wheel.get_by_role("button", name="Undo Planner").click()
        expect(finding(wheel, "rate")).to_have_attribute("data-verdict", "breaks")
        saved(wheel)
        assert Plate.objects.get(name="Wheel, breaking").scale == 12.0

    def test_what_is_wished_for_changes_the_order(self, wheel: Page):
        tab(wheel, "Planner")
        first = wheel.locator('[data-way="1"]')
        before = first.inner_text()
        wheel.get_by_label("Picture quality").fill("0")
        wheel.get_by_label("Least light").fill("3")
        shot = core_shot("9")
        plate = next(p for p in shot.plates if p.name == "Wheel, breaking")
        want = planner.search(shot, plate, planner.Wishes(quality=0, light=3), most=8)
        # All of its reasons: one of them alone may be told of the first way of before, too.
        for reason in want.ways[0].reasons:
            expect(first).to_contain_text(reason)
        default = planner.search(shot, plate, planner.Wishes(), most=8).ways[0]
        assert default.changes != want.ways[0].changes
        expect(first).not_to_have_text(before, use_inner_text=True)

    def test_three_ways_side_by_side_and_over_the_frame(self, wheel: Page):
        tab(wheel, "Planner")
        for i in (1, 2, 3):
            wheel.locator(f'[data-way="{i}"]').get_by_label("compare").check()
        expect(wheel.locator("[data-overlay]")).to_have_count(3)
        table = wheel.get_by_test_id("compared")
        shot = core_shot("9")
        plate = next(p for p in shot.plates if p.name == "Wheel, breaking")
        for way in planner.search(shot, plate, planner.Wishes(), most=8).ways[:3]:
            expect(table).to_contain_text(f"{way.pixels_across:,.0f} px")
        # A fourth takes the place of the first.
        wheel.locator('[data-way="4"]').get_by_label("compare").check()
        expect(wheel.locator("[data-overlay]")).to_have_count(3)
        expect(wheel.locator('[data-way="1"]').get_by_label("compare")).not_to_be_checked()
        table.get_by_role("button", name="Take away").first.click()
        expect(wheel.locator("[data-overlay]")).to_have_count(2)

    def test_what_is_missing_is_named_and_what_is_lent_is_replaced(self, wheel: Page):
        tab(wheel, "Planner")
        wheel.get_by_label("keep the scale").check()
        wheel.get_by_label("own kit only").check()
        expect(wheel.get_by_test_id("misses")).to_contain_text("A mode that records")
        wheel.get_by_role("combobox", name="Without").select_option("28 mm prime")
        without = wheel.get_by_test_id("without")
        expect(without).to_contain_text("Wheel, breaking")
        expect(without).to_contain_text("instead")


class TestNumbers:
    def test_marks_tapes_and_eyelines(self, desk: Page):
        open_shot(desk, "the twins argue")
        tab(desk, "Marks")
        found = core_plate("3", "Half A: Ansa")
        (mark,) = found.marks
        table = desk.get_by_role("table")
        expect(table).to_contain_text(f"{mark.from_left_m:.3f} m")
        expect(table).to_contain_text(f"{mark.from_right_m:.3f} m")
        line = found.study.eyelines[0]
        expect(desk.get_by_text("looks at Ilse: mark")).to_contain_text(f"{line.height_m:.3f} m")
        end = desk.get_by_role("textbox", name="Left point, ahead")
        end.fill("500 mm")
        end.press("Enter")
        saved(desk)
        after = core_plate("3", "Half A: Ansa").marks[0]
        assert after.from_left_m != mark.from_left_m
        expect(table).to_contain_text(f"{after.from_left_m:.3f} m")

    def test_what_is_worth_a_tape_and_how_large_the_set_must_be(self, mill: Page):
        tab(mill, "Worth a tape")
        study = core_plate("2", "Mill miniature").study
        for advice in ("tape", "ignore"):
            rows = mill.locator(f'[data-advice="{advice}"]')
            for one in study.sensitivities:
                if one.advice == advice:
                    expect(rows).to_contain_text(one.name)
        tab(mill, "Set and detail")
        town = next(s for s in study.cover.surfaces if s.name == "Painted town")
        cover = mill.get_by_role("region", name="Set coverage")
        expect(cover).to_contain_text(f"{town.needed_width_m:.3f} m")
        expect(cover).to_contain_text(study.cover.advice)
        detail = mill.get_by_role("region", name="Detail budget")
        expect(detail).to_contain_text(f"{study.details[0].smallest_mm:.1f} mm")

    def test_the_working_of_any_number(self, mill: Page):
        mill.get_by_role("button", name="Working of Light needed").click()
        expect(mill.get_by_text("ISO 2720, flat receptor", exact=False)).to_be_visible()
        mill.keyboard.press("Escape")
        mill.get_by_role("button", name="Working of Lens axis height").click()
        expect(mill.get_by_role("cell", name="lowest this body reaches")).to_be_visible()

    def test_feet_foot_candles_thirds_and_times(self, mill: Page):
        mill.get_by_role("button", name="Units").click()
        for name in ("feet and inches", "foot-candles", "f/5.6⅓", "1/48 s"):
            mill.get_by_role("radio", name=name).check()
        mill.keyboard.press("Escape")
        expect(mill.get_by_role("textbox", name="Lens axis height")).to_have_value('4 1/8"')
        expect(finding(mill, "floor")).to_contain_text('17/32" too high')
        stop = mill.get_by_label("Stop", exact=True)
        stop.fill("f/5.6⅓")
        stop.press("Enter")
        shutter = mill.get_by_role("textbox", name=re.compile("^Shutter"))
        shutter.fill("1/96")
        shutter.press("Enter")
        table = mill.get_by_role("textbox", name="Table top above the floor")
        table.fill("2'6\"")
        table.press("Enter")
        saved(mill)
        plate = Plate.objects.get(name="Mill miniature")
        assert plate.f_number == pytest.approx(6.35, abs=0.01)
        assert plate.shutter_deg == pytest.approx(90)
        assert plate.table_m == pytest.approx(0.762)
        expect(stop).to_have_value("f/5.6⅓")
        expect(shutter).to_have_value("1/96 s")
        mill.reload()
        expect(mill.get_by_role("textbox", name="Lens axis height")).to_have_value('4 1/8"')
        # What is metric stays understood.
        table = mill.get_by_role("textbox", name="Table top above the floor")
        table.fill("800mm")
        table.press("Enter")
        saved(mill)
        assert Plate.objects.get(name="Mill miniature").table_m == pytest.approx(0.8)

    def test_numbers_are_copied_and_the_bench_is_printed(self, mill: Page):
        mill.context.grant_permissions(["clipboard-read", "clipboard-write"])
        mill.get_by_role("button", name="Copy the numbers as text").click()
        text = mill.evaluate("navigator.clipboard.readText()")
        assert text.startswith("Shot 2 The tide mill, wide: Mill miniature\n")
        assert "Lens axis height: 105 mm" in text
        assert "Lens floor breaks: The lens axis belongs 91.7 mm above" in text
        address = mill.get_by_role("link", name="Print the Bench").get_attribute("href")
        assert address is not None
        answer = mill.request.get(mill.url.split("/productions")[0] + address)
        assert answer.status == 200
        assert answer.body().startswith(b"%PDF")

    def test_the_keys_are_listed(self, mill: Page):
        mill.keyboard.press("?")
        expect(mill.get_by_role("dialog")).to_contain_text("before or after the best reframe")
        mill.keyboard.press("Escape")
        mill.keyboard.press("t")
        expect(mill.get_by_role("tab", name="Picture", exact=True)).to_have_attribute(
            "aria-selected", "true"
        )


def test_what_if_a_lens_were_lent_out(desk: Page, worker: None):
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    desk.get_by_role("link", name="Kit", exact=True).click()
    desk.get_by_text("What if something were lent out?").click()
    desk.get_by_role("group", name="Lenses").get_by_label("20 mm prime").check()
    desk.get_by_role("button", name="Look at every shot").click()
    table = desk.get_by_test_id("what-if")
    expect(table).to_contain_text("13 The heron flies", timeout=LONG_MS)
    expect(desk.get_by_role("status").filter(has_text="verdict")).to_be_visible()
    assert not Plate.objects.filter(shot__number="13").exclude(lens__name="20 mm prime").exists()
    table.get_by_role("link", name=re.compile("^13 The heron")).first.click()
    desk.get_by_test_id("frame").wait_for()


def test_lamps_rooms_and_loans_are_kept_in_the_kit(desk: Page):
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    desk.get_by_role("link", name="Kit", exact=True).click()
    desk.get_by_role("button", name="Living room").click()
    room = desk.get_by_role("group", name="Living room")
    height = room.get_by_role("textbox", name="Height")
    height.fill("8'")
    height.press("Enter")
    saved(desk)
    room.get_by_label("borrowed").check()
    room.get_by_label("from", exact=True).fill("2026-12-01")
    room.get_by_label("until").fill("2026-11-01")
    expect(room.get_by_role("alert")).to_contain_text("ends before it begins")
    room.get_by_label("until").fill("2026-12-24")
    saved(desk)
    from jungoptic.web.kit.models import Room

    kept = Room.objects.get(name="Living room")
    assert kept.height_m == pytest.approx(2.4384)
    assert (str(kept.loan_first), kept.borrowed) == ("2026-12-01", True)
