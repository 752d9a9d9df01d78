"""The virtual environment, from the hashed lock."""

import hashlib
import subprocess
import sys

from .place import CACHE, PYTHON, ROOT, VENV, run


def ensure(dev: bool = False) -> str:
    """Make or bring up to date the virtual environment; return a note."""
    lock = ROOT / "lock" / ("dev.txt" if dev else "app.txt")
    stamp, wanted = CACHE / "venv.stamp", hashlib.sha256(lock.read_bytes()).hexdigest()
    both = [hashlib.sha256((ROOT / "lock" / name).read_bytes()).hexdigest() for name in ("app.txt", "dev.txt")]
    known = stamp.read_text().split() if stamp.exists() and PYTHON.exists() else []
    if wanted in known or (not dev and both[1] in known):
        return "up to date"
    CACHE.mkdir(exist_ok=True)
    if not PYTHON.exists() or subprocess.run([str(PYTHON), "-c", ""], check=False).returncode:
        run([sys.executable, "-m", "venv", "--clear", VENV], "the virtual environment")
    run([PYTHON, "-m", "pip", "install", "--quiet", "--no-compile", "--disable-pip-version-check", "--require-hashes", "-r", lock],
        "Python packages")  # bytecode of all of it takes one core 38 s; Python keeps that of what is imported, when it first is
    site = next((VENV / "lib").glob("python3.*/site-packages"))
    (site / "wily_heron.pth").write_text(f"{ROOT / 'src'}\n{ROOT}\n")
    stamp.write_text(wanted + "\n" + (both[0] if dev else ""))
    return "installed"


def peers() -> str:
    """Install what the speed suite measures itself beside and nothing else needs; return a note."""
    lock = ROOT / "lock" / "bench.txt"
    stamp, wanted = CACHE / "peers.stamp", hashlib.sha256(lock.read_bytes()).hexdigest()
    if stamp.exists() and stamp.read_text() == wanted and (CACHE / "venv.stamp").stat().st_mtime < stamp.stat().st_mtime:
        return "up to date"
    run([PYTHON, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--no-deps", "--require-hashes", "-r", lock], "peers")
    stamp.write_text(wanted)
    return "installed"

