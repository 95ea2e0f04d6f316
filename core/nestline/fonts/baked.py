"""A font file with OpenType features baked in, for a screen that can only draw a font as it is.

A feature that is asked for is added to one that is always on, and one that is switched off goes: HarfBuzz then gives
without asking what it gives with the features asked for.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from fontTools.ttLib import TTFont
from fontTools.ttLib.tables import otTables

from nestline.fonts.library import Face

ALWAYS_ON = "rlig"
JOINING = ("calt", "clig", "liga")
"""What letters that are set apart lose on a screen (CSS Text 3, 10.2 "letter-spacing")."""


def baked(face: Face, features: tuple[tuple[str, int], ...]) -> bytes:
    """The face's font file with some features on (1) or off (0)."""
    font = face.open()
    asked = dict(features)
    for tag in ("GSUB", "GPOS"):
        if tag not in font or font[tag].table.FeatureList is None:
            continue
        table = font[tag].table
        records = table.FeatureList.FeatureRecord
        for system in list(_language_systems(table)):
            kept, always, lookups = [], [], set()
            for index in system.FeatureIndex:
                record = records[index]
                if asked.get(record.FeatureTag) == 0:
                    continue
                if record.FeatureTag == ALWAYS_ON:
                    always.append(index)
                else:
                    kept.append(index)
                if record.FeatureTag == ALWAYS_ON or asked.get(record.FeatureTag):
                    lookups |= set(record.Feature.LookupListIndex)
            if lookups and tag == "GSUB":
                kept.append(len(records))
                records.append(_record(sorted(lookups)))
            else:
                kept += always
            system.FeatureIndex, system.FeatureCount = kept, len(kept)
        table.FeatureList.FeatureCount = len(records)
    out = io.BytesIO()
    font.save(out, reorderTables=False)
    return out.getvalue()


def _language_systems(table: Any) -> Iterator[Any]:
    for script in table.ScriptList.ScriptRecord:
        if script.Script.DefaultLangSys is not None:
            yield script.Script.DefaultLangSys
        for language in script.Script.LangSysRecord:
            yield language.LangSys


def _record(lookups: list[int]) -> Any:
    record = otTables.FeatureRecord()
    record.FeatureTag = ALWAYS_ON
    record.Feature = otTables.Feature()
    record.Feature.FeatureParams = None
    record.Feature.LookupListIndex, record.Feature.LookupCount = lookups, len(lookups)
    return record


def fitted_features(face: Face, features: dict[str, int]) -> dict[str, int]:
    """The features that join letters whose spaces share a line's stretch, beside some that are asked for."""
    return {**{tag: 1 for tag in JOINING if tag in features_of(face)}, **features}


@lru_cache(maxsize=500)
def features_of(face: Face) -> tuple[str, ...]:
    """The tags of the features that a face has for letters, in order."""
    with TTFont(face.path) as font:
        if "GSUB" not in font or font["GSUB"].table.FeatureList is None:
            return ()
        return tuple(sorted({r.FeatureTag for r in font["GSUB"].table.FeatureList.FeatureRecord}))
