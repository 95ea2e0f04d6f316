"""The hot loops of nesting, compiled by Numba: slots and where lines may stand, lines and their breaks, where lines
sit.

Plain functions over plain arrays; nestline.rows names every column of those. What is handed over together is a named
tuple.
"""

from nestline.nesting.compiled.aligning import Words, align_records, place_words
from nestline.nesting.compiled.columns import nest_from
from nestline.nesting.compiled.lines import Above, Reached, Rows, Written, first_baseline
from nestline.nesting.compiled.middle import usable_height
from nestline.nesting.compiled.past_edge import fill_past
from nestline.nesting.compiled.pieces import (
    FAR,
    band_reach,
    drop_depth,
    hang_height,
    indents,
    least_slot,
    piece_width,
    reach_below,
    stand_depth,
)
from nestline.nesting.compiled.sitting import solve_sit
from nestline.nesting.compiled.space import Space, index_by_height, lay_edges, slots_in_band, spent, widest_in_band
from nestline.nesting.compiled.usable import (
    next_usable,
    slot_length_below,
    surely_fits,
    width_that_always_fits,
)

__all__ = [
    "FAR",
    "Above",
    "Reached",
    "Rows",
    "Space",
    "Words",
    "Written",
    "align_records",
    "band_reach",
    "drop_depth",
    "fill_past",
    "first_baseline",
    "hang_height",
    "indents",
    "index_by_height",
    "lay_edges",
    "least_slot",
    "nest_from",
    "next_usable",
    "piece_width",
    "place_words",
    "reach_below",
    "slot_length_below",
    "slots_in_band",
    "solve_sit",
    "spent",
    "stand_depth",
    "surely_fits",
    "usable_height",
    "widest_in_band",
    "width_that_always_fits",
]
