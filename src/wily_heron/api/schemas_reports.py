"""What the steps of the bench tell, and what went wrong."""

from pydantic import Field

from .schemas_base import Out


class ProblemOut(Out):
    """What was wrong, where, and what to do."""

    what: str
    where: str
    todo: str


class FindingOut(Out):
    """One thing receiving found; `mend` says what would put it right, None if no program can."""

    kind: str
    count: int
    text: str
    mend: str | None
    mended: bool


class ReceiveReport(Out):
    """What receiving found."""

    unit: str
    unit_word: str
    unit_why: str
    up: str
    up_why: str
    size: list[float]
    vertices: int
    triangles: int
    polygons: int
    parts: int
    largest_part: int
    materials: list[str]
    open_edges: int
    non_manifold_edges: int
    has_uv: bool
    findings: list[FindingOut]
    category: str
    category_sure: float
    category_why: str
    symmetric: float
    beside_wearer: float
    hand: str = "right"
    facing: str = "front"
    stance_why: str = ""
    textures: list[str] = Field(default_factory=list)
    missing_textures: list[str] = Field(default_factory=list)
    joints: int = 0
    morphs: list[str] = Field(default_factory=list)
    clips: list[str] = Field(default_factory=list)


class TroubleOut(Out):
    """A region where a piece could not be fitted: how many vertices, how far off the worst (metres), and where (metres)."""

    name: str
    vertices: int
    worst: float
    at: tuple[float, float, float]


class FitReport(Out):
    """What fitting reached (metres)."""

    ease: float
    judged: int
    below_ease: int
    resting: int
    resting_mean: float | None
    resting_spread: float | None
    least: float | None
    greatest_move: float
    edge_log_spread: float
    align_move: float
    made_for: str | None = None
    at_ease: float | None = None
    size: float = 1.0
    confidence: float = 1.0
    stance: dict[str, float] = Field(default_factory=dict)
    trouble: list[TroubleOut] = Field(default_factory=list)
    said: list[str] = Field(default_factory=list)
    hint: str | None = None


class WorkReport(Out):
    """What one alteration of the work step did."""

    kind: str
    tool: str | None = None
    touched: int | None = None
    lost: int = 0
    unknown: list[str] = Field(default_factory=list)
    moved: float | None = None
    removed: int | None = None
    slit: bool = False
    cut: int | None = None
    borders: int | None = None
    vertices: int | None = None
    triangles: int | None = None


class FaultOut(Out):
    """One kind of fault in the weights, where (vertices), and what would put it right."""

    kind: str
    count: int
    joint: str
    text: str
    mend: str
    rows: list[int]


class BoundPartOut(Out):
    """A loose part of a bound piece: what it looks like, whether it keeps its form, a vertex of it, and the joint that bears it most."""

    name: str
    rigid: bool
    vertices: int
    size_mm: float
    vertex: int
    joint: str | None


class LegsOut(Out):
    """What the poses tried do to cloth about the legs by weights alone: the worst stretch, in which `pose`, how deep legs come through."""

    stretch: float
    pose: str
    depth_mm: float


class BindReport(Out):
    """How the weights came about; `hangs` is how many vertices are shared by both legs."""

    joints: int
    most: int
    accepted: float
    solved: float
    own: bool = False
    joints_unknown: list[str] = Field(default_factory=list)
    how: str = "solve"
    worn_as: str = "cloth"
    hangs: int = 0
    legs: LegsOut | None = None
    carried_by: str | None = None
    spring: bool = False
    links: int = 0
    length_mm: float = 0.0
    parts: list[BoundPartOut] = Field(default_factory=list)
    findings: list[FaultOut] = Field(default_factory=list)


class WeighReport(Out):
    """What one stroke of the weight brush or one mend did."""

    kind: str
    tool: str | None = None
    joint: str | None = None
    touched: int | None = None
    mended: int | None = None
    left: int | None = None


class FollowReport(Out):
    """Which shapes the piece carries, how many correctives they needed, and vertices short of their ease before and after."""

    shapes: int
    under: float
    own: int = 0
    correctives: int = 0
    short: int = 0
    left: int = 0


class FixReport(Out):
    """What one corrective made by hand came to (metres)."""

    pose: str
    lost: int
    unknown: list[str] = Field(default_factory=list)
    moved: float


class BriefOut(Out):
    """A cell in three figures."""

    clearance_mm: float
    area_cm2: float
    places: int


class ClearedCellOut(Out):
    """One cell of a clearing, before and after; `kept` is false where easing out would have made it worse. Where loose cloth `fell`,
    `stretch` says how many times its length its most stretched edge was before and after."""

    pose: str
    kept: bool
    why: str | None = None
    before: BriefOut | None = None
    after: BriefOut | None = None
    moved: int = 0
    greatest_move: float = 0.0
    fell: bool = False
    stretch: list[float] | None = None


class KeptOut(Out):
    """One way of keeping a clearing: what then shows (cm2) in its cells, and in others."""

    keep: str
    here: float
    apart: float


class ClearReport(Out):
    """What one clear step reached; `ways` are those in which it could be kept, the one taken first, where they were tried."""

    cells: list[ClearedCellOut]
    cleared: int
    of: int
    ways: tuple[KeptOut, ...] = ()


class DrapeReport(Out):
    """What one drape came to: strain as a share, the speed of the fastest hundredth (m/s), how much of the set stiffness showed,
    and how much lower (m) the piece lies than it is worn."""

    frames: int
    vertices: int
    fabric: str
    strain_mean: float
    strain_99: float
    speed: float
    bending_met: float
    shear_met: float
    sunk: float | None = None


class HideReport(Out):
    """How many faces of the body, or of the piece itself, are left out, and over how many cells they were tried or that it was by hand."""

    faces: int
    of: int
    cells: int
    by_hand: bool = False


class FinishReport(Out):
    """What finishing came to: its `vertices` and `triangles`, how many vertices were `welded` away, the greatest way (metres) that
    smoothing and finer faces `moved` the cloth."""

    vertices: int
    triangles: int
    welded: int = 0
    moved: float


class ReportOut(Out):
    """What each step found, by step; null where it has not been done."""

    receive: ReceiveReport | None = None
    fit: FitReport | None = None
    work: list[WorkReport] = Field(default_factory=list)
    bind: BindReport | None = None
    weigh: list[WeighReport] = Field(default_factory=list)
    fix: list[FixReport] = Field(default_factory=list)
    follow: FollowReport | None = None
    clear: list[ClearReport] | None = None
    drape: list[DrapeReport] | None = None
    hide: HideReport | None = None
    leave_out: HideReport | None = None
    finish: FinishReport | None = None
