"""The cloth of the night mail: small tileable pictures of weaves, felts and hides, made by code. White is left for the colour to tint."""

import io
from collections.abc import Callable

import numpy as np
from PIL import Image

SIDE = 256


def cloth(name: str) -> bytes:
    """Return the texture of a cloth as PNG bytes."""
    grey = _MAKERS[name](np.random.default_rng(sum(map(ord, name))))
    out = io.BytesIO()
    Image.fromarray((255 * np.clip(grey, 0, 1)).astype(np.uint8)).convert("RGB").save(out, "PNG", optimize=True)
    return out.getvalue()


def names() -> tuple[str, ...]:
    """Return the cloths there are."""
    return tuple(_MAKERS)


def _grid() -> tuple[np.ndarray, np.ndarray]:
    at = np.arange(SIDE) / SIDE
    return np.meshgrid(at, at)


def _noise(rng: np.random.Generator, grain: float) -> np.ndarray:
    """Tileable noise 0..1 whose features are about `grain` of the tile."""
    k = np.fft.fftfreq(SIDE) * SIDE
    keep = np.exp(-0.5 * (np.hypot(*np.meshgrid(k, k)) * grain) ** 2)
    field = np.real(np.fft.ifft2(np.fft.fft2(rng.normal(size=(SIDE, SIDE))) * keep))
    field -= field.min()
    return field / field.max()


def _weave(rng: np.random.Generator, threads: int, depth: float) -> np.ndarray:
    """Plain weave: warp and weft over and under, each thread of its own thickness and shade."""
    x, y = _grid()
    i, j = np.floor(x * threads).astype(int), np.floor(y * threads).astype(int)
    u, v = x * threads % 1 - 0.5, y * threads % 1 - 0.5
    over = (i + j) % 2 == 0
    across = np.where(over, np.cos(np.pi * u) * (0.75 + 0.25 * np.cos(np.pi * v)), np.cos(np.pi * v) * (0.75 + 0.25 * np.cos(np.pi * u)))
    shade = np.where(over, rng.normal(0, 1, threads)[i], rng.normal(0, 1, threads)[j])
    return 0.92 - depth * (1 - across) + 0.02 * shade


def _linen(rng: np.random.Generator) -> np.ndarray:
    return _weave(rng, 40, 0.30) - 0.10 * _noise(rng, 0.05)


def _canvas(rng: np.random.Generator) -> np.ndarray:
    return _weave(rng, 26, 0.42) - 0.08 * _noise(rng, 0.12)


def _wool(rng: np.random.Generator) -> np.ndarray:
    return 0.74 + 0.30 * (_noise(rng, 0.008) - 0.5) + 0.22 * (_noise(rng, 0.03) - 0.5)


def _oilskin(rng: np.random.Generator) -> np.ndarray:
    creases = 1 - np.abs(2 * _noise(rng, 0.05) - 1)
    return 0.86 - 0.28 * creases**6 - 0.10 * _noise(rng, 0.14)


def _leather(rng: np.random.Generator) -> np.ndarray:
    cells = np.abs(2 * _noise(rng, 0.012) - 1)
    return 0.66 + 0.34 * cells**0.5 - 0.10 * _noise(rng, 0.10)


def _knit(rng: np.random.Generator) -> np.ndarray:
    """Stocking stitch: columns of V."""
    x, y = _grid()
    u = x * 20 % 1 - 0.5
    v = (y * 26 + 0.9 * np.abs(u)) % 1 - 0.5
    return 0.95 - 0.5 * np.abs(v) ** 1.5 * 2 - 0.35 * np.exp(-((np.abs(u) - 0.5) / 0.09) ** 2) - 0.05 * _noise(rng, 0.02)


def _twill(rng: np.random.Generator) -> np.ndarray:
    x, y = _grid()
    line = np.cos(2 * np.pi * (36 * x + 36 * y))
    return 0.82 + 0.14 * line - 0.08 * _noise(rng, 0.02)


_MAKERS: dict[str, Callable[[np.random.Generator], np.ndarray]] = {
    "linen": _linen, "canvas": _canvas, "wool felt": _wool, "oilskin": _oilskin, "leather": _leather, "knit": _knit, "twill": _twill,
}
