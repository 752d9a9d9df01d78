"""Groups of kernels are compiled once: what a stopped start has done, the next one does not do again."""

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from launch import kernels
from launch.place import ROOT, LaunchError


class Compilers:
    """Stands in for the compilers: writes down which groups are asked for; those in `slow` work until they are killed."""

    def __init__(self, slow: tuple[str, ...] = (), fails: str = "") -> None:
        self.asked: list[str] = []
        self.slow, self.fails = slow, fails

    def __call__(self, command: list[str], **_) -> subprocess.Popen:
        group = command[-1]
        self.asked.append(group)
        return _POPEN(["sleep", "60"] if group in self.slow else ["false"] if group == self.fails else ["true"])


_POPEN = subprocess.Popen


@pytest.fixture
def begun(tmp_path: Path, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr(kernels, "_STAMP", tmp_path / "stamp")
    monkeypatch.setattr(kernels, "_FOLDER", tmp_path / "numba")
    monkeypatch.setattr(kernels, "_digest", lambda: "as-they-are")

    def begin(compilers: Compilers) -> kernels.Kernels:
        monkeypatch.setattr(subprocess, "Popen", compilers)
        return kernels.Kernels()

    return begin


def test_a_start_goes_on_with_what_a_stopped_one_left(begun):
    first = begun(Compilers(slow=("cloth", "solver", "clear")))
    assert first.wait(*kernels.AT_START) == "compiled"
    assert not first.compiled
    first.stop()
    again = Compilers()
    second = begun(again)
    assert second.wait(*kernels.AT_START) == "compiled before"
    second.wait()
    assert second.compiled
    assert set(again.asked) == {"cloth", "solver", "clear"}


def test_nothing_is_compiled_twice_and_all_anew_when_a_source_changes(begun, monkeypatch: pytest.MonkeyPatch):
    begun(Compilers()).wait()
    idle = Compilers()
    assert begun(idle).compiled
    assert idle.asked == []
    monkeypatch.setattr(kernels, "_digest", lambda: "changed")
    busy = Compilers()
    begun(busy).wait()
    assert sorted(busy.asked) == sorted(kernels.GROUPS)


def test_a_folder_that_was_cleared_away_is_filled_again(begun, tmp_path: Path):
    begun(Compilers()).wait()
    for log in (tmp_path / "numba").iterdir():
        log.unlink()
    (tmp_path / "numba").rmdir()
    busy = Compilers()
    begun(busy).wait()
    assert sorted(busy.asked) == sorted(kernels.GROUPS)


def test_a_group_that_fails_is_named_with_its_log_and_tried_again_by_the_next_start(begun):
    with pytest.raises(LaunchError, match=r"stage\.log"):
        begun(Compilers(fails="stage")).wait()
    again = Compilers()
    begun(again).wait()
    assert "stage" in again.asked


@pytest.mark.slow("core/drape", "core/space", "core/fit", "core/bind", "core/follow", "core/clear", "core/clearance", "jobs/warm.py")
def test_no_first_use_waits_for_the_compiler(tmp_path: Path):
    beside = {**os.environ, "NUMBA_CACHE_DIR": str(tmp_path), "PYTHONPATH": str(ROOT / "src")}
    warming = [subprocess.Popen([sys.executable, "-m", "wily_heron.jobs.warm", group], env=beside) for group in kernels.GROUPS]
    assert [each.wait(600) for each in warming] == [0] * len(warming)
    used = subprocess.run([sys.executable, str(Path(__file__).with_name("first_uses.py"))], env=beside, cwd=ROOT, text=True,
                          capture_output=True, check=True)
    waits = json.loads(used.stdout)
    assert set(waits) == {"dress", "picture", "clear", "drape", "drape over another", "finish", "hand tools", "springs", "panels"}
    assert max(waits.values()) < 3.0, waits
