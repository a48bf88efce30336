"""The start command's own parts: the port, the private cluster, and what they say when stuck."""

from __future__ import annotations

import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import cluster as cluster_module
import pytest
import serve
from cluster import Cluster, Reach, Trouble

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture
def taken_port():
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        yield other.getsockname()[1]


def test_a_taken_port_is_explained_with_a_way_out(taken_port, monkeypatch):
    monkeypatch.setattr(sys, "argv", ["serve.py", "demo"])
    with pytest.raises(Trouble, match=rf"Port {taken_port} is taken.*PORT={taken_port + 10}"):
        serve.hold(taken_port)


def test_a_free_port_is_held_until_handed_on():
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    held = serve.hold(port)
    try:
        with socket.socket() as second, pytest.raises(OSError, match="in use"):
            second.bind(("127.0.0.1", port))
    finally:
        held.close()


@pytest.mark.parametrize("port", ["abc", "80", "70000", "-1"])
def test_a_port_that_is_none(port):
    done = subprocess.run(
        [sys.executable, str(ROOT / "tools" / "serve.py"), "demo"],
        env={"PORT": port, "PATH": "/usr/bin:/bin"},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 1
    assert "PORT must be a number" in done.stderr


def test_children_end_with_the_family():
    family = serve.Family({"PATH": "/usr/bin:/bin"})
    family.start("sleeper", "sleep", "60")
    assert family.first_dead() is None
    family.stop()
    assert family.first_dead() == "sleeper"


def test_grandchildren_end_too(tmp_path):
    family = serve.Family({"PATH": "/usr/bin:/bin"})
    family.start("npx", "sh", "-c", f"sleep 61 & echo $! > {tmp_path}/pid; wait")
    for _ in range(100):
        if (tmp_path / "pid").exists() and (tmp_path / "pid").read_text().strip():
            break
        time.sleep(0.05)
    grandchild = int((tmp_path / "pid").read_text())
    family.stop()
    for _ in range(100):
        stat = Path(f"/proc/{grandchild}/stat")
        if not stat.exists() or stat.read_text().split()[2] == "Z":
            return
        time.sleep(0.05)
    pytest.fail("the grandchild lives on")


def test_a_child_that_dies_at_once_is_named():
    family = serve.Family({"PATH": "/usr/bin:/bin"})
    family.start("web server", "false")
    with pytest.raises(Trouble, match="web server ended at once"):
        serve.wait_until_answering("http://127.0.0.1:9/", family, seconds=5)


def until(found, seconds: float = 30.0):
    """Wait for a state: what `found` gives once it gives something."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if got := found():
            return got
        time.sleep(0.05)
    pytest.fail("it did not come")


class TestKeptAlive:
    def test_what_ends_is_started_again_later_each_time(self):
        family = serve.Family({"PATH": "/usr/bin:/bin"})
        family.start("faller", "false")
        (faller,) = family.members
        now, pauses = time.monotonic(), []
        for _ in range(9):
            faller.child.wait()
            family.tend(now)
            pauses.append(round(faller.due - now, 3))
            now = faller.due
            family.tend(now - 0.01)
            assert faller.due is not None, "not before its time"
            family.tend(now)
            assert faller.due is None
        assert pauses == [0.5, 1, 2, 4, 8, 8, 8, 8, 8]
        family.stop()

    def test_one_that_lived_long_begins_anew(self):
        family = serve.Family({"PATH": "/usr/bin:/bin"})
        family.start("faller", "false")
        (faller,) = family.members
        faller.child.wait()
        faller.falls = 6
        family.tend(faller.since + serve.STEADY_S + 1)
        assert faller.falls == 1
        family.stop()

    def test_one_that_falls_takes_nobody_along(self):
        family = serve.Family({"PATH": "/usr/bin:/bin"})
        family.start("sleeper", "sleep", "60")
        family.start("faller", "false")
        sleeper, faller = family.members
        first = sleeper.child.pid
        faller.child.wait()
        family.tend()
        family.tend(time.monotonic() + 1)
        assert sleeper.child.pid == first
        assert sleeper.child.poll() is None
        family.stop()

    def test_the_database_comes_back_on_its_port(self):
        class Fake:
            def __init__(self):
                self.up, self.asked = True, []

            def alive(self):
                return self.up

            def revive(self, port):
                self.asked.append(port)
                if len(self.asked) < 3:
                    raise Trouble("The disk is full.")
                self.up = True

        fake = Fake()
        watch = serve.Watch(fake, 28601)
        watch.look(0.0)
        fake.up = False
        now = 0.0
        while not fake.up:
            now = watch.next
            watch.look(now)
        assert fake.asked == [28601] * 3
        watch.look(watch.next)
        assert watch.falls == 0

    def test_a_cluster_knows_whether_it_is_alive(self, monkeypatch, tmp_path):
        own = Cluster("test", durable=False)
        own.start()
        assert own.alive()
        monkeypatch.setattr(own, "data", tmp_path)
        assert not own.alive()

    def test_a_killed_master_leaves_no_worker_and_is_healed_on_the_same_port(self):
        door = serve.hold(0)
        port = door.getsockname()[1]
        env = {"PATH": "/usr/bin:/bin", "PYTHONPATH": f"{ROOT}/src:{ROOT}"}
        family = serve.Family(env)
        command = [*serve.web_server(door.fileno())]
        command[command.index("jungoptic.web.wsgi")] = "tests.tools.tiny:app"
        family.start("web server", *command, keep=(door.fileno(),))
        (web,) = family.members

        def answers():
            try:
                with urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=5) as got:
                    return got.read() == b"hello"
            except OSError:
                return False

        def workers():
            path = Path(f"/proc/{web.child.pid}/task/{web.child.pid}/children")
            return [int(p) for p in path.read_text().split()]

        def gone(pid):
            stat = Path(f"/proc/{pid}/stat")
            return not stat.exists() or stat.read_text().rpartition(")")[2].split()[0] == "Z"

        try:
            until(answers)
            left = until(lambda: w if len(w := workers()) == 2 else None)
            web.child.kill()
            web.child.wait()
            until(lambda: all(gone(pid) for pid in left))
            family.tend()
            family.tend(time.monotonic() + serve.FIRST_PAUSE_S)
            until(answers)
        finally:
            family.stop()
            door.close()


def test_the_running_cluster_is_found_and_used_again():
    own = Cluster("test", durable=False)
    first, second = own.start(), own.start()
    assert first == second
    assert first.port in cluster_module.PORTS
    assert set(first.env()) == {
        f"JUNGOPTIC_DB_{name}" for name in ("HOST", "PORT", "NAME", "USER", "PASSWORD")
    }


def test_the_password_is_long_and_private():
    own = Cluster("test", durable=False)
    assert len(own.secret.read_text().strip()) >= 24
    assert own.secret.stat().st_mode & 0o077 == 0


def test_nobody_gets_in_without_the_password():
    import psycopg

    reach = Cluster("test", durable=False).start()
    with pytest.raises(psycopg.OperationalError, match="password"):
        psycopg.connect(
            host="127.0.0.1", port=reach.port, user="jungoptic", dbname="jungoptic", password="no"
        )


def test_a_full_disk_is_said_plainly():
    own = Cluster("test", durable=False)
    told = own._explained("initdb", "could not write: No space left on device")
    assert told.startswith("The disk is full")


def test_the_command_line_explains_itself():
    done = subprocess.run(
        [sys.executable, str(ROOT / "tools" / "cluster.py")],
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 2
    assert "start demo" in done.stdout
    assert Reach(1, "x").env()["JUNGOPTIC_DB_PORT"] == "1"
