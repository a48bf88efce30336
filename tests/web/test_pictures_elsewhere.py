"""The same with storage that is not on this machine: an S3-compatible server on loopback."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import boto3
import pytest
from django.core.files.storage import default_storage
from moto.server import ThreadedMotoServer

from jungoptic.web.pictures import disk
from jungoptic.web.pictures.models import Picture, PictureFile
from tests.media.made import clip

from .test_pictures import sent

BUCKET = "what-was-filmed"


@pytest.fixture
def bucket(settings: Any, monkeypatch: pytest.MonkeyPatch) -> Iterator[Any]:
    """An empty bucket that everything is kept in."""
    monkeypatch.setenv("AWS_ACCESS_KEY_ID", "loopback")
    monkeypatch.setenv("AWS_SECRET_ACCESS_KEY", "loopback")
    monkeypatch.setenv("AWS_DEFAULT_REGION", "us-east-1")
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
    server.start()
    address = f"http://127.0.0.1:{server.get_host_and_port()[1]}"
    client = boto3.client("s3", endpoint_url=address)
    client.create_bucket(Bucket=BUCKET)
    options = {"bucket_name": BUCKET, "endpoint_url": address, "file_overwrite": False}
    settings.STORAGES = {
        **settings.STORAGES,
        "default": {"BACKEND": "storages.backends.s3.S3Storage", "OPTIONS": options},
    }
    yield client
    client.close()
    server.stop()


def test_a_clip_comes_in_is_read_and_goes_out_again(stage, bucket, tmp_path):
    path = clip(tmp_path / "A001.mp4")
    found = sent(stage, path, plate_id=str(stage.plate.pk))
    assert (found["state"], found["facts"]["frames"]) == ("read", 24)
    row = PictureFile.objects.get()
    kept = [one["Key"] for one in bucket.list_objects_v2(Bucket=BUCKET)["Contents"]]
    assert row.stored in kept
    assert len(kept) == 13
    # Nothing is left on this machine, neither what was sent nor what was fetched to be read.
    assert disk.unfinished() == []
    (file,) = found["files"]
    got = stage.api.get(f"{stage.path}/pictures/{found['id']}/files/{file['id']}")
    assert b"".join(got.streaming_content) == path.read_bytes()
    look = stage.api.get(f"{stage.path}/pictures/{found['id']}/look?frame=1")
    assert b"".join(look.streaming_content).startswith(b"\xff\xd8")


def test_it_is_read_again_from_there(stage, bucket, tmp_path):
    found = sent(stage, clip(tmp_path / "A001.mp4"))
    Picture.objects.update(state="here", facts=None)
    job = stage.api.work(stage.path, "look-at", picture_id=found["id"])
    assert job["state"] == "done"
    assert Picture.objects.get().facts["frames"] == 24
    # The same bytes once more are kept once.
    sent(stage, tmp_path / "A001.mp4", name="Again")
    assert len({f.stored for f in PictureFile.objects.all()}) == 1


def test_what_is_gone_from_there_is_said(stage, bucket, tmp_path):
    found = sent(stage, clip(tmp_path / "A001.mp4"))
    default_storage.delete(PictureFile.objects.get().stored)
    (file,) = found["files"]
    gone = stage.api.get(f"{stage.path}/pictures/{found['id']}/files/{file['id']}")
    assert gone.status_code == 404
    assert "gone from" in gone.json()["message"]
