"""A pose as data."""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np


@dataclass(frozen=True)
class Pose:
    """Local rotations as quaternions (x, y, z, w) by joint name; joints left out keep their rest rotation."""

    name: str
    label: str
    family: str
    rotations: Mapping[str, np.ndarray] = field(default_factory=dict)


REST = Pose("rest", "Rest", "rest")
"""Every joint at rest."""
