"""The house rules that a linter does not know."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import jungoptic.core

CORE = Path(jungoptic.core.__file__).parent
CHECKS = {"positive", "not_negative", "finite", "whole"}


def functions() -> Iterator[tuple[str, ast.FunctionDef]]:
    """Every public function and method of the core, with its file."""
    for path in sorted(CORE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
                yield f"{path.relative_to(CORE)}: {node.name}", node


def called(node: ast.AST) -> str:
    return getattr(node.func, "id", "") if isinstance(node, ast.Call) else ""


def test_what_refuses_says_so():
    silent = [
        name
        for name, function in functions()
        if any(called(n) in CHECKS | {"Impossible"} for n in ast.walk(function))
        and "Impossible" not in (ast.get_docstring(function) or "")
    ]
    assert silent == []


def test_nothing_of_the_core_catches_its_own_mistakes():
    """`Impossible` may be answered; a broad `except` would pass a slip off as an answer. A library
    that says no in its own way is turned into `Impossible` at once."""
    broad = {"ValueError", "Exception", "ArithmeticError", "ZeroDivisionError", "OverflowError"}
    found = []
    for path in sorted(CORE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.ExceptHandler):
                continue
            names = (
                {n.id for n in ast.walk(node.type) if isinstance(n, ast.Name)}
                if node.type
                else broad
            )
            raises = any(called(n) == "Impossible" for n in ast.walk(node))
            if names & broad and not raises:
                found.append(f"{path.relative_to(CORE)}:{node.lineno}")
    assert found == []


def test_files_stay_small():
    """One noun a file; data of recipes may fill its pages."""
    long = {
        str(path.relative_to(CORE)): lines
        for path in CORE.rglob("*.py")
        if (lines := len(path.read_text().splitlines())) > 350
    }
    assert long == {}
