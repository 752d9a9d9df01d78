"""Files that ship with the product: beside the code in an installed package, where they are made in a checkout."""

from pathlib import Path

_PACKAGE = Path(__file__).parent
_CHECKOUT = _PACKAGE.parents[1]


def practice_coat() -> Path:
    """Return the .obj of the piece to practise on."""
    return _found("oilskin-coat.obj", _CHECKOUT / "demo" / "files" / "oilskin-coat.obj")


def demo_film() -> Path | None:
    """Return the folder in which `python -m demo` loads the demo production; None in an installed package, which comes without it."""
    return _CHECKOUT if (_CHECKOUT / "demo" / "__main__.py").exists() else None


def web_part() -> Path:
    """Return the folder of the built browser's part; it need not be there."""
    return _found("web", _CHECKOUT / "web" / "dist")


def _found(name: str, otherwise: Path) -> Path:
    installed = _PACKAGE / "files" / name
    return installed if installed.exists() else otherwise
