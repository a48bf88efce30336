"""What is imported allows what LICENSE promises (Apache 2.0)."""

from __future__ import annotations

import importlib.metadata
import json
import re
import tomllib
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
#: Licences of libraries that may be used beside the Apache Licence 2.0, as the Apache Software
#: Foundation sorts them (its categories A, and B for weak copyleft). SPDX names and what older
#: packages write.
ALLOWED = re.compile(r"\b(MIT|BSD|Apache|0BSD|ISC|Zlib|CC0|HPND|OFL|MPL|LGPL|PSF)", re.IGNORECASE)
#: Not these, alone.
COPYLEFT = re.compile(r"\b(A?GPL)-?\s?(v?[23])", re.IGNORECASE)


def wanted() -> list[str]:
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    lines = [*project["dependencies"], *project["optional-dependencies"]["render"]]
    return [re.split(r"[\[=<>]", line)[0] for line in lines]


@pytest.mark.parametrize("name", wanted())
def test_a_library_of_the_server(name):
    told = importlib.metadata.metadata(name)
    words = [told.get("License-Expression") or "", (told.get("License") or "")[:400]]
    words += [c for c in told.get_all("Classifier") or [] if c.startswith("License")]
    said = "\n".join(words)
    assert ALLOWED.search(said), said
    assert not COPYLEFT.search(said), said


def test_the_libraries_of_the_interface():
    named = json.loads((ROOT / "frontend/package.json").read_text())["dependencies"]
    assert named
    for name in named:
        package = json.loads((ROOT / "frontend/node_modules" / name / "package.json").read_text())
        assert ALLOWED.search(package["license"]), (name, package["license"])
