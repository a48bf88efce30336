"""A real server's database by `deploy/`: one role owns the tables, the other serves."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import uuid
from collections.abc import Callable, Iterator
from pathlib import Path

import psycopg
import pytest
from django.db import connection

pytestmark = pytest.mark.django_db(transaction=True)
ROOT = Path(__file__).resolve().parents[2]
DEPLOY = ROOT / "deploy"
Command = Callable[..., subprocess.CompletedProcess[str]]

#: An owner makes a production, plans and deletes; then everything that the role must not.
SERVED = """
import time
import django; django.setup()
from django.test import Client
from django.db import connection
from jungoptic.web.accounts.models import User
api = Client(SERVER_NAME="127.0.0.1")
api.force_login(User.objects.get(username="ansa"))
session = api.session
session["sure"] = time.time()
session.save()
def post(path, **body):
    answer = api.post("/api" + path, body, "application/json")
    assert answer.status_code in (200, 204), (path, answer.content)
    return answer.json() if answer.content else None
production = post("/productions", name="The Ferry")["id"]
shot = post(f"/productions/{production}/shots", number="1", title="T")["id"]
post(f"/productions/{production}/shots/{shot}/recipes/apply", recipe="twin-split")
post(f"/productions/{production}/jobs", kind="breakdown-pdf")
post(f"/productions/{production}/invitations", role="crew")
print(len(api.get(f"/api/productions/{production}/history").json()["doings"]) > 2)
for words in (
    "delete from journal_entry",
    "update journal_entry set action = 'x'",
    "truncate journal_entry",
    "drop table plans_shot",
    "alter table plans_shot add column x int",
    "create table x (y int)",
    "create temporary table x (y int)",
    "delete from django_migrations",
    "create role x",
):
    try:
        with connection.cursor() as cursor:
            cursor.execute(words)
        print("allowed:", words)
    except Exception as error:
        told = str(error)
        print("refused" if "permission denied" in told or "must be owner" in told else told)
post("/account/erase", password="a-long-tide-table")
print(User.objects.count())
"""


@pytest.fixture
def roles(tmp_path: Path) -> Iterator[Command]:
    """The database as `database.sql` makes it; runs the application's commands as a role."""
    told = connection.settings_dict
    reach = {
        "PGHOST": str(told["HOST"]),
        "PGPORT": str(told["PORT"]),
        "PGUSER": str(told["USER"]),
        "PGPASSWORD": str(told["PASSWORD"]),
        "PGDATABASE": "postgres",
    }
    name = f"deployed_{uuid.uuid4().hex[:8]}"
    words = [f"{n}={v}" for n, v in (("owner_password", "o"), ("server_password", "s"))]
    psql = [str(shutil.which("psql")), "-q", "-v", words[0], "-v", words[1]]
    subprocess.run(
        [*psql, "-v", f"database={name}", "-f", str(DEPLOY / "database.sql")],
        env={**os.environ, **reach},
        check=True,
    )

    def run(role: str, *args: str) -> subprocess.CompletedProcess[str]:
        env = {
            **os.environ,
            "DJANGO_SETTINGS_MODULE": "jungoptic.web.settings",
            "PYTHONPATH": str(ROOT / "src"),
            "JUNGOPTIC_DB_NAME": name,
            "JUNGOPTIC_DB_USER": f"jungoptic_{role}",
            "JUNGOPTIC_DB_PASSWORD": role[0],
            "JUNGOPTIC_DATA_DIR": str(tmp_path / "data"),
            "DJANGO_SUPERUSER_PASSWORD": "a-long-tide-table",
        }
        command = [sys.executable, "-W", "ignore", "-m", "django", *args]
        return subprocess.run(command, env=env, capture_output=True, text=True, check=False)

    yield run
    parts = " ".join(f"{n.removeprefix('PG').lower()}={v}" for n, v in reach.items())
    parts = parts.replace("database=", "dbname=")
    with psycopg.connect(parts, autocommit=True) as there:
        there.execute(f"drop database {name} with (force)")
        there.execute("drop role jungoptic_owner")
        there.execute("drop role jungoptic_server")


def test_the_role_that_serves_reads_and_writes_rows_and_nothing_else(roles: Command):
    prepare = ("prepare", "--serve-as", "jungoptic_server")
    made = roles("owner", *prepare)
    assert made.returncode == 0, made.stderr
    # An update does it again.
    assert roles("owner", *prepare).returncode == 0
    first = roles(
        "server", "createsuperuser", "--noinput", "--username", "ansa", "--email", "a@films.example"
    )
    assert first.returncode == 0, first.stderr
    served = roles("server", "shell", "-v", "0", "-c", SERVED)
    assert served.returncode == 0, served.stderr
    told = served.stdout.split("\n")[:-1]
    assert told == ["True", *["refused"] * 9, "0"], told


def test_the_examples_name_what_there_is():
    """Every setting of the example is one that is read, every command one that there is."""
    config = (ROOT / "src/jungoptic/web/config.py").read_text()
    for name in re.findall(r"^JUNGOPTIC_(\w+)=", (DEPLOY / "jungoptic.env").read_text(), re.M):
        assert f'"{name}"' in config, name
    commands = {path.stem for path in (ROOT / "src/jungoptic/web/management/commands").glob("*.py")}
    for unit in DEPLOY.glob("*.service"):
        told = unit.read_text()
        assert "User=jungoptic\n" in told
        for command in re.findall(r"-m django (\w+)", told):
            assert command in commands, (unit.name, command)
    # The proxy lets through as much as a part may have.
    from django.conf import settings

    (most,) = re.findall(r"client_max_body_size (\d+)m;", (DEPLOY / "nginx.conf").read_text())
    assert int(most) * 10**6 > settings.PART_LIMIT
