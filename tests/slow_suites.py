"""Tests marked `slow` run when something they are about has changed since they last passed, and always with `--all`.

`@pytest.mark.slow("core/drape", "web/src/stage")` names files or folders, of the repository or of src/wily_heron. When a slow test passes,
a digest of these and of its own file is kept in tests/slow.json, which is committed: a clean checkout then knows that it passed so.
Docstrings and comments do not count.
"""

import ast
import hashlib
import json
import os
from collections.abc import Sequence
from functools import cache
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
_PASSED = ROOT / "tests" / "slow.json"
_DOCUMENTED = (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef)
_SKIPPED = {"__pycache__", "node_modules", "dist"}


class SlowSuites:
    """Deselects slow tests that passed on the same sources, and keeps those that pass now."""

    def __init__(self, every: bool) -> None:
        self.every = every
        self.known: dict[str, str] = json.loads(_PASSED.read_text()) if _PASSED.exists() else {}
        self.before = dict(self.known)

    def pytest_collection_modifyitems(self, config: pytest.Config, items: list[pytest.Item]) -> None:
        left = []
        for item in items:
            mark = item.get_closest_marker("slow")
            if mark:
                now = digest((*mark.args, str(item.path.relative_to(ROOT))))
                item.user_properties.append(("slow", now))  # a report takes it to the process that keeps what passed
                if not self.every and self.known.get(item.nodeid) == now:
                    left.append(item)
        if left:
            config.hook.pytest_deselected(items=left)
            items[:] = [item for item in items if item not in left]

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        now = dict(report.user_properties).get("slow")
        if report.when == "call" and report.passed and isinstance(now, str):
            self.known[report.nodeid] = now
        elif report.failed:
            self.known.pop(report.nodeid, None)

    def pytest_sessionfinish(self) -> None:
        if self.known != self.before and "PYTEST_XDIST_WORKER" not in os.environ:  # its controller hears of all
            _PASSED.write_text(json.dumps(dict(sorted(self.known.items())), indent=0) + "\n")


@cache
def digest(places: Sequence[str]) -> str:
    """Return a digest of the files at `places` and in them. Raises `ValueError` where there is nothing at one."""
    told = hashlib.sha256()
    for place in places:
        path = next((p for p in (ROOT / place, ROOT / "src" / "wily_heron" / place) if p.exists()), None)
        if path is None:
            raise ValueError(f"a slow test names {place}, and there is no such file or folder")
        files = [path] if path.is_file() else sorted(p for p in path.rglob("*") if p.is_file() and not _SKIPPED & set(p.parts))
        for file in files:
            told.update(str(file.relative_to(ROOT)).encode() + b"\0" + _code(file))
    return told.hexdigest()[:16]


@cache
def _code(file: Path) -> bytes:
    """The part of a file that can change a result: of Python all but docstrings, comments and layout."""
    if file.suffix != ".py":
        return file.read_bytes()
    tree = ast.parse(file.read_bytes())
    for node in ast.walk(tree):
        if isinstance(node, _DOCUMENTED) and ast.get_docstring(node, clean=False) is not None:
            del node.body[0]
    return hashlib.sha256(ast.dump(tree).encode()).digest()
