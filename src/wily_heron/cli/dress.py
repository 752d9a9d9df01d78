"""Put a piece on in one go: received, placed, fitted, bound, made to follow, and cleared at rest."""

from pathlib import Path

from .files import Json, Out
from .fit import Category, Ease, Joint, MadeForOption, On, WornOver
from .put_on import PutOn, put_on


def dress(piece: Path, out: Out, on: On = "figure", made_for: MadeForOption = None, category: Category = None, joint: Joint = None,
          units: str = "auto", up: str = "auto", ease: Ease = 9.0, under: WornOver = None, json: Json = None) -> None:
    """Put a piece on in one go (receive, place, fit, bind, follow, clear at rest), and pack it."""
    put_on(PutOn(piece, out, on, made_for, category, joint, units, up, ease, under, json, dress=True))
