"""Headless Chromium's own layout, to check the engine against: the same font files, sizes and words."""

from __future__ import annotations

import base64
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright

CHROMIUM = "/usr/bin/chromium-headless-shell"
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--font-render-hinting=none",  # else widths of letters are whole pixels
]


@contextmanager
def chromium_page() -> Iterator[Page]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS, timeout=900_000)
        try:
            page = browser.new_page(viewport={"width": 1400, "height": 1400})
            page.set_default_timeout(900_000)
            yield page
        finally:
            browser.close()


LINES = """async () => {
  await document.fonts.ready; await Promise.all([...document.fonts].map((f) => f.load()));
  const out = [];
  for (const p of document.querySelectorAll('.copy')) {
    const node = p.querySelector('span') ? p.querySelector('span').firstChild : [...p.childNodes].find((n) =>
      n.nodeType === 3);
    const origin = document.querySelector('#frame').getBoundingClientRect();
    const lines = []; let last = null; const range = document.createRange();
    const text = node.data;
    for (let i = 0; i < text.length; i++) {
      if (text[i] === ' ') continue;
      range.setStart(node, i); range.setEnd(node, i + 1);
      const box = range.getClientRects()[0];
      if (!box) continue;
      if (!last || Math.abs(box.top - last.top) > 1 || box.left < last.right - 1) { last = { start: i,
        left: box.left - origin.left, top: box.top, right: box.right }; lines.push(last); }
      last.right = box.right; last.end = i + 1;
    }
    out.push(lines.map((l) => [l.start, l.end, l.left, l.right - origin.left]));
  }
  return out;
}"""


def show(page: Page, face: Path, css: str, html: str) -> None:
    """Show some HTML in a font file."""
    font = base64.b64encode(face.read_bytes()).decode()
    page.set_content(
        f"<style>@font-face {{ font-family: 'it'; src: url('data:font/ttf;base64,{font}'); }} * {{ margin: 0 }}"
        f" body {{ font-family: 'it'; text-rendering: geometricPrecision; {css} }}</style>{html}"
    )
    page.evaluate("Promise.all([...document.fonts].map((f) => f.load()))")


def lines_in_chromium(page: Page, face: Path, css: str, html: str) -> list[list[list[float]]]:
    """For each `.copy` of the page its lines as start, end, left, right (CSS px from #frame's left)."""
    show(page, face, css, html)
    result: Any = page.evaluate(LINES)
    return result
