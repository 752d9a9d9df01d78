"""The built wheel, installed by itself: what ships is in it."""

import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def installed(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder in which nothing but the wheel is installed, built from this tree with no network."""
    folder = tmp_path_factory.mktemp("wheel")
    pip = [sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check"]
    subprocess.run([*pip, "wheel", str(ROOT), "--no-deps", "--no-build-isolation", "--no-index", "-w", str(folder)], check=True)
    (wheel,) = folder.glob("wily_heron-*.whl")
    subprocess.run([*pip, "install", str(wheel), "--no-deps", "--no-index", "--target", str(folder / "site")], check=True)
    return folder / "site"


def _run(installed: Path, *words: str) -> subprocess.CompletedProcess:
    env = {**os.environ, "PYTHONPATH": str(installed)}
    return subprocess.run([sys.executable, *words], cwd=installed.parent, env=env, capture_output=True, text=True, check=False)


@pytest.mark.slow("pyproject.toml", "cli", "formats", "facade.py")
def test_the_headless_commands_run_from_an_installed_wheel(installed: Path):
    told = _run(installed, "-m", "wily_heron.cli.main", "body", "--level", "1", "--out", "body.glb")
    assert told.returncode == 0, told.stderr
    assert (installed.parent / "body.glb").read_bytes()[:4] == b"glTF"
    refused = _run(installed, "-m", "wily_heron.cli.main", "receive", "nowhere.obj", "--out", "piece.glb")
    assert refused.returncode == 2
    assert "Traceback" not in refused.stderr


def test_the_server_and_its_pages_and_queries_are_in_the_wheel(installed: Path):
    asked = """
import wily_heron, pathlib
from wily_heron.shipped import practice_coat, web_part
here = pathlib.Path(wily_heron.__file__).parent
assert practice_coat().is_relative_to(here) and web_part().is_relative_to(here), (practice_coat(), web_part())
assert (web_part() / "index.html").is_file()
print(here)
"""
    told = _run(installed, "-c", asked)
    assert told.returncode == 0, told.stderr
    assert Path(told.stdout.strip()) == installed / "wily_heron"
    for folder in ("store/queries", "store/migrations", "core/figure"):
        here, there = ({p.name for p in (root / "wily_heron" / folder).iterdir() if p.suffix in (".sql", ".npz")}
                       for root in (installed, ROOT / "src"))
        assert here == there != set()


def test_nothing_else_is_in_the_wheel(installed: Path):
    (wheel,) = installed.parent.glob("wily_heron-*.whl")
    tops = {name.split("/")[0] for name in zipfile.ZipFile(wheel).namelist()}
    assert tops == {"wily_heron", next(t for t in tops if t.endswith(".dist-info"))}
