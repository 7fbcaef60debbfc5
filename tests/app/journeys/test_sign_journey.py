"""From a proven channel to a signed record: what is missing is said, a second person signs, a change is told."""

import json

import pytest
from acting import button, complaint, enter, field_named, go, pick, press, said, unfold, words
from pypdf import PdfReader

from able_yardstick.core.job.precautions import put_precaution
from able_yardstick.core.journal.records import SignedRecord
from able_yardstick.core.results.signed_basis import signatures_of
from able_yardstick.core.words.errors import NotApplicable
from able_yardstick.files.records.keys import key_folder, make_key
from able_yardstick.files.records.printed import read_held
from able_yardstick.files.records.signed import verified
from able_yardstick.files.records.signing import records_folder
from able_yardstick.files.register.find import history


@pytest.fixture(autouse=True)
def keys(tmp_path, monkeypatch):
    """Keys of this test's own."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


def records(window):
    return sorted(records_folder(window.bench.path).glob("*.record.json"))


def signed(window) -> tuple[SignedRecord, ...]:
    return signatures_of(window.bench.job, window.bench.continuous)


def test_a_channel_is_signed_approved_changed_and_corrected(window, qtbot, tmp_path, monkeypatch):
    panel = go(window, "PT-201", "sign")
    assert "Not signed yet." in words(panel)
    assert "not signed yet" in window.centre.page_view.sheet.texts
    enter(qtbot, field_named(panel, "Technician"), "Ada Tester")
    enter(qtbot, field_named(panel, "Approver"), "Ben Tester")
    # what is open is said, with where it is mended
    press(panel, "Say why it is accepted")
    assert "a hysteresis shows only in part" in words(panel)
    enter(qtbot, field_named(panel, "Accepted"), "a diaphragm shows no hysteresis")
    press(panel, "Sign as Ada Tester")
    assert complaint(panel) == ""
    assert "PT-201 is signed" in said(window)
    (record,) = records(window)
    assert verified(read_held(record).record).missing_roles == ("approver",)
    # the same person does not approve, nor does another with the same key
    press(panel, "Approve as Ben Tester")
    assert "another person's, with a key of their own" in complaint(panel)
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "ben"))
    press(panel, "Approve as Ben Tester")
    assert "Approved by Ben Tester" in words(panel)
    with window.shop.register() as register:  # the second signature reaches it too
        assert len(history(register, "K2-001")[-1]["signatures"]) == 2
    on_paper = read_held(record.with_name(record.name.removesuffix(".record.json") + ".pdf"))
    assert (on_paper.page_changes, verified(on_paper.record).missing_roles) == ((), ())
    assert signed(window)[-1].sha256[:8] in " ".join(window.centre.page_view.sheet.texts)
    # a signature is not undone; what changes afterwards is told, and signed anew with a reason
    channel = window.bench.continuous
    window.bench.undo()
    window.bench.edit("note", lambda job: at_other_note(job, channel))
    assert len(signed(window)) == 1
    assert "Record 4 no longer holds. Changed since: the description or the wiring" in words(panel).replace("\n", " ")
    enter(qtbot, field_named(panel, "Accepted"), "a diaphragm shows no hysteresis")
    enter(qtbot, field_named(panel, "Corrects it"), "the note was of another channel")
    press(panel, "Sign as Ada Tester")
    assert complaint(panel) == ""
    newest = max(records(window), key=lambda path: json.loads(path.read_text())["record"]["number"])
    data = json.loads(newest.read_text())["record"]
    assert (data["number"], data["previous"], data["corrects"]) == (5, *(2 * [signed(window)[0].sha256]))


def at_other_note(job, channel):
    from able_yardstick.core.job.channels import change_channel

    return change_channel(job, job.continuous(channel.id).with_(note="behind the burner"))


def test_what_was_taken_must_be_put_back_first_and_the_button_goes_there(window):
    window.bench.edit("bridged", lambda job: put_precaution(job, "Alarms bridged", "taken"))
    panel = go(window, "PT-201", "sign")
    assert "It cannot be signed yet." in words(panel)
    press(panel, "Go on to Pack")
    assert window.bench.step == "pack"


def test_a_key_with_a_passphrase_asks_for_it(window, qtbot):
    make_key(key_folder(), "long enough")
    panel = go(window, "PT-201", "sign")
    assert panel.passphrase.isVisibleTo(panel)
    enter(qtbot, field_named(panel, "Technician"), "Ada Tester")
    enter(qtbot, field_named(panel, "Accepted"), "trial")
    press(panel, "Sign as Ada Tester")
    assert "cannot be unlocked" in complaint(panel)
    assert "trial" in field_named(panel, "Accepted").entries[0].text()  # nothing is lost
    panel.passphrase.setText("long enough")
    press(panel, "Sign as Ada Tester")
    assert (complaint(panel), len(signed(window))) == ("", 1)


def test_every_channel_that_is_ready_is_signed_one_after_the_other(window, qtbot):
    panel = go(window, "PT-201", "sign")
    enter(qtbot, field_named(panel, "Technician"), "Ada Tester")
    for tag in ("PT-201", "AT-208"):
        enter(qtbot, field_named(go(window, tag, "sign"), "Accepted"), "trial")
    unfold(panel)
    press(panel, "Sign 3")
    qtbot.waitUntil(lambda: not panel.all.is_running and button(panel, "None is ready") is not None, timeout=20_000)
    assert [path.name[:6] for path in records(window)] == ["AT-208", "PS-211", "PT-201"]


def test_a_signed_job_goes_on_paper_and_into_one_file_that_opens_elsewhere(window, qtbot, tmp_path):
    panel = go(window, "PT-201", "sign")
    paper = panel.paper
    unfold(panel)
    with pytest.raises(NotApplicable, match="is not signed yet"):
        paper.record()
    enter(qtbot, field_named(panel, "Technician"), "Ada Tester")
    enter(qtbot, field_named(panel, "Accepted"), "trial")
    press(panel, "Sign as Ada Tester")
    pick(field_named(paper, "Paper"), "Letter")
    for name, made in (("record", paper.record()), ("label", paper.label()), ("sheet", paper.sheet()),
                       ("all", paper.sheets()), ("wiring", paper.wiring())):  # fmt: skip
        paper.save_pdf(made, tmp_path / f"{name}.pdf")
    assert verified(read_held(tmp_path / "record.pdf").record).is_whole
    assert PdfReader(tmp_path / "record.pdf").pages[0].mediabox.width == pytest.approx(612, abs=1)
    words_of = {name: "".join(PdfReader(tmp_path / f"{name}.pdf").pages[0].extract_text().split())
                for name in ("label", "sheet")}  # fmt: skip
    assert "K2-001" in words_of["label"]
    assert "Readings,rowbyrow" in words_of["sheet"]
    paper.save_package(tmp_path / "handed over.zip")
    assert "verify says what it proves" in said(window)
    # elsewhere
    job = window.bench.job
    window.jobs.open_job(tmp_path / "handed over.zip")
    assert window.bench.path.parent == tmp_path / "handed over"
    assert window.bench.job == job
    window.bench.select("pt-201")
    assert "Signed by Ada Tester" in words(go(window, "PT-201", "sign"))
    window.jobs.open_job(tmp_path / "handed over.zip")
    assert "is there already" in said(window)


def test_a_record_that_is_dropped_on_the_window_says_what_it_proves(window, qtbot):
    panel = go(window, "PT-201", "sign")
    enter(qtbot, field_named(panel, "Technician"), "Ada Tester")
    enter(qtbot, field_named(panel, "Accepted"), "trial")
    press(panel, "Sign as Ada Tester")
    (record,) = records(window)
    for path in (record, record.with_name(record.name.removesuffix(".record.json") + ".pdf")):
        window.take_file(path)
        assert "Record 4 of PT-201 is whole: nothing was changed since it was signed by Ada Tester" in said(window)
    data = json.loads(record.read_text())
    data["record"]["by"]["name"] = "Somebody Else"
    record.write_text(json.dumps(data))
    window.take_file(record)
    assert "is not as it was signed: by.name was changed" in said(window)


@pytest.mark.parametrize(("tag", "proves"), [("PS-211", "Rehearsed: pass"), ("TY-213", "As left: not known")])
def test_a_contact_and_an_output_are_signed_and_printed_too(window, qtbot, tmp_path, tag, proves):
    panel = go(window, tag, "sign")
    assert any(proves in text for text in window.centre.page_view.sheet.texts)
    enter(qtbot, field_named(panel, "Technician"), "Ada Tester")
    if tag == "TY-213":  # of which nothing was checked
        assert "1 point open" in words(panel)
        enter(qtbot, field_named(panel, "Accepted"), "put up for a trial")
    press(panel, "Sign as Ada Tester")
    assert (complaint(panel), "is signed" in said(window)) == ("", True)
    (record,) = records(window)
    assert read_held(record.with_name(record.name.removesuffix(".record.json") + ".pdf")).page_changes == ()
    unfold(panel)
    for name, made in (
        ("record", panel.paper.record()),
        ("label", panel.paper.label()),
        ("sheet", panel.paper.sheet()),
    ):
        panel.paper.save_pdf(made, tmp_path / f"{name}.pdf")
        assert PdfReader(tmp_path / f"{name}.pdf").pages
    window.show_side("register")
    assert window.shop.unit.tag == tag
    unfold(window.panel_shown)
    if tag == "PS-211":
        assert "A contact has no errors along a range" in words(window.panel_shown)
        assert "5 of 5 steps seen as expected" in words(window.panel_shown)
        enter(qtbot, field_named(window.panel_shown, "or months"), "6")
        enter(qtbot, field_named(window.panel_shown, "because"), "the burner's own rule")
        press(window.panel_shown, "Plan the visit")
        assert window.shop.unit.due.months == 6
