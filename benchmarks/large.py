"""A large document: 100 pages, 50,000 words, 100 pictures; opened in the browser, and printed."""

from __future__ import annotations

import io
import json
import os
import time
import zipfile
from pathlib import Path
from typing import Any

from PIL import Image, ImageDraw
from playwright.sync_api import Page

from benchmarks.browser import ADDRESS
from nestline.output.pdf import write_pdf
from nestline.output.png import png_pages
from nestline.pictures.files import PictureFile, read_picture
from nestline.studio import Studio


def drawn_picture(number: int) -> bytes:
    """A small picture, no two alike, of a disc on white."""
    image = Image.new("RGB", (640, 480), "white")
    colour = (200, number % 200, 40)
    ImageDraw.Draw(image).ellipse((120, 60, 520, 420), fill=colour)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=85)
    return out.getvalue()


def document(pages: int, words: int, pictures: int) -> tuple[dict[str, Any], dict[str, bytes]]:
    """So many A4 pages with so many words each in a frame; the first of them have a picture that copy runs round."""
    from support import STORY

    text = (STORY.split() * 20)[:words]
    raw: dict[str, Any] = {"format": "nest-line", "version": 1, "title": "Large", "copies": {}, "pages": []}
    files = {}
    for number in range(pages):
        paragraphs = [
            {"size": "10pt", "leading": "13pt", "runs": [{"text": " ".join([str(number), *text[i : i + 100]])}]}
            for i in range(0, words, 100)
        ]
        raw["copies"][f"c{number}"] = {"versions": {"en": {"language": "en", "paragraphs": paragraphs}}}
        objects: list[dict[str, Any]] = [
            {"id": f"f{number}", "x": 50, "y": 50, "width": 495, "height": 740, "frame": {"copy": f"c{number}"}}
        ]
        if number < pictures:
            file = f"pictures/p{number}.jpg"
            files[file] = drawn_picture(number)
            objects.append(
                {
                    "id": f"p{number}",
                    "x": 220,
                    "y": 250,
                    "width": 160,
                    "height": 120,
                    "picture": {"file": file},
                    "wrap": {"by": "contour", "clearance": 9},
                }
            )
        raw["pages"].append({"width": 595, "height": 842, "objects": objects})
    return raw, files


def archive(pages: int) -> bytes:
    raw, files = document(pages, 500, pages)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("document.json", json.dumps(raw))
        for name, content in files.items():
            packed.writestr(name, content)
    return out.getvalue()


def opened(page: Page, pages: int) -> list[float]:
    """Milliseconds from asking for the document in a fresh tab to its first page drawn, several times; it is taken away
    again afterwards."""
    token = page.evaluate("document.cookie.match(/csrftoken=([^;]+)/)[1]")
    headers = {"X-CSRFToken": token, "Referer": ADDRESS}
    part = {"name": "large.zip", "mimeType": "application/zip", "buffer": archive(pages)}
    made = page.request.post(
        f"{ADDRESS}api/documents/import", headers=headers, multipart={"file": part}, timeout=300_000
    )
    if not made.ok:
        raise SystemExit(made.text())
    number = made.json()["id"]
    while made.status == 202:  # a job brings it in
        job = page.request.get(f"{ADDRESS}api/jobs/{made.json()['id']}").json()
        if job["state"] in ("done", "failed"):
            number = job["document"]
            break
        time.sleep(0.2)
    times = []
    for _ in range(6):
        page.goto(ADDRESS)
        button = page.get_by_role("link", name="Open Large")
        button.wait_for()
        began = time.perf_counter()
        button.click()
        page.wait_for_function("window.nestPaint && nestPaint.length > 0", timeout=60_000, polling=20)
        times.append((time.perf_counter() - began) * 1e3)
        page.wait_for_function("nestLine.store.getState().complete", timeout=120_000)
    page.request.delete(f"{ADDRESS}api/documents/{number}", headers=headers)
    return times


def chain_of_pages(pages: int, words: int) -> dict[str, Any]:
    """One copy of so many words in a chain of frames, one on each page with a wrap."""
    from support import STORY

    text = (STORY.split() * (words // 50))[:words]
    rules = {"size": "10pt", "leading": "13pt"}
    paragraphs = [{**rules, "runs": [{"text": " ".join(text[i : i + 100])}]} for i in range(0, words, 100)]
    wrap = {"outline": {"kind": "ellipse"}, "wrap": {"by": "outline", "clearance": 8}}
    sheets = [
        {
            "width": 420,
            "height": 595,
            "objects": [
                {"id": f"f{n}", "x": 40, "y": 40, "width": 340, "height": 515, "frame": {"copy": "c"}},
                {"id": f"w{n}", "x": 200, "y": 150, "width": 90, "height": 90, **wrap},
            ],
        }
        for n in range(pages)
    ]
    copies = {"c": {"versions": {"en": {"language": "en", "paragraphs": paragraphs}}}}
    chains = [[f"f{n}" for n in range(pages)]]
    return {"format": "nest-line", "version": 1, "title": "Chain", "copies": copies, "chains": chains, "pages": sheets}


LETTERS = """async ([id, count]) => {
  const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
  const headers = { "X-CSRFToken": token, "Content-Type": "application/json" };
  const whole = await (await fetch(`/api/documents/${id}`)).json();
  let { revision, shown } = whole;
  const at = ["copies", "c", "versions", "en", "paragraphs", 200, "runs", 0, "text"];
  const text = whole.document.copies.c.versions.en.paragraphs[200].runs[0].text;
  const page = Object.values(whole.scene.nests).filter((nest) => nest.held[1] <= 20000).length;
  const out = { times: [], bytes: [], rest: [] };
  for (let n = 1; n <= count; n++) {
    const body = JSON.stringify({ base: revision, window: "speed", shown, seen: [page, page + 1], operations: [{
      do: "put", at, value: `${text} ${"x".repeat(n)}` }] });
    let began = performance.now();
    const answer = await (await fetch(`/api/documents/${id}/edits`, { method: "POST", headers, body })).text();
    out.times.push(performance.now() - began);
    out.bytes.push(answer.length);
    ({ revision, shown } = JSON.parse(answer));
    if (n % 5) continue;
    began = performance.now();
    ({ shown } = await (await fetch(`/api/documents/${id}/rest?shown=${shown}`)).json());
    out.rest.push(performance.now() - began);
  }
  return out;
}"""


def letters_in_a_chain(page: Page, count: int = 30) -> dict[str, list[float]]:
    """Milliseconds from sending a letter typed in the middle of a chain of 50,000 words over 100 pages to its answer,
    the answer's bytes, and the milliseconds of the rest, every fifth time."""
    token = page.evaluate("document.cookie.match(/csrftoken=([^;]+)/)[1]")
    headers = {"X-CSRFToken": token, "Referer": ADDRESS}
    part = {
        "name": "chain.json",
        "mimeType": "application/json",
        "buffer": json.dumps(chain_of_pages(100, 50_000)).encode(),
    }
    made = page.request.post(
        f"{ADDRESS}api/documents/import", headers=headers, multipart={"file": part}, timeout=300_000
    )
    if made.status != 200:
        raise SystemExit(made.text())
    number = made.json()["id"]
    found: dict[str, list[float]] = page.evaluate(LETTERS, [number, count])
    page.request.delete(f"{ADDRESS}api/documents/{number}", headers=headers)
    return {"times": found["times"][3:], "bytes": found["bytes"][3:], "rest": found["rest"][1:]}


def most_memory() -> float:
    """The most memory that a worker of the server takes, in MB."""
    home = Path(os.environ["NEST_HOME"])
    master = (home / "server.pid").read_text().strip()
    workers = Path(f"/proc/{master}/task/{master}/children").read_text().split()
    sizes = [
        int(row.split()[1]) / 1024
        for worker in workers
        for row in Path(f"/proc/{worker}/status").read_text().splitlines()
        if row.startswith("VmRSS")
    ]
    return max(sizes)


def printed() -> dict[str, list[float]]:
    """Milliseconds to write a PDF of 20 pages, 10,000 glyphs, 5 pictures, and an A3 page as PNG at 150 dpi."""
    raw, files = document(20, 110, 5)
    a3, _ = document(1, 500, 0)
    a3["pages"][0].update(width=842, height=1191)
    pictures: dict[str, PictureFile] = {}

    def picture(file: str) -> PictureFile:
        if file not in pictures:
            pictures[file] = read_picture(files[file])
        return pictures[file]

    kept = Studio(picture)
    out: dict[str, list[float]] = {"pdf": [], "png": []}
    for name, given in (("pdf", raw), ("png", a3)):
        read = kept.read(given)
        nests = kept.nest(read)
        for _ in range(5):
            began = time.perf_counter()
            content = write_pdf(read, nests, picture)
            if name == "png":
                png_pages(content, 150)
            out[name].append((time.perf_counter() - began) * 1e3)
    return out
