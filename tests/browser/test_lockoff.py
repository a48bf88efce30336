"""The Lock-off room as a person uses it: see what crosses, mend it, draw, cast, rig, cut, time."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from jungoptic.core.lockoff.roto import EDGES
from jungoptic.core.report.tricks import tricks
from jungoptic.core.stage.case import Case
from jungoptic.web.accounts.models import User
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.productions.models import Membership
from jungoptic.web.takes.models import SetCard

from .accessible import nothing_serious
from .conftest import open_shot, saved
from .test_bench import finding, ways_out


def open_room(page: Page, title: str, plate: str, section: str = "") -> None:
    """A shot's Lock-off, one plate of it, one part of it."""
    open_shot(page, title)
    page.get_by_role("link", name="Lock-off").click()
    nav = page.get_by_role("navigation", name="Tricks and plates")
    nav.get_by_role("button", name=re.compile(plate)).last.click()
    if section:
        nav.get_by_role("button", name=re.compile(section)).first.click()


def core_tricks(number: str, plate: str):
    shot = load(plan_json(Shot.objects.select_related("production").get(number=number)))
    found = next(p for p in shot.plates if p.name.startswith(plate))
    case = Case.of(shot, found)
    assert case is not None
    return tricks(case)


def test_the_elbow_over_the_line_is_seen_and_mended(desk: Page):
    open_room(desk, "the twins argue", "Half B: Ilse", "Split")
    expect(finding(desk, "split")).to_have_attribute("data-verdict", "breaks")
    want = core_tricks("3", "Half B")
    row = desk.get_by_test_id("crossings").locator("tbody tr").first
    expect(row).to_contain_text(f"over {want.splits[0].crossings[0].over_px:.0f} px")
    expect(desk.locator('[data-mark="reach"]').first).to_be_attached()
    expect(desk.get_by_test_id("strip-marks").locator("tbody tr")).to_have_count(6)

    remedies = ways_out(desk, "split").get_by_role("listitem")
    remedies.filter(has_text="to the right").get_by_role("button", name="Do this").click()
    expect(finding(desk, "split")).not_to_have_attribute("data-verdict", "breaks")
    saved(desk)
    assert StandIn.objects.get(shot__number="3", name="Ilse").x_m > 0.75
    desk.get_by_role("button", name="Undo Remedy").click()
    expect(finding(desk, "split")).to_have_attribute("data-verdict", "breaks")

    # The line itself moves as well: by a remedy of the shot, and by hand.
    remedies = ways_out(desk, "split").get_by_role("listitem")
    remedies.filter(has_text="Move the line").get_by_role("button", name="Do this").click()
    expect(finding(desk, "split")).not_to_have_attribute("data-verdict", "breaks")
    saved(desk)
    moved = Shot.objects.get(number="3").splits[0]["keys"][0]["points"][0][0]
    assert moved < 0.5
    grip = desk.get_by_role("button", name="the line, point 1 of 2")
    grip.focus()
    desk.keyboard.press("Shift+ArrowRight")
    saved(desk)
    by_hand = Shot.objects.get(number="3").splits[0]["keys"][0]["points"]
    assert by_hand[0][0] == pytest.approx(moved + 20 / 1920, abs=1e-4)
    assert by_hand[1][0] == pytest.approx(moved, abs=1e-4)


def test_a_line_is_drawn_bent_dragged_and_keyed(desk: Page):
    open_room(desk, "The lantern drifts", "Rig take", "Split")
    desk.get_by_role("button", name="Draw a line").click()
    expect(desk.locator('[data-mark="divider"]')).to_be_attached()
    desk.get_by_role("button", name="Bend it").click()
    middle = desk.get_by_role("button", name="the line, point 2 of 3")
    box = middle.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    desk.mouse.move(x, y)
    desk.mouse.down()
    desk.mouse.move(x + 40, y + 10, steps=4)
    desk.mouse.up()
    saved(desk)
    (split,) = Shot.objects.get(number="12").splits
    assert split["keys"][0]["points"][1][0] > 0.55
    desk.get_by_label("Screen time").fill("73")
    desk.get_by_role("button", name="Key at frame 73").click()
    expect(desk.get_by_label("Keys of the line").get_by_role("listitem")).to_have_count(2)
    desk.get_by_role("button", name="Straighten").click()
    saved(desk)
    (split,) = Shot.objects.get(number="12").splits
    assert [len(k["points"]) for k in split["keys"]] == [2, 2]
    desk.get_by_role("button", name="Take it away").click()
    expect(desk.locator('[data-mark="divider"]')).to_have_count(0)
    desk.get_by_role("button", name="Undo Take the line away").click()
    expect(desk.locator('[data-mark="divider"]')).to_be_attached()
    saved(desk)


def test_what_is_thrown_and_the_line_that_runs_ahead(desk: Page):
    open_room(desk, "The oilskin", "A: throw", "Split")
    want = core_tricks("7", "A:").splits[0].flight
    assert want is not None
    expect(desk.get_by_test_id("flight")).to_contain_text(f"{want.speed_m_s:.1f} m/s")
    expect(finding(desk, "throw")).to_have_attribute("data-verdict", "holds")
    before = desk.locator('[data-mark="divider"]').get_attribute("d")
    desk.get_by_label("Screen time").fill("22")
    expect(desk.locator('[data-mark="thrown"]')).to_be_attached()
    expect(desk.locator('[data-mark="divider"]')).not_to_have_attribute("d", before or "")
    # Fewer keys: the line no longer runs ahead of it.
    for frame in (25, 14):
        desk.get_by_role("button", name=f"Remove the key at frame {frame}").click()
    expect(finding(desk, "throw")).to_have_attribute("data-verdict", "breaks")
    ways_out(desk, "throw").get_by_role("button", name="Do this").first.click()
    expect(finding(desk, "throw")).to_have_attribute("data-verdict", "holds")
    saved(desk)


def test_one_camera_for_the_whole_lock_off_and_takes_that_are_orphaned(desk: Page):
    open_shot(desk, "the twins argue")
    desk.get_by_role("button", name=re.compile("^Half B")).click()
    expect(desk.get_by_test_id("lock-note")).to_contain_text("Half A: Ansa")
    stop = desk.get_by_label("Stop", exact=True)
    stop.fill("f/8")
    stop.press("Enter")
    saved(desk)
    shared = Plate.objects.filter(shot__number="3").exclude(lock_group="")
    assert set(shared.values_list("f_number", flat=True)) == {8.0}
    desk.get_by_role("button", name=re.compile("^Half A")).click()
    expect(finding(desk, "lock")).to_have_attribute("data-verdict", "breaks")
    expect(finding(desk, "lock")).to_contain_text("no longer fit")
    ways_out(desk, "lock").get_by_role("button", name="Do this").click()
    expect(finding(desk, "lock")).to_have_attribute("data-verdict", "holds")
    saved(desk)
    assert set(shared.values_list("f_number", flat=True)) == {5.6}
    # Both were one step each.
    desk.get_by_role("button", name="Undo Remedy").click()
    saved(desk)
    assert set(shared.values_list("f_number", flat=True)) == {8.0}


def test_checklist_clean_plate_and_a_mirrored_half(desk: Page):
    open_room(desk, "the twins argue", "Half B: Ilse", "Lock and")
    want = core_tricks("3", "Half B")
    items = desk.get_by_test_id("lock-checklist").get_by_role("listitem")
    expect(items).to_have_count(len(want.checklist))
    expect(items.filter(has_text="White balance by number")).to_contain_text("3200 K")
    expect(desk.get_by_test_id("clean-seconds")).to_have_text("20 s")
    desk.get_by_role("button", name=re.compile("^Split and throw")).click()
    desk.get_by_label(re.compile("filmed the other way round")).check()
    expect(desk.get_by_test_id("handed")).to_contain_text("parting")
    saved(desk)
    assert Plate.objects.get(name="Half B: Ilse").flop
    assert not Plate.objects.get(name="Half A: Ansa").flop


def test_eight_friends_become_forty(desk: Page):
    open_room(desk, "Forty lamp-bearers", "Tiles of the crowd", "Crowd")
    want = core_tricks("10", "Tiles").crowd
    assert want is not None
    expect(desk.get_by_test_id("crowd-total")).to_contain_text(f"{want.achieved} people")
    expect(desk.locator('[data-mark="pass"]')).to_have_count(len(want.laid.tiles) - 1)
    people = desk.get_by_label("Friends who came")
    people.fill("4")
    people.press("Enter")
    expect(desk.get_by_test_id("crowd-total")).not_to_contain_text("in 5 passes")
    saved(desk)
    want = core_tricks("10", "Tiles").crowd
    assert want is not None
    expect(desk.get_by_test_id("crowd-total")).to_contain_text(f"in {len(want.laid.tiles)} passes")
    desk.get_by_role("group", name="Pass").get_by_role("button", name="2", exact=True).click()
    expect(desk.get_by_test_id("crowd-cast").locator("tbody tr")).to_have_count(
        want.laid.tiles[1].people
    )


def test_the_thread_before_a_face_and_the_rigs_side_by_side(desk: Page):
    open_room(desk, "The lantern drifts", "Rig take", "Rig")
    expect(finding(desk, "rig")).to_have_attribute("data-verdict", "breaks")
    expect(finding(desk, "rig")).to_contain_text("in front of Ansa")
    want = {r.kind: r for r in core_tricks("12", "Rig take").rigs}
    for kind in ("thread", "rod", "hand"):
        row = desk.locator(f'[data-rig="{kind}"]')
        expect(row).to_contain_text(f"{want[kind].thick_px:.1f} px")
        expect(row).to_contain_text(f"{want[kind].hours.likely:.1f} h")
    expect(desk.locator('[data-mark="rig"]')).to_be_attached()
    ways_out(desk, "rig").get_by_role("button", name="Do this").first.click()
    expect(finding(desk, "rig")).to_have_attribute("data-verdict", "holds")
    weight = desk.get_by_label("Weighs, kg")
    weight.fill("2")
    weight.press("Enter")
    expect(finding(desk, "load")).to_have_attribute("data-verdict", "breaks")
    spin = desk.get_by_label("Spins on set, turns a second")
    spin.fill("2")
    spin.press("Enter")
    expect(desk.get_by_test_id("spin")).to_contain_text("12.0 frames a turn")
    saved(desk)


def test_the_picture_is_cut_before_it_is_masked(desk: Page):
    open_room(desk, "The key slides", "Object with the hand", "Reframe")
    want = core_tricks("4", "Object with").reframe
    assert want is not None
    expect(desk.get_by_test_id("reframe-saved")).to_contain_text(f"{want.saved * 100:.0f} %")
    expect(desk.locator('[data-mark="cut"]')).to_have_count(2)
    desk.get_by_label("Deliver it in another shape as well").select_option(
        label="Square, 1080 × 1080"
    )
    expect(desk.locator('[data-mark="cut"]')).to_have_count(3)
    desk.get_by_role("button", name="Do not deliver Square").click()
    expect(desk.locator('[data-mark="cut"]')).to_have_count(2)
    closer = desk.get_by_label("Times closer").last
    closer.fill("2")
    closer.press("Enter")
    expect(finding(desk, "reframe")).to_have_attribute("data-verdict", "breaks")
    saved(desk)


def test_cutting_by_hand_markers_and_beats(desk: Page):
    open_room(desk, "The key slides", "Object with the hand", "Cut out")
    want = core_tricks("4", "Object with").roto
    assert want is not None
    expect(desk.get_by_test_id("roto")).to_contain_text(f"{want.nth.likely:.1f} h")
    desk.get_by_label("Its edge", exact=True).select_option("hair")
    # It moves, so its edge was reckoned soft.
    assert want.edge == "soft"
    hair = want.nth.likely / EDGES["soft"] * EDGES["hair"]
    expect(desk.get_by_test_id("roto")).to_contain_text(f"{hair:.1f} h")
    desk.get_by_role("button", name="Plan markers").click()
    expect(desk.get_by_test_id("markers")).to_be_visible()
    saved(desk)
    desk.get_by_role("button", name=re.compile("^Timing")).click()
    desk.get_by_role("button", name="Beat at frame 1").click()
    name = desk.get_by_label("What happens")
    name.fill("The key begins to slide")
    name.press("Enter")
    saved(desk)
    desk.get_by_label("a sound cues it").check()
    expect(desk.get_by_role("region", name="Sound cues")).to_contain_text("The key begins to slide")
    desk.get_by_role("button", name="Change speed at frame 1").click()
    saved(desk)
    (beat,) = Shot.objects.get(number="4").beats
    assert (beat["name"], beat["cue"]) == ("The key begins to slide", True)
    assert Plate.objects.get(shot__number="4", name__startswith="Object with").ramp == [
        {"frame": 1, "speed": 0.5}
    ]


def test_the_card_carries_strip_and_checklist(desk: Page):
    open_shot(desk, "the twins argue")
    desk.get_by_role("button", name=re.compile("^Half B")).click()
    # It breaks as it is planned: the card is not issued in silence.
    desk.get_by_role("button", name="Issue a set card").click()
    warning = desk.get_by_role("dialog", name="This plate breaks as it is planned")
    expect(warning.get_by_role("listitem").first).to_be_visible()
    warning.get_by_role("button", name="Mend it first").click()
    expect(warning).to_have_count(0)
    assert not SetCard.objects.filter(plate__name="Half B: Ilse").exists()
    desk.get_by_role("button", name="Issue a set card").click()
    desk.get_by_role("button", name="Issue it all the same").click()
    expect(desk.get_by_role("rowheader", name="Strip, left edge, near")).to_be_visible()
    expect(desk.get_by_text("White balance by number: 3200 K")).to_be_visible()
    assert SetCard.objects.filter(plate__name="Half B: Ilse").exists()


def test_nothing_serious_for_a_screen_reader(desk: Page):
    # Whatever the shot has not, its part of the room teaches; the others are full.
    for title, plate, sections in (
        ("the twins argue", "Half B: Ilse", ("Lock and", "Split", "Timing", "Crowd")),
        ("Forty lamp-bearers", "Tiles of the crowd", ("Crowd",)),
        ("The key slides", "Object with the hand", ("Rig", "Reframe", "Cut out")),
    ):
        open_room(desk, title, plate)
        nav = desk.get_by_role("navigation", name="Tricks and plates")
        for section in sections:
            nav.get_by_role("button", name=re.compile(section)).first.click()
            desk.wait_for_timeout(400)
            nothing_serious(desk, f"{title}: {section}")
        desk.get_by_role("link", name="Jungoptic").click()


def test_a_viewer_sees_and_changes_nothing(desk: Page):
    Membership.objects.filter(user=User.objects.get(username="supervisor")).update(role="viewer")
    open_room(desk, "the twins argue", "Half B: Ilse", "Split")
    desk.get_by_test_id("crossings").wait_for()
    expect(desk.get_by_role("button", name="Draw a line")).to_have_count(0)
    expect(desk.locator('[data-grip^="divider"]')).to_have_count(0)
    expect(desk.get_by_label("Feather")).to_be_disabled()
