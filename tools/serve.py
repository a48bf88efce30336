"""Start everything a machine needs to show Jungoptic, and stop all of it on Ctrl-C.

python tools/serve.py demo   the built application on gunicorn, with demo data and one worker
python tools/serve.py dev    Django's and Vite's development servers, reloading on change
"""

from __future__ import annotations

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


class Family:
    """The processes started here, stopped in reverse order."""

    def __init__(self, env: dict[str, str]) -> None:
        self.env = env
        self.members: list[tuple[str, subprocess.Popen[bytes]]] = []

    def start(self, name: str, *command: str, cwd: Path = ROOT, keep: tuple[int, ...] = ()) -> None:
        """Start a child in a session of its own, so that Ctrl-C reaches only the launcher."""
        child = subprocess.Popen(
            command,
            cwd=cwd,
            env=self.env,
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            pass_fds=keep,
            preexec_fn=_die_with_parent,
        )
        self.members.append((name, child))

    def first_dead(self) -> str | None:
        """The name of a child that has ended, if any."""
        return next((name for name, child in self.members if child.poll() is not None), None)

    def stop(self) -> None:
        """Ask each to end, with whatever it has started itself, then insist."""
        for _, child in reversed(self.members):
            if child.poll() is None:
                os.killpg(child.pid, signal.SIGTERM)
        for _, child in reversed(self.members):
            try:
                child.wait(timeout=10)
            except subprocess.TimeoutExpired:
                os.killpg(child.pid, signal.SIGKILL)
                child.wait()


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
    workers = os.environ.get("JUNGOPTIC_WEB_WORKERS", "2")
    return (
        *(PYTHON, "-m", "gunicorn", "jungoptic.web.wsgi", "-b", f"fd://{door}"),
        *("-w", workers, "-k", "gthread", "--threads", "4", "--no-control-socket"),
        *("--log-level", "warning", "--worker-tmp-dir", "/dev/shm"),
    )


def run(kind: str, port: int) -> int:
    """Start, wait for Ctrl-C, stop."""
    door = hold(port)
    say("Starting the database ...")
    cluster = Cluster("demo")
    reach = cluster.start()
    env = {
        **os.environ,
        **reach.env(),
        "DJANGO_SETTINGS_MODULE": SETTINGS,
        "JUNGOPTIC_DEMO": "1",
        "PYTHONPATH": str(ROOT / "src"),
    }
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
            family.start("web server", *web_server(door.fileno()), keep=(door.fileno(),))
            door.close()
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
        family.start("worker", PYTHON, "-W", "ignore", "-m", "django", "procrastinate", "worker")
        wait_until_answering(f"http://127.0.0.1:{port}/api/health", family)
        say("")
        say(f"  Jungoptic is at  http://127.0.0.1:{port}/")
        say("  Sign in as       supervisor   with   heron-at-the-lock")
        say("  Stop with        Ctrl-C")
        say("")
        while True:
            time.sleep(0.5)
            if (name := family.first_dead()) is not None:
                raise Trouble(f"The {name} has stopped, so everything stops.")
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
