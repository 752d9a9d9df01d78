"""What the pieces of an outfit are called in a cell: each differently, none like the skin."""

from collections.abc import Iterable

SKIN_NAME = "Skin"
"""What the skin is called among the layers."""


def layer_names(names: Iterable[str]) -> list[str]:
    """Return the names in their order, the second of the same name as `name 2` and so on.

    >>> layer_names(["Sash", "Coat", "Sash"])
    ['Sash', 'Coat', 'Sash 2']
    """
    out: list[str] = []
    for name in names:
        own, n = name, 2
        while own in out or own == SKIN_NAME:
            own, n = f"{name} {n}", n + 1
        out.append(own)
    return out
