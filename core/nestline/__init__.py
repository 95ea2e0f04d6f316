"""Nest Line's core: the open document and everything that is computed from it.

Pure Python: no Django, no HTTP, no database. Lengths are points (1/72 in), y grows downwards from the trim corner at
the top left, angles are degrees clockwise. Read the packages in this order: `document`, `outlines`, `fonts`, `copy`,
`nesting` (the heart), `pictures`, `output`.
"""
