"""The attacks of bin/attack, for a moment each: so that none rots, and what they found once stays mended."""

import json
import random
import subprocess
import sys
from pathlib import Path

import pytest

from able_yardstick.core.curves import Table
from able_yardstick.core.results.basis import stale_fit, stale_look, stale_pack
from able_yardstick.demo import demo_text
from hostile.attack import ATTACKS
from hostile.mutations import mutated, mutated_bytes, places
from hostile.readers import READERS, read_in_words
from hostile.walks import walk_job

TESTS = Path(__file__).parents[1]


@pytest.mark.parametrize("name", ATTACKS)
def test_an_attack_finds_nothing_wrong(name):
    command = [sys.executable, "-m", "hostile.attack", "--one", name, "--seconds", "4", "--seed", "11"]
    run = subprocess.run(command, cwd=TESTS, capture_output=True, text=True, timeout=240)
    told = json.loads(run.stdout.splitlines()[-1])
    assert told["examples"] == {}
    assert told["wrong"] == 0
    assert told["tried"] > 0


@pytest.mark.parametrize("name", READERS)
def test_a_reader_takes_or_refuses_what_is_nearly_right(name, tmp_path):
    reader, example = READERS[name]
    path = tmp_path / "input.json"
    for seed in range(10 if name == "job" else 60):
        path.write_bytes(mutated_bytes(example or demo_text().encode(), random.Random(seed)))
        read_in_words(reader, path)


def test_every_change_is_one_that_can_be_made():
    tree = json.loads(demo_text())
    assert len(places(tree)) > 1000
    assert [mutated(tree, random.Random(seed))[0] != tree for seed in range(12)].count(False) < 3


def test_numbers_at_the_edge_of_what_is_taken_are_walked_through(tmp_path):
    """An accuracy of 1e308 %, a curve of 1e308, a shown value whose square is infinite: refused; 1e29: walked."""
    path = tmp_path / "job.yardstick.json"
    for value, told in ((1e308, "refused"), (1e29, "walked")):
        tree = json.loads(demo_text())
        tree["document"]["channels"][3]["transducer"]["accuracy"]["of_span"] = value
        path.write_text(json.dumps(tree))
        assert walk_job(path) == told


def test_a_curve_that_stands_upright_is_refused():
    for signals, values in (
        ((0.0, 5e-324, 1.0), (0.0, 1.0, 2.0)),
        ((0.0, 1e-308), (0.0, 1e3)),
        ((0.0, 1e308), (0.0, 1.0)),
    ):
        with pytest.raises(ValueError, match=r"upright|at most"):
            Table(signals=signals, values=values, domain=(signals[0], signals[-1]))


def test_a_name_in_a_basis_that_no_program_knows_is_left_alone(demo_job):
    job = demo_job
    fits = tuple(one.with_(basis={**one.basis, "from the future": "0123456789"}) for one in job.document.fits)
    packs = tuple(one.with_(basis={**one.basis, "<b>": "x"}) for one in job.journal.packs)
    odd = job.with_(document=job.document.with_(fits=fits), journal=job.journal.with_(packs=packs))
    for channel in odd.channels:
        if odd.fit_of(channel.id):
            assert stale_fit(odd, channel) == stale_fit(job, channel)
            assert stale_pack(odd, channel) == stale_pack(job, channel)
            assert stale_look(odd, channel) == stale_look(job, channel)


@pytest.mark.parametrize("tolerance", [1e-308, 5e-324, 1e-31])
def test_a_tolerance_next_to_nothing_is_walked_through(tolerance, tmp_path):
    path = tmp_path / "job.yardstick.json"
    tree = json.loads(demo_text())
    for number in (2, 7):
        tree["document"]["channels"][number]["tolerance"]["constant"] = tolerance
    path.write_text(json.dumps(tree))
    assert walk_job(path) == "walked"
