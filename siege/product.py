"""The product as people run it, on a database and files of its own; and its processes, to be
killed."""

from __future__ import annotations

import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "tools"))

from cluster import LOCAL, Cluster  # noqa: E402

#: What can be killed, as it is told in the table.
VICTIMS = ("web worker", "web master", "worker of jobs", "database")


def _command(pid: int) -> str:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode()
    except OSError:
        return ""


def _children(pid: int) -> list[int]:
    try:
        text = Path(f"/proc/{pid}/task/{pid}/children").read_text()
    except OSError:
        return []
    return [int(one) for one in text.split()]


@dataclass
class Product:
    """`make demo` on a free port, with a cluster and a folder that nobody else uses."""

    port: int
    address: str
    launcher: subprocess.Popen[bytes]
    cluster: Cluster
    log: Path

    @classmethod
    def start(cls) -> Product:
        """Made anew, from an empty database to the demo served."""
        folder = LOCAL / "siege"
        cluster = Cluster("siege")
        cluster.stop()
        for old in (folder, cluster.data):
            shutil.rmtree(old, ignore_errors=True)
        folder.mkdir(parents=True)
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = int(free.getsockname()[1])
        log = folder / "log"
        env = {
            **os.environ,
            "PORT": str(port),
            "JUNGOPTIC_CLUSTER": "siege",
            "JUNGOPTIC_DATA_DIR": str(folder / "data"),
            "PYTHONUNBUFFERED": "1",
        }
        with log.open("wb") as out:
            launcher = subprocess.Popen(
                [sys.executable, str(ROOT / "tools" / "serve.py"), "demo"],
                cwd=ROOT,
                env=env,
                stdin=subprocess.DEVNULL,
                stdout=out,
                stderr=subprocess.STDOUT,
                start_new_session=True,
            )
        product = cls(port, f"http://127.0.0.1:{port}", launcher, cluster, log)
        product.wait(600.0)
        return product

    def serves(self) -> bool:
        """Whether it answers a question that needs the database."""
        try:
            with urllib.request.urlopen(f"{self.address}/api/health/ready", timeout=5) as answer:
                return bool(answer.status == 200)
        except OSError:
            return False

    def wait(self, seconds: float) -> float:
        """Seconds until it serves. Raises RuntimeError when it does not come back."""
        began = time.monotonic()
        while time.monotonic() - began < seconds:
            if self.serves():
                return time.monotonic() - began
            if self.launcher.poll() is not None:
                raise RuntimeError(f"the launcher has ended; see {self.log}")
            time.sleep(0.05)
        raise RuntimeError(f"it did not serve again within {seconds:g} s; see {self.log}")

    def find(self, victim: str) -> list[int]:
        """The processes of a kind."""
        if victim == "database":
            try:
                text = (self.cluster.data / "postmaster.pid").read_text()
                return [int(text.splitlines()[0])]
            except (OSError, ValueError, IndexError):
                return []
        own = _children(self.launcher.pid)
        masters = [pid for pid in own if "gunicorn" in _command(pid)]
        if victim == "web master":
            return masters
        if victim == "web worker":
            return [child for pid in masters for child in _children(pid)]
        return [pid for pid in own if "django work " in _command(pid)]

    def kill(self, victim: str, chance: random.Random) -> bool:
        """Kill -9 one of a kind; whether there was one."""
        found = self.find(victim)
        if not found:
            return False
        try:
            os.kill(chance.choice(found), signal.SIGKILL)
        except ProcessLookupError:
            return False
        return True

    def memory_mb(self) -> float:
        """What the web processes take up together, MB of their own (proportional set size)."""
        total = 0.0
        for pid in (*self.find("web master"), *self.find("web worker")):
            try:
                text = Path(f"/proc/{pid}/smaps_rollup").read_text()
            except OSError:
                continue
            total += next(
                int(line.split()[1]) / 1024.0
                for line in text.splitlines()
                if line.startswith("Pss:")
            )
        return total

    def stop(self) -> None:
        """As Ctrl-C does."""
        self.launcher.send_signal(signal.SIGINT)
        try:
            self.launcher.wait(timeout=60)
        except subprocess.TimeoutExpired:
            self.launcher.kill()
        self.cluster.stop()
