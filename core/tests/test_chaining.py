"""Acts on chains: linking loses no words, cutting gives each side what it shows, deleting closes the gap."""

import random
import unittest
from typing import Any

from draws import seeds
from nestline.acts import ActError
from nestline.acts.arranging import extent
from support import STORY, document, frame, paragraph, studio
from test_acts import done
from test_chains import BODY, boxes, chained, nests_of


def text_of(raw: dict[str, Any], copy: str, version: str = "en") -> str:
    paragraphs = raw["copies"][copy]["versions"][version]["paragraphs"]
    return "\n".join("".join(r.get("text", "") for r in p.get("runs", [])) for p in paragraphs)


class Linking(unittest.TestCase):
    def two(self, second: dict[str, Any] | None, words: str = "Second words.") -> dict[str, Any]:
        other = (
            frame(id="g", x=300, copy="other")
            if second is None
            else {"id": "g", "x": 300, "y": 100, "width": 90, "height": 90, **second}
        )
        raw = document([frame(id="f", padding=7, columns=2), other], paragraph(STORY, **BODY))
        if second is None:
            raw["copies"]["other"] = {"versions": {"en": {"paragraphs": [paragraph(words)]}}}
        return raw

    def test_an_outline_becomes_a_frame_with_the_same_rules(self) -> None:
        raw = done(self.two({"outline": {"kind": "heart"}}), "link", frame="f", to="g")
        self.assertEqual(raw["chains"], [["f", "g"]])
        self.assertEqual(raw["pages"][0]["objects"][1]["frame"], {"copy": "story", "padding": 7, "columns": 2})

    def test_words_that_a_frame_holds_come_behind(self) -> None:
        raw = done(self.two(None), "link", frame="f", to="g")
        self.assertEqual(text_of(raw, "story"), STORY + "\nSecond words.")
        self.assertNotIn("other", raw["copies"])

    def test_an_empty_copy_leaves_no_empty_paragraph(self) -> None:
        raw = done(self.two(None, ""), "link", frame="f", to="g")
        self.assertEqual(
            text_of(raw, "story"), STORY + ("\n" if raw["copies"]["story"]["versions"]["en"]["paragraphs"][1:] else "")
        )

    def test_a_frame_is_put_in_between(self) -> None:
        raw = chained(boxes(2))
        raw["pages"][0]["objects"].append({"id": "g", "x": 0, "y": 300, "width": 90, "height": 90})
        self.assertEqual(done(raw, "link", frame="f1", to="g")["chains"], [["f1", "g", "f2"]])

    def test_what_cannot_be_linked_is_said(self) -> None:
        raw = chained(boxes(3))
        raw["pages"][0]["objects"].append(
            {"id": "p", "x": 0, "y": 300, "width": 90, "height": 90, "picture": {"file": "a.png"}}
        )
        for frame_, to, said in (
            ("f1", "f1", "comes from"),
            ("f1", "f3", "already"),
            ("f1", "p", "picture"),
            ("p", "f1", "no copy"),
        ):
            with self.assertRaisesRegex(ActError, said):
                done(raw, "link", frame=frame_, to=to)

    def test_a_new_frame_takes_outline_rules_and_paint(self) -> None:
        raw = document(
            [{**frame(id="f", kind="leaf", fill={"color": "ink", "tint": 10}, give=["bottom"], padding=4)}],
            paragraph(STORY),
        )
        made = done(raw, "link-new", frame="f", page=0, at=[10, 500], id="n")["pages"][0]["objects"][1]
        self.assertEqual((made["x"], made["y"], made["outline"], made["fill"]["tint"]), (10, 500, {"kind": "leaf"}, 10))
        self.assertEqual(made["frame"], {"copy": "story", "padding": 4})

    def test_a_new_frame_is_all_on_its_page(self) -> None:
        for seed in seeds(60):
            dice = random.Random(seed)
            width, height = dice.choice([60, 120, 320]), dice.choice([40, 100, 240])
            thing = frame(id="f", x=20, y=20, width=width, height=height, turn=dice.choice([0, 0, 20, 90]))
            raw = document([thing], paragraph(STORY), width=300, height=200)
            at = [dice.uniform(-40, 340), dice.uniform(-40, 240)]
            made = studio().read(done(raw, "link-new", frame="f", page=0, at=at, id="n")).by_id["n"]
            left, top, right, bottom = extent(made)
            self.assertGreaterEqual(min(left, top), -1e-3, seed)
            if right - left <= 300:
                self.assertLessEqual(right, 300.001, seed)
            if bottom - top <= 200:
                self.assertLessEqual(bottom, 200.001, seed)
            unmoved = extent(made.put(x=at[0], y=at[1]))
            if min(unmoved[:2]) >= 0 and unmoved[2] <= 300 and unmoved[3] <= 200:
                self.assertAlmostEqual(made.box[0], at[0], places=3)
                self.assertAlmostEqual(made.box[1], at[1], places=3)

    def test_go_on_finds_room_or_makes_a_page(self) -> None:
        small = document([frame(id="f", x=20, y=20, width=100, height=100)], paragraph(STORY), width=300, height=140)
        beside = done(small, "go-on", frame="f")
        self.assertEqual(beside["pages"][0]["objects"][1]["x"], 132)
        narrow = document([frame(id="f", x=20, y=20, width=100, height=100)], paragraph(STORY), width=140, height=140)
        over = done(narrow, "go-on", frame="f")
        self.assertEqual([len(p["objects"]) for p in over["pages"]], [1, 1])
        self.assertEqual(over["pages"][1]["objects"][0]["x"], 20)


class Anchored(unittest.TestCase):
    def test_what_belongs_to_copy_is_in_no_chain_and_the_other_way_round(self) -> None:
        raw = chained(boxes(2))
        raw["pages"][0]["objects"].append(frame(id="g", x=20, y=300, width=90, height=40, copy="other"))
        raw["copies"]["other"] = {"versions": {"en": {"paragraphs": [paragraph("Up.")]}}}
        with self.assertRaisesRegex(ActError, "take it out"):
            done(raw, "anchor", object="f2", frame="g")
        hung = done(raw, "anchor", object="g", frame="f1", place="beside")
        for frame_, to in (("f2", "g"), ("g", "f1")):
            with self.assertRaisesRegex(ActError, "release it"):
                done(hung, "link", frame=frame_, to=to)

    def test_a_frame_that_waits_for_its_words_is_solved_without_it(self) -> None:
        raw = document(
            [frame(id="f"), {**frame(id="g", copy="other", fit_type={"least": 4}), "anchor": {"place": "beside"}}],
            paragraph(STORY),
        )
        raw["copies"]["other"] = {"versions": {"en": {"paragraphs": [paragraph("Up.")]}}}
        self.assertEqual(set(nests_of(raw)), {"f"})


class Cutting(unittest.TestCase):
    def test_each_side_keeps_the_words_that_it_shows(self) -> None:
        raw = chained(boxes(3, height=40))
        before = nests_of(raw)
        cut = done(raw, "cut-chain", frame="f1")
        after = nests_of(cut)
        self.assertEqual(cut["chains"], [["f2", "f3"]])
        for identity in ("f1", "f2"):
            shown = [before[identity].copy.text[a:b] for a, b in before[identity].ranges]
            self.assertEqual(shown, [after[identity].copy.text[a:b] for a, b in after[identity].ranges])
        self.assertEqual(sum(n.words_held for n in after.values()) + after["f3"].leftover_words, len(STORY.split()))

    def test_or_they_stay_before_the_cut(self) -> None:
        cut = done(chained(boxes(2, height=40)), "cut-chain", frame="f1", words="stay")
        nests = nests_of(cut)
        self.assertEqual(cut["chains"], [])
        self.assertEqual(text_of(cut, "story"), STORY)
        self.assertEqual(nests["f2"].copy.words, 0)
        self.assertGreater(nests["f1"].leftover_words, 0)

    def test_a_frame_taken_out_is_passed_by(self) -> None:
        out = done(chained(boxes(3)), "take-out-of-chain", frame="f2")
        self.assertEqual(out["chains"], [["f1", "f3"]])
        nests = nests_of(out)
        self.assertEqual(nests["f1"].held[1], nests["f3"].held[0])

    def test_a_jump_line_to_a_deleted_frame_leads_nowhere_and_is_said_to(self) -> None:
        jump = {"id": "j", "x": 10, "y": 10, "width": 90, "height": 20, "frame": {"copy": "jump"}}
        frames = [{**frame(y=100 + 200 * n, height=60), "id": name} for n, name in enumerate("fgh")]
        raw = document([*frames, jump], paragraph(STORY * 2))
        runs = [
            {"text": "more on "},
            {"field": "next-page", "of": "f"},
            {"text": ", page "},
            {"field": "page", "of": "h"},
        ]
        raw["copies"]["jump"] = {"versions": {v: {"language": v, "paragraphs": [{"runs": runs}]} for v in ("en", "de")}}
        raw["chains"] = [["f", "g", "h"]]
        after = done(raw, "delete", objects=["f"])
        for version in after["copies"]["jump"]["versions"].values():
            self.assertEqual([run.get("of") for run in version["paragraphs"][0]["runs"]], [None, None, None, "h"])
        read = studio().read(after)
        self.assertIn("j", studio().nest(read).nowhere)
        self.assertEqual(after["chains"], [["g", "h"]])

    def test_a_chain_closes_over_a_deleted_frame_and_keeps_its_copy(self) -> None:
        gone = done(chained(boxes(3)), "delete", objects=["f2"])
        self.assertEqual(gone["chains"], [["f1", "f3"]])
        self.assertEqual(done(gone, "delete", objects=["f1"])["chains"], [])
        self.assertEqual(text_of(done(gone, "delete", objects=["f1"]), "story"), STORY)

    def test_copy_taken_out_of_a_frame_keeps_its_place(self) -> None:
        raw = done(chained(boxes(2)), "take-copy", object="f1")
        (chain,) = raw["chains"]
        self.assertEqual(chain[1], "f2")
        self.assertIn(chain[0], {t["id"] for t in raw["pages"][0]["objects"]})

    def test_frames_pasted_together_are_a_chain_again_and_others_are_not(self) -> None:
        raw = chained(boxes(2))
        objects, copies = raw["pages"][0]["objects"], raw["copies"]
        together = done(raw, "paste", page=0, objects=objects, copies=copies, chains=[["f1", "f2"]])
        self.assertEqual(len(together["chains"]), 2)
        # From another document whose ids happen to be the same.
        other = {"a": copies["story"], "b": copies["story"]}
        strangers = [{**objects[0], "frame": {"copy": "a"}}, {**objects[1], "frame": {"copy": "b"}}]
        self.assertEqual(done(raw, "paste", page=0, objects=strangers, copies=other)["chains"], raw["chains"])

    def test_a_jump_line_pasted_elsewhere_names_no_frame_of_another_document(self) -> None:
        copies = {"j": {"versions": {"en": {"paragraphs": [{"runs": [{"field": "next-page", "of": "far"}]}]}}}}
        thing = frame(id="j", copy="j")
        alone = done(document([]), "paste", page=0, objects=[thing], copies=copies)
        self.assertEqual(alone["copies"]["j"]["versions"]["en"]["paragraphs"][0]["runs"], [{"field": "next-page"}])
        here = done(document([frame(id="far")], paragraph(STORY)), "paste", page=0, objects=[thing], copies=copies)
        self.assertEqual(here["copies"]["j"]["versions"]["en"]["paragraphs"][0]["runs"][0]["of"], "far")

    def test_a_page_is_duplicated_with_its_chain(self) -> None:
        raw = done(chained(boxes(2)), "duplicate-page", page=0)
        self.assertEqual(len(raw["chains"]), 2)
        self.assertEqual({t["id"] for t in raw["pages"][1]["objects"]}, set(raw["chains"][1]))


class JumpLines(unittest.TestCase):
    def test_one_is_made_at_each_side_of_a_break(self) -> None:
        raw = chained(boxes(2))
        page = raw["pages"][0]
        raw["pages"] = [{**page, "objects": [o]} for o in page["objects"]]
        raw = done(done(raw, "jump-line", frame="f1", words="more kites on page"), "jump-line", frame="f1", kind="from")
        nests = {n.thing.id: n for n in studio().nest(studio().read(raw))}
        self.assertEqual(
            sorted(n.nest.copy.text for n in nests.values() if n.thing.name == "Jump line"),
            ["continued from page 1", "more kites on page 2"],
        )
        to = next(n for n in nests.values() if n.nest.copy.text.startswith("more"))
        self.assertEqual((to.page, to.thing.box[1]), (0, 20 + 62 + 3))
        self.assertEqual(to.nest.leftover_words, 0)

    def test_each_version_of_the_copy_has_one_in_its_language(self) -> None:
        raw = chained(boxes(2))
        english = raw["copies"]["story"]["versions"]["en"]
        raw["copies"]["story"]["versions"] |= {
            "de": {**english, "language": "de"},
            "en, short": {**english, "language": "en-GB"},
            "et": {**english, "language": "et"},
        }

        def made(**given: Any) -> dict[str, str]:
            after = done(raw, "jump-line", frame="f1", **given)
            name = next(n for n in after["copies"] if n not in raw["copies"])
            versions = after["copies"][name]["versions"]
            for version, kept in versions.items():
                self.assertEqual(kept["language"], raw["copies"]["story"]["versions"][version].get("language", "en"))
            studio().nest(studio().read(after))
            return {v: kept["paragraphs"][0]["runs"][0]["text"] for v, kept in versions.items()}

        lead_on = "continued on page "
        self.assertEqual(made(), {"en": lead_on, "de": "Fortsetzung auf Seite ", "en, short": lead_on, "et": lead_on})
        self.assertEqual(
            made(words="more kites on page", version="en"),
            {
                "en": "more kites on page ",
                "de": "Fortsetzung auf Seite ",
                "en, short": "more kites on page ",
                "et": "more kites on page ",
            },
        )
        self.assertEqual(made(words="weiter auf Seite", version="de", kind="from")["en"], "continued from page ")
        self.assertEqual(made(words="weiter auf Seite", version="de")["de"], "weiter auf Seite ")

    def test_it_is_offered_only_where_copy_goes_on(self) -> None:
        with self.assertRaisesRegex(ActError, "no copy goes on"):
            done(chained(boxes(2)), "jump-line", frame="f2")


if __name__ == "__main__":
    unittest.main()
