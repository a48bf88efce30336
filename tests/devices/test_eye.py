"""The process that looks: what it answers to pictures, broken ones too, and through the simulated
camera at a table whose sheet is carried out."""

from __future__ import annotations

import io
import json
import pickle
import struct
import subprocess
import sys
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest

from jungoptic.core.plan.sheet import Column, Leg, Mark, Sheet
from jungoptic.devices import eye
from jungoptic.devices.faults import Faults
from jungoptic.devices.table import posed
from jungoptic.media.kinds import Unreadable
from tests.core.examples import ANSA, shot
from tests.media.made import still

SHEET = Sheet(
    (
        Column("part-1", "Ansa", "part", (Mark(1, every=1),), thing_id="figure"),
        Column("axis-1", "Arm", "axis", axis="crank", legs=(Leg(2, 20, 360.0),), thing_id="figure"),
    )
)


def jpeg(data: bytes) -> Any:
    return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)


def set_still(path: Path, light: float = 1.0) -> Path:
    dice = np.random.default_rng(1)
    small = dice.uniform(60, 150, (54, 96, 3)).astype(np.float32)
    large = cv2.resize(small, (1920, 1080), interpolation=cv2.INTER_CUBIC) * light
    cv2.imwrite(str(path), np.clip(large, 0, 255).astype(np.uint8))
    return path


class TestTakenIn:
    def test_a_picture_is_measured_and_shown(self, tmp_path):
        first, second = set_still(tmp_path / "1.jpg"), set_still(tmp_path / "2.jpg", 1.03)
        head, (proxy,) = eye.take_in(str(first), None, None)
        assert (head["width_px"], head["height_px"], head["codec"]) == (1920, 1080, "JPEG")
        assert jpeg(proxy).shape == (540, 960, 3)
        head, _ = eye.take_in(str(second), str(first), str(first))
        assert head["told"]["before"]["shift"] == pytest.approx([0.0, 0.0], abs=1e-4)
        # ITU-R BT.709: V = 1.099 L^0.45 - 0.099, at the middle of what is there (105 of 255).
        recorded = np.array([1.0, 1.03]) * 105.0 / 255.0
        one, two = ((recorded + 0.099) / 1.099) ** (1.0 / 0.45)
        told = head["told"]["before"]["light_percent"]
        assert told == pytest.approx((two / one - 1.0) * 100.0, abs=0.4)

    def test_what_it_has_forgotten_it_reads_again(self, tmp_path):
        first, second = set_still(tmp_path / "1.jpg"), set_still(tmp_path / "2.jpg")
        head, _ = eye.take_in(str(second), str(first), None)
        assert head["told"]["changed"] == ()

    def test_another_size_is_told_and_not_measured(self, tmp_path):
        small = tmp_path / "small.jpg"
        cv2.imwrite(str(small), np.full((200, 200, 3), 90, np.uint8))
        head, _ = eye.take_in(str(set_still(tmp_path / "1.jpg")), str(small), None)
        assert head["told"] is None
        assert "one size" in head["problem"]

    def test_no_picture_is_refused(self, tmp_path):
        path = tmp_path / "no.jpg"
        path.write_bytes(b"\xff\xd8\xff" + b"nothing" * 50)
        with pytest.raises(Unreadable):
            eye.take_in(str(path), None, None)


class TestTable:
    def test_the_sheet_moves_what_stands_on_it(self):
        plan = shot()
        one, two = (posed(plan, ANSA, SHEET, frame) for frame in (1, 6))
        there = [next(s for s in p.stand_ins if s.id == "figure") for p in (one, two)]
        assert there[0] != there[1]
        arms = [next(s for s in p.stand_ins if s.id == "figure-axis-1") for p in (one, two)]
        assert arms[0].z_m != arms[1].z_m
        # What the sheet says nothing of stands.
        assert [s for s in one.stand_ins if s.id == "house"] == [
            s for s in plan.stand_ins if s.id == "house"
        ]

    def test_a_turntable_turns_and_a_layer_goes(self):
        table = Column(
            "axis-1", "T", "axis", axis="turntable", legs=(Leg(2, 9, 90.0),), thing_id="figure"
        )
        layer = Column(
            "axis-2", "L", "axis", axis="layer", legs=(Leg(2, 9, 500.0),), thing_id="figure"
        )
        before = next(s for s in shot().stand_ins if s.id == "figure")
        after = next(
            s for s in posed(shot(), ANSA, Sheet((table, layer)), 10).stand_ins if s.id == "figure"
        )
        assert after.heading_deg - before.heading_deg == pytest.approx(90.0)
        assert after.x_m - before.x_m == pytest.approx(0.5 * ANSA.scale)

    def test_the_camera_sees_the_next_pose_and_the_same_one_twice(self):
        args = (480, 3, Faults())
        pictures = [jpeg(eye.see(shot(), ANSA, SHEET, f, *args)[1][0]) for f in (1, 1, 9)]
        assert pictures[0].shape == (round(480 / shot().delivery.aspect), 480, 3)
        assert np.array_equal(pictures[0], pictures[1])
        assert np.abs(pictures[0].astype(int) - pictures[2]).max() > 40

    def test_faults_show(self):
        plain, bright = (
            jpeg(eye.see(shot(), ANSA, SHEET, 1, 320, 3, faults)[1][0]).mean()
            for faults in (Faults(), Faults(stops=0.2))
        )
        assert bright > plain * 1.03


def framed(question: Any) -> bytes:
    data = pickle.dumps(question)
    return struct.pack(">I", len(data)) + data


def answers(data: bytes) -> list[tuple[Any, list[bytes]]]:
    source, found = io.BytesIO(data), []
    while length := source.read(4):
        line = json.loads(source.read(struct.unpack(">I", length)[0]))
        found.append((line["head"], [source.read(size) for size in line["sizes"]]))
    return found


def test_the_process_answers_one_after_another_and_ends_with_its_input(tmp_path):
    path = still(tmp_path / "one.jpg")
    broken = tmp_path / "broken.jpg"
    broken.write_bytes(b"\xff\xd8\xff\xe0")
    asked = [
        ("take_in", (str(path), None, None)),
        ("take_in", (str(broken), None, None)),
        ("take_in", (str(path), str(path), None)),
    ]
    done = subprocess.run(
        [sys.executable, "-m", "jungoptic.devices.eye"],
        input=b"".join(map(framed, asked)),
        capture_output=True,
        check=True,
        timeout=120,
        env={"PYTHONPATH": str(Path(__file__).parents[2] / "src"), "OPENBLAS_NUM_THREADS": "1"},
    )
    first, second, third = answers(done.stdout)
    assert first[0]["width_px"] > 0
    assert "refused" in second[0]
    assert third[0]["told"]["changed"] == []
