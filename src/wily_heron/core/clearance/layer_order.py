"""Which layers lie between two others, by what belongs under what at rest."""

from collections.abc import Collection, Container

from .key import Key


def between_of(pairs: Collection[Key], whole: Container[int]) -> dict[Key, list[int]]:
    """Return, for each pair of layers, the places of those that lie between the two somewhere: over the inner one and under the outer one.

    Only layers that are `whole` (none of their faces left out) count: through others the inner one may be seen. Layers that nowhere
    overlap are in no such relation, so their order on the rail changes nothing.
    """
    known = set(pairs)
    return {key: [third for third in range(key.under + 1, key.over)
                  if third in whole and Key(third, key.under) in known and Key(key.over, third) in known] for key in known}
