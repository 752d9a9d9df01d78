"""Mixes of wearers: bodies no one in the cast has, but someone might."""

from collections.abc import Sequence

import numpy as np


def mixes(cast: Sequence[dict[str, float]], count: int, seed: int, beyond: float = 0.25) -> list[dict[str, float]]:
    """Return `count` seeded shape settings: two wearers of the cast (and the plain figure) mixed, each up to `beyond` past the other.

    Settings stay within -1 to 1; of every second mix a few are turned up or down by as much as 0.3.

    >>> made = mixes([{"girth": 0.6}, {"hip": -0.4}], count=3, seed=1)
    >>> len(made), all(-1 <= v <= 1 for shape in made for v in shape.values()), made == mixes([{"girth": 0.6}, {"hip": -0.4}], 3, 1)
    (3, True, True)
    """
    rng = np.random.default_rng(seed)
    who: list[dict[str, float]] = [*cast, {}]
    out = []
    for k in range(count):
        a, b = (who[int(i)] for i in rng.choice(len(who), 2, replace=False)) if len(who) > 1 else (who[0], who[0])
        share = rng.uniform(-beyond, 1.0 + beyond)
        names = sorted({*a, *b})
        mix = {n: (1.0 - share) * a.get(n, 0.0) + share * b.get(n, 0.0) for n in names}
        for n in rng.choice(names, min(len(names), 4), replace=False) if names and k % 2 else ():
            mix[str(n)] += rng.uniform(-0.3, 0.3)
        out.append({n: round(float(np.clip(v, -1.0, 1.0)), 3) for n, v in mix.items()})
    return out
