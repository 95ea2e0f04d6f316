"""Acts: what a designer does in one go that takes several operations and some computing.

An edit may hold `{ "do": "act", "act": name, "given": { … } }`. `expanded` turns each act into operations (put, cut,
splice) on the document as it then stands; those are what is applied, stored and undone.
"""

from nestline.acts.acting import ActError, Acting
from nestline.acts.expanding import expanded

__all__ = ["ActError", "Acting", "expanded"]
