"""Draws docs/architecture.svg: the levels as the import contract has them, and the way of a change of a recipe through them."""

import tomllib
from pathlib import Path
from xml.sax.saxutils import escape

ROOT = Path(__file__).parents[1]
INK, SOFT, RULE, PAPER, CARD, CORAL = "#22303a", "#5a666f", "#d9d2bf", "#f3efe4", "#fbf9f3", "#b93f20"
_WIDE, _HIGH, _GAP, _LEFT, _TOP = 360, 40, 10, 30, 64
_WAY = (
    ("browser", "a step is changed: PUT /api/pieces/7/recipe"),
    ("api", "resources/pieces: the body becomes a Recipe, or 422"),
    ("studio", "rail.change_recipe: the order is checked"),
    ("store", "an edit on the one before, or 409; NOTIFY"),
    ("jobs", "evaluate_edit, when a worker is free"),
    ("studio", "rail.evaluating: load, compute, keep"),
    ("core", "bench.evaluate: steps as pure functions, remembered"),
    ("store", "the piece as a blob, its report, its picture; NOTIFY"),
    ("browser", "an event: the piece is fetched by its address"),
)


def levels(contract: str) -> list[str]:
    """Return the levels of a contract of pyproject.toml, the highest first."""
    linter = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]
    found = next(c for c in linter["contracts"] if c["name"] == contract)
    return [level.replace(" : ", ", ").replace(" | ", ", ") for level in found["layers"]]


def drawing() -> str:
    """Return the picture as SVG."""
    house, core = levels("The house, from the ground up"), levels("The core's rooms, from the ground up")
    rows = max(len(house), len(core), len(_WAY))
    wide, high = 3 * (_WIDE + _LEFT) + _LEFT, _TOP + rows * (_HIGH + _GAP) + 20
    parts = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" font-family="sans-serif" font-size="14">',
             f'<rect width="{wide}" height="{high}" fill="{PAPER}"/>']
    for column, (title, lines) in enumerate((("src/wily_heron", house), ("core", core), ("a change of a recipe", None))):
        x = _LEFT + column * (_WIDE + _LEFT)
        parts.append(f'<text x="{x}" y="36" font-size="18" font-weight="bold" fill="{INK}">{title}</text>')
        parts += _way(x) if lines is None else _boxes(x, lines)
    return "\n".join([*parts, "</svg>"]) + "\n"


def _boxes(x: int, lines: list[str]) -> list[str]:
    out = []
    for row, line in enumerate(lines):
        y = _TOP + row * (_HIGH + _GAP)
        out.append(f'<rect x="{x}" y="{y}" width="{_WIDE}" height="{_HIGH}" rx="4" fill="{CARD}" stroke="{RULE}"/>')
        out.append(f'<text x="{x + 14}" y="{y + 25}" fill="{INK}">{escape(line)}</text>')
    return out


def _way(x: int) -> list[str]:
    out = []
    for row, (where, what) in enumerate(_WAY):
        y = _TOP + row * (_HIGH + _GAP)
        if row:
            out.append(f'<path d="M{x + 8} {y - _GAP - 12} V{y + 10}" stroke="{RULE}" stroke-width="2"/>')
        out.append(f'<circle cx="{x + 8}" cy="{y + 14}" r="5" fill="{CORAL}"/>')
        out.append(f'<text x="{x + 24}" y="{y + 12}" font-weight="bold" fill="{INK}">{where}</text>')
        out.append(f'<text x="{x + 24}" y="{y + 30}" font-size="12" fill="{SOFT}">{escape(what)}</text>')
    return out


if __name__ == "__main__":
    (ROOT / "docs" / "architecture.svg").write_text(drawing())
