"""The hot loops of nesting under one name: slots (space), lines, breaking and where lines sit (sitting)."""

from nestline.nesting.breaking import *  # noqa: F403
from nestline.nesting.lines import *  # noqa: F403
from nestline.nesting.pieces import *  # noqa: F403
from nestline.nesting.sitting import *  # noqa: F403
from nestline.nesting.space import *  # noqa: F403
