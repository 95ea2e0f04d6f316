"""Versions of copies: added, brought from text, shown for the whole document, and what stands in for one."""

import base64
import unittest
from typing import Any

from nestline.acts import ActError
from nestline.document.reading import Reader
from nestline.scene import difference, scene_of
from support import document, frame, paragraph, studio
from test_acts import done


def sheet() -> dict[str, Any]:
    raw = document([frame(), {**frame(), "id": "g", "frame": {"copy": "label"}}], paragraph("Fly a kite", size=15))
    raw["copies"]["label"] = {"versions": {"en": {"language": "en", "paragraphs": [paragraph("Fly", weight=700)]}}}
    return raw


def shown(raw: dict[str, Any]) -> dict[str, tuple[str, str]]:
    """What each frame shows: its version and its words."""
    return {n.thing.id: (n.version, n.nest.copy.text) for n in studio().nest(studio().read(raw))}


class Versions(unittest.TestCase):
    def test_an_added_one_begins_as_what_was_shown_and_is_shown(self) -> None:
        raw = done(sheet(), "add-version", version="de", language="de")
        self.assertEqual(shown(raw), {"f": ("de", "Fly a kite"), "g": ("de", "Fly")})
        self.assertEqual(Reader().read(raw).copies["label"]["de"].language, "de")

    def test_a_copy_without_it_shows_another(self) -> None:
        raw = done(sheet(), "add-version", version="de-draft", language="de", copies=["label"])
        self.assertEqual({k: v[0] for k, v in shown(raw).items()}, {"f": "en", "g": "de-draft"})

    def test_its_language_is_that_of_other_copies_or_its_name(self) -> None:
        raw = done(sheet(), "add-version", version="Wien", language="de-AT", copies=["label"])
        raw = done(raw, "add-version", version="Wien", copies=["story"])
        self.assertEqual(raw["copies"]["story"]["versions"]["Wien"]["language"], "de-AT")
        self.assertEqual(
            done(sheet(), "add-version", version="fi")["copies"]["label"]["versions"]["fi"]["language"], "fi"
        )
        self.assertEqual(
            done(sheet(), "add-version", version="Draft 2")["copies"]["label"]["versions"]["Draft 2"]["language"], "en"
        )

    def test_a_text_brought_as_a_version_looks_as_what_stood_there(self) -> None:
        text = base64.b64encode(b"Lass steigen\n\nKomm mit").decode()
        raw = done(sheet(), "bring-version", copy="story", version="de", language="de", name="de.txt", content=text)
        made = raw["copies"]["story"]["versions"]["de"]
        self.assertEqual([p["runs"][0]["text"] for p in made["paragraphs"]], ["Lass steigen", "Komm mit"])
        self.assertEqual([p["size"] for p in made["paragraphs"]], [15, 15])
        self.assertEqual(shown(raw)["f"][0], "de")
        self.assertEqual(sheet()["copies"]["story"]["versions"]["en"], raw["copies"]["story"]["versions"]["en"])

    def test_taken_away_the_others_stand(self) -> None:
        raw = done(done(sheet(), "add-version", version="de", language="de"), "drop-version", version="de")
        self.assertEqual(raw, sheet())
        with self.assertRaises(ActError):
            done(sheet(), "drop-version", version="en")

    def test_called_otherwise_everywhere(self) -> None:
        raw = done(
            done(sheet(), "add-version", version="de", language="de"),
            "rename-version",
            version="de",
            to="Wien",
            language="de-AT",
        )
        self.assertEqual({k: v[0] for k, v in shown(raw).items()}, {"f": "Wien", "g": "Wien"})
        self.assertEqual(raw["copies"]["story"]["versions"]["Wien"]["language"], "de-AT")
        with self.assertRaises(ActError):
            done(raw, "rename-version", version="Wien", to="en")

    def test_the_one_that_is_shown_keeps_being_shown_renamed_and_another_when_it_goes(self) -> None:
        raw = document([frame()], paragraph("x"))
        raw["copies"]["story"]["versions"] = {
            name: {"language": name, "paragraphs": [paragraph(text)]}
            for name, text in (("en", "Bring string"), ("de", "Bringt Schnur"))
        }
        renamed = done(raw, "rename-version", version="en", to="British")
        self.assertEqual(shown(renamed)["f"], ("British", "Bring string"))
        self.assertEqual(renamed["showing"], "British")
        for gone in (done(renamed, "drop-version", version="British"), done(raw, "drop-version", version="en")):
            self.assertEqual((shown(gone)["f"], gone["showing"]), (("de", "Bringt Schnur"), "de"))
        chosen = done({**raw, "showing": "de"}, "drop-version", version="de")
        self.assertEqual(shown(chosen)["f"], ("en", "Bring string"))
        self.assertNotIn("showing", chosen)

    def test_a_screen_is_told_what_a_version_is_called_now(self) -> None:
        raw, kept = sheet(), studio()
        before = scene_of(kept, kept.read(raw))
        after = scene_of(kept, kept.read(done(raw, "rename-version", version="en", to="British")))
        self.assertEqual(difference(kept, before, after)["nests"]["f"]["version"], "British")


if __name__ == "__main__":
    unittest.main()
