"""The recipe book: whole, consistent, and applied to a shot without losing anybody's edits."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.breakdown.recipes import BOOK, BY_KEY, find
from jungoptic.core.breakdown.recipes.apply import (
    again,
    fill,
    from_shot,
    in_order,
    pass_fields,
)
from jungoptic.core.breakdown.recipes.diagram import draw_recipe, drawings
from jungoptic.core.breakdown.recipes.model import FAMILIES, REFERENCES, Pass
from jungoptic.core.breakdown.recipes.placing import lift, place, unit_distance_m
from jungoptic.core.cards.hazards import BY_KEY as HAZARDS
from jungoptic.core.plan import Plate
from jungoptic.core.report.shot_report import report

from .examples import KIT, shot

EMPTY = shot(stand_ins=(), plates=())
#: Effects every supervisor's list of methods names (common practice of the trade).
WANTED = frozenset(
    {
        "actor-in-miniature",
        "view-through",
        "split-focus",
        "small-crowd",
        "set-extension",
        "parallax-extension",
        "twin-split",
        "moving-split",
        "flopped-double",
        "unseen-hand",
        "wire-rod-rig",
        "spin-link",
        "vanish-part",
        "costume-jump",
        "see-through",
        "burst-through",
        "passing-vehicle",
        "fire-element",
        "fire-by-light",
        "puppet-in-plate",
        "puppet-stage",
        "floating-person",
        "turning-stand",
        "hyper-lapse",
        "lock-off-join",
        "picture-insert",
        "animal-plate",
        "pulled-model",
        "cloud-vapour",
        "two-sizes",
        "day-for-night",
        "old-photo-match",
        "roof-from-below",
        "talking-before",
        "held-glow",
        "glowing-puppet",
    }
)


def core_plates(new) -> tuple[Plate, ...]:
    names = Plate.__dataclass_fields__
    return tuple(
        Plate(id=n.recipe_pass.key, **{k: v for k, v in n.fields.items() if k in names})
        for n in new
    )


def test_the_book_has_every_recipe_and_no_two_alike():
    assert len(BY_KEY) == len(BOOK)
    assert set(BY_KEY) >= WANTED
    assert {r.family for r in BOOK} == set(FAMILIES)


@pytest.mark.parametrize("recipe", BOOK, ids=lambda r: r.key)
def test_a_recipe_is_whole(recipe):
    assert recipe.required, "a recipe without a required plate makes nothing"
    assert recipe.suits
    assert recipe.avoid
    assert recipe.right
    assert recipe.betrays
    assert recipe.post
    keys = {p.key for p in recipe.passes}
    assert len(keys) == len(recipe.passes)
    for one in recipe.passes:
        assert len(one.why) > 15, f"{one.name} must say why it exists"
        assert set(one.after) <= keys
        assert set(one.settings) <= set(Plate.__dataclass_fields__)
        assert 0 <= one.work.paint_share <= 1
    assert all(h in HAZARDS for h in recipe.all_hazards)
    order = [p.key for p in in_order(recipe)]
    for one in recipe.passes:
        assert all(order.index(before) < order.index(one.key) for before in one.after)


@pytest.mark.parametrize("recipe", BOOK, ids=lambda r: r.key)
def test_nothing_in_the_book_gives_quantities_for_fire(recipe):
    text = repr(recipe).lower()
    assert not re.search(r"\d+\s*(g|kg|ml|l|litre|gram|percent)\b", text)
    for word in ("powder", "petrol", "alcohol", "mixture", "recipe for"):
        assert word not in text


def test_a_removed_rig_or_person_always_brings_its_clean_plate():
    # Common practice: whatever is taken out of a locked picture needs the picture without it.
    for key in ("unseen-hand", "wire-rod-rig", "twin-split", "see-through", "animal-plate"):
        clean = BY_KEY[key].pass_of("clean")
        assert clean is not None
        assert clean.required
        take = BY_KEY[key].passes[0]
        assert clean.lock == take.lock


def test_the_patch_still_comes_before_the_part_is_fixed():
    # Common practice: photograph the surface before gluing.
    order = [p.key for p in in_order(BY_KEY["vanish-part"])]
    assert order.index("patch") < order.index("take")


def test_references_are_carried_by_all():
    # Common practice: ball, chart, tape, lens grid and slate go with every set-up.
    names = " ".join(name for name, _ in REFERENCES).lower()
    assert all(word in names for word in ("ball", "chart", "tape", "lens grid", "slate"))


def test_find_looks_everywhere_and_puts_names_first():
    assert find("") == BOOK
    assert find("TWIN")[0].key == "twin-split"
    assert any(r.key == "wire-rod-rig" for r in find("pendulum"))
    assert find("no such word anywhere") == ()
    # What people say, and what they may mean by it (common practice).
    for said, key in (
        ("dog", "animal-plate"),
        ("bottle", "unseen-hand"),
        ("music", "costume-jump"),
        ("zoom", "two-sizes"),
        ("hair light", "floating-person"),
        ("phone", "picture-insert"),
        ("ghost", "see-through"),
        ("army", "small-crowd"),
    ):
        assert key in {r.key for r in find(said)}, said
    assert [r.key for r in BOOK if not r.said] == []
    assert {r.key for r in find("glass door")} <= {r.key for r in find("glass")}


@pytest.mark.parametrize("recipe", BOOK, ids=lambda r: r.key)
def test_applying_derives_every_stage(recipe):
    new = fill(EMPTY, recipe)
    assert [n.recipe_pass.key for n in new] == [p.key for p in in_order(recipe) if p.required]
    filled = replace(
        EMPTY, plates=core_plates(new), stand_ins=tuple(s for n in new for s in n.stand_ins)
    )
    for answer in report(filled, remedies=False).plates:
        assert answer.stage is not None, "kit was chosen and the stage derived"
        assert answer.verdict != "breaks", answer.findings[0].sentence


def test_one_lock_off_has_one_camera():
    new = fill(EMPTY, BY_KEY["twin-split"], locks={"a": "2-A"})
    groups = {n.fields["lock_group"] for n in new}
    assert groups == {"2-A"}
    kit = {tuple(n.fields[f] for f in ("body_id", "mode_id", "lens_id")) for n in new}
    assert len(kit) == 1


def test_without_kit_the_plates_are_still_there():
    new = fill(replace(EMPTY, kit=type(KIT)()), BY_KEY["twin-split"])
    assert len(new) == 3
    assert "body_id" not in new[0].fields


def test_an_unknown_pass_is_refused_by_name():
    with pytest.raises(ValueError, match="has no pass called nonsense"):
        fill(EMPTY, BY_KEY["twin-split"], ["a", "nonsense"])


def test_a_ring_of_passes_is_refused():
    a = Pass("a", "A", "why", "live", after=("b",))
    b = Pass("b", "B", "why", "live", after=("a",))
    with pytest.raises(ValueError, match="wait for each other: A, B"):
        in_order(replace(BY_KEY["twin-split"], passes=(a, b)))


def test_a_standing_person_at_one_unit_fills_half_the_picture():
    camera = EMPTY.world.camera(EMPTY.delivery)
    level = replace(camera, tilt_deg=0.0, position_m=(0.0, 0.0, 0.85))
    d = unit_distance_m(EMPTY)
    feet, head = level.project([(0, d, 0), (0, d, 1.7)], 1920, 804)
    assert feet[1] - head[1] == pytest.approx(402, abs=0.01)


@settings(max_examples=40, deadline=None)
@given(
    key=st.sampled_from([r.key for r in BOOK]),
    focal=st.floats(12, 200),
    pan=st.floats(-170, 170),
    height=st.floats(0, 30),
)
def test_what_is_placed_can_be_lifted_again(key, focal, pan, height):
    here = shot(focal_mm=focal, pan_deg=pan, height_m=height, stand_ins=(), plates=())
    for one in BY_KEY[key].passes:
        for thing in one.things:
            if thing.fills:
                continue
            placed = place(here, thing, one.key, 0)
            if placed.y_m <= 0.06:
                continue  # behind or beside the camera's y axis: pushed before it
            back = lift(here, placed)
            assert back.away == pytest.approx(max(thing.away, 0), rel=0.05, abs=0.15)
            assert back.across == pytest.approx(thing.across, abs=0.1)


def test_applying_again_shows_what_would_change_and_spares_edits():
    recipe = BY_KEY["twin-split"]
    one = recipe.passes[0]
    fields = pass_fields(recipe, one, "")
    written = {one.key: fields}
    assert again(recipe, "", written, {one.key: fields}) == ()

    edited = {one.key: {**fields, "f_number": 8.0}}
    (change,) = again(recipe, "", written, edited)
    assert (change.field, change.now, change.recipe, change.edited) == ("f_number", 8.0, 5.6, True)

    older = {one.key: {**fields, "takes_planned": 2}}
    (change,) = again(recipe, "", older, older)
    assert (change.field, change.recipe, change.edited) == ("takes_planned", 5, False)

    renamed = {one.key: {**fields, "name": "Left Ansa"}}
    (change,) = again(recipe, "", written, renamed)
    assert change.edited
    assert change.plate == "Left Ansa"


def test_a_recipe_of_ones_own_gives_the_same_plates_back():
    new = fill(EMPTY, BY_KEY["actor-in-miniature"])
    plates = core_plates(new)
    filled = replace(EMPTY, plates=plates, stand_ins=tuple(s for n in new for s in n.stand_ins))
    own = from_shot(
        filled,
        "own",
        "Ours",
        "effect",
        [(p, dict(n.fields)) for p, n in zip(plates, new, strict=True)],
    )
    again_filled = fill(EMPTY, own)
    for before, after in zip(new, again_filled, strict=True):
        for field in ("name", "cut", "shapes", "takes_planned", "why", "required"):
            assert before.fields[field] == after.fields[field], field
        (a,), (b,) = core_plates([before]), core_plates([after])
        assert replace(b, id=a.id, hazards=a.hazards) == a
        for a, b in zip(before.stand_ins, after.stand_ins, strict=True):
            assert (b.x_m, b.y_m) == pytest.approx((a.x_m, a.y_m), abs=0.02)


@pytest.mark.parametrize("recipe", BOOK, ids=lambda r: r.key)
def test_a_recipe_is_drawn_to_scale(recipe):
    drawn = drawings(recipe.key)
    assert drawn, "a book view needs a drawing"
    for one in drawn:
        pass_ = recipe.pass_of(one.pass_key)
        assert pass_ is not None
        u0, v0, u1, v1 = one.plan.bounds
        for shape in one.plan.shapes:
            for u, v in shape.points:
                assert u0 <= u <= u1
                assert v0 - 1e-6 <= v <= v1 + 1e-6


def test_a_diagram_says_where_the_camera_stands():
    for recipe in BOOK:
        for one in drawings(recipe.key):
            labels = [d.label for d in one.elevation.dimensions]
            assert labels[0] == "axis height"
            assert all(w.startswith(("axis height", "sensor mark to")) for w in labels)
            axis = one.elevation.dimensions[0].value_m
            pass_ = recipe.pass_of(one.pass_key)
            if pass_.settings.get("placed_in_post"):
                # Nearer, on the line of sight: on the way from there to the middle of it.
                assert 0.09 <= axis < 1.5
                continue
            # The example camera stands 1.5 m high in the world: divided by the scale, or as low as
            # the example body goes.
            assert axis == pytest.approx(
                max(1.5 / float(pass_.settings.get("scale", 1.0)), 0.09), rel=1e-6
            )


def test_a_drawn_box_has_its_size_on_the_stage():
    (one,) = [d for d in draw_recipe(BY_KEY["pulled-model"]) if d.pass_key == "take"]
    box = next(s for s in one.plan.shapes if s.role == "box")
    across = max(v for _, v in box.points) - min(v for _, v in box.points)
    assert across == pytest.approx(4.2 / 12.0, abs=1e-3)
