"""How a step of the bench is declared: its model, its report, what runs it, and where it stands."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ..errors import InputError
from ..figure.base.body import Body, Wearer, shape_values, shaped
from ..figure.figure import figure
from ..model.report import Report
from ..model.state import Piece
from ..model.steps.alteration import Alteration

CarrierOf = Callable[[str, Mapping[str, float]], np.ndarray]
"""Where our level-1 figure's vertices (n, 3) lie on a body, by its address ("" for the figure) and shape settings."""

LayerOf = Callable[[str], Piece]
"""The piece stored under an address: what another rests on and takes weights from."""


def no_layers(address: str) -> Piece:
    """Raise `InputError`: no other pieces are at hand."""
    raise InputError(what="the piece it is to rest on is not at hand", where="the fit step", todo="Let it rest on the skin.")


def figure_carrier(body: str, settings: Mapping[str, float]) -> np.ndarray:
    """Return our own figure at `settings`; raises `InputError` for any other body."""
    if body:
        raise InputError(what="that body is not at hand", where="the body it was made for", todo="Choose another, or none.")
    own = figure(1)
    return shaped(own, shape_values(own, settings)).points


@dataclass(frozen=True)
class Context:
    """What a step may look at besides its piece: the `wearer` it is made on, our level-1 figure's vertices (n, 3) on that wearer
    (`carrier`) and on any body (`carrier_of`), and the pieces under and over it (`layer_of`)."""

    wearer: Wearer
    carrier: Callable[[], np.ndarray]
    carrier_of: CarrierOf = figure_carrier
    layer_of: LayerOf = no_layers

    @property
    def body(self) -> Body:
        """The body of the wearer."""
        return self.wearer.body

    def layers(self, addresses: tuple[str, ...]) -> list[Piece]:
        """Return the pieces stored under some addresses."""
        return [self.layer_of(address) for address in addresses]


@dataclass(frozen=True)
class BenchStep:
    """One kind of alteration. Everything else that is known of it is derived from this.

    `run(piece, context, alteration)` returns the piece after it, and one of the `reports`. `order` names its place in the working order,
    `bench` the step of the bench that shows it; `repeats` says whether it may be made more than once; after `needs`, none without it.
    `words` are what its panel says, by a name that the panel asks for.
    """

    model: type[Alteration]
    reports: tuple[type[Report], ...]
    run: Callable[[Piece, Context, Any], tuple[Piece, Report]]
    order: str
    bench: str
    repeats: bool = False
    needs: str = ""
    words: Mapping[str, str] = field(default_factory=dict)

    @property
    def kind(self) -> str:
        """The name its alterations carry."""
        return str(self.model.model_fields["kind"].default)
