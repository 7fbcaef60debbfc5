"""Every reader of what comes from outside: given bytes, each gives something or refuses in words."""

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path

from pydantic import ValidationError
from pypdf import PdfWriter

from able_yardstick.bench.columns import found_pattern, is_garbage
from able_yardstick.cli.points import curve_from
from able_yardstick.core.curves import AnyCurve, Table
from able_yardstick.core.document.register_constant import RegisterConstant, reckon
from able_yardstick.core.formula import parse
from able_yardstick.core.units.conversion import parse_unit
from able_yardstick.core.words.errors import YardstickError
from able_yardstick.core.words.numerals import parse_number
from able_yardstick.demo.visits import FOLDER as RECORDS
from able_yardstick.files.controllers import read_controller, shipped
from able_yardstick.files.jobfile import read_job
from able_yardstick.files.records.package import is_package, unpack, verified_package
from able_yardstick.files.records.printed import read_held
from able_yardstick.files.records.signed import verified
from able_yardstick.files.register.store import Register, url_of_file
from able_yardstick.files.register.take import take_record
from able_yardstick.files.register.visits import visits_in
from able_yardstick.files.tables import parse_grid, pick, read_text

_TABLE = "time (s);PT-201 [V];reference, kPa\n# a remark\n" + "".join(
    f"{n / 10:.1f};{0.5 + n / 40:.4f};{n * 1.5:.2f}\n" for n in range(60)
)
_LINES = "n=17, V=1.2345, T=20.1\nn=18, V=1.2350, T=20.1\nn=19, V=1.2361, T=20.2\n"
_CURVE = {"curve": Table.through([0.5, 2.5, 4.5], [0.0, 120.0, 250.0]).model_dump(mode="json")}
_CONSTANT = {"formula": "round_trip * 60 / belt", "unit": "1/min", "inputs": [
    {"name": "round_trip", "value": 12.5, "unit": "1/s"}, {"name": "belt", "value": 3.2, "unit": ""}]}  # fmt: skip


def _table(path: Path) -> None:
    grid = parse_grid(read_text(path))
    pick(grid, range(min(grid.width, 4)))


def _lines(path: Path) -> None:
    data = path.read_bytes()
    if is_garbage(data):
        return
    lines = data.decode("ascii", "replace").split("\n")
    pattern = found_pattern(lines[:3])
    for line in lines:
        pattern.values(line)


def _curve(path: Path) -> None:
    curve: AnyCurve = curve_from(path)
    low, high = curve.domain
    curve.value([low, (low + high) / 2, high])
    curve.slope([low, high])
    curve.turning_points()


def _constant(path: Path) -> None:
    try:
        described = RegisterConstant.model_validate_json(path.read_bytes())
    except ValidationError:  # which the command tells in words
        return
    reckon(described)


def _words(path: Path) -> None:
    text = path.read_bytes().decode("utf-8", "replace")
    for word in text.split():
        for reader in (parse_number, parse_unit, parse):
            try:
                reader(word)
            except YardstickError:
                continue


def _record(path: Path) -> None:
    held = read_held(path)
    found = verified(held.record)
    if found.is_whole:
        assert held.record["record"] == json.loads(_example_record())["record"], "a change was not seen"
        with Register(url_of_file(path.with_suffix(".sqlite"))) as register:
            take_record(register, held.record)
        visits_in([held.record])


def _package(path: Path) -> None:
    if is_package(path):
        verified_package(path)
        unpack(path, path.with_suffix(".unpacked"))


def _example_record() -> bytes:
    return min(RECORDS.glob("*.json"), key=lambda one: one.stat().st_size).read_bytes()


def _example_package() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("manifest.json", _example_record())
        archive.writestr("Kiln.yardstick.json", "{}")
    return out.getvalue()


def _example_pdf() -> bytes:
    """A page of words with a record inside, as a PDF library writes one."""
    made = PdfWriter()
    made.add_blank_page(200, 200)
    made.add_attachment("record.json", _example_record())
    out = io.BytesIO()
    made.write(out)
    return out.getvalue()


# each reader with an example of what it reads
READERS: dict[str, tuple[Callable[[Path], object], bytes]] = {
    "record": (_record, _example_record()),
    "record in a PDF": (_record, _example_pdf()),
    "package": (_package, _example_package()),
    "job": (read_job, b""),  # the demo's, put in by whoever runs it
    "table": (_table, _TABLE.encode()),
    "lines of text": (_lines, _LINES.encode()),
    "curve": (_curve, json.dumps(_CURVE).encode()),
    "register constant": (_constant, json.dumps(_CONSTANT).encode()),
    "controller": (
        read_controller,
        json.dumps({"format": "able-yardstick-controller", **shipped()[0].model_dump(mode="json")}).encode(),
    ),
    "words": (_words, b"12.5 1'250,5 -3e-2 kPa bar(g) l/min % O2 62.5*(V-0.5)/4 sqrt(a)+tc_k(b) m^2 kg/h 4095"),
}


def read_in_words(reader: Callable[[Path], object], path: Path) -> str:
    """Whether a reader took it or refused it; anything else is raised."""
    try:
        reader(path)
    except YardstickError as error:
        if len(str(error)) > 2000:
            raise AssertionError(f"a refusal of {len(str(error))} characters") from error
        return "refused"
    return "taken"
