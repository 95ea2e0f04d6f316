"""`./nest set`: set a document by hand, without server, database or browser.

    ./nest set DOCUMENT.json [--version en] [--strain +30] [--lines OUT.json] [--findings OUT.json] [--strict]
        [--pdf OUT.pdf] [--png DIR] [--svg DIR] [--dpi 150]

What is wrong is said in one line that names the field; the exit status is then 2 and nothing is written. With --strict
it is 3 where faults are found that nobody has set aside; all that was asked for is written.
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

from nestline.document import limits
from nestline.errors import NestLineError
from nestline.pictures.files import PictureFile, read_picture

if TYPE_CHECKING:
    from nestline.findings.strain import Strain


class _Arguments(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        print(
            f"{self.prog}: {message}; see {'./nest help' if self.prog == OURS else f'{self.prog} --help'}",
            file=sys.stderr,
        )
        raise SystemExit(2)


OURS = "./nest set"


def _called() -> str:
    """What whoever runs this called it: the package brings a command of its own."""
    return "nestline" if Path(sys.argv[0]).name == "nestline" else OURS


def folder_pictures(folder: Path):  # type: ignore[no-untyped-def]
    """Pictures by their file names relative to a folder, each read once."""
    known: dict[str, PictureFile] = {}

    def picture(name: str) -> PictureFile:
        if name not in known:
            path = folder / name
            if not path.is_file():
                raise NestLineError(f"there is no picture “{name}” beside the document; looked for {path}")
            known[name] = read_picture(path.read_bytes())
        return known[name]

    return picture


def main(arguments: list[str] | None = None) -> int:
    parser = _Arguments(prog=_called(), description="Set a document of the open format.")
    parser.add_argument("document", type=Path)
    parser.add_argument("--version", help="which version of the copies to set")
    parser.add_argument(
        "--strain", type=float, metavar="PERCENT", help="set it as if copy were so much longer: +30, -20"
    )
    parser.add_argument(
        "--words", metavar="LANGUAGE", help="with --strain: in made-up words of this language, such as de or ar"
    )
    parser.add_argument("--type", type=float, metavar="PERCENT", help="with --strain: type larger by so much")
    parser.add_argument("--lines", type=Path, help="write what stands where, as JSON")
    parser.add_argument("--pdf", type=Path, help="write a PDF")
    parser.add_argument("--png", type=Path, help="write a PNG of each page into this folder")
    parser.add_argument("--dpi", type=float, default=150)
    parser.add_argument("--findings", type=Path, help="write what is wrong, as JSON")
    parser.add_argument("--strict", action="store_true", help="exit with 3 where faults are found")
    parser.add_argument("--svg", type=Path, help="write an SVG of each page into this folder")
    parser.add_argument("--svg-letters", choices=("outlines", "text"), default="outlines", help="letters of the SVG")
    options = parser.parse_args(arguments)
    try:
        written, faults = _outputs(options)
        for path, content in written:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(content)
    except (NestLineError, OSError) as error:
        message = str(error) if isinstance(error, NestLineError) else f"{error.filename}: {error.strerror}"
        print(message, file=sys.stderr)
        return 2
    if options.strict and faults:
        for message in faults:
            print(message, file=sys.stderr)
        return 3
    return 0


def _outputs(options: argparse.Namespace) -> tuple[list[tuple[Path, bytes]], list[str]]:
    """The files that are asked for, and the faults in words, where they are."""
    from nestline.output.lines import lines_report
    from nestline.studio import Studio

    if not 1 <= options.dpi <= 2400:
        raise NestLineError(f"--dpi {options.dpi:g} will not do; write a figure from 1 to 2400")
    raw = read_json(options.document)
    studio = Studio(folder_pictures(options.document.parent))
    limits.check_counts(raw)
    document = studio.read(raw)
    studio.check_whole(document)
    if options.version:
        names = {name for versions in document.copies.values() for name in versions}
        if options.version not in names:
            known = ", ".join(sorted(names)) or "none"
            raise NestLineError(f"no copy has a version “{options.version}”; versions are: {known}")
    if (strain := _strain(options)) is not None:
        from nestline.document.edits import apply
        from nestline.findings.strain import strained

        operations = strained(document, strain, options.version)
        document = studio.read(apply(document.raw, operations).document)
    nests = studio.nest(document, options.version)
    out: list[tuple[Path, bytes]] = []
    faults: list[str] = []
    if options.findings or options.strict:
        from nestline.findings.finder import Finder, faults_in, findings_report

        found = Finder(studio).find(document, nests)
        faults = [f"page {one.page + 1}: {one.message}" for one in faults_in(found)]
        if options.findings:
            report = json.dumps(findings_report(found), ensure_ascii=False, indent=1)
            out.append((options.findings, report.encode()))
    if options.lines:
        out.append((options.lines, json.dumps(lines_report(nests), ensure_ascii=False, indent=1).encode()))
    if options.svg:
        for page in range(len(document.pages)):
            out.append(
                (options.svg / f"page-{page + 1}.svg", studio.svg(document, page, options.svg_letters, options.version))
            )
    if options.pdf or options.png:
        pdf = studio.pdf(document, options.version)
        if options.pdf:
            out.append((options.pdf, pdf))
        if options.png:
            from nestline.output.png import png_pages

            for number, content in enumerate(png_pages(pdf, options.dpi), 1):
                out.append((options.png / f"page-{number}.png", content))
    return out, faults


def _strain(options: argparse.Namespace) -> Strain | None:
    """What the document is to be put under; None where nothing is asked for. Raises NestLineError."""
    if options.strain is None and options.type is None and options.words is None:
        return None
    from nestline.findings.strain import GREATEST, LARGEST_TYPE, LEAST, TONGUES, Strain

    by, larger = options.strain or 0.0, options.type or 0.0
    if not LEAST <= by <= GREATEST:
        raise NestLineError(f"--strain {by:+g} will not do; write a figure from {LEAST:g} to +{GREATEST:g}")
    if not 0 <= larger <= LARGEST_TYPE:
        raise NestLineError(f"--type {larger:+g} will not do; write a figure from 0 to +{LARGEST_TYPE:g}")
    if options.words is not None and options.words not in TONGUES:
        raise NestLineError(f"there are no made-up words of “{options.words}”; there are: {', '.join(TONGUES)}")
    strain = Strain(by, options.words, larger)
    return None if strain == Strain() else strain


def read_json(path: Path) -> object:
    """A JSON file. Raises NestLineError in one line."""
    try:
        text = path.read_text("utf-8-sig")
    except FileNotFoundError:
        raise NestLineError(f"there is no file {path}") from None
    except UnicodeDecodeError:
        raise NestLineError(f"{path} is not UTF-8 text; save it as UTF-8") from None
    return limits.parse(text, str(path))


if __name__ == "__main__":
    raise SystemExit(main())
