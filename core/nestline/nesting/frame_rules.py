"""A frame's rules, in points, and as the row that the compiled loops read."""

from __future__ import annotations

from dataclasses import dataclass, fields
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nestline import rows as k
from nestline.document.lengths import ZERO, Length
from nestline.document.model import Frame

Floats = NDArray[np.float64]

HANGS = {"ascender": k.HANG_ASCENDER, "cap": k.HANG_CAP, "ex": k.HANG_EX, "line-box": k.HANG_BOX}
STANDS = {"baseline": k.STAND_BASELINE, "descender": k.STAND_DESCENDER, "line-box": k.STAND_BOX}


@dataclass(frozen=True)
class FrameRules:
    """A frame's rules in points. `hang` is a metric's name or a length in points."""

    sit: str = "top"
    lift: float = 0.0
    hang: str | float = "ascender"
    hang_least: float = 0.0
    stand: str = "descender"
    band: str = "letters"
    least_slot_pt: float = 0.0
    least_slot_em: float = 3.0
    slots_by_copy: bool = False
    ragged_where_narrow: bool = False
    columns: int = 1
    gutter: float = 0.0
    balance: bool = False
    leaded: tuple[float, float, float, float] = (0.0, 1.6, 0.0, 1.0)
    """Greatest leading and greatest paragraph space when leaded out: each as points and ems of its paragraph."""
    arms_of_size: float = 0.0
    """The size of type by which arms are told from notches, where they are filled one after the other; 0 where copy
    runs across."""
    grid_from: float = 0.0
    """Where baseline grids begin: the page's top, as it lies in the coordinates of a frame that is set turned."""
    ends: str = "past-the-edge"
    mark: str = ""

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash(tuple(getattr(self, f.name) for f in fields(self)))

    @cached_property
    def row(self) -> Floats:
        """What the compiled loops read of them (rows.BY_LINE_BOX …), but for the places. "ink" is the length it comes
        to."""
        row = np.zeros(k.FRAME_COLUMNS)
        row[k.BY_LINE_BOX] = 1.0 if self.band == "line-box" else 0.0
        row[k.HANG_KIND], row[k.HANG_LENGTH] = k.HANG_BY_LENGTH, 0.0 if isinstance(self.hang, str) else self.hang
        if isinstance(self.hang, str):
            row[k.HANG_KIND] = HANGS.get(self.hang, k.HANG_BY_LENGTH)
        row[k.HANG_LEAST], row[k.STAND_KIND] = self.hang_least, STANDS.get(self.stand, k.STAND_BY_LENGTH)
        row[k.LEAST_PT], row[k.LEAST_EM], row[k.COLUMNS] = self.least_slot_pt, self.least_slot_em, 1
        row[k.GRID_FROM] = self.grid_from
        row[k.BY_COPY] = k.RAGGED_BELOW if self.ragged_where_narrow else k.EMPTY_BELOW if self.slots_by_copy else 0.0
        row.flags.writeable = False
        return row


LEAST_SLOT = 3.0
"""The narrowest slot that copy uses where nothing is said, in ems; justified copy needs more (`pieces.least_slot`)."""


def frame_rules(frame: Frame, size: float) -> FrameRules:
    """A frame's rules in points, an em being the size of its copy's first paragraph."""
    by_copy = isinstance(frame.least_slot, str) and frame.wrap_lines
    least = frame.least_slot if isinstance(frame.least_slot, Length) and frame.wrap_lines else ZERO
    leading, space = frame.leaded.leading, frame.leaded.space
    return FrameRules(
        sit=frame.sit,
        lift=frame.lift.points(size),
        hang=frame.hang.points(size) if isinstance(frame.hang, Length) else frame.hang,
        hang_least=frame.hang_least.points(size),
        stand=frame.stand,
        band=frame.band,
        least_slot_pt=least.pt,
        least_slot_em=LEAST_SLOT if by_copy else least.em,
        slots_by_copy=by_copy,
        ragged_where_narrow=by_copy and frame.least_slot == "ragged-by-copy",
        columns=frame.columns,
        arms_of_size=size if frame.arms == "in-turn" and frame.columns == 1 and frame.wrap_lines else 0.0,
        gutter=frame.gutter.points(size),
        balance=frame.balance,
        ends=frame.leftover.ends,
        mark=frame.leftover.mark,
        leaded=(leading.pt, leading.em, space.pt, space.em),
    )
