"""Changes that two windows made at the same time, brought together.

A change is merged three ways: the state that it was made on, what it made of that, and the document as it stands by
now. `merged` gives the document with both, and what collides. Objects are told apart by their ids, fields singly; lists
shift; copy is merged by words (UAX #29). What both sides made the same agrees; a deletion against a change collides.
"""

from nestline.merging.changes import changes
from nestline.merging.documents import Collision, Merged, merged

__all__ = ["Collision", "Merged", "changes", "merged"]
