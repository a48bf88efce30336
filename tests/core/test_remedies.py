"""What is offered as a way out is better as a whole: no plate gains a break, and it can be done."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import HealthCheck, assume, given, settings

from jungoptic.core.lockoff.group import LOCKED
from jungoptic.core.plan import Shot
from jungoptic.core.plan.findings import Remedy, Verdict
from jungoptic.core.plan.plate import TIMELESS
from jungoptic.core.remedies.applied import applied
from jungoptic.core.remedies.pairs import pairs
from jungoptic.core.remedies.standing import standing
from jungoptic.core.remedies.whole import ways_out
from jungoptic.core.report import judged, report

from .examples import MILL
from .stages import one, placed
from .test_any_tricks import shots
from .test_planner import plans

FEW = settings(max_examples=25, suppress_health_check=list(HealthCheck))


def usable(remedy: Remedy) -> bool:
    return bool(remedy.changes or remedy.shot or remedy.things)


def counts(shot: Shot) -> dict[str, tuple[int, int]]:
    """Breaks and strains of every plate, asked anew."""
    fresh = replace(shot)
    return {
        p.id: tuple(
            sum(f.verdict is v for f in judged(fresh, p, remedies=False).findings)
            for v in (Verdict.BREAKS, Verdict.STRAINS)
        )
        for p in fresh.plates
    }


def check(shot: Shot) -> None:
    before = counts(shot)
    for plate in shot.plates:
        for finding in judged(shot, plate).findings:
            assert len(finding.remedies) <= 4
            if finding.key == "kit":
                continue
            searched = pairs(shot, plate, finding, 0, 20).found
            assert all(t.remedy.verdict.rank < finding.verdict.rank for _, t in searched)
            for remedy in (*finding.remedies, *(t.remedy for _, t in searched)):
                assert remedy.verdict.rank <= finding.verdict.rank
                if not usable(remedy):
                    continue
                # Applied here as a person does it, by other code than the product's own.
                after = counts(by_hand(shot, plate.id, remedy))
                told = (finding.key, remedy.sentence, before, after)
                assert all(after[i][0] <= before[i][0] for i in before), told
                total = [tuple(map(sum, zip(*c.values(), strict=True))) for c in (before, after)]
                # Crowds and rigs may come nearer without another verdict.
                assert total[1] < total[0] or (
                    total[1] == total[0] and finding.key in ("crowd", "rig")
                ), told
                possible(shot, plate.id, remedy)


def by_hand(shot: Shot, plate_id: str, remedy: Remedy) -> Shot:
    group = next(p.lock_group for p in shot.plates if p.id == plate_id)
    plates = []
    for plate in shot.plates:
        if plate.id == plate_id:
            plate = replace(plate, **remedy.changes)
        elif group and plate.lock_group == group and not remedy.alone:
            plate = replace(plate, **{k: v for k, v in remedy.changes.items() if k in LOCKED})
        plates.append(plate)
    things = tuple(replace(s, **remedy.things.get(s.id, {})) for s in shot.stand_ins)
    rest = dict(remedy.shot)
    height = rest.pop("camera_height_m", shot.world.height_m)
    world = replace(shot.world, height_m=height)
    return replace(shot, plates=tuple(plates), stand_ins=things, world=world, **rest)


def possible(shot: Shot, plate_id: str, remedy: Remedy) -> None:
    """A stop that the lens has, an ISO that the mode has, a second pass of what stays only."""
    before = next(p for p in shot.plates if p.id == plate_id)
    after = replace(before, **remedy.changes)
    lens = next(x for x in shot.kit.lenses if x.id == after.lens_id)
    body = next(b for b in shot.kit.bodies if b.id == after.body_id)
    mode = next(m for m in body.modes if m.id == after.mode_id)
    if after.f_number != before.f_number:
        assert lens.widest_stop * 0.99 <= after.f_number <= lens.smallest_stop * 1.01
    if after.iso != before.iso:
        assert mode.min_iso <= after.iso <= mode.max_iso
    if after.focus_passes > max(before.focus_passes, 1) and before.kind not in TIMELESS:
        things = shot.stand_ins_of(after)
        assert not any(s.speed_m_s or s.reach_m or s.kind == "figure" for s in things)
    assert after.drop_m <= max(before.drop_m, 1.2)


@given(plans())
@FEW
def test_no_way_out_of_any_plan_leaves_a_plate_with_a_break_more(shot):
    check(shot)


@given(shots())
@settings(max_examples=4, suppress_health_check=list(HealthCheck))
def test_nor_of_any_lock_off(shot):
    check(shot)


@given(plans())
@FEW
def test_applying_is_what_a_person_does(shot):
    for finding in standing(shot, shot.plates[0]).findings:
        for remedy in ways_out(shot, shot.plates[0], finding):
            assert applied(shot, shot.plates[0], remedy) == by_hand(shot, shot.plates[0].id, remedy)


@given(plans())
@FEW
def test_a_report_carries_what_each_finding_is_offered_when_opened(shot):
    assume(shot.plates[0].body_id)
    (told,) = report(shot).plates
    for finding in told.findings:
        opened = ways_out(replace(shot), shot.plates[0], replace(finding, remedies=()))
        assert finding.remedies == opened


def test_what_else_a_remedy_changes_is_said():
    # Stopped down for depth, this garage has not the light for it.
    shot = one(MILL, plate_f_number=2.8, plate_room_id="garage", plate_light_lux=2000.0)
    (told,) = report(shot).plates
    depth = next(f for f in told.findings if f.key == "depth")
    assert depth.verdict is Verdict.BREAKS
    for remedy in depth.remedies:
        after = counts(by_hand(shot, shot.plates[0].id, remedy))
        assert after[shot.plates[0].id][0] < counts(shot)[shot.plates[0].id][0]


def test_a_lamp_is_never_put_outside_the_room():
    shot = one(
        MILL,
        plate_room_id="garage",
        plate_lamps=(placed(x=0.5, y=1.0),),
        key_kind="sun",
        key_from_deg=60.0,
        key_elevation_deg=40.0,
    )
    plate = shot.plates[0]
    room = next(r for r in shot.kit.rooms if r.id == "garage")
    for finding in judged(shot, plate).findings:
        for remedy in finding.remedies:
            for lamp in remedy.changes.get("lamps", ()):
                if lamp in plate.lamps:
                    continue
                assert abs(lamp.x_m) < max(room.length_m, room.width_m)
                assert lamp.z_m < (room.height_m or 99.0)
