"""What is made once of the shipped figure and kept: its levels of refinement, its marks, its regions."""

from typing import Any

from ..memo import Memo

FIGURE: Memo[Any] = Memo("figure", 512 << 20)
"""Room for all of it: the figure at its three levels is the most."""
