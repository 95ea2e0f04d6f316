"""Copy goes out to be translated and comes home: XLIFF 2.1, tables, what is new or stale, what cannot be taken.

The structure of XLIFF 2.1 is checked against the published one (OASIS, from memory: no package ships its schema), and
files are read by translate-toolkit.
"""

import io
import random
import re
import unittest
import zipfile
from typing import Any
from xml.etree import ElementTree

import pypdfium2  # noqa: F401  (pictures of frames are drawn by it)
from PIL import Image
from translate.storage.xliff2 import Xliff2File

from draws import thrown
from nestline.acts.expanding import expanded
from nestline.document import edits
from nestline.errors import NestLineError
from nestline.output.translations import archive_out, frame_pictures, letter_out
from nestline.translating.home import homecoming, read_letter
from nestline.translating.segments import Content, Span, content_of
from nestline.translating.states import pairs
from nestline.translating.table import read_table, write_table
from nestline.translating.xliff import CORE, Letter, Unit, read_xliff, write_xliff
from support import document, frame, studio

Raw = dict[str, Any]
LOOKS: list[Raw] = [{}, {}, {"weight": 700}, {"slope": "italic"}, {"color": "#336699"}, {"underline": True}]
WORDS = "wind kite {1} tail <b> & “string” a]]>b 7.50 \u0007 café  two\tgaps 凧 عيد".split(" ")


def random_paragraph(draws: random.Random) -> Raw:
    runs: list[Raw] = []
    for _ in range(draws.randint(1, 6)):
        what = draws.random()
        if what < 0.12:
            runs.append({"field": "page", **draws.choice(LOOKS)})
            continue
        text = " ".join(draws.choices(WORDS, k=draws.randint(1, 5))) + draws.choice(["", " ", "\u2028", "\u2028more"])
        look = draws.choice(LOOKS)
        if not text:
            continue
        if runs and "text" in runs[-1] and {k: v for k, v in runs[-1].items() if k != "text"} == look:
            runs[-1]["text"] += text
        else:
            runs.append({**look, "text": text})
    return {"runs": runs}


def letter_of(paragraphs: list[Raw], targets: bool = True) -> Letter:
    units = []
    for number, raw in enumerate(paragraphs):
        content = content_of(raw)
        units.append(Unit("The story", number, content, "done", content.spans if targets else None, (("room", "9"),)))
    return Letter("en", "de", "en", "de", units)


def told_documents(paragraphs: list[str], made: list[str] | None = None, was: list[str] | None = None) -> Raw:
    raw = document([frame()], *({"runs": [{"text": text}]} for text in paragraphs))
    if made is not None:
        source = {"version": "en", "paragraphs": paragraphs if was is None else was}
        there = [{"runs": [{"text": text}]} for text in made]
        raw["copies"]["story"]["versions"]["de"] = {"language": "de", "paragraphs": there, "source": source}
    return raw


class Codes(unittest.TestCase):
    def test_words_and_codes_make_the_runs_that_they_came_from(self) -> None:
        draws = thrown(20)
        for _ in range(400):
            raw = random_paragraph(draws)
            content = content_of(raw)
            self.assertEqual(content.runs(content.spans), raw["runs"])

    def test_both_files_bring_the_same_words_and_codes_home(self) -> None:
        draws = thrown(21)
        for _ in range(120):
            paragraphs = [random_paragraph(draws) for _ in range(draws.randint(1, 4))]
            paragraphs = [raw for raw in paragraphs if content_of(raw).text.strip()]
            if not paragraphs:
                continue
            letter = letter_of(paragraphs)
            for name, content in (("a.xlf", write_xliff(letter)), ("a.csv", write_table(letter))):
                home = read_letter(name, content)
                self.assertEqual((home.source, home.target, home.source_language), ("en", "de", "en"))
                for unit, back, raw in zip(letter.units, home.units, paragraphs, strict=True):
                    assert isinstance(unit, Unit) and not isinstance(back, Unit) and back.target is not None
                    self.assertEqual((back.copy, back.number), ("The story", unit.number))
                    self.assertEqual(unit.content.runs(back.target), raw["runs"], name)
                    self.assertEqual(back.source, back.target)


INLINE = {"pc", "ph", "cp", "sc", "ec", "mrk", "sm", "em"}
CHILDREN = {
    "xliff": ["file"],
    "file": ["skeleton", "notes", "unit"],
    "notes": ["note"],
    "unit": ["notes", "originalData", "segment"],
    "segment": ["source", "target"],
    "note": [],
    "ph": [],
    "cp": [],
    "skeleton": [],
}
"""Children of elements in their order (XLIFF 2.1, 4.2.2, from memory); those of words are inline."""
NEEDED = {"xliff": {"version", "srcLang"}, "file": {"id"}, "unit": {"id"}, "pc": {"id"}, "ph": {"id"}, "cp": {"hex"}}
KNOWN = {
    "xliff": {"version", "srcLang", "trgLang"},
    "file": {"id", "original", "{http://www.w3.org/XML/1998/namespace}space"},
    "unit": {"id", "name"},
    "note": {"category"},
    "segment": {"id", "state"},
    "cp": {"hex"},
    "pc": {"id", "type", "subType", "dispStart", "canCopy"},
    "ph": {"id", "type", "subType", "disp", "canCopy", "canDelete"},
}


def faults_of_xliff(content: bytes) -> list[str]:
    """What in a file is not as XLIFF 2.1 has it."""
    root = ElementTree.fromstring(content)
    out: list[str] = []

    def walk(element: ElementTree.Element, words: bool) -> None:
        name = element.tag.removeprefix(f"{{{CORE}}}")
        if not element.tag.startswith(f"{{{CORE}}}"):
            out.append(f"{name} is of another namespace")
        children = [child.tag.removeprefix(f"{{{CORE}}}") for child in element]
        words = words or name in ("source", "target")
        allowed = CHILDREN.get(name)
        if words and allowed is None:
            out.extend(f"{one} in words" for one in children if one not in INLINE)
        elif allowed is not None:
            places = [allowed.index(one) if one in allowed else -1 for one in children]
            if -1 in places or places != sorted(places):
                out.append(f"{name} holds {children}")
            if not words and (element.text or "").strip() and name not in ("note", "skeleton"):
                out.append(f"{name} holds words")
        if missing := NEEDED.get(name, set()) - set(element.attrib):
            out.append(f"{name} lacks {missing}")
        if more := set(element.attrib) - KNOWN.get(name, set()):
            out.append(f"{name} has {more}")
        for child in element:
            walk(child, words)

    walk(root, False)
    for file in root:
        ids = [unit.get("id", "") for unit in file.iter(f"{{{CORE}}}unit")]
        if len(set(ids)) != len(ids) or not all(re.fullmatch(r"[\w.:-]+", id) for id in ids):
            out.append("ids of units")
    for words in [*root.iter(f"{{{CORE}}}source"), *root.iter(f"{{{CORE}}}target")]:
        ids = [e.get("id", "") for e in words.iter() if e.get("id")]
        if len(set(ids)) != len(ids):
            out.append("ids of codes")
    return out


class Xliff(unittest.TestCase):
    def test_its_structure_is_the_published_one(self) -> None:
        draws = thrown(22)
        for _ in range(60):
            content = write_xliff(letter_of([random_paragraph(draws) for _ in range(3)]))
            self.assertEqual(faults_of_xliff(content), [])
        broken = content.replace(b"<source>", b"<source><unit id='1'/>", 1)
        self.assertNotEqual(faults_of_xliff(broken), [])

    def test_another_program_reads_it_and_what_it_writes_comes_home(self) -> None:
        paragraphs = ["Bring string", "Bring friends & “kites”", "At noon the dragon goes up"]
        raw = told_documents(paragraphs)
        engine = studio()
        made = engine.read(raw)
        content = write_xliff(letter_out(made, engine.nest(made), "en", "de"))
        other = Xliff2File(io.BytesIO(content))
        units = [unit for unit in other.units if unit.istranslatable()]
        self.assertEqual([unit.source for unit in units], paragraphs)
        self.assertIn(b"letters in a line", content)
        for unit in units:
            unit.target = unit.source.upper()
        out = io.BytesIO()
        other.serialize(out)
        found = homecoming(made, read_xliff(out.getvalue()))
        self.assertEqual([one.after for one in found.changes], [text.upper() for text in paragraphs])
        after = engine.read(edits.apply(raw, list(found.operations)).document)
        self.assertEqual([p.text for p in after.copies["story"]["de"].paragraphs], [t.upper() for t in paragraphs])
        self.assertEqual([p.state for p in pairs(after, "story", "en", "de")], ["done"] * 3)

    def test_what_other_programs_make_of_it_is_read(self) -> None:
        words = (
            '<xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.0" srcLang="en" '
            'trgLang="fi"><file id="f1" original="story">'
            '<unit id="p1"><segment id="a"><source>One. </source><target>Yksi. '
            "</target></segment><ignorable><source>\t</source></ignorable>"
            '<segment id="b"><source>T<sc id="1"/>wo<ec startRef="1"/></source><target><mrk id="m1" '
            'type="term">K<sc id="1"/>ak</mrk>si'
            '<ec startRef="1"/>!<cp hex="0007"/></target></segment></unit></file></xliff>'
        )
        (home,) = read_xliff(words.encode()).units
        self.assertEqual(home.target, (Span("Yksi. \tK"), Span("aksi", "1"), Span("!\u0007")))  # type: ignore[union-attr]
        self.assertEqual(read_xliff(words.encode("utf-16")).target_language, "fi")

    def test_what_is_no_letter_says_so(self) -> None:
        good = write_xliff(letter_of([{"runs": [{"text": "a"}]}]))
        archive = io.BytesIO()
        with zipfile.ZipFile(archive, "w", zipfile.ZIP_DEFLATED) as made:
            made.writestr("a.xlf", good)
        whole = archive.getvalue()
        self.assertEqual(len(read_letter("a.zip", whole).units), 1)
        bad: list[bytes] = [
            b"",
            b"<",
            b"<a/>",
            b"\xff\xfe",
            good[:-30],
            good.replace(b"document:2.0", b"document:1.2"),
            whole[:60],
            b"PK\x03\x04",
            b'<!DOCTYPE a [<!ENTITY b "c">]>' + good.partition(b"?>")[2],
            good.replace(b'id="p1"', b'id="u7"'),
            b"copy,paragraph\n",
            b"copy,paragraph,en (en),de (de)\nstory,x,a,b\n",
            b'copy,paragraph,en (en),de (de)\nstory,1,"a,b\n',
            b"\xff\xffz",
            good.replace(b"<source>a", b'<source><cp hex="zz"/>'),
            b"<a>" * 200,
            good.replace(b"<source>a", b"<source>" + b"<mrk>" * 90),
        ]
        for content in bad:
            for name in ("a.xlf", "a.csv", "a.zip"):
                with self.assertRaises(NestLineError, msg=content[:40]) as said:
                    read_letter(name, content)
                self.assertLess(len(str(said.exception)), 400)
        draws = thrown(5)
        for content in (good, whole, write_table(letter_of([{"runs": [{"text": "a"}]}]))):
            for _ in range(300):
                damaged = bytearray(content)
                for _ in range(draws.randint(1, 6)):
                    damaged[draws.randrange(len(damaged))] = draws.randrange(256)
                try:
                    read_letter("a.xlf" if content is not whole else "a.zip", bytes(damaged))
                except NestLineError:
                    continue


class States(unittest.TestCase):
    def test_after_random_changes_just_those_are_told(self) -> None:
        draws = thrown(23)
        engine = studio()
        for _ in range(80):
            texts = [f"{word} number {n}" for n, word in enumerate(draws.choices(WORDS[:3], k=draws.randint(3, 12)))]
            made = [f"Nummer {n}" for n in range(len(texts))]
            now, want = list(texts), {text: "done" for text in texts}
            for place in sorted(draws.sample(range(len(texts)), draws.randint(0, 3)), reverse=True):
                match draws.choice(["change", "put in", "take out"]):
                    case "change":
                        want.pop(now[place])
                        now[place] += " indeed"
                        want[now[place]] = "stale"
                    case "put in" if place:
                        # Between two that stay: beside a changed one nothing tells which of both is new.
                        if want.get(now[place]) == want.get(now[place - 1]) == "done":
                            now.insert(place, f"quite other words {place}")
                            want[now[place]] = "new"
                    case "take out" if (
                        len(now) > 1
                        and want.get(now[place]) == "done"
                        and (place + 1 >= len(now) or want.get(now[place + 1]) == "done")
                    ):
                        want.pop(now.pop(place))
            read = engine.read(told_documents(now, made, texts))
            found = pairs(read, "story", "en", "de")
            self.assertEqual({p.text: p.state for p in found}, want)
            for pair in found:
                if pair.state != "new":
                    self.assertEqual(made[pair.there or 0].split()[1], pair.text.removesuffix(" indeed").split()[-1])

    def test_a_version_begins_new_and_is_stale_when_its_source_changes(self) -> None:
        engine = studio()
        raw = told_documents(["Bring string", "12.50", "Bring friends"])

        def act(name: str, **given: Any) -> None:
            nonlocal raw
            engine.read(raw)
            made = edits.apply(raw, expanded(engine, raw, [{"do": "act", "act": name, "given": given}]))
            raw = made.document

        def states() -> list[str]:
            return [p.state for p in pairs(engine.read(raw), "story", "en", "de")]

        act("add-version", version="de", language="de")
        self.assertEqual(states(), ["new", "done", "new"])
        put = {
            "do": "put",
            "at": ["copies", "story", "versions", "de", "paragraphs", 0, "runs"],
            "value": [{"text": "Schnur"}],
        }
        raw = edits.apply(raw, [put]).document
        self.assertEqual(states(), ["done", "done", "new"])
        put = {
            "do": "put",
            "at": ["copies", "story", "versions", "en", "paragraphs", 0, "runs"],
            "value": [{"text": "Bring rope"}],
        }
        raw = edits.apply(raw, [put]).document
        self.assertEqual(states(), ["stale", "done", "new"])
        act("keep-translation", copy="story", version="de", paragraphs=[0, 2])
        self.assertEqual(states(), ["done", "done", "done"])
        act("rename-version", version="en", to="en-draft")
        self.assertEqual([p.state for p in pairs(engine.read(raw), "story", "en-draft", "de")], ["done"] * 3)


class Home(unittest.TestCase):
    def take(self, raw: Raw, letter: Letter) -> Any:
        return homecoming(studio().read(raw), letter)

    def test_a_random_translation_is_taken_with_its_looks(self) -> None:
        draws = thrown(24)
        engine = studio()
        for _ in range(60):
            paragraphs = [random_paragraph(draws) for _ in range(draws.randint(1, 5))]
            paragraphs = [{**p, "align": draws.choice(["center", "end"])} for p in paragraphs]
            raw = document([frame()], *paragraphs)
            made = [content_of(p) for p in paragraphs]
            if not all(any(s.text.strip("\u0007 \u2028") for s in content.spans) for content in made):
                continue  # a page number alone is no words to translate
            units = [
                Unit(
                    "story",
                    n,
                    content,
                    "new",
                    tuple(Span(s.text.replace("\u0007", "")[::-1], s.code) for s in content.spans),
                )
                for n, content in enumerate(made)
            ]
            found = self.take(raw, read_xliff(write_xliff(Letter("en", "de", "en", "de", units))))
            self.assertEqual([one.problems for one in found.changes if one.problems], [])
            after = edits.apply(raw, list(found.operations)).document
            engine.read(after)
            there = after["copies"]["story"]["versions"]["de"]
            self.assertEqual(there["language"], "de")
            for paragraph, content, unit in zip(there["paragraphs"], made, units, strict=True):
                assert unit.target is not None
                self.assertEqual(paragraph["runs"], content.runs(unit.target))
                self.assertIn(paragraph["align"], ("center", "end"))

    def test_what_would_lose_something_is_not_taken(self) -> None:
        thing = {**frame(), "id": "badge"}
        thing.pop("frame")
        runs = [{"text": "See page "}, {"field": "page"}, {"text": " or "}, {"text": "call", "weight": 700}]
        raw = document([frame()], {"runs": runs}, {"runs": [{"text": "Then"}]})
        content: Content = content_of({"runs": runs})
        number, bold = (
            next(id for id, c in content.codes.items() if c.kind == kind) for kind in ("page-number", "look")
        )

        def come(*spans: Span, copy: str = "story", at: int = 0) -> Any:
            words = content_of(raw["copies"]["story"]["versions"]["en"]["paragraphs"][min(at, 1)])
            source = words.spans if at < 2 else (Span("Gone"),)
            return self.take(raw, Letter("en", "de", "en", "de", [_home(copy, at, source, spans)]))

        found = come(Span("Siehe Seite "), Span("", number), Span(" oder "), Span("ruf an", bold))
        self.assertEqual((found.changes[0].problems, found.changes[0].notes, len(found.operations)), ((), (), 1))
        found = come(Span("Siehe Seite "), Span("", number), Span(" oder ruf an"))
        self.assertEqual(found.changes[0].problems, ())
        self.assertIn("bold", found.changes[0].notes[0])
        for spans, said in (
            ((Span("Siehe oder ruf an"),), "missing: a page number"),
            ((Span("", number), Span("", number)), "2 times"),
            ((Span("", number), Span("x", "9")), "a code 9"),
            ((Span(" "),), "no words"),
            ((Span("", number), Span("a\nb")), "write it in one line"),
        ):
            found = come(*spans)
            self.assertIn(said, "; ".join(found.changes[0].problems))
            self.assertEqual(found.operations, ())
        self.assertIn("not there any more", come(Span("Dann"), at=7).changes[0].problems[0])
        with self.assertRaisesRegex(NestLineError, "none of the copies"):
            come(Span("Dann"), copy="other")

    def test_words_that_changed_meanwhile_come_home_stale_and_moved_ones_find_their_place(self) -> None:
        engine = studio()
        raw = told_documents(["one is here", "two is here", "three is here"])
        sent = letter_out(engine.read(raw), engine.nest(engine.read(raw)), "en", "de")
        units = [_home("story", u.number, u.content.spans, (Span(f"{u.number + 1}. Satz"),)) for u in sent.units]  # type: ignore[union-attr]
        now = told_documents(["nothing stood here", "one is here", "two is there", "three is here"])
        found = self.take(now, Letter("en", "de", "en", "de", units))
        after = engine.read(edits.apply(now, list(found.operations)).document)
        self.assertEqual([c.stale for c in found.changes if not c.problems], [False, True, False])
        states = {p.text: p.state for p in pairs(after, "story", "en", "de")}
        want = {"nothing stood here": "new", "one is here": "done", "two is there": "stale", "three is here": "done"}
        self.assertEqual(states, want)

    def test_only_what_is_new_goes_out_again_and_the_archive_shows_the_frames(self) -> None:
        engine = studio()
        raw = told_documents(["one", "two", "three"], ["eins", "zwei", "drei"], ["one", "tow", "three"])
        read = engine.read(raw)
        nests = engine.nest(read, "en")
        letter = letter_out(read, nests, "en", "de", "new")
        self.assertEqual([(u.number, u.state, u.target) for u in letter.units], [(1, "stale", (Span("zwei"),))])  # type: ignore[union-attr]
        notes = dict(letter.units[0].notes)  # type: ignore[union-attr]
        self.assertEqual(notes["changed"], "was: tow")
        pictures = frame_pictures(read, nests, engine.pdf(read, "en"), {notes["picture"]})
        with zipfile.ZipFile(io.BytesIO(archive_out(letter, pictures, "flyer"))) as archive:
            self.assertEqual(archive.namelist(), ["flyer.xlf", notes["picture"]])
            image = Image.open(io.BytesIO(archive.read(notes["picture"])))
        self.assertLess(min(image.convert("L").tobytes()), 120)  # its words are seen
        with self.assertRaisesRegex(NestLineError, "nothing is new"):
            letter_out(engine.read(told_documents(["one"], ["eins"])), nests, "en", "de", "new")


def _home(copy: str, number: int, source: tuple[Span, ...], target: tuple[Span, ...]) -> Any:
    from nestline.translating.xliff import Home

    return Home(copy, number, source, target)


class Tables(unittest.TestCase):
    def test_spreadsheets_that_write_semicolons_or_tabs_are_read(self) -> None:
        letter = letter_of(
            [{"runs": [{"text": "a; b\tc, “d”"}]}, {"runs": [{"text": "e", "weight": 700}, {"text": " f g h"}]}]
        )
        plain = write_table(letter)
        want = [(u.copy, u.number, u.target) for u in read_table(plain).units]  # type: ignore[union-attr]
        import csv

        rows = list(csv.reader(io.StringIO(plain.decode("utf-8-sig"))))
        for sign, coding in ((";", "utf-8"), ("\t", "utf-16"), (";", "utf-8-sig")):
            out = io.StringIO()
            csv.writer(out, delimiter=sign).writerows(rows)
            found = read_table(out.getvalue().encode(coding))
            self.assertEqual([(u.copy, u.number, u.target) for u in found.units], want)  # type: ignore[union-attr]
