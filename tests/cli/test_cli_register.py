"""The register, paper and the package by command."""

import csv
import json

import pytest
from calling import run
from pypdf import PdfReader
from sqlalchemy import delete

from able_yardstick.demo import fresh_copy
from able_yardstick.demo.visits import FOLDER
from able_yardstick.files.register.find import history
from able_yardstick.files.register.schema import RECORDS, USES, WORDS
from able_yardstick.files.register.store import Register


@pytest.fixture(autouse=True)
def keys(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


@pytest.fixture
def url(tmp_path):
    """A register with the earlier visits and the one of now in it."""
    return f"sqlite:///{tmp_path / 'register.sqlite'}"


@pytest.fixture
def shop(url, demo_file):
    """Asks the register, with the earlier visits and the one of now in it."""

    def ask(*words):
        return run("register", *words, "--url", url)

    assert "is ready" in ask("init")[1]
    assert "3 taken, 0 known" in ask("import", FOLDER)[1]
    status, out, _ = run("sign", demo_file, "PT-201", "--by", "Ada", "--accept", "trial", "--register", url)
    assert (status, "In the register" in out) == (0, True)
    return ask


def test_records_are_taken_found_and_stand_in_a_chain(shop, demo_file, tmp_path):
    records = demo_file.parent / "Kiln 2 records"
    assert "0 taken, 1 known already" in shop("import", records)[1]
    (tmp_path / "bad.record.json").write_text("{}")
    status, out, error = shop("import", tmp_path / "bad.record.json")
    assert "Refused" in error
    assert "0 taken" in out
    assert "0 taken, 1 known already. 11 units are new." in shop("import", demo_file)[1]
    assert "no record   TE-204   K2-004" in shop("find", "dryer")[1]
    (tmp_path / "old.yardstick.json").write_text("{}")
    assert "old.yardstick.json" in shop("import", tmp_path / "old.yardstick.json")[2]
    rows = json.loads(shop("find", "k2-001", "ada", "--json")[1])
    assert [(row["tag"], row["number"], row["left"]) for row in rows] == [("PT-201", 4, "pass")]
    assert "Nothing was found." in shop("find", "nobody")[1]
    visits = json.loads(shop("history", "K2-001", "--json")[1])
    assert [one["chain"] for one in visits] == ["first", *(3 * ["follows the one before"])]
    status, _, error = shop("history", "unknown")
    assert (status, "found none" in error) == (2, True)


def test_drift_and_the_next_visit_by_rule_or_by_a_person(shop, tmp_path):
    status, out, _ = shop("drift", "PT-201")
    assert (status, "it drifts +" in out) == (0, True)
    assert "control chart: " in out
    assert "needs a reason" in shop("plan", "PT-201", "--months", "7")[2]
    assert "Expected staircase or control chart" in shop("plan", "PT-201", "--method", "guess")[2]
    assert "every 7 months by a person (the kiln stops)" in shop(
        "plan", "PT-201", "--months", "7", "--reason", "the kiln stops", "--out-of-use"
    )[1]  # fmt: skip
    shop("due", "--csv", tmp_path / "due.csv", "--ics", tmp_path / "due.ics")
    (row,) = list(csv.DictReader((tmp_path / "due.csv").read_text().splitlines()))
    assert (row["tag"], row["rule"]) == ("PT-201", "a person")
    assert "BEGIN:VEVENT" in (tmp_path / "due.ics").read_text()
    assert json.loads(shop("due", "--json")[1])[0]["in_use"] is False


def test_what_rests_on_an_instrument_that_was_found_wrong(shop, tmp_path_factory):
    fresh = fresh_copy(tmp_path_factory.mktemp("unsigned"))
    out = shop("rests-on", "RP-12", "--since", "2025-06-01", "--correction", "0=0", "--correction", "300=-1.6")[1]
    assert out.count("PT-201") == 2
    assert "now fails" in out
    rows = json.loads(shop("rests-on", "2204-12", "--json")[1])
    assert [row["certificate"] for row in rows] == ["C-071", "C-071", "C-096", "C-114"]
    assert shop("rests-on", "RP-12", "--job", fresh)[1].splitlines()[-1].startswith("not signed  PT-201")
    assert "Expected --since as a day" in shop("rests-on", "RP-12", "--since", "then")[2]
    assert "READING=CORRECTION" in shop("rests-on", "RP-12", "--correction", "5")[2]
    assert "Expected init, import" in shop("lose")[2]


def test_a_sheet_a_label_and_a_package(demo_file, tmp_path):
    sheet, label, package = (tmp_path / name for name in ("sheet.pdf", "label.pdf", "job.zip"))
    assert run("sheet", demo_file, "PT-201", "--pdf", sheet)[0] == 0
    assert "Readings" in PdfReader(sheet).pages[0].extract_text()
    assert "is there already" in run("sheet", demo_file, "--pdf", sheet)[2]
    assert "is not signed yet" in run("label", demo_file, "PT-201", "--pdf", label)[2]
    run("sign", demo_file, "PT-201", "--by", "Ada", "--accept", "trial")
    assert run("label", demo_file, "PT-201", "--due", "2027-05-01", "--pdf", label)[0] == 0
    assert "2027-05-01" in PdfReader(label).pages[0].extract_text()
    assert "Say who hands it over" in run("hand-over", demo_file, "--zip", package)[2]
    assert run("hand-over", demo_file, "--zip", package, "--by", "Ada")[0] == 0
    status, out, _ = run("verify", package)
    assert (status, "every record as it was signed" in out) == (0, True)
    package.write_bytes(package.read_bytes().replace(b"READ ME.txt", b"READ_ME.txt"))
    status, out, _ = run("verify", package, "--json")
    data = json.loads(out)
    assert (status, data["whole"]) == (1, False)
    assert data["changes"] == ["READ_ME.txt was added", "READ ME.txt is gone"]


def test_a_figure_altered_on_a_page_is_named(demo_file, tmp_path):
    """The page is drawn anew with one figure changed; the record inside is the one that was signed."""
    from able_yardstick.app.paper.pdf import pdf_of
    from able_yardstick.app.paper.record_pdf import ATTACHED
    from able_yardstick.app.paper.typeset import A4, typeset
    from able_yardstick.app.paper.windowless import ready_to_draw
    from able_yardstick.core.sign.sheet import sheet_of

    run("sign", demo_file, "PT-201", "--by", "Ada", "--accept", "trial", "--json", tmp_path / "one.json")
    sealed = json.loads((tmp_path / "one.json").read_text())
    altered = json.loads(json.dumps(sealed["record"]))
    altered["proof"]["checks"][3]["error"] = -0.04
    ready_to_draw()
    pages = typeset(sheet_of(altered, sealed["sha256"], sealed["signatures"]))
    (tmp_path / "one.pdf").write_bytes(pdf_of(pages, A4, "x", (ATTACHED, json.dumps(sealed).encode())))
    status, out, _ = run("verify", tmp_path / "one.pdf")
    assert status == 1
    assert "CHANGED PAGE: “−0.140” of the record is not on the page" in out


def test_a_shop_trusts_keys_in_a_role_and_misses_what_was_removed_from_a_chain(shop, url, demo_file):
    (record,) = (demo_file.parent / "Kiln 2 records").glob("*.json")
    own = json.loads(run("key", "show", "--json")[1])["public"]
    status, out, _ = run("verify", record, "--register", url)
    assert (status, "record 4 of 4 of its unit in the register" in out) == (0, True)
    run("key", "trust", "Ada", own, "--register", url, "--role", "approver")
    out = run("verify", record, "--register", url)[1]
    assert "trusted as Ada, approver, and not in the role it was given in" in out
    run("key", "trust", "Ada", own, "--register", url, "--role", "technician")
    assert "signed by trusted as Ada (" in run("verify", record, "--register", url)[1]
    assert "Expected a public key" in run("key", "trust", "Ben", "abc", "--register", url)[2]
    with Register(url) as register:
        gone = history_hash(register, 3)
    with Register(url) as register, register.transaction() as connection:
        for table, column in ((USES, USES.c.record), (WORDS, WORDS.c.record), (RECORDS, RECORDS.c.sha256)):
            connection.execute(delete(table).where(column == gone))
    status, out, _ = run("verify", record, "--register", url)
    assert (status, f"broken: the record before it, {gone[:8]}, is missing" in out) == (1, True)
    assert f"the record before it, {gone[:8]}, is missing" in shop("history", "PT-201")[1]


def history_hash(register, number):
    """The hash of a unit's record of a number."""
    return next(one["sha256"] for one in history(register, "K2-001") if one["record"]["number"] == number)
