"""Six reference bodies, solved to a published table of body measures: the size steps of EN 13402-3:2004."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Reference:
    """A reference body: its size by the standard's primary and secondary dimensions (metres), and the build it keeps to."""

    name: str
    size: str
    measures: dict[str, float]
    build: dict[str, float]
    keep: tuple[str, ...] = ()


_CURVED = {"bust": 0.1, "hip": 0.1}
_STRAIGHT = {
    "bust": -1.0,
    "bust_height": 0.2,
    "shoulder": 0.55,
    "muscle": 0.45,
    "hip": -0.35,
    "jaw": 0.5,
    "brow": 0.4,
    "neck_girth": 0.2,
    "chin": 0.3,
}


def _size(stature: int, chest: int, waist: int, hip: int | None = None) -> dict[str, float]:
    cm = {"stature": stature, "bust_girth": chest, "waist_girth": waist} | ({"hip_girth": hip} if hip else {})
    return {name: value / 100 for name, value in cm.items()}


REFERENCES = (
    Reference("Reference A", "bust 84, waist 68, hip 92, stature 164 cm", _size(164, 84, 68, 92), _CURVED),
    Reference("Reference B", "bust 92, waist 76, hip 100, stature 168 cm", _size(168, 92, 76, 100), _CURVED),
    Reference("Reference C", "bust 104, waist 88, hip 112, stature 172 cm", _size(172, 104, 88, 112), _CURVED),
    Reference("Reference D", "chest 92, waist 80, stature 172 cm", _size(172, 92, 80), _STRAIGHT, ("bust",)),
    Reference("Reference E", "chest 100, waist 88, stature 178 cm", _size(178, 100, 88), _STRAIGHT, ("bust",)),
    Reference("Reference F", "chest 112, waist 100, stature 184 cm", _size(184, 112, 100), _STRAIGHT, ("bust",)),
)
