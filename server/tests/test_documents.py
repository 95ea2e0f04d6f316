"""Documents as they are listed: begun with copy, put into folders, duplicated, deleted, brought back and forgotten."""

from __future__ import annotations

import json
import math
from collections import OrderedDict
from concurrent.futures import ThreadPoolExecutor
from itertools import product
from threading import RLock, Thread
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.test import TestCase

from documents import store, studios
from documents.exchange import bring_in
from documents.models import Document
from documents.store import state_of, tidy
from documents.studios import studio_of


class Listed(TestCase):
    def setUp(self) -> None:
        users = get_user_model().objects
        self.ada, self.ben = users.create_user("ada"), users.create_user("ben")
        self.client.force_login(self.ada)

    def post(self, path: str, given: dict[str, Any]) -> Any:
        return self.client.post(f"/api/documents{path}", given, content_type="application/json")

    def titles(self, deleted: bool = False) -> list[str]:
        answer = self.client.get(f"/api/documents?deleted={str(deleted).lower()}")
        return sorted(item["title"] for item in answer.json()["documents"])

    def test_one_is_begun_with_copy_in_pairs_and_in_a_folder(self) -> None:
        sizes = [("210mm", "297mm"), ("3in", "12in"), ("390px", "844px"), ("20pt", "30pt")]
        for width, height in sizes:
            made = self.post(
                "",
                {
                    "title": "Hill",
                    "width": width,
                    "height": height,
                    "facing": True,
                    "folder": " Kites ",
                    "words": "Bring string.\n\n  Bring friends.  \r\n",
                },
            )
            self.assertEqual((made.status_code, made.json()["folder"]), (200, "Kites"))
            opened = self.client.get(f"/api/documents/{made.json()['id']}").json()
            self.assertTrue(opened["document"]["facing"])
            [nest] = opened["scene"]["nests"].values()
            self.assertEqual(nest["words"], 4)
            page, box = opened["scene"]["pages"][0], opened["scene"]["objects"]["copy"]["box"]
            for axis, side in ((0, page["width"]), (1, page["height"])):
                self.assertGreaterEqual(box[axis], 4)
                self.assertAlmostEqual(box[axis] + box[axis + 2], side - box[axis], 3)
        refused = self.post("", {"width": "wide", "height": "297mm", "words": "Fly"})
        self.assertEqual(refused.status_code, 400)
        self.assertIn("length", refused.json()["message"])

    def test_a_duplicate_is_a_document_of_its_own(self) -> None:
        first = self.post("", {"title": "Hill", "folder": "Kites", "words": "Fly"}).json()
        second = self.post(f"/{first['id']}/duplicate", {}).json()
        self.assertEqual((second["title"], second["folder"]), ("Hill, copy", "Kites"))
        self.assertNotEqual(second["id"], first["id"])
        opened = self.client.get(f"/api/documents/{second['id']}").json()
        self.assertEqual(
            opened["document"]["copies"]["Copy 1"]["versions"]["en"]["paragraphs"][0]["runs"][0]["text"], "Fly"
        )
        self.assertIsNone(opened["undo"])
        self.client.force_login(self.ben)
        self.assertEqual(self.post(f"/{first['id']}/duplicate", {}).status_code, 404)

    def test_many_at_once_and_none_of_another_user(self) -> None:
        ids = [self.post("", {"title": f"Hill {n}"}).json()["id"] for n in range(6)]
        self.assertEqual(self.post("/many", {"ids": ids[:3], "do": "folder", "folder": "Kites"}).json(), {"count": 3})
        folders = {item["id"]: item["folder"] for item in self.client.get("/api/documents").json()["documents"]}
        self.assertEqual([folders[one] for one in ids], ["Kites"] * 3 + [""] * 3)
        self.client.force_login(self.ben)
        for what in ("folder", "delete", "restore", "forget"):
            self.assertEqual(self.post("/many", {"ids": ids, "do": what}).json(), {"count": 0})
        self.client.force_login(self.ada)
        self.assertEqual(self.post("/many", {"ids": ids[:4], "do": "delete"}).json(), {"count": 4})
        self.assertEqual((self.titles(), len(self.titles(deleted=True))), (["Hill 4", "Hill 5"], 4))
        self.assertEqual(self.client.get(f"/api/documents/{ids[0]}").status_code, 404)
        # What is not deleted is not forgotten.
        self.assertEqual(self.post("/many", {"ids": ids[3:], "do": "forget"}).json(), {"count": 1})
        self.assertEqual(self.post("/many", {"ids": ids[:4], "do": "restore"}).json(), {"count": 3})
        self.assertEqual(self.titles(), ["Hill 0", "Hill 1", "Hill 2", "Hill 4", "Hill 5"])
        self.assertFalse(Document.objects.filter(id=ids[3]).exists())


class InUseAtOnce(TestCase):
    """What a process keeps of several documents that are dragged in at once."""

    def setUp(self) -> None:
        # Ids come again in tests: nothing is kept of documents that had them before.
        self.enterContext(patch.object(studios, "_studios", OrderedDict()))
        self.enterContext(patch.object(store, "_states", OrderedDict()))

    def test_where_memory_is_made_nothing_that_is_kept_is_worked_out_again(self) -> None:
        user = get_user_model().objects.create_user("ada")
        self.client.force_login(user)
        page = {
            "width": 200,
            "height": 200,
            "objects": [{"id": "f0", "x": 9, "y": 9, "width": 90, "height": 90, "frame": {"copy": "c"}}],
        }
        pages = [{**page, "objects": [{**page["objects"][0], "id": f"f{n}"}]} for n in range(store.SMALL + 2)]  # type: ignore[index]
        copies = {
            "c": {"versions": {"en": {"paragraphs": [{"runs": [{"text": "A kite keeps its string taut. " * 40}]}]}}}
        }
        raw = {
            "format": "nest-line",
            "version": 1,
            "title": "Large",
            "copies": copies,
            "pages": pages,
            "chains": [[f"f{n}" for n in range(len(pages))]],
        }
        row = bring_in(user.pk, "large", json.dumps(raw).encode())
        small = bring_in(user.pk, "small", json.dumps({**raw, "pages": pages[:1], "chains": []}).encode())
        nested = self.enterContext(patch.object(store, "scene_of", wraps=store.scene_of))
        for when in product((False, True), repeat=3):
            studios._studios.clear()
            store._states.clear()
            nested.reset_mock()
            state_of(small)
            asked = [lambda: store.first_page(row), lambda: state_of(row), lambda: state_of(row)]
            found = []
            for ask, pressed in zip(asked, when, strict=True):
                found.append(ask())
                if pressed:
                    store.forget_others()
            self.assertEqual(nested.call_count, 3, when)  # the small one, the first page, the whole
            self.assertIs(found[1], found[2])
            studio, lock = studio_of(user.pk, row.id)
            self.assertEqual((state_of(row), studio, lock), (found[2], found[2].studio, found[2].lock))
            # Of other documents nothing is kept then.
            self.assertEqual(small.id in store._states, not any(when))

    def test_who_asks_for_the_same_at_once_waits_for_one(self) -> None:
        user = get_user_model().objects.create_user("ada")
        self.client.force_login(user)
        given = {"width": "300pt", "height": "400pt", "words": "A kite keeps its string taut. " * 30}
        number = self.client.post("/api/documents", given, content_type="application/json").json()["id"]
        row, wanted = Document.objects.get(id=number), store.raw_of(Document.objects.get(id=number))
        mark = studios.mark_of(user.pk)
        store._states.clear()
        nested = self.enterContext(patch.object(store, "scene_of", wraps=store.scene_of))
        # Threads of their own would not see this test's rows: what they ask the database for is given to them.
        with (
            patch.object(store, "raw_of", return_value=wanted),
            patch.object(studios, "mark_of", return_value=mark),
            ThreadPoolExecutor(4) as pool,
        ):
            found = list(pool.map(state_of, [row] * 8))
        self.assertEqual((nested.call_count, len({id(state) for state in found})), (1, 1))

    def test_who_waits_for_a_studio_has_it_between_two_frames_that_are_looked_at(self) -> None:
        user = get_user_model().objects.create_user("ada")
        self.client.force_login(user)
        given = {"width": "300pt", "height": "400pt", "words": "A kite keeps its string taut. " * 30}
        number = self.client.post("/api/documents", given, content_type="application/json").json()["id"]
        _, lock = studio_of(user.pk, number)
        had: list[str] = []

        def waits() -> None:
            with lock:
                had.append("waited")

        def paused(held: RLock) -> None:
            thread = Thread(target=waits)
            thread.start()
            while thread.is_alive():
                studios.give_way(held)
            had.append("went on")

        with patch("documents.routes.questions.give_way", paused):
            answer = self.client.get(f"/api/documents/{number}/findings")
        self.assertEqual((answer.status_code, had), (200, ["waited", "went on"]))

    def test_what_a_drag_left_goes_before_any_document_does(self) -> None:
        user = get_user_model().objects.create_user("ada")
        self.client.force_login(user)
        words = "A kite keeps its string taut over the hill. " * 30
        given = {"width": "300pt", "height": "400pt", "words": words}
        made = [self.client.post("/api/documents", given, content_type="application/json").json() for _ in range(4)]
        kept = [studio_of(user.pk, one["id"])[0] for one in made]
        needed = sum(studio.size for studio in kept)
        with patch.object(studios, "MOST_BYTES", 3 * needed), patch.object(studios, "SLIM_BYTES", 2.5 * needed):
            most = 0.0
            for step in range(1, 25):
                box = [30.0, 30.0, 200.0 + step, 300.0]
                act = {"do": "act", "act": "size", "given": {"object": "copy", "box": box}}
                for one in made:
                    asked = {"base": 1, "operations": [act], "window": "w"}
                    answer = self.client.post(
                        f"/api/documents/{one['id']}/preview", asked, content_type="application/json"
                    )
                    self.assertEqual(answer.status_code, 200, answer.content)
                    most = max(most, sum(studio.size for studio in kept))
                    with patch.object(studios, "_looked_at", -math.inf):
                        tidy()
                    self.assertLessEqual(sum(studio.size for studio in kept), 3 * needed)
            self.assertGreater(most, 3 * needed, "without it there would have been too much")
        for one, studio in zip(made, kept, strict=True):
            self.assertIs(studio_of(user.pk, one["id"])[0], studio)
