"""How things are served: compressed where it pays, static files collected once."""

from __future__ import annotations

import gc
import gzip
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from django.core.management.base import CommandError

from jungoptic.web import gunicorn_conf
from jungoptic.web.management.commands import prepare
from jungoptic.web.middleware import SHORTEST
from jungoptic.web.plans.models import Shot
from jungoptic.web.plans.stored import plan_json


def plan(stage):
    return plan_json(Shot.objects.select_related("production").get(pk=stage.shot.pk))


class TestCompressing:
    def ask(self, stage, body, **headers):
        return stage.api.client.post(
            "/api/calc/shot", json.dumps(body), content_type="application/json", headers=headers
        )

    def test_a_long_answer_is_compressed_for_who_takes_it(self, stage):
        body = plan(stage)
        plain = self.ask(stage, body)
        packed = self.ask(stage, body, **{"Accept-Encoding": "gzip"})
        assert len(plain.content) > SHORTEST
        assert not plain.headers.get("Content-Encoding")
        assert packed["Content-Encoding"] == "gzip"
        assert len(packed.content) < len(plain.content) / 2
        assert gzip.decompress(packed.content) == plain.content

    def test_what_is_short_or_packed_already_is_left_alone(self, stage):
        short = stage.api.client.get("/api/session", headers={"Accept-Encoding": "gzip"})
        assert not short.headers.get("Content-Encoding")
        card = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards").json()
        path = f"/api{stage.path}/cards/{card['id']}/pdf"
        paper = stage.api.client.get(path, headers={"Accept-Encoding": "gzip"})
        assert paper.content.startswith(b"%PDF")
        assert not paper.headers.get("Content-Encoding")


class TestCollecting:
    @pytest.fixture
    def folder(self, settings, tmp_path):
        source = tmp_path / "dist"
        source.mkdir()
        (source / "main.js").write_text("let a = 1;\n" * 50)
        settings.STATICFILES_DIRS = [source]
        # Others' files are many, and are compressed three times for nothing.
        settings.STATICFILES_FINDERS = ["django.contrib.staticfiles.finders.FileSystemFinder"]
        settings.STATIC_ROOT = tmp_path / "static"
        return source

    def test_files_are_collected_once_and_again_when_they_change(self, folder, settings):
        root = settings.STATIC_ROOT
        assert prepare.collect(root) is True
        assert (root / "main.js.gz").exists()
        assert prepare.collect(root) is False
        (folder / "main.js").write_text("let a = 2;\n" * 50)
        assert prepare.collect(root) is True
        assert gzip.decompress((root / "main.js.gz").read_bytes()).startswith(b"let a = 2;")
        (folder / "more.js").write_text("")
        assert prepare.collect(root) is True

    def test_without_a_place_for_them_it_says_so(self, settings, db):
        settings.STATIC_ROOT = None
        with pytest.raises(CommandError, match="COLLECTED_STATIC"):
            prepare.call_command("prepare", "--static")


def test_a_web_process_loads_nothing_that_only_workers_need():
    """What opens and measures files takes memory from everybody who is served."""
    heavy = ("av", "rawpy", "cv2", "mitsuba")
    code = f"""
import sys, django
django.setup()
import jungoptic.web.urls
print([name for name in {heavy!r} if name in sys.modules])
"""
    env = {**os.environ, "DJANGO_SETTINGS_MODULE": "jungoptic.web.settings", "JUNGOPTIC_DEBUG": "1"}
    env["PYTHONPATH"] = str(Path(__file__).parents[2] / "src")
    command = [sys.executable, "-W", "ignore", "-c", code]
    done = subprocess.run(command, env=env, capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def test_what_was_loaded_once_is_not_looked_through_for_garbage():
    try:
        gunicorn_conf.when_ready(None)
        assert gc.get_freeze_count() > 100_000
    finally:
        gc.unfreeze()
