"""The act that changes how objects push copy: the clearance fits what is chosen."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from draws import cases
from nestline.acts import expanded
from nestline.acts.wraps import CLEARANCE
from nestline.document import edits
from support import studio
from test_spreading import document, put, things

BY = ("none", "box", "outline", "contour", "below")
CLEARANCES = st.sampled_from([None, 0, 5, "1em", [1, 2, 3, 4], ["1em", 0, 0, 2]])


def wrap_of(raw: dict[str, Any], **given: Any) -> dict[str, Any]:
    operations = expanded(studio(), raw, [{"do": "act", "act": "wrap", "given": {"objects": ["p"], **given}}])
    return things(edits.apply(raw, operations).document)["p"]["wrap"]  # type: ignore[no-any-return]


class Wraps(unittest.TestCase):
    @settings(max_examples=cases(120), deadline=None)
    @given(
        st.sampled_from([b for b in BY if b != "contour"]),
        CLEARANCES,
        st.sampled_from([None, "left", "widest"]),
        st.sampled_from(BY),
        st.sampled_from([None, False, True]),
    )
    def test_it_is_valid_whatever_it_was_and_the_clearance_is_kept_where_it_fits(
        self, was: str, clearance: Any, sides: str | None, by: str, inside: bool | None
    ) -> None:
        if by == "below" and inside:
            return  # refused: copy cannot do both
        if isinstance(clearance, list) and was not in ("none", "box", "below"):
            return
        raw = document()
        wrap = {"by": was, **({} if clearance is None else {"clearance": clearance})}
        things(raw)["p"]["wrap"] = wrap
        after = wrap_of(raw, by=by, inside=inside, sides=sides)
        self.assertEqual(after["by"], by)
        self.assertEqual(after.get("sides", "both"), sides or "both")
        self.assertEqual(after.get("inside", False), bool(inside))
        one = clearance[0] if isinstance(clearance, list) and by in ("outline", "contour") else clearance
        self.assertEqual(after.get("clearance"), CLEARANCE if clearance is None and by != "none" else one)
        studio().read(edits.apply(raw, [put("objects", "p", "wrap", value=after)]).document)

    def test_of_a_follower_spoken_of_as_its_recipe_it_is_the_recipes(self) -> None:
        act = {"do": "act", "act": "wrap", "given": {"objects": ["f"], "by": "box"}}
        raw = document()
        spread = {"do": "act", "act": "onto-recipe", "given": {"object": "f", "recipe": "Label", "operations": [act]}}
        after = edits.apply(raw, expanded(studio(), raw, [spread])).document
        self.assertEqual(after["recipes"]["Label"]["wrap"], {"by": "box", "clearance": CLEARANCE})
        self.assertNotIn("wrap", things(after)["f"])


if __name__ == "__main__":
    unittest.main()
