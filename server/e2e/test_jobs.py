"""What takes long, in the real client: how far it is, cancelling it, its file, and taking it up after a reload."""

from __future__ import annotations

import json
import re
from pathlib import Path
from unittest.mock import patch

from documents.routes import documents
from e2e.support import BrowserCase
from tests.live import Worker
from tests.test_jobs import many_pages


class LongWork(BrowserCase):
    def test_a_long_export_is_followed_cancelled_and_had(self) -> None:
        page = self.page
        self.signed_in()
        self.open_raw(many_pages(8))
        self.export()
        making = page.get_by_role("region", name="In the making")
        making.get_by_text("waits for its turn").wait_for()
        page.get_by_role("button", name="Cancel: PDF for print").click()
        making.wait_for(state="detached")
        self.export()
        making.wait_for()
        page.reload()  # it goes on without the window
        page.get_by_role("application").wait_for()
        making.get_by_text("Making a file").wait_for()
        with Worker(), page.expect_download() as had:
            pass
        self.assertEqual(had.value.suggested_filename, "many-pages.pdf")
        self.assertEqual(Path(had.value.path()).read_bytes()[:5], b"%PDF-")
        making.wait_for(state="detached")
        page.get_by_text("it is kept for a week").wait_for()

    def export(self) -> None:
        self.page.get_by_role("button", name="Export").click()
        self.page.get_by_role("menuitem", name=re.compile("PDF for print")).click()

    def test_a_large_document_is_brought_in_apart_and_a_broken_one_said(self) -> None:
        page = self.page
        self.sign_in()
        broken = many_pages(3)
        broken["pages"][1]["width"] = "wide"
        with patch.object(documents, "LARGE_IMPORT", 1000), Worker():
            self.bring("broken.json", broken)
            page.get_by_role("alert").get_by_text("“wide” is not a length").wait_for()
            self.bring("many.json", many_pages(3))
            page.get_by_role("application").wait_for()
        self.assertEqual(len(self.state("scene.pages")), 3)

    def bring(self, name: str, raw: object) -> None:
        part = {"name": name, "mimeType": "application/json", "buffer": json.dumps(raw).encode()}
        self.page.locator("input[type=file]").first.set_input_files(part)
