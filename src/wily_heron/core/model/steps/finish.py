"""How a piece is finished, as it is kept: what is done to its cloth last, for the picture and the pack."""

from typing import Annotated, Literal

from pydantic import Field

from .alteration import Altering


class Finish(Altering):
    """Weld borders nearer than `weld` metres, even the cloth out by `smooth` (0 to 1), make it `finer` so many times, `thick` metres thick
    on its `side` (out from the body, or in), its borders turned in for `hem` metres, and fold it sharply where its faces turn by more than
    `sharp` radians. What is nothing, or `off` by name, is not done.

    It is done to what all the steps have made, and undone by leaving it off: the steps never see it.
    """

    weld: Annotated[float, Field(ge=0.0, le=0.01)] = 0.0
    smooth: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0
    finer: Annotated[int, Field(ge=0, le=2)] = 0
    thick: Annotated[float, Field(ge=0.0, le=0.02)] = 0.0
    side: Literal["out", "in"] = "out"
    hem: Annotated[float, Field(ge=0.0, le=0.1)] = 0.0
    sharp: Annotated[float, Field(ge=0.0, le=3.1416)] = 0.0
    off: tuple[Literal["weld", "smooth", "finer", "thick", "sharp"], ...] = ()

    def does(self, what: Literal["weld", "smooth", "finer", "thick", "sharp"]) -> bool:
        """Return whether one of its five parts changes anything."""
        return what not in self.off and getattr(self, what) > 0

    @property
    def idle(self) -> bool:
        """Whether it changes nothing."""
        return not any(self.does(what) for what in ("weld", "smooth", "finer", "thick", "sharp"))
