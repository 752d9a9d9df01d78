"""Fabrics by their physical parameters."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Stiffness = Annotated[float, Field(ge=1.0, le=1e6)]
Rigidity = Annotated[float, Field(ge=0.0, le=0.1)]


class Fabric(BaseModel):
    """`weight` in kg/m2; `warp`, `weft` and `shear` stiffness in N/m; bending rigidity in N m of a strip 1 m wide, along the warp and
    the weft; `thickness` in metres; `damping` in 1/s; `friction` on skin and on cloth (Coulomb)."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)
    name: str = Field(max_length=60)
    weight: float = Field(gt=0.005, le=5.0)
    warp: Stiffness
    weft: Stiffness
    shear: Stiffness
    bend_warp: Rigidity
    bend_weft: Rigidity
    thickness: float = Field(gt=0.00005, le=0.02)
    damping: float = Field(default=1.0, ge=0.0, le=100.0)
    friction: float = Field(default=0.4, ge=0.0, le=3.0)


def _fabric(name: str, gsm: float, tensile: tuple[float, float], shear: float, bend: tuple[float, float], mm: float,
            damping: float, friction: float) -> Fabric:
    """Grams per m2, kN/m, N/m, micronewton metres, millimetres."""
    return Fabric(name=name, weight=gsm / 1000, warp=1000 * tensile[0], weft=1000 * tensile[1], shear=shear, bend_warp=bend[0] * 1e-6,
                  bend_weft=bend[1] * 1e-6, thickness=mm / 1000, damping=damping, friction=friction)


FABRICS = {f.name: f for f in (
    _fabric("silk habotai", 40, (9, 6), 22, (3, 2.2), 0.12, 0.6, 0.25),
    _fabric("silk satin", 90, (11, 7), 28, (5, 3.5), 0.2, 0.7, 0.22),
    _fabric("cotton lawn", 75, (9, 6), 60, (4.5, 3), 0.2, 0.8, 0.4),
    _fabric("cotton shirting", 120, (12, 7), 90, (8, 5.5), 0.3, 0.9, 0.42),
    _fabric("calico", 140, (12, 9), 120, (14, 10), 0.35, 1.0, 0.45),
    _fabric("linen", 190, (20, 14), 70, (24, 17), 0.45, 1.0, 0.4),
    _fabric("wool suiting", 220, (8, 5), 38, (11, 8), 0.6, 1.2, 0.4),
    _fabric("wool felt", 420, (4, 3), 320, (160, 130), 2.2, 2.0, 0.55),
    _fabric("boat cloth", 560, (9, 6), 150, (90, 70), 1.9, 1.8, 0.5),
    _fabric("fine knit", 160, (0.45, 0.3), 35, (2.6, 1.8), 0.7, 1.5, 0.5),
    _fabric("heavy knit", 420, (0.7, 0.45), 60, (22, 15), 2.6, 2.0, 0.6),
    _fabric("velvet", 310, (7, 5), 60, (22, 16), 1.4, 1.6, 0.6),
    _fabric("denim", 400, (24, 14), 190, (95, 52), 0.9, 1.2, 0.5),
    _fabric("canvas", 480, (32, 22), 320, (210, 140), 1.0, 1.2, 0.5),
    _fabric("oilskin", 330, (22, 16), 260, (120, 95), 0.6, 1.4, 0.35),
    _fabric("leather", 850, (26, 22), 2500, (620, 560), 1.4, 2.2, 0.6),
    _fabric("netting", 30, (3, 2), 14, (3.4, 3), 0.3, 0.8, 0.3),
)}
"""Presets: representative values within the ranges that objective measurement reports for such cloths, none the measurement of one cloth.
Weights, thickness, tensile, shear and bending: Kawabata & Niwa, Fabric performance in clothing and clothing manufacture, J. Text. Inst.
80 (1989); bending also Peirce, The handle of cloth as a measurable quantity, J. Text. Inst. 21 (1930); friction: Gupta, Friction in
textile materials (2008). Bending 1 gf cm2/cm is 98.1 micronewton metres, shear 1 gf/(cm degree) is 56.2 N/m."""
