"""Accounts: made by invitation, kept, let in by password, link or passkey, ended; teams; what is kept of it."""

from __future__ import annotations

import io
import json
import re
import zipfile
from datetime import timedelta
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.contrib.sessions.models import Session
from django.core import mail
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, RequestFactory, override_settings
from django.utils import timezone

from assets import media
from assets.models import Picture
from demo.pictures import draw
from documents import jobs
from documents.models import Document
from people.address import client_address
from people.forgetting import forget_old
from people.models import Happening, Invitation, Passkey, Team, Visit
from tests.test_api import ApiCase

GOOD = "three-strings-and-a-tail"


class PeopleCase(ApiCase):
    def ask(self, client: Client, method: str, path: str, body: Any = None) -> Any:
        return client.generic(method, path, json.dumps(body or {}), content_type="application/json")

    def signed_in(self, name: str, password: str) -> Client:
        client = Client(headers={"user-agent": f"browser of {name}"})
        self.assertEqual(
            self.ask(client, "POST", "/api/session", {"name": name, "password": password}).status_code, 200
        )
        return client

    def invited(self, **more: Any) -> str:
        self.ada.is_staff = True
        self.ada.save()
        answer = self.ask(self.client, "POST", "/api/account/invitations", more)
        self.assertEqual(answer.status_code, 200, answer.content)
        return str(answer.json()["link"]).rpartition("/")[2]


class Invited(PeopleCase):
    def test_an_account_is_made_once_by_a_link_that_nobody_else_can_read(self) -> None:
        team = self.ask(self.client, "POST", "/api/teams", {"name": "Posters"}).json()["id"]
        token = self.invited(name="cyd", email="cyd@example.org", team=team)
        self.assertFalse(Invitation.objects.filter(token__contains=token).exists())
        self.assertIn(token, mail.outbox[0].body)
        new = Client()
        self.assertEqual(
            new.get(f"/api/entry/invitation/{token}").json(),
            {"name": "cyd", "email": "cyd@example.org", "team": "Posters", "by": "ada"},
        )
        come = {"name": "cyd", "password": GOOD}
        self.assertEqual(self.ask(new, "POST", f"/api/entry/invitation/{token}", come).json()["name"], "cyd")
        me = new.get("/api/account").json()
        self.assertEqual((me["email"], me["administrator"]), ("cyd@example.org", False))
        self.assertEqual([t["name"] for t in me["teams"]], ["Posters"])
        again = self.ask(Client(), "POST", f"/api/entry/invitation/{token}", {"name": "dee", "password": GOOD})
        self.assertEqual(again.status_code, 404)
        self.assertIn("over", again.json()["message"])

    def test_weak_passwords_and_names_that_are_taken_are_refused_and_the_link_stays_good(self) -> None:
        token = self.invited()
        for password, said in (
            ("short", "too short"),
            ("password1", "too common"),
            ("8402840284", "entirely numeric"),
            ("eve-cannot", "similar"),
        ):
            sent = self.ask(
                Client(), "POST", f"/api/entry/invitation/{token}", {"name": "eve-cannot", "password": password}
            )
            self.assertEqual(sent.status_code, 400)
            self.assertIn(said, sent.json()["message"])
        for name in ("ADA", "two words", "", "x" * 61):
            sent = self.ask(Client(), "POST", f"/api/entry/invitation/{token}", {"name": name, "password": GOOD})
            self.assertEqual(sent.status_code, 400, name)
        self.assertEqual(
            self.ask(Client(), "POST", f"/api/entry/invitation/{token}", {"name": "eve", "password": GOOD}).status_code,
            200,
        )

    def test_only_administrators_invite_and_what_is_over_or_taken_back_lets_nobody_in(self) -> None:
        for method, path in (("POST", "invitations"), ("GET", "invitations"), ("DELETE", "invitations/1")):
            self.assertEqual(self.ask(self.client, method, f"/api/account/{path}").status_code, 403)
        token = self.invited()
        listed = self.client.get("/api/account/invitations").json()
        self.assertEqual([one["link"] for one in listed], [""])
        self.ask(self.client, "DELETE", f"/api/account/invitations/{listed[0]['id']}")
        self.assertEqual(Client().get(f"/api/entry/invitation/{token}").status_code, 404)
        token = self.invited()
        Invitation.objects.update(ends=timezone.now() - timedelta(minutes=1))
        self.assertEqual(Client().get(f"/api/entry/invitation/{token}").status_code, 404)


class Password(PeopleCase):
    def test_a_new_one_ends_every_other_session_and_needs_the_old(self) -> None:
        here, there = (self.signed_in("ada", "kites-up-high") for _ in range(2))
        wrong = self.ask(here, "POST", "/api/account/password", {"old": "kites", "new": GOOD})
        self.assertEqual(wrong.status_code, 403)
        self.assertEqual(
            self.ask(here, "POST", "/api/account/password", {"old": "kites-up-high", "new": "12345678"}).status_code,
            400,
        )
        self.assertEqual(
            self.ask(here, "POST", "/api/account/password", {"old": "kites-up-high", "new": GOOD}).status_code, 200
        )
        self.assertEqual([c.get("/api/documents").status_code for c in (here, there)], [200, 401])
        self.assertEqual([v["here"] for v in here.get("/api/account").json()["visits"]], [True])
        self.signed_in("ada", GOOD)

    def test_by_link(self) -> None:
        self.ada.email = "ada@example.org"
        self.ada.save()
        there = self.signed_in("ada", "kites-up-high")
        answers = [
            self.ask(Client(), "POST", "/api/entry/forgot", {"name": n})
            for n in ("ada", "nobody", "ben", "ADA@example.org")
        ]
        self.assertEqual(len({a.content for a in answers}), 1, "whether there is such an account is not told")
        self.assertEqual([m.to for m in mail.outbox], [["ada@example.org"]] * 2)
        user, token = re.search(r"/new-password/([^/\s]+)/(\S+)", mail.outbox[0].body).groups()  # type: ignore[union-attr]
        new = Client()
        for token_, password, status in (
            (token[:-1] + "x", GOOD, 404),
            (token, "1234", 400),
            (token, GOOD, 200),
            (token, GOOD, 404),
        ):
            sent = self.ask(
                new, "POST", "/api/entry/new-password", {"user": user, "token": token_, "password": password}
            )
            self.assertEqual(sent.status_code, status, sent.content)
        self.assertEqual(new.get("/api/session").json()["name"], "ada")
        self.assertEqual(there.get("/api/documents").status_code, 401)

    def test_links_are_not_sent_without_end(self) -> None:
        self.ada.email = "ada@example.org"
        self.ada.save()
        for _ in range(9):
            self.ask(Client(), "POST", "/api/entry/forgot", {"name": "ada"})
        self.assertEqual(len(mail.outbox), 5)

    def test_a_mail_server_that_is_away_keeps_nobody_from_anything(self) -> None:
        self.ada.email = "ada@example.org"
        self.ada.save()
        with patch("people.entry.send_mail", side_effect=ConnectionRefusedError), self.assertLogs("nestline", "ERROR"):
            self.assertEqual(self.ask(Client(), "POST", "/api/entry/forgot", {"name": "ada"}).status_code, 200)

    def test_it_is_kept_by_argon2(self) -> None:
        with override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.Argon2PasswordHasher"]):
            user = get_user_model().objects.create_user("fay", password=GOOD)
            self.assertTrue(user.password.startswith("argon2$argon2id$"))
            self.assertTrue(user.check_password(GOOD))


class Visits(PeopleCase):
    def test_where_one_is_signed_in_is_shown_and_ended(self) -> None:
        here, there = (self.signed_in("ada", "kites-up-high") for _ in range(2))
        visits = here.get("/api/account").json()["visits"]
        self.assertEqual([v["agent"] for v in visits], ["browser of ada"] * 2)
        other = next(v for v in visits if not v["here"])
        ben = self.signed_in("ben", "kites-down-low")
        self.assertEqual(self.ask(ben, "DELETE", f"/api/account/visits/{other['id']}").status_code, 404)
        self.assertEqual(there.get("/api/documents").status_code, 200)
        self.assertEqual(self.ask(here, "DELETE", f"/api/account/visits/{other['id']}").status_code, 200)
        self.assertEqual([c.get("/api/documents").status_code for c in (here, there)], [200, 401])
        here.delete("/api/session")
        self.assertEqual(Visit.objects.filter(user=self.ada).count(), 0)

    def test_when_it_was_seen_last_is_known_to_five_minutes(self) -> None:
        here = self.signed_in("ada", "kites-up-high")
        long_ago = timezone.now() - timedelta(hours=3)
        Visit.objects.update(seen=long_ago)
        here.get("/api/session")
        self.assertGreater(Visit.objects.get(user=self.ada).seen, long_ago + timedelta(hours=2))

    def test_what_happened_is_kept_and_shown_to_whom_it_concerns(self) -> None:
        self.ask(Client(), "POST", "/api/session", {"name": "ada", "password": "wrong"})
        self.ask(Client(), "POST", "/api/session", {"name": "my-password-in-the-wrong-field", "password": "x"})
        here = self.signed_in("ada", "kites-up-high")
        id = Document.objects.filter(owner=self.ada).first() or self.new()
        self.assertTrue(id)
        happened = [h["what"] for h in here.get("/api/account").json()["happenings"]]
        self.assertEqual(happened, ["signed in", "sign-in failed"])
        self.assertFalse(Happening.objects.filter(name__contains="wrong-field").exists())
        self.assertEqual(
            self.signed_in("ben", "kites-down-low").get("/api/account").json()["happenings"][0]["what"], "signed in"
        )


class Forgetting(PeopleCase):
    def test_what_is_over_is_forgotten_and_nothing_else(self) -> None:
        self.invited()
        here, over = (self.signed_in("ada", "kites-up-high") for _ in range(2))
        now = timezone.now()
        Session.objects.filter(session_key=over.session.session_key).update(expire_date=now - timedelta(days=1))
        Visit.objects.update(seen=now - timedelta(hours=2))
        Happening.objects.create(what="long ago")
        Happening.objects.filter(what="long ago").update(at=now - timedelta(days=731))
        count = Happening.objects.count()
        forget_old()
        self.assertEqual([v.key for v in Visit.objects.all()], [here.session.session_key])
        self.assertEqual((Happening.objects.count(), Invitation.objects.count()), (count - 1, 1))
        Invitation.objects.update(ends=now - timedelta(days=31))
        forget_old()
        self.assertFalse(Invitation.objects.exists())
        self.assertEqual(here.get("/api/documents").status_code, 200)


class Addresses(PeopleCase):
    def test_it_is_what_the_last_proxies_say(self) -> None:
        def asked(proxies: int, **meta: str) -> str | None:
            with override_settings(PROXIES=proxies):
                return client_address(RequestFactory().get("/", **meta))  # type: ignore[arg-type]

        self.assertEqual(asked(0, REMOTE_ADDR="5.6.7.8", HTTP_X_FORWARDED_FOR="9.9.9.9"), "5.6.7.8")
        self.assertEqual(asked(1, REMOTE_ADDR="", HTTP_X_FORWARDED_FOR="9.9.9.9, 84.1.2.3"), "84.1.2.3")
        self.assertEqual(asked(2, REMOTE_ADDR="", HTTP_X_FORWARDED_FOR="9.9.9.9, 84.1.2.3, 10.0.0.1"), "84.1.2.3")
        self.assertEqual(asked(2, REMOTE_ADDR="", HTTP_X_FORWARDED_FOR="84.1.2.3"), "84.1.2.3")
        self.assertEqual(asked(1, REMOTE_ADDR="", HTTP_X_FORWARDED_FOR="::1"), "::1")
        self.assertIsNone(asked(1, REMOTE_ADDR=""))

    def test_who_fails_at_one_address_locks_out_nobody_at_another(self) -> None:
        with override_settings(PROXIES=1):
            for n in range(61):
                name = f"nobody-{n}"
                Client().post(
                    "/api/session",
                    {"name": name, "password": "x"},
                    content_type="application/json",
                    HTTP_X_FORWARDED_FOR="9.9.9.9",
                )
            sent = [
                Client()
                .post(
                    "/api/session",
                    {"name": "ada", "password": "kites-up-high"},
                    content_type="application/json",
                    HTTP_X_FORWARDED_FOR=at,
                )
                .status_code
                for at in ("9.9.9.9", "84.1.2.3")
            ]
        self.assertEqual(sent, [429, 200])


class Leaving(PeopleCase):
    def test_all_that_is_theirs_goes_and_the_file_with_the_last_row(self) -> None:
        content = draw()["pictures/box-kite.png"]
        for user in (self.ada, self.ben):
            self.client.force_login(user)
            brought = self.client.post("/api/pictures", {"file": SimpleUploadedFile("box.png", content)}).json()
            self.assertEqual(self.client.get(f"{brought['url']}/small")["Content-Type"], "image/webp")
        kept = Picture.objects.filter(owner=self.ada).get().kept
        for name, password, stays in (("ada", "kites-up-high", True), ("ben", "kites-down-low", False)):
            client = self.signed_in(name, password)
            self.assertEqual(self.ask(client, "POST", "/api/account/leave", {"password": "no"}).status_code, 403)
            with self.captureOnCommitCallbacks(execute=True):
                self.assertEqual(
                    self.ask(client, "POST", "/api/account/leave", {"password": password}).status_code, 200
                )
            self.assertEqual(client.get("/api/documents").status_code, 401)
            self.assertEqual((media.is_kept(kept), media.is_kept(f"{kept}.small.webp")), (stays, stays))
        self.assertFalse(Document.objects.exists() or get_user_model().objects.exists())
        self.assertEqual(
            list(Happening.objects.filter(what="account deleted").values_list("name", flat=True)), ["ben", "ada"]
        )

    def test_the_only_administrator_stays(self) -> None:
        self.ada.is_superuser = True
        self.ada.save()
        client = self.signed_in("ada", "kites-up-high")
        sent = self.ask(client, "POST", "/api/account/leave", {"password": "kites-up-high"})
        self.assertEqual(sent.status_code, 403)
        self.assertIn("only administrator", sent.json()["message"])


class Passkeys(PeopleCase):
    """Signatures are the library's and are checked with Chromium's authenticator in e2e.test_people; here, what is
    refused."""

    def test_what_was_not_asked_for_or_is_not_known_is_refused(self) -> None:
        junk = {"answer": {"id": "AAAA", "rawId": "AAAA", "type": "public-key", "response": {}}}
        for path in ("/api/account/passkeys", "/api/entry/passkey"):
            self.assertEqual(self.ask(self.client, "POST", path, junk).status_code, 400)
            self.ask(self.client, "POST", f"{path}/begin")
            for body in (junk, {"answer": {}}, {"answer": {"rawId": 7}}):
                self.assertEqual(self.ask(self.client, "POST", path, body).status_code, 400)
        self.assertFalse(Passkey.objects.exists())

    def test_a_challenge_is_good_once(self) -> None:
        options = [self.ask(self.client, "POST", "/api/account/passkeys/begin").json()["options"] for _ in range(2)]
        self.assertNotEqual(options[0]["challenge"], options[1]["challenge"])
        self.assertEqual(options[0]["authenticatorSelection"]["userVerification"], "required")
        self.assertNotIn("ada", options[0]["user"]["id"])


class Teams(PeopleCase):
    def test_who_keeps_it_says_who_is_in_it(self) -> None:
        team = self.ask(self.client, "POST", "/api/teams", {"name": "Posters"}).json()["id"]
        ben = self.signed_in("ben", "kites-down-low")
        self.assertEqual(ben.get("/api/teams").json(), [])
        self.assertEqual(self.ask(ben, "PUT", f"/api/teams/{team}/members", {"name": "ben"}).status_code, 404)
        self.assertEqual(self.ask(self.client, "PUT", f"/api/teams/{team}/members", {"name": "ben"}).status_code, 200)
        self.assertEqual(len(ben.get("/api/teams").json()[0]["members"]), 2)
        for method, path in (("PUT", "members"), ("DELETE", "members/ada"), ("DELETE", "")):
            self.assertEqual(
                self.ask(ben, method, f"/api/teams/{team}/{path}".rstrip("/"), {"name": "ben"}).status_code, 403
            )
        # It is never kept by nobody.
        self.assertEqual(self.ask(self.client, "DELETE", f"/api/teams/{team}/members/ada").status_code, 400)
        self.assertEqual(self.ask(self.client, "PUT", f"/api/teams/{team}/members", {"name": "ada"}).status_code, 400)
        self.ask(self.client, "PUT", f"/api/teams/{team}/members", {"name": "ben", "keeper": True})
        self.assertEqual(self.ask(self.client, "DELETE", f"/api/teams/{team}/members/ada").status_code, 200)
        self.assertEqual(self.client.get("/api/teams").json(), [])
        self.assertEqual(self.ask(ben, "POST", "/api/teams", {"name": "Posters"}).status_code, 400)
        self.assertEqual(self.ask(ben, "DELETE", f"/api/teams/{team}").status_code, 200)
        self.assertFalse(Team.objects.exists())


class Data(PeopleCase):
    def test_all_that_is_ones_own_is_in_one_archive_and_nobody_elses(self) -> None:
        mine, other = self.new(), Client()
        other.force_login(self.ben)
        self.ask(other, "POST", "/api/documents", {"title": "Of ben"})
        self.client.post("/api/pictures", {"file": SimpleUploadedFile("kite.png", draw()["pictures/box-kite.png"])})
        self.ask(self.client, "POST", "/api/recipes", {"name": "Caption", "rules": {"frame": {"padding": 4}}})
        self.ask(self.client, "DELETE", f"/api/documents/{self.new()}")
        job = self.ask(self.client, "POST", "/api/account/data").json()
        jobs.work(job["id"])
        done = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual((done["state"], done["name"]), ("done", "nest-line-ada.zip"))
        self.assertEqual(other.get(done["url"]).status_code, 404)
        content = b"".join(self.client.get(done["url"]).streaming_content)  # type: ignore[attr-defined]
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            names = archive.namelist()
            folders = sorted(name.partition("/")[0] for name in names)
            self.assertEqual(
                folders, ["READ-ME.txt", "account.json", "deleted", "documents", "pictures", "recipes.json"]
            )
            document = next(name for name in names if name.startswith(f"documents/{mine}-"))
            self.assertEqual(json.loads(archive.read(document)), self.open(mine)["document"])
            self.assertEqual(
                json.loads(archive.read("recipes.json"))["recipes"], {"Caption": {"frame": {"padding": 4}}}
            )
            self.assertEqual(json.loads(archive.read("account.json"))["name"], "ada")
        self.assertNotIn(b"Of ben", content)
