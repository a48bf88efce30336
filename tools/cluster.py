"""A private PostgreSQL cluster in the project's own folder, on loopback, on a free port.

Used by the demo, by development and by the tests; only the standard library is needed.

    python tools/cluster.py start demo     starts it and prints how to reach it
    python tools/cluster.py stop demo      stops it
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import pwd
import secrets
import shutil
import socket
import subprocess
import sys
import tempfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
LOCAL = ROOT / ".local"
USER = "jungoptic"
DATABASE = "jungoptic"
#: Ports below the range from which the kernel hands out outgoing ones.
PORTS = range(28600, 28700)


class Trouble(RuntimeError):
    """Something a person can mend; the message says what."""


@dataclass(frozen=True)
class Reach:
    """How to reach a running cluster."""

    port: int
    password: str

    def env(self) -> dict[str, str]:
        """The variables the application reads."""
        return {
            "JUNGOPTIC_DB_HOST": "127.0.0.1",
            "JUNGOPTIC_DB_PORT": str(self.port),
            "JUNGOPTIC_DB_NAME": DATABASE,
            "JUNGOPTIC_DB_USER": USER,
            "JUNGOPTIC_DB_PASSWORD": self.password,
        }


def _programs() -> Path:
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: int(p.parts[4]))
    if not found:
        raise Trouble(
            "PostgreSQL's server is not installed: run `make setup`, or apt-get install postgresql."
        )
    return found[-1].parent


class Cluster:
    """One cluster by name. With `durable` off it is for tests: faster, and lost in a crash."""

    def __init__(self, name: str, durable: bool = True) -> None:
        self.name = name
        self.durable = durable
        self.bin = _programs()
        # initdb refuses root, so as root everything runs as Debian's own database user.
        self.as_user = "postgres" if os.geteuid() == 0 else None
        self.home = self._home()
        self.data = self.home / "data"
        self.log = self.home / "server.log"
        self.secret = LOCAL / f"pg-{name}.password"

    def _home(self) -> Path:
        wanted = LOCAL / "pg" / self.name
        if self.as_user is None:
            wanted.mkdir(parents=True, exist_ok=True)
            return wanted
        wanted.parent.mkdir(parents=True, exist_ok=True)
        reachable = self._run("test", "-x", str(wanted.parent), check=False).returncode == 0
        if not reachable:
            tag = hashlib.sha256(str(ROOT).encode()).hexdigest()[:12]
            wanted = Path("/var/tmp") / f"jungoptic-{tag}-{self.name}"
            if not wanted.exists():
                print(f"The database user cannot enter {ROOT}; keeping the database in {wanted}.")
        wanted.mkdir(parents=True, exist_ok=True)
        owner = pwd.getpwnam(self.as_user)
        os.chown(wanted, owner.pw_uid, owner.pw_gid)
        return wanted

    def _run(
        self, *command: str, check: bool = True, env: dict[str, str] | None = None
    ) -> subprocess.CompletedProcess[str]:
        prefix = ["runuser", "-u", self.as_user, "--"] if self.as_user else []
        done = subprocess.run(
            [*prefix, *command],
            stdin=subprocess.DEVNULL,
            capture_output=True,
            text=True,
            cwd="/",
            env={"PATH": os.environ.get("PATH", os.defpath), "LC_ALL": "C.UTF-8", **(env or {})},
            check=False,
        )
        if check and done.returncode != 0:
            raise Trouble(self._explained(command[0], done.stdout + done.stderr))
        return done

    def _explained(self, program: str, output: str) -> str:
        tail = ""
        if self.log.exists():
            tail = "\n".join(self.log.read_text(errors="replace").splitlines()[-5:])
        if "No space left" in output + tail:
            return f"The disk is full, so the database cannot run. Free some space on {self.home}."
        return f"{Path(program).name} failed:\n{output.strip()}\n{tail}".rstrip()

    @contextmanager
    def _locked(self) -> Iterator[None]:
        """One start at a time. The lock is not inherited by the server."""
        LOCAL.mkdir(exist_ok=True)
        with open(LOCAL / f"pg-{self.name}.lock", "w") as handle:
            fcntl.flock(handle, fcntl.LOCK_EX)
            yield

    def _running_port(self) -> int | None:
        """The port of a server that really runs on our folder; clears a stale pid file."""
        pid_file = self.data / "postmaster.pid"
        try:
            lines = pid_file.read_text().splitlines()
            pid, port = int(lines[0]), int(lines[3])
            command = Path(f"/proc/{pid}/cmdline").read_bytes().split(b"\0")
        except (OSError, ValueError, IndexError):
            command = []
            pid = port = 0
        if command and str(self.data).encode() in command:
            ready = self._run(
                str(self.bin / "pg_isready"),
                "-h",
                "127.0.0.1",
                "-p",
                str(port),
                "-t",
                "10",
                check=False,
            )
            if ready.returncode == 0:
                return port
        if pid_file.exists() and not command:
            pid_file.unlink()
        return None

    def start(self) -> Reach:
        """Start the cluster, making it first if need be; an already running one is used."""
        with self._locked():
            if not (self.data / "PG_VERSION").exists():
                self._make()
            port = self._running_port()
            if port is None:
                self._launch()
                port = self._running_port()
            if port is None:
                raise Trouble(f"The database started but does not answer; see {self.log}.")
            reach = Reach(port, self.secret.read_text().strip())
            self._database(reach)
            return reach

    def _make(self) -> None:
        if self.data.exists():
            shutil.rmtree(self.data)  # an initdb that was interrupted leaves half a folder
        password = secrets.token_urlsafe(24)
        self.secret.parent.mkdir(exist_ok=True)
        self.secret.touch(mode=0o600)
        self.secret.write_text(password)
        with tempfile.NamedTemporaryFile("w", dir="/var/tmp", prefix="jungoptic-") as handle:
            handle.write(password)
            handle.flush()
            if self.as_user:
                owner = pwd.getpwnam(self.as_user)
                os.chown(handle.name, owner.pw_uid, owner.pw_gid)
            self._run(
                str(self.bin / "initdb"),
                "-D",
                str(self.data),
                "-U",
                USER,
                "-A",
                "scram-sha-256",
                f"--pwfile={handle.name}",
                "-E",
                "UTF8",
                "--locale=C.UTF-8",
                # A page that the disk has spoiled is told, not served.
                "--data-checksums",
            )

    def alive(self) -> bool:
        """Whether the server of our folder runs, looked at without asking it anything."""
        try:
            pid = int((self.data / "postmaster.pid").read_text().splitlines()[0])
            command = Path(f"/proc/{pid}/cmdline").read_bytes()
        except (OSError, ValueError, IndexError):
            return False
        return str(self.data).encode() in command

    def revive(self, port: int) -> None:
        """Start the server again on the port that it had; raises `Trouble`."""
        with self._locked():
            if self._running_port() is None:
                self._launch((port,))

    def _launch(self, ports: Iterable[int] = PORTS) -> None:
        options = ["-h 127.0.0.1", "-c unix_socket_directories=''"]
        if not self.durable:
            options += ["-c fsync=off", "-c full_page_writes=off", "-c synchronous_commit=off"]
        last: Trouble | None = None
        for port in ports:
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", port)) == 0:
                    continue
            try:
                self._run(
                    str(self.bin / "pg_ctl"),
                    "start",
                    "-w",
                    "-t",
                    "60",
                    "-D",
                    str(self.data),
                    "-l",
                    str(self.log),
                    "-o",
                    " ".join([*options, f"-p {port}"]),
                )
                return
            except Trouble as trouble:
                last = trouble
                if "could not bind" not in str(trouble):
                    break
        raise last or Trouble(f"All ports from {PORTS.start} to {PORTS.stop - 1} are taken.")

    def _database(self, reach: Reach) -> None:
        env = {"PGPASSWORD": reach.password}
        where = ["-h", "127.0.0.1", "-p", str(reach.port), "-U", USER]
        have = self._run(
            str(self.bin / "psql"),
            *where,
            "-d",
            "postgres",
            "-Atc",
            f"select 1 from pg_database where datname = '{DATABASE}'",
            env=env,
        )
        if have.stdout.strip() != "1":
            self._run(str(self.bin / "createdb"), *where, DATABASE, env=env)

    def stop(self) -> None:
        """Stop it if it runs."""
        if self._running_port() is not None:
            self._run(
                str(self.bin / "pg_ctl"),
                "stop",
                "-D",
                str(self.data),
                "-m",
                "fast",
                "-w",
                check=False,
            )


def main() -> int:
    """The command line."""
    if len(sys.argv) != 3 or sys.argv[1] not in {"start", "stop"}:
        print(__doc__)
        return 2
    try:
        cluster = Cluster(sys.argv[2], durable=sys.argv[2] != "test")
        if sys.argv[1] == "stop":
            cluster.stop()
        else:
            for name, value in cluster.start().env().items():
                print(f"export {name}='{value}'")
    except Trouble as trouble:
        print(trouble, file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
