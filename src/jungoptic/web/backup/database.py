"""The database as one consistent file, by PostgreSQL's own programs."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path
from typing import Any

from django.db import connection, transaction


class Trouble(Exception):
    """Why something could not be put aside or fetched back, as a sentence."""


def _run(program: str, *args: str) -> None:
    path = shutil.which(program)
    if path is None:
        raise Trouble(f"{program} is missing: apt-get install postgresql-client")
    told: dict[str, Any] = connection.settings_dict
    reach = {
        "PGHOST": str(told["HOST"]),
        "PGPORT": str(told["PORT"]),
        "PGUSER": str(told["USER"]),
        "PGDATABASE": str(told["NAME"]),
        "PGPASSWORD": str(told["PASSWORD"]),
    }
    done = subprocess.run(
        [path, *args], env={**os.environ, **reach}, capture_output=True, text=True, check=False
    )
    if done.returncode != 0:
        raise Trouble(f"{program}: {done.stderr.strip()[-500:]}")


def put_aside(file: Path) -> dict[str, int]:
    """Everything in the database at one moment, while people go on working; how many rows every
    table had then. Raises `Trouble`."""
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("set transaction isolation level repeatable read")
        cursor.execute("select pg_export_snapshot()")
        moment = cursor.fetchone()[0]
        _run(
            *("pg_dump", "--format=custom", "--no-owner", "--no-privileges"),
            *(f"--snapshot={moment}", f"--file={file}"),
        )
        return rows()


def recover() -> None:
    """Put back what waited for a restore that was cut off: a second try must not lose it."""
    with connection.cursor() as cursor:
        cursor.execute("select 1 from pg_namespace where nspname = %s", [BEFORE])
        waits = cursor.fetchone() is not None
    if waits:
        _move(BEFORE, "public")


def fetch_back(file: Path, expected: dict[str, int]) -> None:
    """The same, into this database: all of it, or everything stays as it was. Raises `Trouble`."""
    _move("public", BEFORE)
    try:
        _run(
            *("pg_restore", "--no-owner", "--exit-on-error", "--single-transaction"),
            *(f"--dbname={connection.settings_dict['NAME']}", str(file)),
        )
        if rows() != expected:
            raise Trouble("The rows that came back are not those that were put aside.")
    except BaseException:
        _move(BEFORE, "public")
        raise
    with connection.cursor() as cursor:
        cursor.execute(f"drop schema {BEFORE} cascade")


#: Where what was there waits until what is fetched back has proved whole.
BEFORE = "before_the_restore"


def _move(schema: str, to: str) -> None:
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(f"drop schema if exists {to} cascade")
        cursor.execute(f"alter schema {schema} rename to {to}")
        if schema == "public":
            cursor.execute("create schema public")


def rows() -> dict[str, int]:
    """How many rows every table has."""
    with connection.cursor() as cursor:
        names = sorted(connection.introspection.table_names(cursor))
        found = {}
        for name in names:
            cursor.execute(f"select count(*) from {connection.ops.quote_name(name)}")
            found[name] = int(cursor.fetchone()[0])
    return found
