"""A frame's nest where it stands on its page."""

from __future__ import annotations

from dataclasses import dataclass

from nestline.document.model import PageObject
from nestline.nesting.frame_nest import FrameNest
from nestline.outlines.path import Affine


@dataclass(frozen=True, eq=False)
class PlacedNest:
    """A frame's nest on its page. `matrix` is set when the frame is set turned: its lines are before that turn."""

    page: int
    thing: PageObject
    nest: FrameNest
    copy: str
    version: str
    matrix: Affine | None
    key: tuple[object, ...]
    unsettled: bool = False
    """Whether the objects of its page did not come to rest: it is nested as they stood at last."""
    factor: float = 1.0
    """What its type is multiplied by, where type is fitted to the frame."""
    numbers: tuple[str, ...] = ()
    """What the page numbers in its copy read, in order."""
