"""Translation in the real client: out as a file and home again, the desk cancelled, looks that count in every
version."""

from __future__ import annotations

from pathlib import Path

from translate.storage.xliff2 import Xliff2File

from e2e.support import BrowserCase
from tests.live import Worker
from tests.test_translations import labels


class Translated(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.signed_in()
        self.open_raw(labels())

    def versions(self, item: str) -> None:
        self.page.get_by_role("button", name="Version shown").click()
        self.page.get_by_role("menuitem", name=item).click()

    def send(self, form: str) -> None:
        self.versions("Send out to be translated")
        self.page.get_by_role("radio", name=form).check()

    def texts(self, version: str) -> list[str]:
        return self.page.evaluate(
            "(v) => nestLine.store.getState().document.copies.Label.versions[v].paragraphs.map((p) => "
            "p.runs.map((r) => r.text).join(''))",
            version,
        )

    def test_out_as_a_file_and_home_again(self) -> None:
        page = self.page
        self.send("A table")
        with page.expect_download() as had:
            page.get_by_role("button", name="Save the file").click()
        table = Path(had.value.path()).read_text("utf-8-sig")
        self.assertEqual(had.value.suggested_filename, "labels-de.csv")
        home = table.replace("Kite Day,,", "Kite Day,Drachentag,").replace("12.50,,", '12.50,"12,50",')
        self.assertNotEqual(home, table)
        part = {"name": "labels-de.csv", "mimeType": "text/csv", "buffer": home.encode()}
        page.get_by_label("Translation", exact=True).set_input_files(part)  # type: ignore[arg-type]
        page.get_by_role("heading", name="German has come home").wait_for()
        page.get_by_text("1 paragraph came home without a translation").wait_for()
        page.get_by_role("checkbox", name="Take “12,50”").uncheck()
        revision = self.state("revision")
        page.get_by_role("button", name="Take 1 paragraph").click()
        self.settled()
        page.wait_for_function("nestLine.store.getState().document.showing === 'de'")
        self.assertEqual(self.texts("de")[0], "Drachentag")
        self.assertEqual(self.texts("de")[2], "12.50")
        self.assertEqual(self.state("revision"), revision + 1)
        # What is left is told, sent again, translated by another program, and comes home.
        page.get_by_role("button", name="Version shown").click()
        page.get_by_text("1 new").wait_for()
        page.get_by_role("menuitem", name="Send out to be translated").click()
        page.get_by_text("1 paragraph", exact=False).first.wait_for()
        page.get_by_role("radio", name="what is new").check()
        with page.expect_download() as had:
            page.get_by_role("button", name="Save the file").click()
        import io
        import zipfile

        with zipfile.ZipFile(had.value.path()) as archive:
            other = Xliff2File(io.BytesIO(archive.read("labels-de.xlf")))
            self.assertTrue(any(name.startswith("frames/") for name in archive.namelist()))
        (unit,) = other.units
        unit.target = "Schnur und Haspel."
        out = io.BytesIO()
        other.serialize(out)
        part = {"name": "de.xlf", "mimeType": "application/xliff+xml", "buffer": out.getvalue()}
        page.get_by_label("Translation", exact=True).set_input_files(part)  # type: ignore[arg-type]
        page.get_by_text("no look of their own").wait_for()  # what was bold is not any more, and that is said
        page.get_by_role("button", name="Take 1 paragraph").click()
        self.settled()
        self.assertEqual(self.texts("de")[1], "Schnur und Haspel.")
        part = {"name": "x.xlf", "mimeType": "application/xliff+xml", "buffer": b"<a/>"}
        page.get_by_label("Translation", exact=True).set_input_files(part)  # type: ignore[arg-type]
        page.get_by_role("alert").get_by_text("not XLIFF").wait_for()

    def test_the_desk_is_cancelled_and_sent_to_again(self) -> None:
        page = self.page
        revision = self.state("revision")
        with Worker():
            self.send("The translation desk")
            page.get_by_label("it takes").fill("60")
            page.get_by_role("button", name="Send it").click()
            page.get_by_role("button", name="Cancel: At the translation desk").click()
            page.get_by_role("region", name="In the making").wait_for(state="detached")
            self.send("The translation desk")
            page.get_by_label("it takes").fill("0")
            page.get_by_label("it gives up half-way").check()
            page.get_by_role("button", name="Send it").click()
            page.get_by_role("alert").get_by_text("gave up").wait_for()
            self.assertEqual(self.state("revision"), revision)
            self.send("The translation desk")
            page.get_by_label("it takes").fill("0")
            page.get_by_role("button", name="Send it").click()
            page.get_by_role("heading", name="German has come home").wait_for()
        page.get_by_role("button", name="Take 3 paragraphs").click()
        self.settled()
        page.wait_for_function("nestLine.store.getState().document.showing === 'de'")

    def test_a_look_counts_in_every_version_unless_it_is_only_for_one(self) -> None:
        page = self.page
        self.versions("Add a version")
        page.get_by_role("button", name="Add it").click()
        self.settled()
        page.evaluate("nestLine.store.setState({ selected: 'f' })")
        self.part("align")
        page.get_by_role("radio", name="centred").click()
        self.settled()
        page.keyboard.press("Escape")
        self.part("versions")
        page.get_by_role("radio", name="only in German").click()
        self.part("align")
        page.get_by_role("radio", name="flush right").click()
        self.settled()
        for version, align in (("en", "center"), ("de", "end")):
            paragraphs = self.state(f"document.copies.Label.versions.{version}.paragraphs")
            self.assertEqual([p.get("align") for p in paragraphs], [align] * 3)
        self.part("versions")
        page.get_by_text("in every version").first.wait_for()
