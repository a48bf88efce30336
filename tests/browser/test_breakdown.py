"""The breakdown as a person does it: the Board, a method, sketches, hours, bringing in a list."""

from __future__ import annotations

import io
import re

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from jungoptic.web.breakdown.models import LoggedHours, ReadCaution, Thread
from jungoptic.web.jobs.models import Job
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.productions.models import Production
from jungoptic.web.sketches.models import Annotation, Sketch

from .conftest import LONG_MS, follow, saved


@pytest.fixture
def board(desk: Page) -> Page:
    """The Board of the demo, with its verdicts in."""
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    row(desk, "2").get_by_text("Mend what breaks").wait_for()
    return desk


def row(page: Page, number: str):
    """A row of the Board by its shot's number."""
    exact = page.locator(".num", has_text=re.compile(f"^{number}$"))
    return page.locator("[data-shot]").filter(has=exact)


def numbers(page: Page) -> list[str]:
    return page.locator("[data-shot] .num").all_inner_texts()


def choose(page: Page, *wanted: str) -> None:
    for number in wanted:
        box = row(page, number).get_by_role("checkbox")
        box.click()
        # As in `follow`: rows grow while verdicts come in.
        try:
            expect(box).to_be_checked(timeout=3_000)
        except AssertionError:
            box.click()
            expect(box).to_be_checked()


def room(page: Page, number: str, name: str) -> None:
    """From the Board to a room of a shot."""
    follow(page, row(page, number).get_by_role("link"))
    rooms = page.get_by_role("navigation", name="Rooms of the shot")
    follow(page, rooms.get_by_role("link", name=name))


#: The demo's shots as the Board has them: five were written in between the others.
NUMBERS = ["1", "2", "3", "3A", "4", "5", "6", "7", "7A", "8", "9", "9A"]
NUMBERS += ["10", "10A", "10B", "11", "12", "13", "14"]


def test_the_board_tells_what_there_is_and_what_is_next(board: Page):
    assert numbers(board) == NUMBERS
    mill = row(board, "2")
    expect(mill).to_contain_text("Performer in a miniature")
    expect(mill).to_contain_text("Mill miniature: Lens floor")
    expect(row(board, "3")).to_contain_text("Half B: Ilse: Divider")
    expect(row(board, "12")).to_contain_text("Rig take: Rig")
    expect(mill.locator("img")).to_have_js_property("naturalWidth", 480)
    expect(board.get_by_test_id("board-sums")).to_contain_text("19 shots")


def test_filters_and_search_narrow_it(board: Page):
    board.keyboard.press("/")
    board.keyboard.type("heron flies")
    expect(board.locator("[data-shot]")).to_have_count(1)
    expect(board.get_by_test_id("board-sums")).to_contain_text("1 shot of 19")
    board.get_by_role("button", name="Show all").click()
    board.get_by_label("Trouble").select_option("breaks")
    expect(board.locator("[data-shot]")).to_have_count(7)
    board.get_by_label("Trouble").select_option("")
    board.get_by_label("Kind of plate").select_option("puppet")
    assert numbers(board) == ["5", "6", "13"]
    board.get_by_label("Place", exact=True).select_option("Kitchen")
    expect(board.get_by_text("No shot is like that")).to_be_visible()


def test_reordering_by_keyboard_by_hand_and_back(board: Page):
    row(board, "2").get_by_role("link").focus()
    board.keyboard.press("Alt+ArrowDown")
    expect(board.locator("[data-shot] .num").nth(2)).to_have_text("2")
    saved(board)
    assert list(Shot.objects.values_list("number", flat=True))[:3] == ["1", "3", "2"]
    board.keyboard.press("Control+z")
    expect(board.locator("[data-shot] .num").nth(1)).to_have_text("2")

    grip = row(board, "4").get_by_role("button", name="Drag shot 4")
    box, target = grip.bounding_box(), row(board, "2").bounding_box()
    assert box
    assert target
    board.mouse.move(box["x"] + 5, box["y"] + 5)
    board.mouse.down()
    for i in range(1, 6):
        board.mouse.move(box["x"] + 5, box["y"] + (target["y"] + 5 - box["y"]) * i / 5)
    board.mouse.up()
    expect(board.locator("[data-shot] .num").nth(1)).to_have_text("4")
    saved(board)
    board.get_by_role("button", name="Undo Reorder").click()
    expect(board.locator("[data-shot] .num").nth(1)).to_have_text("2")
    board.get_by_role("button", name="Redo Reorder").click()
    expect(board.locator("[data-shot] .num").nth(1)).to_have_text("4")


def test_several_shots_at_once(board: Page):
    choose(board, "5", "6")
    bar = board.get_by_role("toolbar", name="With the chosen shots")
    expect(bar).to_contain_text("2 shots chosen")
    bar.get_by_role("button", name="Place and day").click()
    dialog = board.get_by_role("dialog")
    dialog.get_by_label("Place").fill("Back room")
    dialog.get_by_label("Day of filming").fill("2026-12-05")
    dialog.get_by_role("button", name="Set them").click()
    expect(row(board, "6")).to_contain_text("Back room")
    saved(board)
    days = Plate.objects.filter(shot__number__in=["5", "6"]).values_list("film_on", flat=True)
    assert {str(d) for d in days} == {"2026-12-05"}
    bar.get_by_role("button", name="Merge").click()
    expect(board.locator("[data-shot]")).to_have_count(18)
    saved(board)
    # Two cameras: the second one's picture is a further view of the first.
    merged = Shot.objects.get(number="5")
    assert [merged.screen_time_s, *(v["screen_time_s"] for v in merged.views)] == [4.0, 5.0]
    expect(row(board, "5")).to_contain_text("9 s · 2 views")
    board.get_by_role("button", name="Undo Merge 2 shots").click()
    expect(board.locator("[data-shot]")).to_have_count(19)
    board.get_by_role("button", name="Choose none").click()

    choose(board, "9")
    bar.get_by_role("button", name="Split").click()
    dialog.get_by_label("Split after").fill("1.2")
    dialog.get_by_role("button", name="Split it").click()
    expect(row(board, "9b")).to_contain_text("1.8 s")
    bar.get_by_role("button", name="Duplicate as variant").click()
    expect(board.locator("[data-shot]")).to_have_count(21)
    bar.get_by_role("button", name="Remove").click()
    expect(board.locator("[data-shot]")).to_have_count(20)
    saved(board)
    board.get_by_role("button", name="Undo Remove a shot").click()
    expect(row(board, "9")).to_be_visible()


def test_three_hundred_shots_stay_in_hand(desk: Page):
    from jungoptic.web.productions.models import Production

    production = Production.objects.get(name="The Lock-Keeper's Heron")
    Shot.objects.bulk_create(
        Shot(
            production=production,
            number=f"x{i}",
            title=f"Extra {i}",
            position=100 + i,
            delivery_width_px=1920,
            delivery_height_px=804,
            playback_fps=24,
        )
        for i in range(300)
    )
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    expect(desk.locator("[data-shot]")).to_have_count(319)
    # A row is made when it comes near what is looked at; until then its name keeps its place.
    made = desk.locator("[data-row-link]")
    expect(made.first).to_be_visible()
    assert made.count() < 100
    last = desk.locator("[data-shot]").last
    expect(last).to_contain_text("Extra 299")
    last.scroll_into_view_if_needed()
    expect(last.get_by_role("link")).to_be_visible()
    assert made.count() < 200
    desk.get_by_label("Search the shots").fill("extra 299")
    expect(desk.locator("[data-shot]")).to_have_count(1)


def test_a_method_from_facts_to_plates_and_back(board: Page):
    board.get_by_label("Number").fill("15")
    board.get_by_label("What we see").fill("Ansa meets herself")
    board.get_by_role("button", name="Add the shot").click()
    expect(row(board, "15")).to_contain_text("Choose a way to build it")
    room(board, "15", "Method")
    board.get_by_label("The same performer twice").check()
    best = board.locator("[data-option]").first
    expect(best).to_contain_text("Twin, static split")
    expect(board.get_by_test_id("turns")).to_contain_text("With a moving camera")
    best.get_by_role("button").click()
    expect(board.get_by_text("Would add:")).to_contain_text("Half A, Half B, Clean plate")
    board.get_by_role("button", name="Apply to this shot").click()
    expect(board.get_by_text("Added: Half A, Half B, Clean plate.")).to_be_visible()
    shot = Shot.objects.get(number="15")
    assert shot.facts["shows"] == ["performer", "double"]
    assert shot.plates.count() == 3
    board.get_by_role("button", name="Undo").click()
    expect(board.get_by_role("button", name="Apply to this shot")).to_be_enabled()
    assert shot.plates.count() == 0
    board.get_by_role("button", name="Apply to this shot").click()
    board.get_by_role("link", name="To the Bench").click()
    expect(board.get_by_role("button", name=re.compile("^Half A"))).to_be_visible()
    expect(board.get_by_test_id("drawing-elevation")).to_be_visible()

    # A second recipe joins the first; its cautions cannot be unticked.
    board.get_by_role("link", name="Method").click()
    board.get_by_label("Any other recipe of the book").select_option("wire-rod-rig")
    board.get_by_role("button", name="Apply to this shot").click()
    expect(board.get_by_text("On a wire or rod is applied.")).to_be_visible()
    board.get_by_role("link", name="To the Bench").click()
    board.get_by_role("button", name=re.compile("^Rig take")).click()
    board.get_by_text("Name, note, hazards").click()
    lifting = board.get_by_label("Lifting and hanging (recipe)")
    expect(lifting).to_be_checked()
    expect(lifting).to_be_disabled()


def test_an_edit_is_spared_when_the_recipe_comes_again(board: Page):
    room(board, "4", "Bench")
    board.get_by_role("button", name=re.compile("^Object alone")).click()
    stop = board.get_by_label("Stop", exact=True)
    stop.fill("f/11")
    stop.press("Enter")
    board.get_by_text("Order and post work").click()
    board.get_by_label("Takes expected").fill("7")
    board.get_by_label("Takes expected").press("Enter")
    saved(board)
    board.get_by_role("link", name="Method").click()
    expect(board.get_by_text("takes planned stays 7, as you set it")).to_be_visible()
    expect(board.get_by_role("button", name="Apply it again")).to_be_disabled()


def test_the_way_a_shot_is_built_becomes_a_recipe(board: Page):
    room(board, "2", "Method")
    board.get_by_role("button", name="Save the way this shot is built").click()
    board.get_by_role("dialog").get_by_label("Name").fill("Our tide mill")
    board.get_by_role("button", name="Save it in the book").click()
    expect(board.get_by_role("heading", name="Our tide mill")).to_be_visible()
    board.get_by_role("link", name="The Lock-Keeper's Heron").click()
    board.get_by_role("link", name="Recipes").click()
    board.get_by_label("Search the book").fill("our tide")
    expect(board.get_by_role("heading", name="Your own")).to_be_visible()
    expect(board.get_by_test_id("drawing-plan")).to_be_visible()
    board.get_by_role("button", name="Remove from the book").click()
    board.get_by_role("button", name="Remove it").click()
    expect(board.get_by_text("Nothing in the book says that")).to_be_visible()


def test_the_book_is_read_and_searched(board: Page):
    board.get_by_role("link", name="Recipes").click()
    board.get_by_label("Search the book").fill("pendulum")
    expect(board.get_by_role("heading", name="On a wire or rod")).to_be_visible()
    expect(board.get_by_text("licensed riggers only").first).to_be_visible()
    expect(board.get_by_test_id("drawing-elevation")).to_be_visible()
    board.get_by_label("Search the book").fill("")
    board.get_by_role("button", name="Performer in a miniature").click()
    before = board.get_by_test_id("drawing-plan").inner_html()
    board.get_by_role("button", name="Performer on a screen").click()
    expect(board.get_by_test_id("drawing-plan")).to_contain_text("Performer")
    assert board.get_by_test_id("drawing-plan").inner_html() != before


def finding(page: Page, part: str):
    return page.locator(f'[data-finding*="{part}"]').first


def test_marks_on_a_sketch_say_what_crosses(board: Page):
    room(board, "13", "Sketches")
    tree = board.locator('[data-finding^="matte:"][data-verdict="breaks"]')
    expect(tree).to_contain_text("Poplar is 7.400 m tall at 31.00 m")
    expect(tree).to_contain_text("Tilt 1.1° up.")
    expect(board.locator("[data-crossing]")).to_have_count(2)

    # Draw a hold-out round the poplar, and name it: then it only strains.
    board.get_by_role("button", name="Hold-out").click()
    box = board.get_by_test_id("marks").bounding_box()
    assert box
    for x, y in ((0.66, 0.12), (0.72, 0.12), (0.72, 0.75), (0.66, 0.75)):
        board.mouse.click(box["x"] + box["width"] * x, box["y"] + box["height"] * y)
    board.keyboard.press("Enter")
    board.get_by_role("button", name="Pick and move").click()
    sheet = board.get_by_test_id("mark-sheet")
    sheet.get_by_label("Name").fill("Poplar")
    sheet.get_by_label("Name").press("Enter")
    expect(tree).to_have_count(0)
    expect(board.get_by_text("it is planned as a hold-out")).to_be_visible()
    saved(board)
    assert len(Annotation.objects.get(layer="holdout").points) == 4

    # The sky line is dragged above everything, and back by undo.
    line = Annotation.objects.get(layer="matte")
    board.get_by_role("button", name="1. Sky line").click()
    handle = board.locator('[data-handle="1"]').first.bounding_box()
    assert handle
    board.mouse.move(handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2)
    board.mouse.down()
    board.mouse.move(handle["x"] + 20, handle["y"] - 60, steps=5)
    board.mouse.up()
    saved(board)
    moved = Annotation.objects.get(pk=line.pk).points
    assert moved[1][1] < line.points[1][1] - 0.05
    assert moved[0] == line.points[0]
    board.get_by_role("button", name="Undo Move a mark").click()
    saved(board)
    board.wait_for_timeout(300)
    assert Annotation.objects.get(pk=line.pk).points == line.points


def png(size=(80, 50), color="gray") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, color).save(out, "PNG")
    return out.getvalue()


def test_a_scout_still_with_one_known_thing(board: Page):
    room(board, "1", "Sketches")
    upload = board.locator("#sketch-file")
    upload.set_input_files({"name": "x.png", "mimeType": "image/png", "buffer": b"GIF89a nothing"})
    expect(board.get_by_role("alert")).to_contain_text("This is a GIF, whatever its name says")
    assert Sketch.objects.filter(shot__number="1").count() == 1
    upload.set_input_files(
        {"name": "Sea wall.png", "mimeType": "image/png", "buffer": png((800, 500))}
    )
    expect(board.get_by_role("button", name="Sea wall")).to_have_attribute("aria-pressed", "true")
    expect(board.get_by_text("Its camera is not known")).to_be_visible()
    box = board.get_by_test_id("marks").bounding_box()
    assert box

    def draw(layer: str, *points: tuple[float, float]) -> None:
        board.get_by_role("button", name=layer).click()
        for x, y in points:
            board.mouse.click(box["x"] + box["width"] * x, box["y"] + box["height"] * y)
        board.keyboard.press("Enter")
        board.get_by_role("button", name="Pick and move").click()

    draw("Matte line", (0.05, 0.4), (0.95, 0.4))
    draw("Reference point", (0.5, 0.3), (0.5, 0.8))
    sheet = board.get_by_test_id("mark-sheet")
    sheet.get_by_role("textbox", name="Distance").fill("12 m")
    sheet.get_by_role("textbox", name="Distance").press("Enter")
    sheet.get_by_role("textbox", name="Height of the thing").fill("3 m")
    sheet.get_by_role("textbox", name="Height of the thing").press("Enter")
    expect(board.get_by_text("worked out from the thing")).to_be_visible()
    expect(finding(board, "matte:")).to_contain_text("above matte line")
    with board.expect_popup() as paper:
        board.get_by_role("link", name="PDF with marks").click()
    paper.value.close()


def test_threads_and_light_sides(board: Page):
    board.get_by_role("link", name="Continuity").click()
    board.get_by_role("button", name="Begin a thread").click()
    dialog = board.get_by_role("dialog")
    dialog.get_by_label("What must recur").fill("Wet floor")
    dialog.get_by_label("Kitchen", exact=True).check()
    dialog.get_by_role("button", name="Save the thread").click()
    cell = board.get_by_role("button", name=re.compile("Wet floor in shot 3:"))
    expect(cell).to_be_visible()
    cell.click()
    dialog.get_by_role("button", name="It is kept").click()
    expect(
        board.get_by_role("button", name="Wet floor in shot 3: Wet floor is kept in 1 plate.")
    ).to_be_visible()
    assert Thread.objects.get(name="Wet floor").kept.get().shot.number == "3"

    light = board.get_by_role("button", name=re.compile("^Shot 4: key from")).first
    light.locator("circle").click()
    expect(board.get_by_test_id("light-finding")).to_contain_text("110° apart")
    key = board.get_by_role("textbox", name="Key from (0 ahead, 90 right)")
    key.fill("-150")
    key.press("Enter")
    expect(board.get_by_test_id("light-finding")).not_to_contain_text("110° apart")
    saved(board)
    assert Shot.objects.get(number="4").key_from_deg == -150


def test_hours_are_logged_and_cautions_read(board: Page):
    room(board, "7", "Hours and cautions")
    part = board.locator('[data-part="A: throw and filler action"]')
    part.get_by_text("what if it were cut another way").click()
    expect(part.locator('[data-way="roto"]')).to_contain_text("Cut out by hand")
    before = board.get_by_test_id("shot-hours").inner_text()
    part.get_by_label("Hours that A: throw and filler action took, set").fill("3,5")
    part.get_by_role("button", name="Log").first.click()
    expect(part).to_contain_text("set took 3.5 h")
    expect(board.get_by_test_id("shot-hours")).not_to_have_text(before)
    assert LoggedHours.objects.get(shot__number="7").hours == 3.5
    expect(board.locator('[data-pace="set"]')).to_contain_text("from 3 logged pieces")
    board.locator('[data-pace="set"]').get_by_text("working").click()
    expect(board.get_by_text("James and Stein 1961")).to_be_visible()
    board.keyboard.press("Escape")
    lamps = board.locator('[data-caution="lamps"]')
    lamps.get_by_label("Who has read").fill("Per")
    lamps.get_by_role("button", name="Acknowledge").click()
    expect(lamps).to_contain_text("Read by Per (20")
    assert ReadCaution.objects.filter(shot__number="7", hazard="lamps", name="Per").exists()


def test_days_carry_hours_and_cautions(board: Page):
    board.get_by_role("link", name="Hours and days").click()
    day = board.locator('[data-day="2026-11-28"]')
    expect(day).to_contain_text("2 The tide mill, wide: Mill miniature")
    expect(day.locator('[data-caution="fire"]')).to_contain_text("licensed people only")
    board.get_by_role("tab", name="Recipes").click()
    expect(board.get_by_text("Shots as a whole: comp and grade")).to_be_visible()
    board.get_by_role("tab", name="The table").click()
    expect(board.get_by_role("table").first).to_contain_text(
        "Mend a shape half-way between two keys"
    )
    expect(board.get_by_test_id("subjects")).to_contain_text("A person who walks or waves")


def test_the_breakdown_is_printed_behind_the_scenes(board: Page, worker: None):
    board.get_by_role("button", name="In and out").click()
    board.get_by_role("menuitem", name="Breakdown on paper").click()
    line = board.get_by_test_id("job-breakdown-pdf")
    expect(line).to_contain_text("Breakdown on paper")
    link = line.get_by_role("link", name="Open the breakdown")
    expect(link).to_be_visible(timeout=LONG_MS)
    address = link.get_attribute("href")
    answer = board.request.get(board.url.split("/productions")[0] + f"{address}")
    assert answer.body().startswith(b"%PDF")
    line.get_by_role("button", name="Put away").click()
    expect(line).to_be_hidden()


def test_what_nobody_waits_for_is_stopped(board: Page):
    """Nobody does long work here, so it waits until it is stopped; and it is found again."""
    board.get_by_role("button", name="In and out").click()
    board.get_by_role("menuitem", name="Breakdown on paper").click()
    line = board.get_by_test_id("job-breakdown-pdf")
    expect(line).to_contain_text("waiting for its turn")
    board.reload()
    expect(line).to_contain_text("waiting for its turn")
    line.get_by_role("button", name="Stop").click()
    expect(line).to_be_hidden()
    assert Job.objects.get().state == "cancelled"


TABLE = "No;Picture;Where;Len\n1;Dawn over the flooded town;Pier;7\n30;A new shot;;x\n"


def test_a_table_is_mapped_shown_and_brought_in(board: Page):
    board.get_by_role("button", name="In and out").click()
    board.get_by_role("menuitem", name="Bring in a table").click()
    file = board.locator("#import-file")
    file.set_input_files({"name": "a.csv", "mimeType": "text/csv", "buffer": b"one column\n1\n"})
    expect(board.get_by_role("alert")).to_contain_text("Only one column was found")
    file.set_input_files(
        {"name": "shots.csv", "mimeType": "text/csv", "buffer": TABLE.encode("utf-8-sig")}
    )
    board.get_by_label("What we see (title) (needed)").select_option("Picture")
    board.get_by_label("Place").select_option("Where")
    board.get_by_label("Screen time").select_option("Len")
    counts = board.get_by_test_id("plan-counts")
    expect(counts).to_have_text("0 new · 1 changed · 0 the same · 1 problem")
    expect(board.locator('[data-fate="error"]')).to_contain_text("“x” is no number")
    expect(board.locator('[data-fate="changed"]')).to_contain_text("Place: Sea wall → Pier")
    bring = board.get_by_role("button", name="Bring in 1 shots")
    expect(bring).to_be_disabled()
    board.get_by_label("Leave out the 1 line").check()
    bring.click()
    expect(board.get_by_text("Brought in.")).to_be_visible()
    assert Shot.objects.get(number="1").place == "Pier"
    board.get_by_role("button", name="Take it back").click()
    expect(counts).to_contain_text("1 changed")
    assert Shot.objects.get(number="1").place == "Sea wall"


def test_a_new_cut_is_matched_by_name(board: Page):
    from jungoptic.web.demo.shots import edit_list

    board.get_by_role("button", name="In and out").click()
    board.get_by_role("menuitem", name="Bring in a table").click()
    file = board.locator("#import-file")
    file.set_input_files({"name": "cut.edl", "mimeType": "text/plain", "buffer": b"nonsense"})
    expect(board.get_by_role("alert")).to_be_visible()
    shorter = edit_list().replace("LKH_140", "LKH_150")
    file.set_input_files({"name": "cut2.edl", "mimeType": "text/plain", "buffer": shorter.encode()})
    expect(board.get_by_test_id("plan-counts")).to_have_text(
        "1 new · 0 changed · 13 the same · 0 problems"
    )
    expect(board.get_by_text("Not in this list")).to_contain_text("14 The photograph of 1911")
    board.get_by_role("button", name="Bring in 1 shots").click()
    board.get_by_role("link", name="To the Board").click()
    expect(board.locator("[data-shot]")).to_have_count(20)


def test_a_viewer_sees_everything_and_changes_nothing(desk: Page, live_server):
    from jungoptic.web.accounts.models import User
    from jungoptic.web.productions.models import Membership

    Membership.objects.filter(user=User.objects.get(username="supervisor")).update(role="viewer")
    desk.reload()
    desk.get_by_role("link", name="The Lock-Keeper's Heron").click()
    expect(desk.locator("[data-shot]")).to_have_count(19)
    expect(desk.get_by_role("button", name="Add the shot")).to_have_count(0)
    room(desk, "3", "Method")
    expect(desk.get_by_role("button", name="Apply")).to_have_count(0)
    desk.get_by_role("link", name="Sketches").click()
    expect(desk.get_by_role("button", name="Draw from the Frame")).to_have_count(0)
    expect(desk.get_by_test_id("marks")).to_be_visible()


def test_a_production_is_renamed_set_up_and_put_away(desk: Page):
    name = "The Lock-Keeper's Heron"
    desk.get_by_role("button", name=f"Set up {name}").click()
    dialog = desk.get_by_role("dialog")
    dialog.get_by_label("Name").fill("The Heron")
    dialog.get_by_role("button", name="9:16, upright").click()
    dialog.get_by_role("textbox", name="Rate").fill("25 fps")
    dialog.get_by_role("textbox", name="Latitude").fill("69.65")
    dialog.get_by_role("textbox", name="Longitude").fill("")
    dialog.get_by_label("Its clock").fill("Europe/Oslo")
    dialog.get_by_label("Lengths").select_option(label="feet and inches")
    dialog.get_by_role("button", name="Save", exact=True).click()
    expect(dialog.get_by_role("alert")).to_contain_text("give both or none")
    dialog.get_by_role("textbox", name="Longitude").fill("18.96")
    dialog.get_by_role("button", name="Save", exact=True).click()
    expect(dialog).to_have_count(0)
    expect(desk.get_by_role("link", name="The Heron")).to_contain_text("1080 × 1920 · 25 fps")
    film = Production.objects.get(name="The Heron")
    assert (film.delivery_width_px, film.delivery_height_px, film.playback_fps) == (1080, 1920, 25)
    desk.get_by_role("button", name="Set up The Heron").click()
    dialog.get_by_role("button", name="Put it away").click()
    desk.get_by_text("Put away: 1").click()
    desk.get_by_role("button", name="Set up The Heron").click()
    dialog.get_by_role("button", name="Fetch it back").click()
    expect(desk.get_by_text("Put away: 1")).to_have_count(0)
    desk.get_by_role("link", name="The Heron").click()
    # A new shot's camera has a sensor that stands, and is written in feet.
    desk.get_by_label("What we see").fill("The spire")
    desk.get_by_role("button", name="Add the shot").click()
    # What has to be done next leads to where it is done, and not to the Bench.
    desk.locator("[data-shot]").last.get_by_text("Choose a way to build it").click()
    expect(desk).to_have_url(re.compile(r"/method$"))
    desk.go_back()
    desk.get_by_role("link", name="The spire").click()
    expect(desk.get_by_label("Sensor width")).to_have_value("14.01 mm")
    expect(desk.get_by_label("Height", exact=False).first).to_have_value("4' 11 1/16\"")
    # Whoever has chosen otherwise stays with that.
    desk.get_by_role("button", name="Units").click()
    desk.get_by_label("mm and m").check()
    desk.keyboard.press("Escape")
    desk.reload()
    expect(desk.get_by_label("Height", exact=False).first).to_have_value("1.500 m")
    desk.goto(f"{desk.url.split('/shots/')[0]}/kit")
    desk.get_by_role("button", name="Yard", exact=True).click()
    yard = desk.get_by_role("group", name="Yard").last
    expect(yard.get_by_role("textbox", name="Latitude")).to_have_value("69.65°")
    expect(yard.get_by_label("Its clock")).to_have_value("Europe/Oslo")
