"""Names that nobody has yet."""

from collections.abc import Iterable


def free_name(taken: Iterable[str], name: str) -> str:
    """Return `name`, or it with the first number from 2 on that is not taken.

    >>> free_name(["Coat", "Coat 2"], "Coat")
    'Coat 3'
    >>> free_name(["Coat"], "Scarf")
    'Scarf'
    """
    names, made, n = set(taken), name, 2
    while made in names:
        made, n = f"{name} {n}", n + 1
    return made
