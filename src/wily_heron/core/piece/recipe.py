"""The alterations of a piece: small models, one discriminated union, shared by core, API and database."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Unit = Literal["auto", "m", "cm", "mm", "in"]
UpAxis = Literal["auto", "y", "z"]
Vector = tuple[float, float, float]
Quaternion = tuple[float, float, float, float]


class _Alteration(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class MadeFor(_Alteration):
    """A body a piece was made for: its name, its address ("" for the house's figure) and its shape settings."""

    name: str = Field(max_length=80)
    body: str = ""
    shape: dict[str, float] = Field(default_factory=dict)


class Receive(_Alteration):
    """Put unit and axes right, `auto` by the piece's size beside a wearer and its joints; do the accepted `mends` (all if not said).

    `made_for` is the body it was made for, as the artist says, or None where it is not known.
    """

    kind: Literal["receive"] = "receive"
    unit: Unit = "auto"
    up: UpAxis = "auto"
    hand: Literal["auto", "right", "left"] = "auto"
    facing: Literal["auto", "front", "back"] = "auto"
    mends: tuple[str, ...] | None = None
    made_for: MadeFor | None = None


class Place(_Alteration):
    """Move (metres), turn (radians about x, then y, then z) and scale the piece about its middle."""

    kind: Literal["place"] = "place"
    move: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)
    scale: float = Field(default=1.0, gt=0.001, lt=1000.0)


class Fit(_Alteration):
    """Bring a roughly placed piece to `ease` (metres) on the wearer; `keep` 1 keeps its own shape, 0 clings to the body.

    Where the body it was made for is known, the piece rides from there unless `ride` is off; else it is aligned to what lies under it.
    """

    kind: Literal["fit"] = "fit"
    ease: float = Field(default=0.009, ge=0.0, le=0.2)
    keep: float = Field(default=0.7, ge=0.0, le=1.0)
    align: bool = True
    ride: bool = True


class Bind(_Alteration):
    """Take skin weights from the body: accepted within `reach` (metres) and `angle` (radians), solved elsewhere.

    0.03 suits fitted pieces; 0.10 lets a loose skirt take from the legs under it. `source` own keeps the weights that came with it.
    """

    kind: Literal["bind"] = "bind"
    reach: float = Field(default=0.10, gt=0.0, le=0.5)
    angle: float = Field(default=0.61, gt=0.0, le=3.1416)
    source: Literal["body", "own"] = "body"


class Follow(_Alteration):
    """Give the piece every shape of the body; morphs that came with it under a shape's name are kept if `own`."""

    kind: Literal["follow"] = "follow"
    own: bool = True


class Cell(_Alteration):
    """One wearer in one pose: shape settings by name and a pose name; a pose of one's own brings its `rotations` along."""

    shape: dict[str, float] = Field(default_factory=dict)
    pose: str = "rest"
    rotations: dict[str, Quaternion] | None = None


class Clear(_Alteration):
    """Ease the piece out where the body shows through, in each of `cells`, to `ease` metres, keeping its detail."""

    kind: Literal["clear"] = "clear"
    cells: tuple[Cell, ...]
    ease: float = Field(default=0.004, ge=0.0, le=0.05)


Alteration = Annotated[Receive | Place | Fit | Bind | Follow | Clear, Field(discriminator="kind")]
ORDER = ("receive", "place", "fit", "bind", "follow", "clear")


class Recipe(BaseModel):
    """What has been done to a piece, in working order; the wearer it is made on is part of the recipe.

    `body` is the address of a body of one's own, "" for the house's figure.
    """

    model_config = ConfigDict(extra="forbid")
    body: str = ""
    made_on: dict[str, float] = Field(default_factory=dict)
    steps: tuple[Alteration, ...] = ()
