"""Who may do what with a document: every route of the API with every role, shares, what is lent, team libraries."""

from __future__ import annotations

import re
from typing import Any

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from assets.models import Font, Picture
from config.urls import api
from demo.pictures import draw
from documents import store
from documents.models import Document, Share
from people.models import Member, Team
from tests.test_api import put
from tests.test_people import PeopleCase

EDIT = {"base": 1, "operations": [put(["objects", "f", "x"], 21)]}
NEEDS: dict[tuple[str, str], tuple[str, Any]] = {
    ("GET", ""): ("see", None),
    ("PATCH", ""): ("edit", {"title": "Another"}),
    ("DELETE", ""): ("own", None),
    ("POST", "/duplicate"): ("see", None),
    ("POST", "/restore"): ("own, deleted too", None),
    ("POST", "/edits"): ("edit", EDIT),
    ("POST", "/preview"): ("see", EDIT),
    ("POST", "/undo"): ("edit", {"base": 1}),
    ("POST", "/redo"): ("edit", {"base": 1}),
    ("GET", "/since?revision=1"): ("see", None),
    ("GET", "/rest"): ("see", None),
    ("POST", "/here"): ("see", {"window": "w"}),
    ("POST", "/why"): ("see", {"page": 0, "at": [50, 50]}),
    ("GET", "/findings"): ("see", None),
    ("GET", "/colors"): ("see", None),
    ("POST", "/colors/read"): ("see", {"text": "ink", "object": "f"}),
    ("POST", "/cures"): ("see", {"base": 1, "kind": "pale", "object": "f", "page": 0}),
    ("POST", "/strain"): ("see", {"by": 30}),
    ("GET", "/strain/pictures"): ("see", None),
    ("POST", "/holds"): ("see", None),
    ("POST", "/tries"): ("see", {"base": 1, "object": "f", "kind": "align"}),
    ("POST", "/endings"): ("see", {"base": 1, "object": "f", "allowed": {"size": 0.02}}),
    ("POST", "/trace"): ("see", {"object": "f", "contour": {"from": "alpha"}}),
    ("GET", "/shares"): ("own", None),
    ("PUT", "/shares"): ("own", {"name": "cyd"}),
    ("DELETE", "/shares/1"): ("own", None),
    ("DELETE", "/mine"): ("see", None),
    ("GET", "/pictures/1"): ("see", None),
    ("GET", "/translations"): ("see", None),
    ("GET", "/translations/out/csv?source=en&target=de&language=de"): ("see", None),
    ("POST", "/translations/home"): ("see", {"content": "AAAA"}),
    ("POST", "/translations/desk"): ("see", {"source": "en", "target": "de", "language": "de"}),
    ("POST", "/exports"): ("see", {"kind": "json"}),
    ("GET", "/picture.png"): ("see", None),
    ("GET", "/json"): ("see", None),
}
"""What each route about a document needs, and a body for it. One that is not named here fails the test."""
OPEN = {
    ("GET", "/session"),
    ("POST", "/session"),
    ("DELETE", "/session"),
    ("DELETE", "/session/elsewhere"),
    ("GET", "/entry/invitation/{token}"),
    ("POST", "/entry/invitation/{token}"),
    ("POST", "/entry/forgot"),
    ("POST", "/entry/new-password"),
    ("POST", "/entry/passkey/begin"),
    ("POST", "/entry/passkey"),
}
"""Routes that answer whoever is not signed in."""


def routes() -> set[tuple[str, str]]:
    return {
        (method, prefix + path)
        for prefix, router in api._routers
        for path, view in router.path_operations.items()
        for operation in view.operations
        for method in operation.methods
    }


class SharingCase(PeopleCase):
    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        for name in ("cyd", "dee", "eve"):
            get_user_model().objects.create_user(name, password="kites-sideways")
        team = Team.objects.create(name="Posters")
        Member.objects.create(team=team, user=get_user_model().objects.get(username="dee"))

    def as_(self, name: str) -> Client:
        client = Client()
        if name:
            client.force_login(get_user_model().objects.get(username=name))
        return client

    def document(self) -> int:
        id = self.new()
        document = Document.objects.get(id=id)
        users = get_user_model().objects
        Share.objects.create(document=document, user=users.get(username="ben"), may="edit")
        Share.objects.create(document=document, user=users.get(username="cyd"), may="see")
        Share.objects.create(document=document, team=Team.objects.get(), may="see")
        return id


class Roles(SharingCase):
    def test_every_route_about_a_document_with_every_role(self) -> None:
        told = {(m, re.sub(r"\?.*", "", p)) for m, p in NEEDS}
        about = {(m, p.removeprefix("/documents/{document_id}")) for m, p in routes() if "{document_id}" in p}
        known = {
            (m, re.sub(r"\{(share_id|picture_id)\}", "1", p).replace("{form}", "csv").replace("{kind}", "json"))
            for m, p in about
        }
        self.assertEqual(known, told)
        levels = {"ada": 3, "ben": 2, "cyd": 1, "dee": 1, "eve": 0}
        least = {"see": 1, "edit": 2, "own": 3, "own, deleted too": 3}
        for (method, path), (need, body) in NEEDS.items():
            for name, level in levels.items():
                id = self.document()
                sent = self.ask(self.as_(name), method, f"/api/documents/{id}{path}", body)
                with self.subTest(route=f"{method} {path}", who=name):
                    if level >= least[need]:
                        self.assertNotIn(
                            sent.status_code, (401, 403, 422, 500), sent.content[:300] if not sent.streaming else b""
                        )
                    elif level == 0 or need == "own, deleted too":
                        self.assertEqual(sent.status_code, 404, sent.content[:300])
                    else:
                        self.assertEqual(sent.status_code, 403, sent.content[:300])
                        self.assertEqual(Document.objects.get(id=id).revision, 1)
            self.assertEqual(self.ask(Client(), method, f"/api/documents/{id}{path}", body).status_code, 401)

    def test_whoever_is_not_signed_in_gets_nothing_else(self) -> None:
        for method, path in routes() - OPEN:
            filled = re.sub(r"\{[a-z_]+\}", "1", path)
            self.assertEqual(self.ask(Client(), method, f"/api{filled}").status_code, 401, (method, path))

    def test_what_is_one_persons_is_nobody_elses(self) -> None:
        """Pictures, fonts, jobs, sessions, passkeys, invitations: by their numbers."""
        picture = self.client.post(
            "/api/pictures", {"file": SimpleUploadedFile("k.png", draw()["pictures/box-kite.png"])}
        )
        url = picture.json()["url"]
        job = self.ask(self.client, "POST", f"/api/documents/{self.document()}/exports", {"kind": "json"})
        self.assertEqual(job.status_code, 200)
        self.assertEqual([self.as_(n).get(url).status_code for n in ("ada", "ben", "eve")], [200, 404, 404])

    def test_it_ends_with_the_share(self) -> None:
        id = self.document()
        ben = self.as_("ben")
        self.assertEqual(self.ask(ben, "POST", f"/api/documents/{id}/edits", EDIT).status_code, 200)
        Share.objects.filter(user__username="ben").delete()
        self.assertEqual(self.ask(ben, "POST", f"/api/documents/{id}/edits", {**EDIT, "base": 2}).status_code, 404)
        dee = self.as_("dee")
        self.assertEqual(dee.get(f"/api/documents/{id}").status_code, 200)
        Member.objects.all().delete()
        self.assertEqual(dee.get(f"/api/documents/{id}").status_code, 404)

    def test_it_is_listed_with_whose_it_is_and_what_one_may(self) -> None:
        id = self.document()
        listed = {n: self.as_(n).get("/api/documents").json()["documents"] for n in ("ada", "ben", "cyd", "dee", "eve")}
        seen = {n: [(d["id"], d["owner"], d["may"], d["shared"]) for d in found] for n, found in listed.items()}
        self.assertEqual(
            seen,
            {
                "ada": [(id, None, "own", True)],
                "ben": [(id, "ada", "edit", False)],
                "cyd": [(id, "ada", "see", False)],
                "dee": [(id, "ada", "see", False)],
                "eve": [],
            },
        )
        self.assertEqual(self.as_("ben").get(f"/api/documents/{id}").json()["may"], "edit")

    def test_with_a_name_and_a_share_for_a_person_and_a_team_the_most_holds(self) -> None:
        id = self.document()
        Share.objects.create(document_id=id, user=get_user_model().objects.get(username="dee"), may="edit")
        self.assertEqual(self.ask(self.as_("dee"), "POST", f"/api/documents/{id}/edits", EDIT).status_code, 200)
        self.assertEqual(len(self.as_("dee").get("/api/documents").json()["documents"]), 1)

    def test_read_only_is_said_in_words(self) -> None:
        sent = self.ask(self.as_("cyd"), "POST", f"/api/documents/{self.document()}/edits", EDIT)
        self.assertIn("ask ada, or duplicate it", sent.json()["message"])


class Lent(SharingCase):
    def test_a_picture_that_a_guest_brings_is_the_documents(self) -> None:
        id = self.document()
        ben = self.as_("ben")
        content = draw()["pictures/box-kite.png"]
        kite = ben.post("/api/pictures", {"file": SimpleUploadedFile("kite.png", content)}).json()
        thing = {
            "id": "k",
            "x": 10,
            "y": 10,
            "width": 60,
            "height": 60,
            "picture": {"file": kite["file"]},
            "wrap": {"by": "contour"},
        }
        change = {"do": "splice", "at": ["pages", 0, "objects"], "from": 2, "remove": 0, "insert": [thing]}
        sent = self.ask(ben, "POST", f"/api/documents/{id}/edits", {"base": 1, "operations": [change]})
        self.assertEqual(sent.status_code, 200, sent.content)
        self.assertTrue(Picture.objects.filter(owner=self.ada, file=kite["file"]).exists())
        opened = self.as_("cyd").get(f"/api/documents/{id}").json()
        url = opened["pictures"][kite["file"]]
        self.assertEqual([self.as_(n).get(url).status_code for n in ("ada", "ben", "cyd", "eve")], [200, 200, 200, 404])
        # Others of the owner's pictures are not read through the document.
        other = self.client.post(
            "/api/pictures", {"file": SimpleUploadedFile("o.jpg", draw()["pictures/dragon-kite-in-the-sky.jpg"])}
        )
        number = other.json()["url"].rpartition("/")[2]
        self.assertEqual(self.as_("ben").get(f"/api/documents/{id}/pictures/{number}").status_code, 404)
        # Duplicated by who sees it, it has its picture.
        mine = self.ask(self.as_("cyd"), "POST", f"/api/documents/{id}/duplicate").json()["id"]
        self.assertEqual(self.as_("cyd").get(f"/api/documents/{mine}").json()["pictures"].keys(), {kite["file"]})
        self.assertEqual(self.as_("ada").get(f"/api/documents/{mine}").status_code, 404)

    def test_fonts_are_those_of_whose_document_it_is(self) -> None:
        from nestline.fonts.library import shipped_fonts

        id = self.document()
        content = self.own_font(shipped_fonts())
        family = self.client.post("/api/fonts", {"file": SimpleUploadedFile("own.ttf", content)}).json()[0]
        ben = self.as_("ben")
        self.assertNotIn(family, {f["family"] for f in ben.get("/api/fonts").json()})
        faces = [f for f in ben.get(f"/api/fonts?document={id}").json() if f["family"] == family]
        self.assertEqual([(f["own"], f["url"].endswith(f"?document={id}")) for f in faces], [(False, True)])
        self.assertEqual(ben.get(faces[0]["url"]).status_code, 200)
        self.assertEqual(self.as_("eve").get(faces[0]["url"]).status_code, 404)
        # Given to a team it sets what its members make, and no more when it is taken back.
        dee = self.as_("dee")
        Member.objects.create(team=Team.objects.get(), user=self.ada)
        mine = self.ask(dee, "POST", "/api/documents", {"title": "Mine", "words": "Bring string."}).json()["id"]
        row = Document.objects.get(id=mine)
        before = store.current_state(row.owner_id, mine)
        Font.objects.update(team=Team.objects.get())
        self.assertIn(family, {f["family"] for f in dee.get("/api/fonts").json()})
        after = store.current_state(row.owner_id, mine)
        self.assertIsNot(before.studio, after.studio)
        Font.objects.update(team=None)
        self.assertIs(store.current_state(row.owner_id, mine).studio is after.studio, False)

    @staticmethod
    def own_font(fonts: Any) -> bytes:
        """A font that is not shipped: one that is, by another name."""
        import io

        from fontTools.ttLib import TTFont

        face = next(f for f in fonts.faces.values() if f.family == "Lato")
        font = TTFont(face.path)
        for record in font["name"].names:
            if record.nameID in (1, 4, 16):
                record.string = "Team Hand"
        out = io.BytesIO()
        font.flavor = None
        font.save(out)
        return out.getvalue()


class Shares(SharingCase):
    def test_it_is_shared_changed_and_taken_back_by_its_owner(self) -> None:
        id = self.new()
        path = f"/api/documents/{id}/shares"
        for body, said in (
            ({"name": "nobody"}, "nobody is called"),
            ({"name": "ada"}, "yours already"),
            ({"team": 99}, "this team"),
        ):
            sent = self.ask(self.client, "PUT", path, body)
            self.assertIn(said, sent.json()["message"])
        # Not with a team that one is not in.
        self.assertEqual(self.ask(self.client, "PUT", path, {"team": Team.objects.get().id}).status_code, 404)
        Member.objects.create(team=Team.objects.get(), user=self.ada)
        self.ask(self.client, "PUT", path, {"team": Team.objects.get().id, "may": "edit"})
        self.ask(self.client, "PUT", path, {"name": "eve", "may": "see"})
        found = self.ask(self.client, "PUT", path, {"name": "eve", "may": "edit"}).json()
        self.assertEqual(
            [(s["name"], s["team"], s["may"]) for s in found], [("Posters", True, "edit"), ("eve", False, "edit")]
        )
        left = self.ask(self.client, "DELETE", f"{path}/{found[1]['id']}").json()
        self.assertEqual([s["name"] for s in left], ["Posters"])
        self.assertEqual(self.as_("eve").get(f"/api/documents/{id}").status_code, 404)

    def test_a_guest_lets_go_of_it(self) -> None:
        id = self.document()
        self.assertEqual(self.ask(self.as_("cyd"), "DELETE", f"/api/documents/{id}/mine").status_code, 200)
        self.assertEqual(self.as_("cyd").get("/api/documents").json()["documents"], [])
        self.assertEqual(self.ask(self.as_("dee"), "DELETE", f"/api/documents/{id}/mine").status_code, 400)

    def test_a_deleted_document_is_in_nobody_elses_list_or_bin(self) -> None:
        id = self.document()
        self.client.delete(f"/api/documents/{id}")
        for name in ("ben", "cyd", "dee"):
            found = [self.as_(name).get(f"/api/documents{q}").json()["documents"] for q in ("", "?deleted=true")]
            self.assertEqual(found, [[], []])
        # Many at once are one's own alone.
        for do in ("restore", "forget", "delete", "folder"):
            self.assertEqual(
                self.ask(self.as_("ben"), "POST", "/api/documents/many", {"ids": [id], "do": do}).json(), {"count": 0}
            )

    def test_a_job_of_who_may_no_longer_see_it_fails(self) -> None:
        from documents import jobs
        from documents.models import Job

        id = self.document()
        job = Job.objects.create(
            owner=get_user_model().objects.get(username="cyd"),
            document_id=id,
            kind="export",
            given={"kind": "json"},
            state="waiting",
        )
        Share.objects.all().delete()
        jobs.work(job.id)
        job.refresh_from_db()
        self.assertEqual((job.state, "not here" in job.said), ("failed", True))


class Libraries(SharingCase):
    def setUp(self) -> None:
        super().setUp()
        self.team = Team.objects.get()
        Member.objects.create(team=self.team, user=self.ada, keeper=True)

    def test_recipes_pictures_and_colours_given_to_a_team_are_its_members(self) -> None:
        self.ask(self.client, "POST", "/api/recipes", {"name": "Caption", "rules": {"frame": {"padding": 4}}})
        kite = self.client.post(
            "/api/pictures", {"file": SimpleUploadedFile("kite.png", draw()["pictures/box-kite.png"])}
        ).json()
        self.assertEqual(self.client.get("/api/libraries/mine").json()["recipes"], ["Caption"])
        for kind, name in (("recipe", "Caption"), ("picture", kite["file"])):
            sent = self.ask(self.client, "PUT", f"/api/libraries/{self.team.id}", {"kind": kind, "name": name})
            self.assertEqual(sent.status_code, 200, sent.content)
        self.ask(self.client, "PUT", f"/api/libraries/{self.team.id}/colors", {"name": "Sea", "figure": "#2F6F8F"})
        dee, eve = self.as_("dee"), self.as_("eve")
        [library] = dee.get("/api/libraries").json()
        self.assertEqual(
            (library["recipes"], [p["url"] for p in library["pictures"]], library["colors"]),
            ([{"name": "Caption", "by": "ada", "mine": False}], [kite["url"]], [{"name": "Sea", "figure": "#2f6f8f"}]),
        )
        self.assertEqual([c.get(kite["url"]).status_code for c in (dee, eve)], [200, 404])
        recipe = next(r for r in dee.get("/api/recipes").json() if r["name"] == "Caption")
        self.assertEqual(
            (recipe["own"], recipe["team"], recipe["rules"]), (False, "Posters", {"frame": {"padding": 4}})
        )
        shelf = next(p for p in dee.get("/api/shelf").json() if p["team"])
        self.assertEqual((shelf["team"], shelf["title"], shelf["url"]), ("Posters", "kite", f"{kite['url']}/small"))
        self.assertEqual([c.get(shelf["url"]).status_code for c in (dee, eve, dee)], [200, 404, 200])
        taken = self.ask(dee, "POST", f"/api/shelf/{shelf['file']}").json()
        self.assertNotEqual(taken["url"], kite["url"])
        self.assertEqual(taken["name"], "kite.png")
        self.assertEqual(self.ask(eve, "POST", f"/api/shelf/{shelf['file']}").status_code, 404)
        Picture.objects.filter(owner__username="dee").delete()
        # A member places the team's picture in a document of their own: it has it from then on, whatever becomes of the
        # team.
        mine = self.ask(dee, "POST", "/api/documents", {"title": "Mine"}).json()["id"]
        thing = {"id": "k", "x": 10, "y": 10, "width": 60, "height": 60, "picture": {"file": kite["file"]}}
        change = {"do": "splice", "at": ["pages", 0, "objects"], "from": 0, "remove": 0, "insert": [thing]}
        sent = self.ask(dee, "POST", f"/api/documents/{mine}/edits", {"base": 1, "operations": [change]})
        self.assertEqual(sent.status_code, 200, sent.content)
        self.ask(self.client, "DELETE", f"/api/teams/{self.team.id}")
        self.assertEqual(dee.get(kite["url"]).status_code, 404)
        url = dee.get(f"/api/documents/{mine}").json()["pictures"][kite["file"]]
        self.assertEqual(dee.get(url).status_code, 200)
        self.assertEqual(self.client.get("/api/libraries/mine").json()["recipes"], ["Caption"])

    def test_only_members_give_and_only_what_is_theirs(self) -> None:
        self.ask(self.client, "POST", "/api/recipes", {"name": "Caption", "rules": {"frame": {"padding": 4}}})
        for name in ("dee", "eve"):
            sent = self.ask(
                self.as_(name), "PUT", f"/api/libraries/{self.team.id}", {"kind": "recipe", "name": "Caption"}
            )
            self.assertEqual(sent.status_code, 404, name)
        for body in ({"name": "x", "figure": "red"}, {"name": " ", "figure": "#123456"}):
            self.assertEqual(
                self.ask(self.client, "PUT", f"/api/libraries/{self.team.id}/colors", body).status_code, 400
            )
        self.assertEqual(
            self.ask(
                self.as_("eve"), "PUT", f"/api/libraries/{self.team.id}/colors", {"name": "x", "figure": "#123456"}
            ).status_code,
            404,
        )
