"""Controllers' descriptions and wiring lists as files, and job files of the first version."""

import csv
import io
import json
from pathlib import Path

import pytest

from able_yardstick.core.words.errors import BadTable
from able_yardstick.files.controllers import FORMAT, read_controller, schema, shipped
from able_yardstick.files.jobfile import read_job
from able_yardstick.files.wiring import save_wiring_csv, wiring_csv, wiring_text


def test_three_made_up_controllers_ship():
    assert [one.name for one in shipped()] == ["Bench logger", "Kiln controller", "Small card"]
    for controller in shipped():
        assert all(terminal.kinds for terminal in controller.terminals if terminal.role == "input")
        returns = {terminal.id for terminal in controller.terminals if terminal.role == "return"}
        assert all(one.return_terminal in returns for one in controller.terminals if one.role == "input")


def test_a_controller_of_ones_own_is_read_back(tmp_path):
    path = tmp_path / "mine.json"
    plain = json.loads(shipped()[0].model_dump_json())
    path.write_text(json.dumps({"format": FORMAT, "version": 1, **plain}), encoding="utf-8")
    assert read_controller(path) == shipped()[0]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "line 1, column 2: this is no whole JSON text"),
        ("[]", "expected a controller's description"),
        ('{"format": "able-yardstick-controller"}', "id: Field required"),
        ('{"format": "able-yardstick-controller", "id": "a", "name": "A", "terminals": [{"id": "1"}, {"id": "1"}]}',
         "two terminals have the id 1"),
    ],
)  # fmt: skip
def test_a_wrong_description_is_refused_saying_where(tmp_path, text, words):
    path = tmp_path / "wrong.json"
    path.write_text(text, encoding="utf-8")
    with pytest.raises(BadTable) as refusal:
        read_controller(path)
    assert words in str(refusal.value)
    assert str(path) in str(refusal.value)


def test_a_missing_file_is_said(tmp_path):
    with pytest.raises(BadTable, match="cannot be read: No such file"):
        read_controller(tmp_path / "none.json")


def test_the_published_schema_is_the_one_in_use():
    published = json.loads((Path(__file__).parents[2] / "docs" / "controller-schema.json").read_text("utf-8"))
    assert published == schema()


def test_the_wiring_list_is_the_same_as_text_and_as_csv(demo_job, tmp_path):
    rows = list(csv.reader(io.StringIO(wiring_csv(demo_job))))
    assert rows[0][:4] == ["Tag", "Measures", "Lead", "Colour"]
    assert len(rows) == 1 + 3 + 2 + 2 + 3 + 2 + 4 + 3 * 4 + 2 + 2
    assert ["TY-213", "signal", "X8:1", "0 to 20 mA"] in [[row[0], row[2], row[5], row[10]] for row in rows]
    assert ["PT-202", "loop −", "white", "X4:3"] in [[row[0], row[2], row[3], row[5]] for row in rows]
    text = wiring_text(demo_job).splitlines()
    assert len(text) == len(rows)
    save_wiring_csv(tmp_path / "list.csv", demo_job)
    assert (tmp_path / "list.csv").read_text("utf-8") == wiring_csv(demo_job)
    with pytest.raises(BadTable, match="cannot be written"):
        save_wiring_csv(tmp_path / "nowhere" / "list.csv", demo_job)


def test_a_job_of_the_first_version_is_brought_to_this_one(tmp_path):
    channels = [
        {"kind": "continuous", "id": "a", "device": "d", "tag": "PT-1", "unit": "kPa",
         "transducer": {"unit": "kPa", "source": "data sheet"}},
        {"kind": "two-state", "id": "b", "device": "e", "tag": "PS-1", "signal_unit": "mA", "closed_level": 0,
         "open_level": 20, "threshold": 8},
    ]  # fmt: skip
    path = tmp_path / "old.yardstick.json"
    old = {"format": "able-yardstick-job", "version": 1, "id": "j", "channels": channels}
    path.write_text(json.dumps(old), encoding="utf-8")
    job = read_job(path)
    assert job.version == 5
    assert job.tagged("PT-1").transducer.source == "data sheet of the type"
    assert job.tagged("PS-1").signal_unit == "mA"
    assert json.loads(path.read_text("utf-8")) == old, "opening alone writes nothing"
