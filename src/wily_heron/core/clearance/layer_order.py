"""Which layers lie between two others, by what belongs under what at rest."""

from collections.abc import Collection

from .cover.key import Key


def between_of(pairs: Collection[Key]) -> dict[Key, list[int]]:
    """Return, for each pair of layers, the places of those that lie between the two somewhere: over the inner one and under the outer one.

    Layers that nowhere overlap are in no such relation, so their order on the rail changes nothing.

    >>> order = between_of([Key(1, 0), Key(2, 1), Key(2, 0)])  # base layer on the skin, coat on both
    >>> order[Key(2, 0)], order[Key(1, 0)]
    ([1], [])
    """
    known = set(pairs)
    return {key: [third for third in range(key.under + 1, key.over)
                  if Key(third, key.under) in known and Key(key.over, third) in known] for key in known}
