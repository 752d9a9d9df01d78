"""Which layers lie between two others, by what belongs under what at rest."""

from collections.abc import Collection

from .cover.key import Key


def between_of(pairs: Collection[Key]) -> dict[Key, list[int]]:
    """Return, for each pair of layers, the places of those that lie between the two somewhere: over the inner one and under the outer one.

    Layers that nowhere overlap are in no such relation, so their order on the rail changes nothing.
    """
    known = set(pairs)
    return {key: [third for third in range(key.under + 1, key.over)
                  if Key(third, key.under) in known and Key(key.over, third) in known] for key in known}
