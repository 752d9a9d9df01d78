"""./heron test: linters, type checkers, and all the tests."""

import os
import subprocess
import sys
import time
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from . import debian, venv, web
from .cluster import Cluster
from .kernels import Kernels
from .place import CACHE, PYTHON, ROOT, VENV, LaunchError, environment, stage

PARTS = ("lint", "core", "formats", "headless", "launch", "store", "studio", "api", "browser")
_FOLDERS = {part: [f"tests/{part}"] for part in PARTS if part != "lint"}


def test(argv: list[str]) -> None:
    """Run all parts, or those named; with --all also slow tests and types of which nothing has changed since they passed; further arguments
    after -- go to pytest. Exit 1 if any fails."""
    more = argv[argv.index("--") + 1:] if "--" in argv else []
    parts = argv[: argv.index("--")] if "--" in argv else list(argv)
    if "--all" in parts:
        parts.remove("--all")
        more = ["--slow", *more]
    unknown = [p for p in parts if p not in PARTS]
    if unknown:
        raise LaunchError(f"there is no part '{unknown[0]}'; the parts are {', '.join(PARTS)}")
    parts = parts or list(PARTS)
    needs_server = bool({"launch", "store", "studio", "api", "browser"} & set(parts))
    with stage("Debian packages") as note:
        note.append(debian.ensure(postgres=needs_server, browser="browser" in parts))
    with stage("Python packages") as note:
        note.append(venv.ensure(dev=True))
    kernels = Kernels()  # compiled beside what follows
    if {"lint", "browser", "formats", "api"} & set(parts):
        with stage("web packages") as note:
            note.append(web.ensure_packages())
    if "browser" in parts:
        with stage("web part") as note:
            note.append(web.ensure_built())
    slow: list[Check] = []
    quick: list[Check] = []
    if "lint" in parts:
        binaries, modules = VENV / "bin", ROOT / "web" / "node_modules" / ".bin"
        every_type = ["--all"] if "--slow" in more else []
        slow = [Check("pyright", [PYTHON, "-m", "tests.checked_types", modules / "pyright", *every_type], ROOT, summary=True)]
        quick = [
            Check("tsc", [modules / "tsc", "--noEmit"], ROOT / "web"),
            Check("ruff", [binaries / "ruff", "check", "src", "demo", "launch", "tests", "bench"], ROOT),
            Check("import-linter", [binaries / "lint-imports", "--no-cache"], ROOT),
            Check("biome", [modules / "biome", "ci", "src", "tests"], ROOT / "web"),
            Check("vitest", [modules / "vitest", "run"], ROOT / "web"),
        ]
    with stage("kernels") as note:
        note.append(kernels.wait())
    failed = [each.name for each in quick if not each.passes()]
    folders = [f for p in reversed(PARTS) if p in parts for f in _FOLDERS.get(p, [])]  # the longest files, the walks, first
    if folders:
        cluster = Cluster(CACHE / "test-data") if needs_server else None
        more_env = {}
        if cluster:
            with stage("database for the tests") as note:
                cluster.ensure()
                note.append(cluster.start())
                more_env["WILY_HERON_TEST_SERVER"] = cluster.url("postgres")
        workers = ["-n", str(min(2, os.cpu_count() or 1)), "--dist", "loadfile", "--no-loadscope-reorder"]
        if any(a.startswith("-n") for a in more):
            workers = []
        try:
            if not Check("pytest", [PYTHON, "-m", "pytest", *workers, *folders, *more], ROOT, quiet=False, env=more_env).passes():
                failed.append("pytest")
        finally:
            if cluster:
                cluster.stop()
    failed += [each.name for each in slow if not each.passes()]
    if failed:
        sys.exit(f"heron test: failed: {', '.join(failed)}")


class Check:
    """A check that runs from now on; a `quiet` one's output is shown only if it fails, but for its first line if it is a `summary`."""

    def __init__(self, name: str, command: Sequence[str | Path], cwd: Path, quiet: bool = True, summary: bool = False,
                 env: dict[str, str] | None = None) -> None:
        self.name = name
        self._summary = summary
        self._ended = _BESIDE.submit(_run, [str(c) for c in command], cwd, quiet, environment(**(env or {})))

    def passes(self) -> bool:
        """Wait for its end, say how it ended, and return whether it passed."""
        done, seconds = self._ended.result()
        print(f"  {self.name:<34s}{'passed' if done.returncode == 0 else 'FAILED':<30s} {seconds:6.1f} s", flush=True)
        if self._summary and done.returncode == 0:
            print(f"    {done.stdout.splitlines()[0]}", flush=True)
        if done.returncode and done.stdout:
            print(done.stdout, flush=True)
        return done.returncode == 0


_BESIDE = ThreadPoolExecutor(6)


def _run(command: list[str], cwd: Path, quiet: bool, env: dict[str, str]) -> tuple[subprocess.CompletedProcess[str], float]:
    began = time.monotonic()
    done = subprocess.run(command, cwd=cwd, env=env, text=True, check=False, stdout=subprocess.PIPE if quiet else None,
                          stderr=subprocess.STDOUT if quiet else None)
    return done, time.monotonic() - began
