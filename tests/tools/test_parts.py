"""What a server installs, and what it is made of."""

from __future__ import annotations

import json
import re
from pathlib import Path

import sbom

ROOT = Path(__file__).resolve().parents[2]
PIN = re.compile(r"^([a-z0-9-]+(?:\[[a-z,]+\])?)==([^ ;]+)", re.MULTILINE)


def pins(name: str) -> dict[str, str]:
    return dict(PIN.findall((ROOT / name).read_text()))


def test_a_server_installs_what_was_tested_and_nothing_that_tests():
    server, tested = pins("requirements-server.lock"), pins("requirements.lock")
    assert len(server) > 30
    assert server.items() <= tested.items()
    assert not {"pytest", "playwright", "hypothesis", "mypy", "schemathesis"} & server.keys()
    # Nothing comes without a hash.
    for block in re.split(r"\n(?=[a-z])", (ROOT / "requirements-server.lock").read_text()):
        assert "==" not in block.partition("\n")[0] or "--hash=sha256:" in block


def test_the_parts_are_written_as_cyclonedx(tmp_path):
    python, interface = (json.loads(path.read_text()) for path in sbom.write(tmp_path))
    for parts in (python, interface):
        assert parts["bomFormat"] == "CycloneDX"
        assert parts["specVersion"] in {"1.4", "1.5", "1.6"}
    named = {one["name"]: one["version"] for one in python["components"]}
    assert named == {
        name.partition("[")[0]: v for name, v in pins("requirements-server.lock").items()
    }
    wanted = json.loads((ROOT / "frontend" / "package.json").read_text())
    built_from = {one["name"] for one in interface["components"]}
    # A scope is the group of a part in CycloneDX 1.5.
    built_from |= {f"{one.get('group')}/{one['name']}" for one in interface["components"]}
    for name in wanted.get("dependencies", {}):
        assert name in built_from
