"""What of a shown version is not translated yet, or was translated from words that have changed since."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from nestline.document.reading import Document
from nestline.findings.finding import Finding
from nestline.findings.things import of_frame
from nestline.nesting.nests import Nests
from nestline.nesting.placed import PlacedNest
from nestline.translating.states import pairs


def of_versions(document: Document, nests: Nests) -> Iterator[Finding]:
    """Findings of the frames where copies begin that say what they were translated from."""
    first: dict[tuple[str, str], list[PlacedNest]] = {}
    for placed in nests:
        first.setdefault((placed.copy, placed.version), []).append(placed)
    for (copy, version), frames in first.items():
        record = document.copies[copy][version].source
        if record is None or record.version not in document.copies[copy] or record.version == version:
            continue
        chain = document.chain_of.get(frames[0].thing.id, ())
        frame = min(frames, key=lambda one: chain.index(one.thing.id) if one.thing.id in chain else 0)
        starts = [0]
        for paragraph in frame.nest.copy.paragraphs:
            starts.append(starts[-1] + len(paragraph.text) + 1)
        new = 0
        for pair in pairs(document, copy, record.version, version):
            if pair.state == "new":
                new += 1
            elif pair.state == "stale" and pair.there is not None and pair.there + 1 < len(starts):
                range = (starts[pair.there], starts[pair.there + 1] - 1)
                made = of_frame(frame, "stale", None, range, ())
                yield replace(made, details=(pair.was or "", pair.text))
        if new:
            yield of_frame(frame, "untranslated", new, None, ())
