"""What must come from Debian's packages."""

import os
import shutil
import subprocess
from pathlib import Path

from .place import LaunchError, run


def postgres_bin() -> Path | None:
    """Return the folder of the newest installed PostgreSQL server, or None."""
    found = [p.parent for p in Path("/usr/lib/postgresql").glob("*/bin/initdb")]
    return max(found, key=lambda p: float(p.parent.name)) if found else None


def chromium() -> str | None:
    """Return the path of Debian's Chromium, or None."""
    return shutil.which("chromium")


def install(packages: list[str]) -> None:
    """Install Debian packages: as root directly, else through sudo; else raise with the exact command."""
    command = ["apt-get", "install", "-y", "--no-install-recommends", *packages]
    if os.geteuid() == 0:
        prefix: list[str] = []
    elif shutil.which("sudo") and subprocess.run(["sudo", "-n", "true"], capture_output=True, check=False).returncode == 0:
        prefix = ["sudo"]
    else:
        raise LaunchError(f"Debian packages are missing. Run this, then start again:  sudo apt-get update && sudo {' '.join(command)}")
    more = {"DEBIAN_FRONTEND": "noninteractive"}
    run([*prefix, "apt-get", "update"], "Debian's package list", more=more)
    run([*prefix, *command], "Debian's packages", more=more)


def ensure(postgres: bool = True, browser: bool = False) -> str:
    """Install what is missing; return a note on what was done."""
    missing = []
    if postgres and postgres_bin() is None:
        missing.append("postgresql")
    if browser and chromium() is None:
        missing.append("chromium")
    try:
        import ensurepip  # noqa: F401
    except ImportError:
        missing.append("python3-venv")
    if missing:
        install(missing)
    return f"installed {', '.join(missing)}" if missing else "present"
