"""State that a step adds to a piece, told as arrays and plain notes: who stores a piece carries it without knowing it."""

from collections.abc import Mapping
from typing import Any, Protocol, Self

import numpy as np


class Attachment(Protocol):
    """What a piece may have besides its mesh. `from_arrays` makes it again of what `arrays` and `notes` told; an older version may have
    told less."""

    def arrays(self) -> dict[str, np.ndarray]:
        """Return its arrays by name."""
        ...

    def notes(self) -> Any:
        """Return the rest of it in plain types."""
        ...

    @classmethod
    def from_arrays(cls, arrays: Mapping[str, np.ndarray], notes: Any) -> Self:
        """Return the attachment of these arrays and notes."""
        ...
