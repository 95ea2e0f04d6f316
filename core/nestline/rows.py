"""The rows that the core computes with: every column and every enumeration in them, named once. Lengths are in points.

Arrays of numbers pass between copy, the compiled loops of nesting and what draws; nothing anywhere else says the number
of a column. Names are plain integers, since the compiled loops take nothing else for constants.
"""

from __future__ import annotations

# A piece of copy: the running figures before its first letter (…0) and behind its last (…1): x, stretchable spaces,
# letters, tabs, fills (tabs that reach for the slot's end). What breaking before it and after it changes; its
# paragraph; whether a break is forced after it; heights of its letters: ascender, descender, line box, cap, x-height;
# how far the baselines above (OPENS) and below (UNDER) keep away from its objects in line; what a break after it sets;
# what hangs before its slot; how ill a break after it is.
(
    X0, X1, CHANGE0, CHANGE1, SPACE0, SPACE1, PARAGRAPH, FORCED, ASC, DESC, BOX_UP, BOX_DOWN, CAP, EX, OPENS, UNDER,
      HYPHEN,
    LETTERS0, LETTERS1, HANG0, TABS0, TABS1, FILLS0, FILLS1, GRADE,
) = range(25)  # fmt: skip
PIECE_COLUMNS = 25
HEIGHTS = slice(ASC, UNDER + 1)
RUNNING0 = (X0, SPACE0, LETTERS0, TABS0, FILLS0)
RUNNING1 = (X1, SPACE1, LETTERS1, TABS1, FILLS1)
"""The running figures of a piece, as a paragraph's five rows have them
(copy.shaped_paragraph.ShapedParagraph.running)."""
RUNNING_X, RUNNING_SPACES, RUNNING_LETTERS, RUNNING_TABS, RUNNING_FILLS = range(len(RUNNING0))
PIECE_LENGTHS = (X0, X1, CHANGE0, CHANGE1, *range(ASC, UNDER + 1), HANG0)
"""Of a piece's figures those that grow with its type."""
NO_GRADE, WEAK, POOR, KEPT, HELD = range(5)
"""How ill a break after a piece is: not at all; a short word left at the end; a hyphen that reads poorly; what belongs
together parted; what must not be."""
NO_HYPHEN, SET_HYPHEN, OWN_HYPHEN = range(3)
"""What a break after a piece sets: nothing, a hyphen, or nothing after a hyphen that is in the copy."""

# A paragraph's rules.
(
    LEADING, ALIGN, ALIGN_LAST, BEFORE, AFTER, INDENT, FIRST_INDENT, SIZE, SPACE_WIDTH, BREAKING, LADDER, LEAST_SPACE,
    GREATEST_SPACE, GREATEST_TRACKING, LONE_WORD, FROM_RIGHT, GRID, KEEP_START, KEEP_END, KEEP_NEXT, DROP_LINES,
      DROP_WIDTH,
    NEW_COLUMN, EVEN, FITTED_SPACE, FITTED_WIDTH, LEAST_ROOM, RAGGED_ROOM,
) = range(28)  # fmt: skip
RULE_COLUMNS = 28
RULE_LENGTHS = (
    LEADING, BEFORE, AFTER, INDENT, FIRST_INDENT, SIZE, SPACE_WIDTH, GREATEST_TRACKING, DROP_WIDTH, FITTED_SPACE,
    LEAST_ROOM, RAGGED_ROOM,
)  # fmt: skip
"""Of a paragraph's figures those that grow with its type."""
START, CENTER, END, JUSTIFY = range(4)
FIRST_FIT, OPTIMAL, BALANCED, BY_SENSE, WIDENING, TAPERING = range(6)

# A frame's rules.
(
    BY_LINE_BOX, HANG_KIND, HANG_LENGTH, HANG_LEAST, STAND_KIND, LEAST_PT, LEAST_EM, Y_TOP, Y_BOTTOM, X_LEFT, X_RIGHT,
      TIGHT,
    STAND_LENGTH, COLUMNS, COLUMN_STEP, COLUMN_SHIFT, GOES_ON, LAID, BY_COPY, GRID_FROM,
) = range(20)  # fmt: skip
FRAME_COLUMNS = 20
EMPTY_BELOW, RAGGED_BELOW = 1.0, 2.0
"""What is done with slots too narrow for justified copy, where they go by the copy."""
HANG_ASCENDER, HANG_CAP, HANG_EX, HANG_BOX, HANG_BY_LENGTH = range(5)
STAND_BASELINE, STAND_DESCENDER, STAND_BOX, STAND_BY_LENGTH = range(4)

# An edge of an outline, and of a ring of edges: 1 where a ring begins, and whose it is.
EDGE_X0, EDGE_Y0, EDGE_X1, EDGE_Y1 = range(4)
EDGE_COLUMNS = 4
STARTS, OWNER = range(2)
# An arm that another runs into, and that other.
INTO, FROM_ABOVE = range(2)
RING_COLUMNS = 2
OUTLINE = 0
"""The owner of the padded outline's edges; k ≥ 1 owns those of the wrap k − 1."""
# The room that bands are reckoned in, of each stretch and crossing; its last row counts bands (LOW) up to a most
# (HIGH).
LOW, HIGH, WHO, CROSSING, CROSSER, PARITY, ROOM = range(7)

# A slot of a band: its ends and what each comes from; where several bands' slots are listed, which band it is of.
SLOT_LEFT, SLOT_RIGHT, SLOT_LEFT_CAUSE, SLOT_RIGHT_CAUSE, SLOT_BAND = range(5)
SLOT_COLUMNS, LISTED_SLOT_COLUMNS = 4, 5
BY_BOX, BY_CAP = -1.0, -2.0
"""What an end of a slot comes from, beside the outline (0) and the wraps (1 …)."""

# A band that a line may stand in: its baseline and ends, why it is there, whether it is cut to the stand metric, what
# it asks of the step to the next, and how far its hang and stand metrics are from its baseline.
BAND_BASELINE, BAND_TOP, BAND_BOTTOM, BAND_WHY, BAND_CUT, BAND_REACH, BAND_HANG, BAND_STAND = range(8)
BAND_COLUMNS = 8
BY_HANG, BY_LEADING, BY_GEOMETRY = range(3)
"""Why a baseline is where it is."""

# Where a drop cap stands: the x up to which copy beside it is pushed, the y down to which it is, the x of its left end.
CAP_PUSH, CAP_DOWN, CAP_LEFT = range(3)

# Rows to reckon in: where a drop cap stands (CAP_…), the heights of a line and those it had before (as a piece's).
IN_CAP, IN_TALL, IN_BEFORE = range(3)
RECKONED = 3

# A record, one for each slot that holds copy.
(
    LINE, FIRST, LAST, BASELINE, TOP, BOTTOM, LEFT, RIGHT, LEFT_CAUSE, RIGHT_CAUSE, PARAGRAPH_START, PAST, WHY,
      COLUMN, CAP_X,
) = range(15)  # fmt: skip
RECORD_COLUMNS = 15
NO_CAP = -1e8
"""CAP_X of a record that begins with no drop cap."""

# Where letters stand in the records, a row of figures for each of these: where a record's first letter stands, its
# natural width, what is added to each word space, after each letter and to each tab to the slot's end, 1 where a
# justified line is too loose, and is set natural, and by what share its letters are wider.
FROM, NATURAL, SPACE_MORE, TRACK, FILL, TOO_LOOSE, WIDENED = range(7)
ALIGNMENT_ROWS = 7

# What a nest says of itself: the y of the first hang metric and of the last stand metric, the last baseline, the number
# of lines, how many lines after the first stand where geometry put them, and the last column that holds any.
END_HANG, END_STAND, END_BASELINE, END_LINES, END_BY_GEOMETRY, END_COLUMN = range(6)
ENDS = 6

# Bounds of all nests from a stretch of starts: of the first hang metric, of the last stand metric, and whether every
# line stands by leading.
LEAST_HANG, MOST_HANG, LEAST_STAND, MOST_STAND, ALL_BY_LEADING = range(5)
BOUNDS = 5

# What is known of a break on the way: figures (what it costs to come to it, the x of the letters behind it, the spaces
# before them, how far letters must reach, and may, for a line from it to be full: spaces as they are, all shrunk; what
# the letters before them give) and places (the piece behind it, the slot that comes next, hyphens in a row before it,
# the fitness of the line before, the break that line began after, whether a line may be left unfilled behind it, and
# the slot that it counts under).
COST, X_OF, SPACES_OF, FULL_AT, OVER_AT, FITTED_OF = range(6)
FIGURES = 6
PIECE, NEXT_SLOT, HYPHENS, FITNESS, LINE_FROM, SPARE, ONE_OF = range(7)
PLACES = 7
# A way on that a bound is looked for on.
WAY_PIECE, WAY_HYPHENS, WAY_FITNESS, WAY_SLOT, WAY_FROM = range(5)
WAY_COLUMNS = 5

# A word of a paragraph in one look: where it starts and ends, the number of its look, whether it runs from right to
# left.
WORD_START, WORD_END, WORD_LOOK, WORD_RTL = range(4)
WORD_COLUMNS = 4

RANGE_START, RANGE_END = range(2)
"""A stretch of the copy, in code points; of words, the first and the one behind the last."""

# A record as the screen has it (nestline.scene, web/src/drawing/records.ts).
SCREEN_RECORD = (
    "line", "baseline", "top", "bottom", "slotLeft", "slotRight", "left", "right", "start", "end", "past",
      "firstWord", "words",
    "hyphen", "tracking", "wide",
)  # fmt: skip
