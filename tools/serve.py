"""Start everything a machine needs to show Jungoptic, and stop all of it on Ctrl-C.

python tools/serve.py demo   the built application on gunicorn, with demo data and one worker
python tools/serve.py dev    Django's and Vite's development servers, reloading on change
"""

from __future__ import annotations

import contextlib
import ctypes
import errno
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from dataclasses import dataclass
from pathlib import Path

from cluster import LOCAL, ROOT, Cluster, Trouble

PYTHON = sys.executable
SETTINGS = "jungoptic.web.settings"


def say(text: str) -> None:
    """Print a line now, even into a pipe."""
    print(text, flush=True)


def hold(port: int) -> socket.socket:
    """Take `port` for ourselves before anything is started; raise `Trouble` when it is taken.

    The open socket is handed to the web server, so nobody can slip in between.
    """
    held = socket.socket()
    held.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        held.bind(("127.0.0.1", port))
        held.listen(128)
    except OSError as error:
        held.close()
        if error.errno == errno.EADDRINUSE:
            raise Trouble(
                f"Port {port} is taken by another program. Stop that one, or choose another: "
                f"make {sys.argv[1]} PORT={port + 10}"
            ) from error
        raise Trouble(f"Port {port} cannot be used: {error.strerror}.") from error
    return held


def _die_with_parent() -> None:
    """In a child: a kill -9 of this launcher takes the children along (Linux)."""
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)


#: Seconds before a child that ended is started again: the first time, and at most. One that has
#: lived longer than `STEADY_S` starts the count anew.
FIRST_PAUSE_S, LONGEST_PAUSE_S, STEADY_S = 0.5, 8.0, 15.0


@dataclass
class Member:
    """A process that is kept alive: how it is started, and how often it has ended of late."""

    name: str
    command: tuple[str, ...]
    cwd: Path
    keep: tuple[int, ...]
    more: dict[str, str]
    child: subprocess.Popen[bytes]
    since: float
    falls: int = 0
    #: When it may be started again; None while it runs.
    due: float | None = None


class Family:
    """The processes started here, kept alive until they are stopped in reverse order."""

    def __init__(self, env: dict[str, str]) -> None:
        self.env = env
        self.members: list[Member] = []

    def start(
        self,
        name: str,
        *command: str,
        cwd: Path = ROOT,
        keep: tuple[int, ...] = (),
        more: dict[str, str] | None = None,
    ) -> None:
        """Start a child in a session of its own, so that Ctrl-C reaches only the launcher. `more`
        is its environment beside that of all."""
        more = more or {}
        child = self._spawn(command, cwd, keep, more)
        self.members.append(Member(name, command, cwd, keep, more, child, time.monotonic()))

    def _spawn(
        self,
        command: tuple[str, ...],
        cwd: Path,
        keep: tuple[int, ...],
        more: dict[str, str],
    ) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            command,
            cwd=cwd,
            env={**self.env, **more},
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            pass_fds=keep,
            preexec_fn=_die_with_parent,
        )

    def first_dead(self) -> str | None:
        """The name of a child that has ended, if any."""
        return next((m.name for m in self.members if m.child.poll() is not None), None)

    def tend(self, now: float | None = None) -> None:
        """Start again what has ended, later each time: one that falls takes nobody along."""
        now = time.monotonic() if now is None else now
        for member in self.members:
            if member.due is None and member.child.poll() is not None:
                member.falls = 1 if now - member.since > STEADY_S else member.falls + 1
                pause = min(FIRST_PAUSE_S * 2 ** (member.falls - 1), LONGEST_PAUSE_S)
                member.due = now + pause
                say(f"The {member.name} has stopped; it is started again in {pause:g} s.")
            if member.due is not None and now >= member.due:
                # What it had started itself still holds its port, or its work.
                _end(member.child.pid, signal.SIGKILL)
                member.child = self._spawn(member.command, member.cwd, member.keep, member.more)
                member.since, member.due = now, None

    def stop(self) -> None:
        """Ask each to end, with whatever it has started itself, then insist."""
        for member in reversed(self.members):
            _end(member.child.pid, signal.SIGTERM)
        for member in reversed(self.members):
            try:
                member.child.wait(timeout=10)
            except subprocess.TimeoutExpired:
                _end(member.child.pid, signal.SIGKILL)
                member.child.wait()


def _end(group: int, how: signal.Signals) -> None:
    """A signal to a child and all that it has started, if any of it is left."""
    with contextlib.suppress(ProcessLookupError):
        os.killpg(group, how)


def django(env: dict[str, str], *arguments: str) -> None:
    """Run one management command, showing its output only when it fails."""
    done = subprocess.run(
        [PYTHON, "-W", "ignore", "-m", "django", *arguments],
        cwd=ROOT,
        env=env,
        capture_output=True,
        text=True,
    )
    if done.returncode != 0:
        raise Trouble(f"{arguments[0]} failed:\n{done.stdout}{done.stderr}")


def wait_until_answering(address: str, family: Family, seconds: float = 180.0) -> None:
    """Wait for the server; raise `Trouble` if a child dies or time runs out."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if (name := family.first_dead()) is not None:
            raise Trouble(f"The {name} ended at once; its message stands above.")
        try:
            with urllib.request.urlopen(address, timeout=5):
                return
        except OSError:
            time.sleep(0.2)
    raise Trouble(f"Nothing answers at {address} after {seconds:.0f} seconds.")


def web_server(door: int) -> tuple[str, ...]:
    """The command that serves the built application on an open socket."""
    return (
        *(PYTHON, "-m", "gunicorn", "jungoptic.web.wsgi", "-b", f"fd://{door}"),
        *("-c", "python:jungoptic.web.gunicorn_conf", "--no-control-socket"),
    )


#: Each with a process of its own: what somebody waits for never stands behind what takes long.
WORKERS = ("short,housekeeping", "long")


def worker(queues: str) -> tuple[str, ...]:
    """The command that does the work of some queues."""
    return (
        *(PYTHON, "-W", "ignore", "-m", "django", "work"),
        *("--queues", queues, "--name", queues, "--delete-jobs", "successful"),
    )


class Watch:
    """Keeps the database alive, on the port that everybody knows."""

    EVERY_S = 2.0

    def __init__(self, cluster: Cluster, port: int) -> None:
        self.cluster, self.port = cluster, port
        self.next, self.falls = 0.0, 0

    def look(self, now: float | None = None) -> None:
        """Start the database again where it has ended, later each time."""
        now = time.monotonic() if now is None else now
        if now < self.next:
            return
        self.next = now + self.EVERY_S
        if self.cluster.alive():
            self.falls = 0
            return
        say("The database has stopped; it is started again.")
        try:
            self.cluster.revive(self.port)
        except Trouble as trouble:
            self.falls += 1
            pause = min(FIRST_PAUSE_S * 2**self.falls, LONGEST_PAUSE_S)
            self.next = now + pause
            say(f"{trouble}\nTrying again in {pause:g} s.")


def run(kind: str, port: int) -> int:
    """Start, wait for Ctrl-C, stop."""
    door = hold(port)
    say("Starting the database ...")
    # Another one, for who besieges the product without touching the demo.
    cluster = Cluster(os.environ.get("JUNGOPTIC_CLUSTER") or "demo")
    reach = cluster.start()
    env = {
        **os.environ,
        **reach.env(),
        "DJANGO_SETTINGS_MODULE": SETTINGS,
        "JUNGOPTIC_DEMO": "1",
        "PYTHONPATH": str(ROOT / "src"),
        # What is compiled once is kept: half of every later start.
        "PYTHONPYCACHEPREFIX": str(LOCAL / "pyc"),
    }
    env.pop("PYTHONDONTWRITEBYTECODE", None)
    family = Family(env)
    try:
        vite_port = port + 1
        if kind == "dev":
            hold(vite_port).close()
            env.update(
                JUNGOPTIC_DEBUG="1",
                JUNGOPTIC_VITE_DEV_PORT=str(vite_port),
                VITE_ORIGIN=f"http://127.0.0.1:{vite_port}",
            )
        if kind == "demo":
            env["JUNGOPTIC_COLLECTED_STATIC"] = "1"
        say("Preparing tables and demo data ...")
        django(env, "prepare", "--demo", *(["--static"] if kind == "demo" else []))
        if kind == "demo":
            # The port stays ours: whoever calls while the server is started again, waits.
            family.start(
                "web server",
                *web_server(door.fileno()),
                keep=(door.fileno(),),
                more={"JUNGOPTIC_DB_POOL": "4"},
            )
        else:
            own_node = LOCAL / "node" / "bin"
            npx = shutil.which("npx", path=f"{own_node}:{os.environ['PATH']}") or "npx"
            family.start(
                "Vite",
                *(npx, "vite", "--host", "127.0.0.1", "--port", str(vite_port), "--strictPort"),
                cwd=ROOT / "frontend",
            )
            wait_until_answering(f"http://127.0.0.1:{vite_port}/static/src/main.ts", family)
            door.close()
            family.start("web server", PYTHON, "-m", "django", "runserver", f"127.0.0.1:{port}")
        for queues in WORKERS:
            family.start(f"worker for {queues} work", *worker(queues))
        wait_until_answering(f"http://127.0.0.1:{port}/api/health", family)
        say("")
        say(f"  Jungoptic is at  http://127.0.0.1:{port}/")
        say("  Sign in as       supervisor   with   heron-at-the-lock")
        say("  Stop with        Ctrl-C")
        say("")
        watch = Watch(cluster, reach.port)
        while True:
            time.sleep(0.5)
            watch.look()
            family.tend()
    finally:
        say("Stopping ...")
        family.stop()
        cluster.stop()


def main() -> int:
    """The command line."""
    kind = sys.argv[1] if len(sys.argv) > 1 else "demo"
    text = os.environ.get("PORT") or "8000"
    if not text.isdigit() or not 1024 <= int(text) < 65535:
        print(f"PORT must be a number from 1024 to 65534, not {text!r}.", file=sys.stderr)
        return 1
    # Set also for SIGINT: a shell that starts us in the background has it ignored.
    signal.signal(signal.SIGINT, signal.default_int_handler)
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    signal.signal(signal.SIGHUP, signal.default_int_handler)
    try:
        return run(kind, int(text))
    except KeyboardInterrupt:
        return 0
    except Trouble as trouble:
        print(f"\n{trouble}", file=sys.stderr)
        return 1


if __name__ == "__main__":
    sys.exit(main())
