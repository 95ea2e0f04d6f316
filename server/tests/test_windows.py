"""Two windows of one document: merging, each its own undo, nothing made twice, and being told at once."""

from __future__ import annotations

import json
import random
import urllib.error
import urllib.request
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.test import Client, TransactionTestCase, override_settings

from documents import door
from documents.models import Document, Edit, Share, Step, Window
from draws import seeds
from tests.live import Live
from tests.test_api import ApiCase, put, raw

TEXT = ["copies", "story", "versions", "en", "paragraphs"]


def runs(text: str) -> dict[str, Any]:
    return put([*TEXT, 0, "runs"], [{"text": text}])


class WindowsCase(ApiCase):
    def ask(self, id: int, what: str, base: int, window: str = "a", **more: Any) -> Any:
        return self.send(f"/api/documents/{id}/{what}", {"base": base, "window": window, **more})

    def change(self, id: int, base: int, window: str, *operations: Any, **more: Any) -> Any:
        return self.ask(id, "edits", base, window, operations=list(operations), label="Change", **more)

    def text(self, id: int) -> str:
        document = self.open(id)["document"]
        return "".join(
            r["text"] for p in document["copies"]["story"]["versions"]["en"]["paragraphs"] for r in p["runs"]
        )

    def here(self, id: int, window: str, **more: Any) -> None:
        self.assertEqual(self.send(f"/api/documents/{id}/here", {"window": window, **more}).status_code, 204)


class Merging(WindowsCase):
    def test_changes_of_two_windows_are_both_kept_and_answered_with_all_that_is_new(self) -> None:
        id = self.new()
        self.change(id, 1, "a", put(["objects", "f", "x"], 30))
        done = self.change(id, 1, "b", put(["objects", "w", "y"], 70), put(["objects", "f", "width"], 180))
        self.assertEqual(done.status_code, 200, done.content)
        self.assertEqual(set(done.json()["scene"]["objects"]), {"f", "w"}, "also what window a changed")
        thing = self.open(id)["document"]["pages"][0]["objects"][0]
        self.assertEqual((thing["x"], thing["width"]), (30, 180))

    def test_words_typed_in_one_paragraph_are_both_kept(self) -> None:
        id = self.new()
        said = "Bring string, bring friends, and bring whatever you built."
        self.change(id, 1, "a", runs(said.replace("string", "strong string")))
        self.change(id, 1, "b", runs(said.replace("built.", "built, or bought.")))
        self.assertEqual(self.text(id), "Bring strong string, bring friends, and bring whatever you built, or bought.")

    def test_letters_typed_before_an_answer_came_stand_on_their_own_base(self) -> None:
        """Window b types three letters that all stand on revision 1, while a types elsewhere in between."""
        id = self.new()
        said = "Bring string, bring friends, and bring whatever you built."
        mine = [runs(f"{said} {part}") for part in ("O", "On", "One")]
        for n, change in enumerate(mine):
            self.change(id, n * 2 + 1, "a", runs(self.text(id).replace("Bring", "Bring x", 1)))
            self.assertEqual(self.change(id, 1, "b", change, on=mine[:n], join="typing:story").status_code, 200)
        self.assertEqual(self.text(id), "Bring x x x string, bring friends, and bring whatever you built. One")

    def test_what_collides_is_shown_with_both_sides_and_chosen(self) -> None:
        id = self.new()
        said = "Bring string, bring friends, and bring whatever you built."
        self.change(id, 1, "a", runs(said.replace("string", "rope")))
        mine = runs(said.replace("string", "twine").replace("built", "made"))
        late = self.change(id, 1, "b", mine)
        self.assertEqual(late.status_code, 409)
        (one,) = late.json()["collisions"]
        self.assertEqual((one["what"], one["theirs"], one["mine"]), ("words of “story”, en", "rope", "twine"))
        self.assertEqual(self.text(id), said.replace("string", "rope"), "nothing was changed")
        kept = self.change(id, 1, "b", mine, prefer="theirs").json()
        self.assertEqual(self.text(id), said.replace("string", "rope").replace("built", "made"))
        self.assertEqual(kept["redo"], "Change (yours)", "the side that was not chosen is kept")
        self.ask(id, "redo", kept["revision"], "b")
        self.assertEqual(self.text(id), said.replace("string", "twine").replace("built", "made"))
        self.ask(id, "undo", kept["revision"] + 1, "b")
        self.assertEqual(self.text(id), said.replace("string", "rope").replace("built", "made"))

    def test_mine_on_top_keeps_theirs_in_the_history(self) -> None:
        id = self.new()
        self.change(id, 1, "a", put(["objects", "f", "x"], 30))
        done = self.change(id, 1, "b", put(["objects", "f", "x"], 40), prefer="mine").json()
        self.assertEqual(self.open(id)["document"]["pages"][0]["objects"][0]["x"], 40)
        self.ask(id, "undo", done["revision"], "b")
        self.assertEqual(self.open(id)["document"]["pages"][0]["objects"][0]["x"], 30)

    def test_a_change_whose_answer_was_lost_is_never_made_twice(self) -> None:
        id = self.new()
        splice = {"do": "splice", "at": TEXT, "from": 1, "remove": 0, "insert": [{"runs": [{"text": "Again?"}]}]}
        first = self.change(id, 1, "a", splice, mark="m1").json()
        again = self.change(id, 1, "a", splice, mark="m1").json()
        self.assertEqual((first["revision"], again["revision"]), (2, 2))
        self.assertEqual(again["document"]["copies"], first["document"]["copies"])
        self.assertEqual(self.text(id).count("Again?"), 1)
        undone = [self.ask(id, "undo", 2, "a", mark="m2").json() for _ in range(2)]
        self.assertEqual([u["revision"] for u in undone], [3, 3])

    def test_one_that_is_asked_for_twice_at_the_same_time_is_answered_with_what_came_of_it(self) -> None:
        """The first is stored after the second has read its row, and before it looks whether it was made."""
        id = self.new()
        splice = {"do": "splice", "at": TEXT, "from": 1, "remove": 0, "insert": [{"runs": [{"text": "Once."}]}]}
        known = door.known_step

        def meanwhile(row: Any, mark: str) -> bool:
            with patch.object(door, "known_step", known):
                self.assertEqual(self.change(id, 1, "a", splice, mark="m1").json()["revision"], 2)
            return known(row, mark)

        with patch.object(door, "known_step", meanwhile):
            told = self.change(id, 1, "a", splice, mark="m1").json()
        self.assertEqual(told["revision"], 2)
        texts = [p["runs"][0]["text"] for p in told["document"]["copies"]["story"]["versions"]["en"]["paragraphs"]]
        self.assertEqual(texts.count("Once."), 1)

    def test_what_does_not_go_together_collides_and_says_why(self) -> None:
        id = self.new()
        self.change(id, 1, "a", {"do": "splice", "at": ["pages", 0, "objects"], "from": 1, "remove": 1})
        tie = [{"edge": "top", "to": "w", "its": "bottom", "gap": 4}]
        late = self.change(id, 1, "b", put(["objects", "f", "ties"], tie))
        self.assertEqual(late.status_code, 409)
        self.assertIn("w", late.json()["collisions"][0]["why"])


class Undo(WindowsCase):
    def test_a_window_takes_back_its_own_and_nobody_elses(self) -> None:
        id = self.new()
        self.here(id, "a")
        self.here(id, "b")
        self.change(id, 1, "a", put(["objects", "f", "x"], 30))
        self.change(id, 2, "b", put(["objects", "w", "x"], 90))
        undone = self.ask(id, "undo", 3, "a").json()
        things = self.open(id)["document"]["pages"][0]["objects"]
        self.assertEqual((things[0]["x"], things[1]["x"]), (20, 90))
        self.assertEqual((undone["undo"], undone["redo"]), (None, "Change"))
        # What the other does leaves what I can make again.
        self.change(id, 4, "b", put(["objects", "w", "y"], 90))
        self.ask(id, "redo", 5, "a")
        things = self.open(id)["document"]["pages"][0]["objects"]
        self.assertEqual((things[0]["x"], things[1]["x"], things[1]["y"]), (30, 90, 90))

    def test_edits_of_windows_that_are_closed_can_be_taken_back(self) -> None:
        id = self.new()
        self.here(id, "a")
        self.change(id, 1, "a", put(["objects", "f", "x"], 30))
        self.here(id, "b")
        self.assertEqual(self.ask(id, "undo", 2, "b").status_code, 400)
        self.here(id, "a", gone=True)
        self.assertEqual(self.ask(id, "undo", 2, "b").status_code, 200)
        self.assertEqual(self.open(id)["document"]["pages"][0]["objects"][0]["x"], 20)
        self.assertEqual(Window.objects.filter(document=id).count(), 1)

    def test_undo_goes_back_past_words_that_the_other_typed(self) -> None:
        id = self.new()
        for window in "ab":
            self.here(id, window)
        said = "Bring string, bring friends, and bring whatever you built."
        self.change(id, 1, "a", runs(said.replace("string", "strong string")))
        self.change(id, 2, "b", runs(said.replace("string", "strong string").replace("built", "made")))
        self.ask(id, "undo", 3, "a")
        self.assertEqual(self.text(id), said.replace("built", "made"))
        # One that the other changed since cannot be taken back unasked.
        self.ask(id, "redo", 4, "a")
        self.change(id, 5, "b", runs(self.text(id).replace("strong", "long")))
        self.assertEqual(self.ask(id, "undo", 6, "a").status_code, 409)
        self.ask(id, "undo", 6, "a", prefer="mine")
        self.assertEqual(self.text(id), said.replace("built", "made"))

    def test_an_edit_that_is_not_taken_back_for_the_others_sake_stands_in_the_way_of_none(self) -> None:
        id = self.new()
        for window in "ab":
            self.here(id, window)
        self.change(id, 1, "a", put(["objects", "w", "x"], 60))
        self.change(id, 2, "a", put(["objects", "f", "x"], 30))
        self.change(id, 3, "b", put(["objects", "f", "x"], 40))
        self.assertEqual(self.ask(id, "undo", 4, "a").status_code, 409)
        kept = self.ask(id, "undo", 4, "a", prefer="theirs").json()
        self.assertEqual((kept["revision"], kept["undo"]), (4, "Change"))
        self.assertEqual(self.ask(id, "undo", 4, "a").status_code, 200)
        things = self.open(id)["document"]["pages"][0]["objects"]
        self.assertEqual((things[0]["x"], things[1]["x"]), (40, 100))

    def test_words_typed_in_one_go_are_taken_back_in_one_whatever_the_other_does_meanwhile(self) -> None:
        id = self.new()
        for window in "ab":
            self.here(id, window)
        said = "Bring string, bring friends, and bring whatever you built."
        revision = 1
        for n in range(1, 4):
            self.change(
                id, revision, "a", runs(self.text(id).replace("built.", "built.") + "One"[n - 1]), join="typing:story"
            )
            self.change(
                id, revision + 1, "b", runs("Now"[:n] + self.text(id)[n - 1 if n > 1 else 0 :]), join="typing:story"
            )
            revision += 2
        self.assertEqual(self.text(id), f"Now{said}One")
        back = self.ask(id, "undo", revision, "a").json()
        self.assertEqual(self.text(id), f"Now{said}")
        self.ask(id, "redo", back["revision"], "a")
        self.assertEqual(self.text(id), f"Now{said}One")
        self.ask(id, "undo", back["revision"] + 1, "b")
        self.assertEqual(self.text(id), f"{said}One")

    def test_an_objects_id_is_put_and_taken_back(self) -> None:
        id = self.new()
        before = self.open(id)["document"]
        self.change(id, 1, "a", put(["objects", "w", "id"], "moon"), put(["objects", "moon", "x"], 5))
        self.assertEqual(self.ask(id, "undo", 2).status_code, 200)
        self.assertEqual(self.open(id)["document"], before)
        self.assertEqual(self.ask(id, "redo", 3).status_code, 200)
        self.assertEqual(self.open(id)["document"]["pages"][0]["objects"][1]["x"], 5)

    def test_random_steps_of_two_windows_go_back_to_the_beginning(self) -> None:
        for seed in seeds(6):
            dice = random.Random(seed)
            id = self.new()
            before = self.open(id)["document"]
            for window in "ab":
                self.here(id, window)
            revision, known = 1, {"a": 1, "b": 1}
            for _ in range(24):
                window = dice.choice("ab")
                field, thing = (
                    (("x", "f"), ("y", "f"))[window == "b"]
                    if dice.random() < 0.5
                    else (("width", "w"), ("height", "w"))[window == "b"]
                )
                kind = dice.choice(["edits", "edits", "undo", "redo"])
                base = dice.choice([known[window], revision])
                if kind == "edits":
                    answer = self.change(id, base, window, put(["objects", thing, field], dice.randint(10, 90)))
                else:
                    answer = self.ask(id, kind, base, window)
                self.assertIn(answer.status_code, (200, 400), answer.content)
                if answer.status_code == 200:
                    revision = known[window] = answer.json()["revision"]
            for window in "ab":
                back = 0
                while self.ask(id, "undo", revision, window).status_code == 200:
                    revision = Document.objects.get(id=id).revision
                    back += 1
                    self.assertLess(back, 25, f"seed {seed}: more is taken back than was done")
            self.assertEqual(self.open(id)["document"], before, seed)
            self.assertEqual(Step.objects.filter(document=id).count(), revision - 1)
            self.assertFalse(Edit.objects.filter(document=id, undone=False).exists())

    def test_what_differs_since_a_revision_is_told(self) -> None:
        id = self.new()
        self.change(id, 1, "a", put(["objects", "w", "x"], 60))
        self.change(id, 2, "a", put(["objects", "w", "width"], 41))
        told = self.client.get(f"/api/documents/{id}/since?revision=1&window=b").json()
        self.assertEqual((told["revision"], list(told["scene"]["objects"])), (3, ["w"]))
        Step.objects.filter(document=id).delete()
        told = self.client.get(f"/api/documents/{id}/since?revision=1").json()
        self.assertEqual(set(told["scene"]["objects"]), {"f", "w"}, "all of it where the steps are gone")


@override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
class LiveProcess(TransactionTestCase):
    def test_each_window_is_told_at_once_and_nobody_else(self) -> None:
        users = get_user_model().objects
        for name in ("ada", "ben"):
            users.create_user(name, password="kites-up-high")
        client = Client()
        client.force_login(users.get(username="ada"))
        from documents.store import create

        row = create(users.get(username="ada").id, raw())
        with Live() as live:
            stream = self.stream(live, client, row.id)
            self.assertEqual(self.next(stream), {"what": "ready", "revision": 1})
            body = {"base": 1, "window": "b", "operations": [put(["title"], "Kites")], "label": "Rename"}
            client.post(f"/api/documents/{row.id}/edits", json.dumps(body), content_type="application/json")
            self.assertEqual(self.next(stream), {"document": row.id, "what": "changed", "revision": 2, "window": "b"})
            client.post(
                f"/api/documents/{row.id}/here",
                json.dumps({"window": "b", "chosen": ["f"]}),
                content_type="application/json",
            )
            told = self.next(stream)
            self.assertEqual((told["what"], told["who"], told["chosen"]), ("here", "ada", ["f"]))
            stream.close()
            ben = Client()
            ben.force_login(users.get(username="ben"))
            for who, path, status in (
                (ben, row.id, 404),
                (Client(), row.id, 401),
                (client, "x", 404),
                (client, "9" * 30, 404),
            ):
                with self.assertRaises(urllib.error.HTTPError) as refused:
                    self.stream(live, who, path)
                self.assertEqual(refused.exception.code, status)
            for origin, allowed in (("http://127.0.0.1:1", "http://127.0.0.1:1"), ("http://elsewhere.example", None)):
                stream = self.stream(live, client, row.id, origin)
                self.assertEqual(stream.headers.get("Access-Control-Allow-Origin"), allowed)
                stream.close()

    def test_what_is_told_ends_with_the_share(self) -> None:
        users = get_user_model().objects
        owner, guest = (users.create_user(name, password="kites-up-high") for name in ("ada", "ben"))
        from documents.store import create

        row = create(owner.pk, raw())
        share = Share.objects.create(document=row, user=guest, may="see")
        client, other = Client(), Client()
        client.force_login(owner)
        other.force_login(guest)
        with Live() as live:
            stream = self.stream(live, other, row.id)
            self.assertEqual(self.next(stream)["what"], "ready")
            client.delete(f"/api/documents/{row.id}/shares/{share.id}")
            self.assertEqual(self.next(stream)["what"], "shared")
            self.assertEqual(stream.read().strip(), b"")  # to its end
            with self.assertRaises(urllib.error.HTTPError) as refused:
                self.stream(live, other, row.id)
            self.assertEqual(refused.exception.code, 404)

    def test_what_is_told_ends_with_the_team_the_membership_and_the_session(self) -> None:
        users = get_user_model().objects
        owner = users.create_user("ada", password="kites-up-high")
        from documents.store import create
        from people.models import Member, Team, Visit

        row = create(owner.pk, raw())
        with Live() as live:
            for number, end in enumerate(
                (
                    lambda team, guest: team.delete(),
                    lambda team, guest: Member.objects.filter(user=guest).delete(),
                    lambda team, guest: Visit.objects.filter(user=guest).delete(),
                )
            ):
                guest = users.create_user(f"guest{number}", password="kites-up-high")
                team = Team.objects.create(name=f"Kites {number}")
                for one in (owner, guest):
                    Member.objects.create(team=team, user=one)
                Share.objects.create(document=row, team=team, may="see")
                client = Client()
                body = json.dumps({"name": guest.username, "password": "kites-up-high"})
                client.post("/api/session", body, content_type="application/json")
                here = json.dumps({"window": "w", "page": 0, "chosen": []})
                client.post(f"/api/documents/{row.id}/here", here, content_type="application/json")
                stream = self.stream(live, client, row.id)
                self.assertEqual(self.next(stream)["what"], "ready")
                end(team, guest)
                # Where the guest is is told, too, whenever that comes.
                told = self.until_the_end(stream)
                self.assertEqual((told[-1], {*told}), ("shared", {*told} & {"here", "shared"}))

    def stream(self, live: Live, client: Client, path: Any, origin: str = "") -> Any:
        cookies = "; ".join(f"{name}={morsel.value}" for name, morsel in client.cookies.items())
        headers = {"Cookie": cookies, **({"Origin": origin} if origin else {})}
        return urllib.request.urlopen(
            urllib.request.Request(f"http://127.0.0.1:{live.port}/live/{path}", headers=headers), timeout=10
        )

    def until_the_end(self, stream: Any) -> list[str]:
        """What is told until the stream ends."""
        rows = stream.read().decode().splitlines()
        return [json.loads(row[6:])["what"] for row in rows if row.startswith("data: ")]

    def next(self, stream: Any) -> Any:
        while True:
            line = stream.readline().decode()
            self.assertTrue(line, "the stream ended")
            if line.startswith("data: "):
                return json.loads(line[6:])
