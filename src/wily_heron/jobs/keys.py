"""What jobs and those who ask for them agree on: names under which results are known, and how a sheet is parted."""

import hashlib

from ..core.figure.figure import figure_version

MOTION = "motion:"
"""A column of the sheet that begins so is a motion, and stands for its worst frame."""
_JOBS = 4


def portions(columns: list[str], wearers: int) -> list[list[str]]:
    """Return a wearer's columns in as many jobs as it takes to keep four workers busy with so many wearers."""
    jobs = min(len(columns), -(-_JOBS // max(wearers, 1)))
    return [columns[k::jobs] for k in range(jobs)]


def cell_key(pieces: list[list[str]], shape: dict[str, float], pose: str, body: str | None = None, shots: str = "") -> str:
    """Return the key under which a measured cell is known: what is worn, by whom, how, on which figure or body, in which shots."""
    worn = "|".join(f"{name}={sha}" for name, sha in pieces)
    settings = ",".join(f"{name}={value:g}" for name, value in sorted(shape.items()))
    return hashlib.sha256(f"cell-8|{figure_version()}|{body or ''}|{worn}|{settings}|{pose}{shots}".encode()).hexdigest()
