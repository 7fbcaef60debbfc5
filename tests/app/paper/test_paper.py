"""Pages: nothing outside the paper, tables broken with their heads, every word found again in the PDF, changes seen."""

import json
import unicodedata
from datetime import UTC, datetime

import numpy as np
import pytest
from pypdf import PdfReader

from able_yardstick.app.paper.label import LABEL, label_page
from able_yardstick.app.paper.page import Fill, MarkAt, Stroke, Text
from able_yardstick.app.paper.pdf import pdf_of
from able_yardstick.app.paper.record_pdf import record_pdf
from able_yardstick.app.paper.typeset import A4, LETTER, paper_named, typeset
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.sign.blocks import Facts, PrintedSheet, RulePicture, SideBySide, Tabled, Words
from able_yardstick.core.sign.contents import Signing, draft_of
from able_yardstick.core.sign.field_sheet import field_sheet, wiring_sheet
from able_yardstick.core.sign.sheet import sheet_of
from able_yardstick.core.words.errors import BadTable
from able_yardstick.core.words.tolerance import Tolerance
from able_yardstick.files.records.keys import key_of_seed
from able_yardstick.files.records.printed import read_held
from able_yardstick.files.records.signed import Signer, sealed, verified

NOON = datetime(2026, 11, 29, 12, tzinfo=UTC)
CHANNELS = ("pt-201", "pt-202", "tt-203", "te-205", "at-208", "at-209", "ft-210", "ps-211", "ty-213")


def drafted(job, channel_id):
    return draft_of(job, job.signable(channel_id), Signing("Ada", "technician", NOON), "1.0")


def sealed_of(job, channel_id):
    return sealed(drafted(job, channel_id), key_of_seed(b"1" * 32), Signer("Ada", "technician", NOON.isoformat()))


@pytest.fixture
def signed(demo_job):
    return sealed_of(demo_job, "pt-201")


def ends(item):
    """The left, top, right and bottom of what is drawn; of a text those of its place."""
    match item:
        case Text():
            where = item.where
            return where.left(), where.top(), where.right(), where.bottom()
        case Stroke():
            line = item.line
            return (
                min(line.x1(), line.x2()),
                min(line.y1(), line.y2()),
                max(line.x1(), line.x2()),
                max(line.y1(), line.y2()),
            )
        case Fill():
            return item.shape.boundingRect().getCoords()
        case MarkAt():
            return item.at.x(), item.at.y(), item.at.x(), item.at.y()


def assert_inside(pages, paper):
    for page in pages:
        for item in page.drawn:
            left, top, right, bottom = ends(item)
            assert left >= 0, item
            assert top >= 0, item
            assert right <= paper.width + 1, item
            assert bottom <= paper.height + 1, item


def plain(text):
    return "".join(unicodedata.normalize("NFKC", text).split())


@pytest.mark.parametrize("channel_id", CHANNELS)
@pytest.mark.parametrize("paper", [A4, LETTER])
def test_every_channel_takes_one_to_three_pages_and_stays_on_them(qapp, demo_job, channel_id, paper):
    pages = typeset(sheet_of(drafted(demo_job, channel_id)), paper)
    assert 1 <= len(pages) <= 3
    assert_inside(pages, paper)
    feet = [
        item.text for page in pages for item in page.drawn if isinstance(item, Text) and item.text.startswith("page ")
    ]
    assert feet == [f"page {n} of {len(pages)}" for n in range(1, len(pages) + 1)]


def test_without_errors_or_a_limit_nothing_is_graduated(demo_job):
    channel = demo_job.continuous("tt-203").with_(tolerance=Tolerance(), name="")
    job = change_channel(demo_job, channel)
    sheet = sheet_of(drafted(job, "tt-203"))
    picture = next(block for block in sheet.blocks if isinstance(block, RulePicture))
    assert (picture.levels, picture.errors, picture.allowed) == ((), (), ())
    assert sheet.subtitle == "TT-203 · Quillstone Tileworks, Kiln 2"


def test_every_word_of_a_record_is_found_again_in_its_pdf(qapp, signed, tmp_path):
    path = tmp_path / "record.pdf"
    path.write_bytes(record_pdf(signed))
    words = plain("".join(page.extract_text() for page in PdfReader(path).pages))
    for text in sheet_of(signed["record"], signed["sha256"], signed["signatures"]).texts:
        assert plain(text) in words
    held = read_held(path)
    assert (held.record, held.page_changes, held.is_compared) == (signed, (), True)


def test_a_long_table_goes_on_under_its_head_and_a_long_text_is_broken(qapp):
    rows = tuple((f"row {n}", f"{n}") for n in range(200))
    text = "a sentence that goes on for a while. " * 30
    sheet = PrintedSheet("T", "s", ("a",), (Tabled("Long", ("name", "number"), rows), Words("Said", text)), "foot")
    pages = typeset(sheet)
    assert len(pages) == 4
    assert_inside(pages, A4)
    heads = [sum(item.text == "number" for item in page.drawn if isinstance(item, Text)) for page in pages]
    assert heads[:3] == [1, 1, 1]
    told = [item.text for page in pages for item in page.drawn if isinstance(item, Text)]
    assert [one for one in told if one.startswith("row ")] == [name for name, _number in rows]


def test_blocks_beside_each_other_share_the_width_and_the_height(qapp):
    left, right = Facts("L", (("a", "1"), ("b", "2"), ("c", "3"))), Words("R", "short")
    (page,) = typeset(PrintedSheet("T", "s", (), (SideBySide(left, right), Words("Below", "x")), "foot"))
    tops = {item.text: item.where.top() for item in page.drawn if isinstance(item, Text)}
    assert tops["L"] == tops["R"]
    assert tops["Below"] > tops["c"]


def test_sheets_for_the_field_and_the_wiring_stay_on_their_pages(qapp, demo_job):
    whole = typeset(field_sheet(demo_job, demo_job.channels), LETTER)
    assert_inside(whole, LETTER)
    told = [item.text for page in whole for item in page.drawn if isinstance(item, Text)]
    assert any("PT-201  Burner gas pressure" in text for text in told)
    one = typeset(field_sheet(demo_job, [demo_job.continuous("pt-201")]))
    stops = [item.text for item in one[0].drawn if isinstance(item, Text)]
    assert stops.count("250") == 2  # up, and down again
    wired = typeset(wiring_sheet(demo_job))
    assert any(item.text == "X4:2" for page in wired for item in page.drawn if isinstance(item, Text))


def test_a_label_holds_its_code_and_its_words(qapp, signed):
    page = label_page(signed, "2027-05-01")
    assert_inside([page], LABEL)
    told = [item.text for item in page.drawn if isinstance(item, Text)]
    assert told[:5] == ["PT-201", "Burner gas pressure", "serial K2-001", "signed 2026-11-29", "due 2027-05-01"]
    assert sum(isinstance(item, Fill) for item in page.drawn) > 400


def test_a_paper_that_nobody_has_is_refused():
    assert paper_named("letter") is LETTER
    with pytest.raises(BadTable, match="Expected A4 or Letter"):
        paper_named("B5")


@pytest.mark.slow
def test_changes_of_bytes_anywhere_in_a_pdf_are_seen_or_change_nothing(qapp, demo_job, tmp_path):
    """Of the page, of the record inside, or of how both are packed; of a contact, which is the shortest to read."""
    signed = sealed_of(demo_job, "ps-211")
    data, path = record_pdf(signed), tmp_path / "record.pdf"
    draw = np.random.default_rng(5)
    for at in draw.integers(0, len(data), 250):
        path.write_bytes(data[:at] + bytes([data[at] ^ int(draw.integers(1, 256))]) + data[at + 1 :])
        try:
            held = read_held(path)
            found = verified(held.record)
        except BadTable:
            continue
        assert not found.is_whole or held.record == signed


def test_two_files_inside_a_pdf_or_none_are_no_record(qapp, tmp_path, demo_job):
    pages = typeset(PrintedSheet("T", "s", (), (), "foot"))
    (tmp_path / "none.pdf").write_bytes(pdf_of(pages, A4, "none"))
    with pytest.raises(BadTable, match="holds 0 files"):
        read_held(tmp_path / "none.pdf")
    (tmp_path / "other.pdf").write_bytes(pdf_of(pages, A4, "x", ("record.json", json.dumps([1]).encode())))
    with pytest.raises(BadTable, match="is no record"):
        read_held(tmp_path / "other.pdf")
