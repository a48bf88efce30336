"""A backup made while people work, fetched back into an empty database: every row, every file."""

from __future__ import annotations

import hashlib
import io
import json
import os
import subprocess
import sys
import threading
import uuid
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.core.management import CommandError, call_command
from django.db import connection

from jungoptic.web.backup import database, whole
from jungoptic.web.pictures.models import Picture, PictureFile
from jungoptic.web.productions.models import Production
from tests.conftest import make_person, make_stage
from tests.kept_demo import lay_demo

pytestmark = pytest.mark.django_db(transaction=True)
ROOT = Path(__file__).resolve().parents[2]


def reach(name: str) -> str:
    """How psycopg comes to a database beside that of the tests."""
    told = connection.settings_dict
    return (
        f"host={told['HOST']} port={told['PORT']} user={told['USER']} "
        f"password={told['PASSWORD']} dbname={name}"
    )


@pytest.fixture
def empty_machine(tmp_path: Path) -> Iterator[dict[str, str]]:
    """A database with nothing in it and a folder for files: what the application is told."""
    name = f"restored_{uuid.uuid4().hex[:8]}"
    with psycopg.connect(reach("postgres"), autocommit=True) as there:
        there.execute(f"create database {name}")
    yield {"JUNGOPTIC_DB_NAME": name, "JUNGOPTIC_DATA_DIR": str(tmp_path / "other-machine")}
    with psycopg.connect(reach("postgres"), autocommit=True) as there:
        there.execute(f"drop database {name} with (force)")


def there(machine: dict[str, str], *args: str) -> subprocess.CompletedProcess[str]:
    """A command of the application, on that machine."""
    env = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "jungoptic.web.settings",
        "PYTHONPATH": str(ROOT / "src"),
        **machine,
    }
    command = [sys.executable, "-W", "ignore", "-m", "django", *args]
    return subprocess.run(command, env=env, capture_output=True, text=True, check=False)


def content(name: str) -> dict[str, str]:
    """Every row of every table of a database, as one checksum a table."""
    with psycopg.connect(reach(name)) as open_one:
        tables = open_one.execute(
            "select table_name from information_schema.tables where table_schema = 'public'"
        ).fetchall()
        return {
            table: open_one.execute(
                f"select md5(coalesce(string_agg(t::text, '|' order by t::text), '')) "
                f'from "{table}" t'
            ).fetchone()[0]
            for (table,) in tables
        }


def files(folder: Path) -> dict[str, str]:
    """Every file below a folder, by its checksum."""
    return {
        str(path.relative_to(folder)): hashlib.sha256(path.read_bytes()).hexdigest()
        for path in folder.rglob("*")
        if path.is_file()
    }


def made(into: Path) -> Path:
    call_command("backup", str(into), stdout=io.StringIO())
    return whole.whole(into)[-1]


def test_every_row_and_file_comes_back_on_an_empty_machine(tmp_path, settings, empty_machine):
    lay_demo()
    folder = made(tmp_path / "backups")
    done = there(empty_machine, "restore", str(folder))
    assert done.returncode == 0, done.stderr
    ours, theirs = connection.settings_dict["NAME"], empty_machine["JUNGOPTIC_DB_NAME"]
    before, after = content(ours), content(theirs)
    assert len(before) > 40
    assert before == after
    kept = files(Path(settings.MEDIA_ROOT))
    assert len(kept) > 20
    assert files(Path(empty_machine["JUNGOPTIC_DATA_DIR"]) / "media") == kept
    # What came back is whole: the journal still only grows, and it is served.
    with psycopg.connect(reach(theirs)) as open_one, pytest.raises(psycopg.Error, match="grows"):
        open_one.execute("delete from journal_entry")
    # A backup of what was fetched back is the same again.
    second = there(empty_machine, "backup", str(tmp_path / "second"))
    assert second.returncode == 0, second.stderr
    (again,) = whole.whole(tmp_path / "second")
    assert whole.read(again)["rows"] == whole.read(folder)["rows"]
    assert there(empty_machine, "restore", str(again), "--over").returncode == 0
    assert content(theirs) == before


def test_what_comes_while_it_is_made_is_whole_or_not_there(tmp_path, settings, empty_machine):
    stage = make_stage(make_person("owner"))
    begun, ended = threading.Event(), threading.Event()

    def film() -> None:
        n = 0
        while not ended.is_set():
            n += 1
            name = default_storage.save(f"pictures/{n}.png", ContentFile(b"x" * n))
            picture = Picture.objects.create(production=stage.production, name=f"{n}")
            PictureFile.objects.create(picture=picture, name=f"{n}", size=n, stored=name)
            begun.set()
        connection.close()

    filming = threading.Thread(target=film)
    filming.start()
    assert begun.wait(60)
    try:
        folder = made(tmp_path / "backups")
    finally:
        ended.set()
        filming.join()
    assert there(empty_machine, "restore", str(folder)).returncode == 0
    media = Path(empty_machine["JUNGOPTIC_DATA_DIR"]) / "media"
    with psycopg.connect(reach(empty_machine["JUNGOPTIC_DB_NAME"])) as open_one:
        rows = open_one.execute("select stored, size from pictures_picturefile").fetchall()
    assert 0 < len(rows) < PictureFile.objects.count()
    assert all((media / stored).stat().st_size == size for stored, size in rows)


class TestWhatIsRefused:
    @pytest.fixture
    def folder(self, tmp_path) -> Path:
        make_stage(make_person("owner"))
        default_storage.save("pictures/x.png", ContentFile(b"whole"))
        return made(tmp_path / "backups")

    def refused(self, *args: str) -> str:
        before = content(connection.settings_dict["NAME"])
        with pytest.raises(CommandError) as told:
            call_command("restore", *args)
        # Nothing has changed by it.
        assert content(connection.settings_dict["NAME"]) == before
        return str(told.value)

    def test_productions_are_not_written_over_unasked(self, folder):
        assert "holds 1 productions" in self.refused(str(folder))

    def test_what_is_not_as_it_was_put_aside(self, folder):
        (folder / "media/pictures/x.png").write_bytes(b"other")
        assert "is not what was put aside" in self.refused(str(folder), "--over")
        (folder / "media/pictures/x.png").unlink()
        assert "is missing" in self.refused(str(folder), "--over")

    def test_a_torn_database(self, folder):
        dump = folder / "database.dump"
        dump.write_bytes(dump.read_bytes()[:-2000])
        assert "pg_restore" in self.refused(str(folder), "--over")

    def test_rows_that_do_not_come_back(self, folder):
        told = json.loads((folder / "manifest.json").read_text())
        told["rows"]["plans_shot"] += 1
        (folder / "manifest.json").write_text(json.dumps(told))
        assert "not those that were put aside" in self.refused(str(folder), "--over")

    @pytest.mark.parametrize("text", ["", "[]", "{}", '{"format": "other"}'])
    def test_what_is_no_backup(self, tmp_path, text):
        (tmp_path / "manifest.json").write_text(text)
        assert "backup" in self.refused(str(tmp_path))
        assert "no finished backup" in self.refused(str(tmp_path / "nowhere"))

    def test_what_a_restore_was_cut_off_from_is_put_back_first(self, folder):
        before = content(connection.settings_dict["NAME"])
        # As a kill leaves it, just after everything was moved aside.
        database._move("public", database.BEFORE)
        connection.close()
        with pytest.raises(CommandError, match="holds 1 productions"):
            call_command("restore", str(folder))
        assert content(connection.settings_dict["NAME"]) == before

    def test_one_of_a_later_version(self, folder):
        told = json.loads((folder / "manifest.json").read_text())
        (folder / "manifest.json").write_text(json.dumps({**told, "version": 99}))
        assert "later version" in self.refused(str(folder), "--over")


def test_only_the_newest_are_kept(tmp_path, monkeypatch):
    for n in range(4):
        name = tmp_path / f"jungoptic-2026010{n}-000000"
        name.mkdir()
        (name / "manifest.json").write_text("{}")
    (tmp_path / "jungoptic-20260109-000000.unfinished").mkdir()
    (tmp_path / "somebody-elses").mkdir()
    whole.keep(tmp_path, 2)
    assert sorted(p.name for p in tmp_path.iterdir() if p.is_dir()) == [
        "jungoptic-20260102-000000",
        "jungoptic-20260103-000000",
        "somebody-elses",
    ]


def test_a_program_that_is_missing_is_named(tmp_path, monkeypatch):
    monkeypatch.setenv("PATH", str(tmp_path))
    with pytest.raises(CommandError, match="apt-get install postgresql-client"):
        call_command("backup", str(tmp_path / "backups"))
    assert whole.whole(tmp_path / "backups") == []
    assert Production.objects.count() == 0
    assert database.rows()["plans_shot"] == 0
