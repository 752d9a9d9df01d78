"""The compiled kernels: made side by side when a source has changed, those of the stage first."""

import hashlib
import os
import shutil
import subprocess

from .place import CACHE, PYTHON, ROOT, LaunchError, ends_with_parent, environment

GROUPS = ("fit", "stage", "clear", "solver", "cloth")
AT_START = ("fit", "stage")
"""What the kernels are for, in the order in which they are needed; see wily_heron.jobs.warm."""
_STAMP, _FOLDER = CACHE / "kernels.stamp", CACHE / "numba"


class Kernels:
    """Compiles from now on what is not compiled yet, a process for each group, as many at once as there are cores."""

    def __init__(self) -> None:
        self._digest, self._running = _digest(), dict[str, subprocess.Popen]()
        known, *self._done = _STAMP.read_text().split() if _STAMP.exists() else [""]
        if known != self._digest or not _FOLDER.exists():
            _STAMP.unlink(missing_ok=True)
            shutil.rmtree(_FOLDER, ignore_errors=True)  # numba itself asks only whether a kernel's own file has changed, not what it calls
            _FOLDER.mkdir(parents=True)
            self._done = []
        self._left = [group for group in GROUPS if group not in self._done]
        self._go_on()

    @property
    def compiled(self) -> bool:
        """Whether all is."""
        return not self._left and not self._running

    def wait(self, *groups: str) -> str:
        """Wait until these groups are compiled, all if none is named; return a note. Raises `LaunchError` where one fails."""
        asked = groups or GROUPS
        if set(asked) <= set(self._done):
            return "compiled before"
        for group in asked:
            while group in self._left:
                self._end(next(iter(self._running)))
            if group in self._running:
                self._end(group)
        return "compiled"

    def poll(self) -> bool:
        """Go on with what is left, and return whether all is compiled now. Raises `LaunchError` where something fails."""
        for group in [g for g, child in self._running.items() if child.poll() is not None]:
            self._end(group)
        return self.compiled

    def stop(self) -> None:
        """End what is still at work; the next start compiles the groups that are not done."""
        for child in self._running.values():
            child.kill()
            child.wait()
        self._running.clear()

    def _end(self, group: str) -> None:
        child = self._running.pop(group)
        if child.wait():
            self.stop()
            log = _FOLDER / f"{group}.log"
            last = log.read_text().strip().splitlines()[-1:]
            raise LaunchError(f"compiling the kernels: {last[0][:200] if last else 'it failed'} (all of it in {log})")
        self._done.append(group)
        _STAMP.write_text(" ".join([self._digest, *self._done]))
        self._go_on()

    def _go_on(self) -> None:
        while self._left and len(self._running) < len(os.sched_getaffinity(0)):
            group = self._left.pop(0)
            with (_FOLDER / f"{group}.log").open("w") as log:
                self._running[group] = subprocess.Popen([str(PYTHON), "-m", "wily_heron.jobs.warm", group], cwd=ROOT, env=environment(),
                                                        stdout=log, stderr=log,
                                                        preexec_fn=ends_with_parent if group in AT_START else _in_the_background)


def _in_the_background() -> None:
    """Let the server and the demo production, which the artist waits for, have the cores first."""
    os.nice(19)
    ends_with_parent()


def _digest() -> str:
    """Return a digest of all sources of kernels: their texts, and when they were written, as numba asks for both."""
    told = hashlib.sha256()
    for path in sorted((ROOT / "src" / "wily_heron" / "core").rglob("*.py")):
        text = path.read_bytes()
        if b"numba" in text:
            told.update(text + str(path.stat().st_mtime_ns).encode())
    return told.hexdigest()
