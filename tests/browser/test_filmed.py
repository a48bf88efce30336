"""What was filmed comes in, as a person drops it: on a take, a card, a shot, a whole production."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from jungoptic.core.stage.case import Case
from jungoptic.devices.held_up import before
from jungoptic.web.pictures.models import Picture, PictureFile
from jungoptic.web.takes.files import frozen
from jungoptic.web.takes.models import SetCard, Take
from tests.media.made import board_clip, clip, photograph, set_clip, still

from .accessible import no_barriers
from .conftest import LONG_MS, first_shot, open_shot

#: A photograph as the camera of the demo's kitchen would write it, one stop too far open.
WRITTEN = {0x829A: (1, 48), 0x829D: (28, 10), 0x8827: 800, 0x920A: (28, 1)}


def pictures_of(page: Page, title: str) -> Locator:
    """The room Pictures of a shot."""
    open_shot(page, title)
    rooms = page.get_by_role("navigation", name="Rooms of the shot")
    rooms.get_by_role("link", name="Pictures").click()
    room = page.get_by_test_id("pictures")
    room.wait_for()
    return room


def read(room: Locator, name: str) -> Locator:
    """The small card of a picture, once it was looked at."""
    card = room.get_by_test_id("thumb").filter(has_text=name)
    # One is looked at after the other.
    done = re.compile("read|refused")
    expect(card).to_have_attribute("data-state", done, timeout=LONG_MS)
    return card


@pytest.mark.usefixtures("worker")
def test_what_a_take_recorded_is_held_against_the_plan(desk: Page, tmp_path: Path):
    room = pictures_of(desk, "the twins argue")
    take = room.get_by_test_id("take").filter(has_text="3A-1 take 1")
    phone = clip(tmp_path / "phone.mp4", size=(640, 360))
    take.get_by_label("Pictures of 3A-1 take 1: files").set_input_files(
        [str(phone), str(photograph(tmp_path / "light.jpg", dict(WRITTEN)))]
    )
    read(room, "light")
    read(room, "phone").click()
    chosen = room.get_by_test_id("chosen")
    size = chosen.locator('[data-finding="file-size"]')
    expect(size).to_contain_text("640 x 360 pixels, not 4,096 x 2,160")
    expect(take).to_have_attribute("data-verdict", "breaks")
    look = chosen.get_by_test_id("look").get_by_role("img")
    assert look.evaluate("image => image.decode().then(() => image.naturalWidth)") == 640

    # By the keys: the frames of it, its pixels, the next picture.
    desk.keyboard.press("]")
    expect(
        chosen.get_by_role("group", name="Frames").get_by_role("button").nth(1)
    ).to_have_attribute("aria-pressed", "true")
    desk.keyboard.press("z")
    expect(chosen.get_by_test_id("look")).to_have_attribute("data-close", "true")
    desk.keyboard.press(".")
    expect(chosen.get_by_role("heading", level=2)).to_have_text("light")
    # Beside the other one, in every way.
    chosen.get_by_label("Compare with").select_option(label="phone")
    for way in ("Beside", "Blink", "Difference", "Wipe"):
        chosen.get_by_role("button", name=way, exact=True).click()
    expect(chosen.get_by_test_id("compared")).to_have_attribute("data-way", "wipe")
    # Measured: a photograph and a clip of two shapes are refused in words.
    chosen.get_by_role("button", name=re.compile("^Measure how they lie")).click()
    expect(chosen.get_by_test_id("pair")).to_contain_text("lie", timeout=LONG_MS)
    no_barriers(desk)

    # What the photograph says stands on the take, marked; what was typed there before stays.
    take.get_by_role("link", name="3A-1 take 1").click()
    readings = desk.get_by_role("region", name="Readings")
    expect(readings).to_contain_text("from the file")
    expect(readings.get_by_role("textbox", name=re.compile("^ISO"))).to_have_value("800")
    findings = desk.locator('[data-finding="file-typed-f_number"]')
    expect(findings).to_contain_text("the file says f/2.8")
    # Looked at by itself there, and led back to here.
    desk.get_by_role("region", name="Pictures").get_by_role("link").filter(has_text="light").click()
    expect(chosen.get_by_role("heading", level=2)).to_have_text("light")

    # In the bin, its readings leave the take; undo fetches both back.
    chosen.get_by_role("button", name="Put it in the bin").click()
    expect(room.get_by_text("In the bin: 1")).to_be_visible()
    assert Take.objects.get(card__slate="3A-1").iso is None
    desk.get_by_role("button", name=re.compile("^Undo light in the bin")).click()
    expect(room.get_by_text("In the bin: 1")).to_have_count(0)
    assert Take.objects.get(card__slate="3A-1").iso == 800.0


@pytest.mark.usefixtures("worker")
def test_a_clean_plate_is_laid_on_its_take(desk: Page, tmp_path: Path):
    room = pictures_of(desk, "the twins argue")
    paths = [
        still(tmp_path / "clean.jpg"),
        still(tmp_path / "arm.jpg", (4.0, 0.0), 0.1, arm=True),
    ]
    desk.get_by_label("Pictures of Clean plate: files").set_input_files([str(p) for p in paths])
    read(room, "arm")
    read(room, "clean").click()
    chosen = room.get_by_test_id("chosen")
    chosen.get_by_label("Compare with").select_option(label="arm")
    chosen.get_by_role("button", name=re.compile("^Measure how they lie")).click()
    pair = chosen.get_by_test_id("pair")
    place = pair.locator('[data-finding="pair-place"]')
    expect(place).to_contain_text("px right", timeout=LONG_MS)
    expect(place).to_contain_text("start by remote")
    pair.get_by_role("button", name="What changed").click()
    changed = chosen.get_by_test_id("changed")
    assert changed.evaluate("image => image.decode().then(() => image.naturalWidth)") == 960
    # A part is drawn over them, to the right of the arm; what arrives meanwhile takes it from
    # nobody, nor what is being typed.
    chosen.get_by_role("button", name="A part", exact=True).click()
    box = chosen.get_by_test_id("area").bounding_box()
    assert box
    x, y, wide, high = box["x"], box["y"], box["width"], box["height"]
    desk.mouse.move(x + 0.95 * wide, y + 0.9 * high)
    desk.mouse.down()
    desk.mouse.move(x + 0.4 * wide, y + 0.1 * high, steps=4)
    desk.mouse.up()
    note = chosen.get_by_role("textbox", name="Note")
    note.fill("half of what I wa")
    desk.get_by_label("Pictures of the shot: files").set_input_files(str(paths[0]))
    expect(room.get_by_test_id("thumb").filter(has_text="clean")).to_have_count(2)
    expect(room.locator('[data-testid="thumb"][data-state="coming"]')).to_have_count(0)
    expect(note).to_have_value("half of what I wa")
    chosen.get_by_role("button", name=re.compile("^Measure how the part drawn lies")).click()
    expect(pair).to_contain_text("nothing but the light", timeout=LONG_MS)
    # Another frame, or another picture, is another pair.
    chosen.get_by_role("button", name="Alone").click()
    expect(changed).to_have_count(0)


@pytest.mark.usefixtures("worker")
def test_a_clip_is_measured_frame_by_frame(desk: Page, tmp_path: Path):
    """The head was touched at the 15th frame, which nobody saw on a small screen."""
    room = pictures_of(desk, "the twins argue")
    path = set_clip(tmp_path / "touched.mp4", [(0.0, 0.0)] * 14 + [(9.0, 0.0)] * 16)
    take = room.get_by_test_id("take").filter(has_text="3A-1 take 1")
    take.get_by_label("Pictures of 3A-1 take 1: files").set_input_files(str(path))
    read(room, "touched").click()
    chosen = room.get_by_test_id("chosen")
    plot = chosen.get_by_test_id("run-plot")
    expect(plot).to_be_visible(timeout=LONG_MS)
    stands = chosen.locator('[data-finding="run-stands"]')
    expect(stands).to_contain_text("right at frame 15 and stays there")
    stands.get_by_role("button", name="Show frame 15").click()
    expect(chosen).to_contain_text("frame 15 of 30")
    # The drawing leads to the frame nearest to where it is touched.
    box = plot.bounding_box()
    assert box
    plot.click(position={"x": box["width"] - 10, "y": box["height"] / 2})
    expect(chosen).to_contain_text("frame 30 of 30")
    # Any other is fetched.
    fetch = chosen.get_by_label("Any frame, 1 to 30")
    fetch.fill("31")
    expect(chosen.get_by_role("button", name="Look at it")).to_be_disabled()
    fetch.fill("8")
    fetch.press("Enter")
    expect(chosen).to_contain_text("frame 8 of 30", timeout=LONG_MS)
    assert 8 in Picture.objects.get(name="touched").looks
    # From where it stands still one quiet frame is made.
    chosen.get_by_role("button", name="Make one quiet frame of them").click()
    expect(chosen.get_by_role("link", name=re.compile("^The quiet frame"))).to_be_visible(
        timeout=LONG_MS
    )
    # What was filmed and is not as planned stands on the Board.
    desk.get_by_role("link", name="The shots").click()
    row = desk.locator("[data-shot]").filter(has_text="the twins argue")
    expect(row.locator("[data-filmed]")).to_contain_text("3A-1 take 1", timeout=LONG_MS)


@pytest.mark.usefixtures("worker")
def test_a_key_is_tried_on_a_still(desk: Page):
    room = pictures_of(desk, "from the kitchen door")
    room.get_by_test_id("thumb").filter(has_text="S008 cloth").click()
    chosen = room.get_by_test_id("chosen")
    chosen.get_by_role("button", name="Measure this frame").click()
    drawn = chosen.get_by_test_id("cloth-map")
    expect(drawn).to_be_visible(timeout=LONG_MS)
    expect(drawn.get_by_role("img", name=re.compile("^The light on the cloth"))).to_be_visible()
    expect(chosen.locator('[data-finding="cloth-even"]')).to_contain_text("varies by")
    for name in ("Matte", "Keyed over"):
        chosen.get_by_role("button", name=name, exact=True).click()
        kept = drawn.get_by_role("img").last
        wide = kept.evaluate("image => image.decode().then(() => image.naturalWidth)")
        assert wide == Picture.objects.get(name="S008 cloth").look_width_px
    no_barriers(desk)
    # Only a part of it, drawn tighter, and as another colour of cloth.
    chosen.get_by_text("What is measured").click()
    chosen.get_by_role("button", name="A part", exact=True).click()
    chosen.get_by_role("button", name="The middle half").click()
    chosen.get_by_label(re.compile("^left")).fill("30")
    chosen.get_by_label("Cloth", exact=True).select_option(label="Blue cloth")
    chosen.get_by_role("button", name="Measure again, the part drawn").click()
    expect(chosen.locator('[data-finding="cloth-none"]')).to_contain_text(
        "No blue cloth", timeout=LONG_MS
    )
    expect(drawn).to_have_count(0)


@pytest.mark.usefixtures("worker")
def test_a_clip_on_the_card_is_a_take(desk: Page, tmp_path: Path):
    open_shot(desk, "the twins argue")
    desk.get_by_role("link", name="card 3A-1").click()
    before = Take.objects.count()
    paths = [clip(tmp_path / f"A00{n}.mp4", size=(64, 36)) for n in (1, 2)]
    desk.get_by_label("Clips of this card: files").set_input_files([str(p) for p in paths])
    takes = desk.get_by_role("region", name="Takes")
    expect(takes.get_by_role("link").filter(has_text="A002")).to_be_visible()
    here = takes.locator('[data-testid="sent"][data-state="done"]')
    expect(here).to_have_count(2, timeout=LONG_MS)
    assert Take.objects.count() == before + 2
    takes.get_by_role("link").filter(has_text="A001").click()
    read(desk.get_by_role("region", name="Pictures"), "A001")
    expect(desk.get_by_role("region", name="Verdict")).to_contain_text("size of the picture")
    # A phone's own camera photographs the set: for reference, and no take of its own.
    desk.go_back()
    photo = photograph(tmp_path / "set.jpg", dict(WRITTEN))
    desk.get_by_label("Clips of this card: photograph").set_input_files(str(photo))
    expect(here.filter(has_text="set")).to_have_count(1, timeout=LONG_MS)
    assert Take.objects.count() == before + 2
    assert Picture.objects.get(name="set").role == "reference"


def test_a_connection_that_drops_goes_on_where_it_stopped(desk: Page, tmp_path: Path):
    """Twelve megabytes, of which the second part never arrives; then the window is closed."""
    room = pictures_of(desk, "the twins argue")
    path = tmp_path / "long.mov"
    path.write_bytes(bytes(range(256)) * 48_000)
    tries = []

    def dropped(route):
        if route.request.method == "PATCH" and route.request.headers["upload-offset"] != "0":
            tries.append(route.request.headers["upload-offset"])
            route.abort("connectionreset")
        else:
            route.continue_()

    desk.route("**/uploads/*", dropped)
    desk.get_by_label("Pictures of the shot: files").set_input_files(str(path))
    sent = room.get_by_test_id("sent")
    expect(sent).to_have_attribute("data-state", "sending")
    expect(sent).to_contain_text("8 MB of 12 MB")
    sent.get_by_role("button", name="Pause").click()
    expect(sent).to_have_attribute("data-state", "paused")
    file = PictureFile.objects.get(name=path.name)
    assert (file.received, file.size) == (8 << 20, 12_288_000)

    # Opened anew, it waits for its file; the same file goes on, and nothing is sent twice.
    desk.on("dialog", lambda dialog: dialog.accept())
    desk.reload()
    room.wait_for()
    card = room.get_by_test_id("thumb").filter(has_text="long")
    expect(card).to_contain_text("68 % here")
    card.click()
    expect(room.get_by_test_id("chosen")).to_contain_text("choose the same file again")
    desk.unroute("**/uploads/*")
    parts = []
    desk.on(
        "request",
        lambda r: parts.append(r.headers["upload-offset"]) if r.method == "PATCH" else None,
    )
    desk.get_by_label("Pictures of the shot: files").set_input_files(str(path))
    expect(room.get_by_test_id("sent")).to_have_count(0, timeout=LONG_MS)
    assert parts == [str(8 << 20)]
    assert Picture.objects.filter(name="long").count() == 1
    file.refresh_from_db()
    assert file.received == file.size


@pytest.mark.usefixtures("worker")
def test_a_clip_with_a_card_s_board_files_itself(desk: Page, tmp_path: Path):
    """Dropped on the whole production, it becomes a take that nobody has typed."""
    card = SetCard.objects.get(slate="3A-1")
    case = Case.of(*frozen(card))
    assert case is not None
    # The card says how high its board stands: nothing of the floor is in frame there.
    room = pictures_of(desk, "the twins argue")
    desk.goto(f"{desk.url.split('/shots/')[0]}/cards/{card.pk}")
    sheet = desk.get_by_test_id("board-sheet")
    sheet.get_by_text("How it is used").click()
    expect(sheet).to_contain_text("upright over the mark on something 650 mm high")
    for size in ("A4", "A3"):
        link = sheet.get_by_role("link", name=f"Print {size}").get_attribute("href")
        assert desk.request.get(f"{desk.url.split('/productions/')[0]}{link}").ok
    ruler = sheet.get_by_role("textbox", name="Its line of 100 mm measures")
    ruler.fill("99 mm")
    ruler.press("Enter")
    expect(desk.get_by_test_id("saved-mark")).to_have_text("Saved")
    no_barriers(desk)

    path = tmp_path / "C0042.mp4"
    board_clip(path, before(case, up=0.05), card.board, size=(2048, 1080), up_m=0.65)
    desk.goto(f"{desk.url.split('/cards/')[0]}/pictures")
    desk.get_by_label("Pictures of the production: files").set_input_files(str(path))
    library = desk.get_by_test_id("library")
    # It comes, is looked at, and has gone where it belongs.
    expect(library.get_by_test_id("thumb")).to_have_count(1, timeout=LONG_MS)
    expect(library.get_by_test_id("thumb")).to_have_count(0, timeout=LONG_MS)
    gone = library.get_by_test_id("filed").get_by_role("listitem").filter(has_text="C0042")
    expect(gone).to_contain_text("3A-1 take 2")
    no_barriers(desk)
    gone.get_by_role("link").click()
    take = room.get_by_test_id("take").filter(has_text="3A-1 take 2")
    take.get_by_test_id("thumb").filter(has_text="C0042").click()
    board = room.get_by_test_id("board")
    expect(board).to_contain_text("It is that of 3A-1")
    board.get_by_role("button", name="Show it").click()
    expect(room.get_by_test_id("board-place")).to_be_visible()
    told = Take.objects.get(card=card, number=2)
    planned = card.shown["planned"]
    # The paper is a hundredth smaller than it should be, and so is what is told by it.
    assert told.distance_m == pytest.approx(planned["distance_m"] * 0.99, rel=0.006)
    assert told.axis_height_m is not None

    # What it stood on was lower than the card has it; undone, it counts as the card says.
    up = board.get_by_role("textbox", name="Its lower edge above the floor")
    up.fill("600 mm")
    up.press("Enter")
    expect(room.locator('[data-finding="board-stood"]')).to_contain_text("600 mm above the floor")
    lower = Take.objects.get(pk=told.pk).axis_height_m
    assert lower == pytest.approx(told.axis_height_m - 0.05, abs=1e-6)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(board).to_contain_text("as the card says")
    no_barriers(desk)


@pytest.mark.usefixtures("worker")
def test_from_an_empty_production(desk: Page, tmp_path: Path):
    """A whole card of the camera is dropped before anything is planned, and hung where it
    belongs."""
    first_shot(desk)
    address = desk.url.split("/shots/")[0]
    desk.goto(f"{address}/pictures")
    library = desk.get_by_test_id("library")
    notes = tmp_path / "notes.mov"
    notes.write_text("not a recording, whatever its name says " * 20)
    paths = [clip(tmp_path / "A001.mp4", size=(64, 36)), notes]
    paths += [photograph(tmp_path / f"DUSK_{n}.JPG") for n in (1, 2, 3, 5, 6)]
    desk.get_by_label("Pictures of the production: files").set_input_files([str(p) for p in paths])
    read(library, "notes").click()
    chosen = library.get_by_test_id("chosen")
    expect(chosen.get_by_role("alert")).to_contain_text("no recording")
    read(library, "DUSK_1 and on (5 pictures)").click()
    expect(chosen).to_contain_text("5")
    read(library, "A001").click()
    expect(chosen).to_contain_text("Hang it on a take or a plate")
    # Named only, where it is too large to be sent.
    library.get_by_text("It stays on your own disk").click()
    library.get_by_label("Where it lies").fill("/reel 7/B004.mov")
    library.get_by_label("Size, GB").fill("120")
    library.get_by_role("button", name="Name it").click()
    expect(library.get_by_test_id("thumb").filter(has_text="B004")).to_contain_text("own disk")
    # Hung on the shot it leaves the library, and lies in the shot's own room.
    hangs = chosen.get_by_label("Hangs on")
    shot = hangs.locator("option").nth(1).inner_text()
    hangs.select_option(label=shot)
    expect(library.get_by_test_id("thumb").filter(has_text="A001")).to_have_count(0)
    desk.get_by_role("button", name=re.compile("^Undo where A001 hangs")).click()
    expect(library.get_by_test_id("thumb").filter(has_text="A001")).to_have_count(1)
