"""The cutting table on the wire."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from ....core.table.layout import Layout
from ....core.table.outline import edge_length
from ....store.layouts import LayoutRow
from ....studio.table.layouts import PanelWork
from ...wire import Out

Share = Annotated[float, Field(ge=0.0, le=1.0)]


class SettingOut(Out):
    """A length a block asks for, metres."""

    name: str
    label: str
    usual: float
    least: float
    most: float


class BlockOut(Out):
    """A ready block."""

    name: str
    label: str
    settings: list[SettingOut]


class LayoutRowOut(Out):
    """A layout on the shelf of the table."""

    id: int
    name: str
    wearer: int | None


class SeamOut(Out):
    """A seam's two lengths in metres."""

    one: float
    two: float


class LayoutOut(Out):
    """A layout as it stands: `seams` measures those of `layout`, in order; `edges` holds the lengths of each panel's edges, metres."""

    id: int
    name: str
    wearer: int | None
    edit: int
    label: str
    author: str
    can_undo: bool
    redo_label: str | None
    layout: Layout
    seams: list[SeamOut]
    edges: dict[str, list[float]]

    @classmethod
    def of(cls, found: LayoutRow) -> "LayoutOut":
        """Return a layout with the lengths of its seams and edges."""
        layout = found.layout
        edges = {p.name: [round(edge_length(p, e), 5) for e in range(len(p.outline))] for p in layout.panels}
        seams = [SeamOut(one=edges[s.one.panel][s.one.edge], two=edges[s.two.panel][s.two.edge]) for s in layout.seams]
        return cls(id=found.id, name=found.name, wearer=found.wearer, edit=found.edit, label=found.label, author=found.author,
                   can_undo=found.can_undo, redo_label=found.redo_label, layout=layout, seams=seams, edges=edges)


class LayoutIn(BaseModel):
    """A layout to begin: from a `block` with `settings` in metres, or empty, for a wearer."""

    name: str = Field(min_length=1, max_length=80)
    wearer: int
    block: str = ""
    settings: dict[str, float] = Field(default_factory=dict)


class LayoutChangeIn(BaseModel):
    """The whole layout after a change, said in a `label`; `based_on` is the edit it was made on."""

    layout: Layout
    label: str = Field(min_length=1, max_length=120)
    based_on: int | None = None


class PanelWorkIn(BaseModel):
    """A change that seams go along with: `split` an edge, put in a `dart` or a `pleat` (metres `wide` and `deep`), `join` two edges at a
    corner."""

    do: Literal["split", "dart", "pleat", "join"]
    panel: str
    edge: int = Field(ge=0)
    share: Share = 0.5
    wide: float = Field(default=0.03, gt=0.0, le=0.5)
    deep: float = Field(default=0.1, gt=0.0, le=1.0)
    based_on: int | None = None

    def work(self) -> PanelWork:
        """Return the change as it is made."""
        return PanelWork(self.do, self.panel, self.edge, self.share, self.wide, self.deep)


class GradeIn(BaseModel):
    """The wearer whose measures the panels are to be graded to."""

    wearer: int
