"""Ready blocks: panels drafted from a wearer's measures with an ease."""

from dataclasses import dataclass

import numpy as np

from ..errors import InputError
from ..figure.base.body import Wearer
from .drafts import DRAFTS, TABLE, Draft, Measured
from .layout import Layout


@dataclass(frozen=True)
class Setting:
    """A length a block asks for (metres), what it is unless told, and its bounds."""

    name: str
    label: str
    usual: float
    least: float
    most: float


@dataclass(frozen=True)
class Block:
    """A block by name: its settings and how it is drafted."""

    name: str
    label: str
    settings: tuple[Setting, ...]
    draft: Draft


def block_layout(name: str, wearer: Wearer, lengths: dict[str, float] | None = None) -> Layout:
    """Return a block drafted for a wearer with settings in metres; raises `InputError` for an unknown block or setting, and for a length
    out of bounds.

    Args:
        name: The block.
        wearer: The body in its shape, at rest.
        lengths: Lengths by setting, metres; its own where none is given.
    """
    block = BLOCKS.get(name)
    if block is None:
        raise InputError(what=f"there is no block '{name}'", where="the cutting table", todo=f"Choose among {', '.join(BLOCKS)}.")
    values = {s.name: s.usual for s in block.settings}
    for key, value in (lengths or {}).items():
        setting = next((s for s in block.settings if s.name == key), None)
        if setting is None:
            raise InputError(what=f"a {block.label.lower()} has no setting '{key}'", where="the block",
                             todo=f"Its settings are {', '.join(values)}.")
        if not setting.least <= value <= setting.most:
            raise InputError(what=f"{setting.label.lower()} of {100 * value:.1f} cm", where=f"the {block.label.lower()}",
                             todo=f"Give {100 * setting.least:.0f} to {100 * setting.most:.0f} cm.")
        values[key] = value
    made = block.draft(Measured(wearer), values)
    return beside(made.model_copy(update={"block": name, "made": values}))


def beside(layout: Layout) -> Layout:
    """Return the layout with its panels side by side on the table, a hand's breadth apart.

    >>> from wily_heron.core.table.layout import Corner, Panel
    >>> corners = tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3)))
    >>> two = Layout(panels=tuple(Panel(name=name, outline=corners) for name in ("front", "back")))
    >>> front, back = beside(two).panels
    >>> bool(back.spot[0] - front.spot[0] > 0.2)
    True
    """
    x, panels = 0.0, []
    for panel in layout.panels:
        at = np.array([p for c in panel.outline for p in (c.at, *(c.bend or ()))])
        low, high = at[:, 0].min(), at[:, 0].max()
        if panel.half == "fold":
            low = -high
        panels.append(panel.model_copy(update={"spot": (round(x - low, 4), round(-float(at[:, 1].max()), 4))}))
        x += high - low + 0.08
    return layout.model_copy(update={"panels": tuple(panels)})


BLOCKS = {name: Block(name, TABLE[name]["label"], tuple(Setting(**each) for each in TABLE[name]["settings"]), draft)
          for name, draft in DRAFTS.items()}
