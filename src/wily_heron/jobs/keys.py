"""Names under which results are known."""

import hashlib

from ..core.figure.figure import figure_version


def cell_key(pieces: list[list[str]], shape: dict[str, float], pose: str, body: str | None = None) -> str:
    """Return the key under which a measured cell is known: what is worn, by whom, how, on which figure or body."""
    worn = "|".join(f"{name}={sha}" for name, sha in pieces)
    settings = ",".join(f"{name}={value:g}" for name, value in sorted(shape.items()))
    return hashlib.sha256(f"cell-3|{figure_version()}|{body or ''}|{worn}|{settings}|{pose}".encode()).hexdigest()
