"""The sides from which it is asked whether what stands out can be seen."""

import numpy as np

from ...space.views import Views

_ways = [(x, y, z) for x in range(-3, 4) for y in range(-3, 4) for z in range(-3, 4) if np.gcd.reduce([x, y, z]) == 1]
_even = np.array(sorted(_ways, key=lambda v: (max(map(abs, v)), sum(c * c for c in v))), float)
_even /= np.linalg.norm(_even, axis=1, keepdims=True)
_rings = ((5.0, 6), (10.0, 12), (15.0, 12))  # one sees between legs from all but straight below, into a lap from all but straight above
_steep = [(np.radians(lean), 2 * np.pi * (k + 0.5 * (ring % 2)) / count) for ring, (lean, count) in enumerate(_rings) for k in range(count)]

SIDES = np.concatenate([_even, [(np.sin(a) * np.cos(b), up * np.cos(a), np.sin(a) * np.sin(b)) for up in (-1.0, 1.0) for a, b in _steep]])
"""Unit ways (350, 3) towards who looks, the plainest first."""
PLAIN, OTHERS = Views(SIDES[:26]), Views(SIDES[26:])
USUAL = Views(SIDES[:98])
"""Most of what can be seen at all is seen from one of these."""
