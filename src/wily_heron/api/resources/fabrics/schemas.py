"""Fabrics on the wire."""

from ...wire import Out


class SwatchOut(Out):
    """A round of a fabric as it hangs: its `picture` (PNG, base64), its drape coefficient (0 to 1) and the bending length along warp and
    weft, metres."""

    name: str
    picture: str
    coefficient: float
    bending: tuple[float, float]
