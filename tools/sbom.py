"""What the application is made of, as two CycloneDX files: what a server installs of Python, with
hashes, and what the interface is built from.

Usage: python tools/sbom.py FOLDER
"""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
#: Files, and the commands that make them.
PYTHON, INTERFACE = "python.cdx.json", "interface.cdx.json"


def write(folder: Path) -> list[Path]:
    """Both files, in `folder`. Raises CalledProcessError where a command fails."""
    folder.mkdir(parents=True, exist_ok=True)
    python, interface = folder / PYTHON, folder / INTERFACE
    lock = str(ROOT / "requirements-server.lock")
    command = [sys.executable, "-m", "cyclonedx_py", "requirements", lock, "--output-reproducible"]
    command += ["--pyproject", str(ROOT / "pyproject.toml")]
    with python.open("wb") as out:
        subprocess.run(
            [*command, "--pyproject", str(ROOT / "pyproject.toml")], stdout=out, check=True
        )
    with interface.open("wb") as out:
        npm = ["npm", "sbom", "--sbom-format", "cyclonedx", "--omit=optional"]
        subprocess.run(npm, stdout=out, check=True, cwd=ROOT / "frontend")
    return [python, interface]


if __name__ == "__main__":
    for path in write(Path(sys.argv[1])):
        print(path)
