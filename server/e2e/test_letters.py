"""The drawn letters, the PDF's and the line records agree: the demo's poster on the bench against its PDF in
poppler."""

import io
import json
import subprocess
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from PIL import Image

from demo.documents import poster, ticket
from demo.pictures import draw
from documents.exchange import bring_in
from documents.management.commands.load_demo import _archive
from documents.store import state_of
from e2e.support import BrowserCase
from nestline.copy.line_ends import hyphen_of
from nestline.fonts.shaping import shape
from nestline.output.lines import lines_report
from nestline.rows import SCREEN_RECORD

MEASURED = """() => {
  const scene = nestLine.store.getState().scene, ctx = document.createElement('canvas').getContext('2d'), out = [];
  ctx.textRendering = 'geometricPrecision'; ctx.fontKerning = 'normal';
  for (const nest of Object.values(scene.nests)) {
    const shape = scene.shapes[nest.shape], text = Array.from(shape.text);
    shape.start.forEach((start, i) => {
      const look = shape.looks[shape.look[i]];
      ctx.font = `${look.size}px "nest ${look.face}"`;
      out.push([text.slice(start, shape.end[i]).join(''), ctx.measureText(text.slice(start,
        shape.end[i]).join('')).width, shape.width[i]]);
    });
  }
  return out;
}"""


FITTED = """([columns, START, END, HYPHEN, FIRST, WORDS, TRACKING, WIDE]) => {
  const scene = nestLine.store.getState().scene, ctx = document.createElement('canvas').getContext('2d'), out = [];
  ctx.textRendering = 'geometricPrecision'; ctx.fontKerning = 'normal';
  for (const nest of Object.values(scene.nests)) {
    const shape = scene.shapes[nest.shape], text = Array.from(shape.text), r = nest.records;
    for (let row = 0, n = 0; row < r.length; row += columns)
      for (let w = r[row + FIRST]; w < r[row + FIRST] + r[row + WORDS]; w++, n++) {
        const look = shape.looks[shape.look[w]], apart = look.tracking + r[row + TRACKING] / r[row + WIDE];
        const start = Math.max(shape.start[w], r[row + START]), end = Math.min(shape.end[w], r[row + END]);
        const font = `nest ${look.face}${apart && look.fitted ? " " + look.fitted : ""}`;
        ctx.font = `${look.size}px "${font}"`; ctx.letterSpacing = `${apart}px`;
        const word = text.slice(start, end).join('') + (r[row + HYPHEN] && end === r[row + END] ? look.hyphen : '');
        const known = [...document.fonts].some((f) => f.family.replaceAll('"', '') === font && f.status === 'loaded');
        out.push([word, ctx.measureText(word).width * r[row + WIDE] - r[row + TRACKING], known, r[row + WIDE]]);
      }
  }
  return out;
}"""
PROSE = "The office affirms that fifty flags fly in a stiff gale, and that the chief official of the fjord fled. "


class Letters(BrowserCase):
    def opened(self, make: Any) -> Any:
        """A demo document of ada's, open in the browser with its fonts and pictures loaded; its state on the server."""
        user = get_user_model().objects.get(username="ada")
        row = bring_in(user.id, "demo", _archive(json.dumps(make()).encode(), draw()))
        self.sign_in()
        self.page.goto(f"{self.live_server_url}/d/{row.id}")
        self.page.get_by_role("application").wait_for()
        self.drawn()
        return state_of(row)

    def test_every_word_is_as_wide_on_the_canvas_as_in_the_engine(self) -> None:
        for make in (poster, ticket):
            self.opened(make)
            words = self.page.evaluate(MEASURED)
            self.assertGreater(len(words), 40)
            for word, canvas, engine in words:
                # Chromium rounds sizes that are no quarters of a pixel, as those of fitted type.
                self.assertAlmostEqual(canvas, engine, delta=max(0.05, 0.001 * engine), msg=word)
            self.page.context.clear_cookies()

    def test_fitted_letters_are_as_wide_on_the_canvas_and_as_svg_text_as_in_the_engine(self) -> None:
        """Ligatures stay where spaces between letters share a line's stretch, which neither a canvas nor CSS does by
        itself."""
        names = ("start", "end", "hyphen", "firstWord", "words", "tracking", "wide")
        columns = [len(SCREEN_RECORD), *(SCREEN_RECORD.index(name) for name in names)]
        for font in ("EB Garamond", "Lato", "Vollkorn"):
            rules = {"align": "justify", "hyphenate": True, "font": font, "size": 12}
            copy = {"versions": {"en": {"language": "en", "paragraphs": [{"runs": [{"text": PROSE * 4}], **rules}]}}}
            thing = {"id": "f", "x": 20, "y": 20, "width": 170, "height": 700, "frame": {"copy": "story"}}
            page = {"width": 400, "height": 760, "objects": [thing]}
            raw = {"format": "nest-line", "version": 1, "copies": {"story": copy}, "pages": [page]}
            state = self.opened(lambda raw=raw: raw)
            nest = state.scene.nests[0].nest
            said = []
            for record, segment in zip(nest.drawn.record, nest.drawn.segment, strict=True):
                start, end = nest.ranges[record]
                a, b = (
                    max(int(nest.copy.segments.start[segment]), start),
                    min(int(nest.copy.segments.end[segment]), end),
                )
                face, look = nest.copy.segments.looks[nest.copy.segments.look[segment]]
                # Alone, as a word is drawn: a letter that is kerned with the space behind it is not wider for that.
                word = nest.copy.text[a:b] + (hyphen_of(face) if nest.hyphens[record] and b == end else "")
                glyphs = shape(face, word, 0, len(word), "en", tracked=not look.joined)
                wide = glyphs.width * look.size / face.units_per_em * nest.factors[record]
                said.append(float(wide + nest.tracks[record] * (len(set(glyphs.clusters)) - 1)))
            self.page.wait_for_function("[...document.fonts].some((f) => f.family.includes('liga'))")
            self.drawn()
            words = self.page.evaluate(FITTED, columns)
            self.assertEqual(len(words), len(said))
            self.assertGreater(len({wide for *_, wide in words}), 3)
            for (word, canvas, known, _), engine in zip(words, said, strict=True):
                self.assertTrue(known, word)
                self.assertAlmostEqual(canvas, engine, delta=0.05, msg=f"{font}: {word}")
            svg = state.studio.svg(state.scene.document, 0, "text").decode()
            self.page.set_content(f"<body>{svg}</body>")
            self.page.evaluate("Promise.all([...document.fonts].map((font) => font.load()))")
            boxes = self.page.evaluate("""() => [...document.querySelectorAll('tspan')].map((t) => {
                const scale = t.parentElement.getCTM().a / document.querySelector('svg').getScreenCTM().a || 1;
                const wide = t.parentElement.transform.baseVal.consolidate()?.matrix.a ?? 1;
                const apart = parseFloat(getComputedStyle(t).letterSpacing) || 0;
                return [t.textContent, (t.getComputedTextLength() - apart) * wide, scale];
            })""")
            self.assertEqual(len(boxes), len(said))
            for (word, wide, _), engine in zip(boxes, said, strict=True):
                self.assertAlmostEqual(wide, engine, delta=0.05, msg=f"{font}, svg: {word}")
            self.page.context.clear_cookies()

    def test_words_stand_on_the_bench_where_the_records_say(self) -> None:
        state = self.opened(poster)
        report = {f["id"]: f for f in lines_report(state.scene.nests)["frames"]}
        compared = 0
        for id, frame in report.items():
            xs = self.state(f"scene.nests.{id}.x")
            told = [w["x"] for line in frame["lines"] for w in line["words"]]
            if len(told) == len(xs):  # words in two looks are two segments
                np.testing.assert_allclose(xs, told, atol=0.001)
                compared += 1
        self.assertGreater(compared, len(report) / 2)

    def test_the_bench_in_clean_view_looks_like_the_pdf(self) -> None:
        page = self.page
        page.set_viewport_size({"width": 1240, "height": 1760})
        state = self.opened(poster)
        page.evaluate("nestLine.store.setState({ clean: true, selected: null })")
        self.drawn()
        # The clean view has fitted the page; here it is looked at as large as it is.
        page.evaluate("nestLine.store.setState({ view: { scale: 1, x: 30, y: 20 } })")
        self.drawn()
        box = page.get_by_role("application").bounding_box()
        assert box
        width, height = 1122, 1586  # A3 at 96 px an inch, less the last partly covered pixel
        shot = page.screenshot(clip={"x": box["x"] + 30, "y": box["y"] + 20, "width": width, "height": height})
        pdf = state.studio.pdf(state.scene.document)
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "p.pdf").write_bytes(pdf)
            subprocess.run(["pdftoppm", "-r", "96", "-png", "p.pdf", "p"], cwd=folder, check=True)
            (png,) = Path(folder).glob("p*.png")
            printed = Image.open(io.BytesIO(png.read_bytes())).convert("L")
        bleed = 3 / 25.4 * 96
        printed = printed.transform(
            (width, height), Image.Transform.AFFINE, (1, 0, bleed, 0, 1, bleed), Image.Resampling.BILINEAR
        )
        bench = Image.open(io.BytesIO(shot)).convert("L")
        difference = np.abs(np.asarray(bench, dtype=float) - np.asarray(printed, dtype=float))
        self.assertLess(difference.mean(), 2.5)
        # And it is no empty page that agrees.
        self.assertGreater(np.asarray(bench, dtype=float).std(), 30)


class Galley(BrowserCase):
    def test_bold_italic_paragraphs_and_forced_breaks(self) -> None:
        page = self.page
        self.new_document("Galley")
        frame = self.draw("Rectangle", (60, 60), (500, 500))
        page.get_by_label("Copy", exact=True).click()
        page.keyboard.type("Bring ")
        page.keyboard.press("Control+b")
        page.keyboard.type("string")
        page.keyboard.press("Control+b")
        page.keyboard.type(" and ")
        page.get_by_role("button", name="Italic").click()
        page.keyboard.type("friends")
        page.keyboard.press("Shift+Enter")
        page.keyboard.type("again")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Italic").click()
        page.keyboard.type("No wind?")
        self.settled()
        page.wait_for_function("Object.values(nestLine.store.getState().scene.shapes)[0]?.text.endsWith('No wind?')")
        copies = self.state("document.copies")
        (copy,) = copies.values()
        first, second = copy["versions"]["en"]["paragraphs"]
        runs = [(r["text"], r.get("weight"), r.get("slope")) for r in first["runs"]]
        self.assertEqual(runs[:3], [("Bring ", None, None), ("string", 700, None), (" and ", None, None)])
        self.assertEqual("".join(r[0] for r in runs[3:]), "friends\u2028again")
        self.assertTrue(all(r[2] == "italic" for r in runs[3:]))
        self.assertEqual(second["runs"], [{"text": "No wind?"}])
        self.assertEqual(
            second.get("style"), first.get("style"), "a new paragraph takes the rules of the one before it"
        )
        self.assertEqual(len(self.lines(frame)), 3)

        # What the sentence changes does not disturb the galley, and undo shows there.
        page.keyboard.press("Escape")
        self.part("align")
        page.get_by_role("radio", name="justified").click()
        self.settled()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Undo").click()
        self.settled()
        page.get_by_role("button", name="Undo").click()
        self.settled()
        page.wait_for_function("document.querySelector('.ProseMirror')?.innerText.trim() !== undefined")
        page.get_by_role("button", name="Redo").click()
        self.settled()
        self.assertIn("string", page.get_by_label("Copy", exact=True).inner_text())

    def test_a_picture_is_placed_by_its_kind(self) -> None:
        page = self.page
        self.new_document("Pictures")
        with tempfile.TemporaryDirectory() as folder:
            for name, by in (("box-kite-on-white.jpg", "contour"), ("tower.png", "contour")):
                file = Path(folder) / name
                file.write_bytes(draw()[f"pictures/{name}"])
                count = len(self.state("document.pages[0].objects"))
                page.set_input_files("#picture-file", str(file))
                page.wait_for_function(f"nestLine.store.getState().document.pages[0].objects.length > {count}")
                self.settled()
                self.assertEqual(self.state(f"document.pages[0].objects[{count}].wrap.by"), by)
            broken = Path(folder) / "broken.png"
            broken.write_bytes(b"this is no picture")
            page.set_input_files("#picture-file", str(broken))
            page.get_by_role("alert").get_by_text("PNG, JPEG and WebP").wait_for()
        self.assertEqual(len(self.state("document.pages[0].objects")), 2)
        # A picture without transparency is offered the contour on its plain background.
        page.get_by_role("region", name="Tally").get_by_role("button", name="box-kite-on-white", exact=True).click()
        self.part("wrap")
        page.keyboard.press("Escape")
        self.assertIn("plain background", page.locator('[data-part="contour"]').inner_text())
