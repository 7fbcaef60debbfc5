"""Reading what is in a controller: by hand from typed pairs, and by itself through the rig's injected signal."""

import numpy as np
import pytest
from acting import complaint, press

from able_yardstick.app.steps.pack.injection import PAIRS
from able_yardstick.app.steps.pack.recover_dialog import RecoverDialog
from able_yardstick.bench.rig.layout import with_places
from able_yardstick.core.job.in_force import kept_packing
from able_yardstick.core.job.instruments import change_sources
from rigging import places_of, start_rig, stop_rig


@pytest.fixture(scope="module")
def rig():
    process, told = start_rig("--seed", "7")
    yield places_of(told)
    stop_rig(process)


def test_typed_pairs_say_what_makes_them_and_are_kept_as_found(window, qtbot):
    window.bench.select("pt-201")
    dialog = RecoverDialog(window.bench, window.live, None, window)
    qtbot.addWidget(dialog)
    dialog.show()
    assert not dialog.by_itself.isVisible()
    assert dialog.following.text() == "Begin with 0 and 5 V."
    signals = np.linspace(0, 5, 11)
    counts = np.round(signals / 5 * 4095)
    shown = np.round(counts * 312.5 / 4095 - 31.2, 1)  # 62.5 kPa/V, -31.2 kPa
    rows = "\n".join(f"{signal:g}\t{value:g}" for signal, value in zip(signals, shown, strict=True))
    dialog.pairs.text.setPlainText(rows)
    dialog.pairs.take.click()
    assert "Straight" in dialog.says.text()
    assert dialog.following.text().startswith("Next: ")
    press(dialog, "Keep as found in the controller")
    kept = window.bench.job.pack_of("pt-201")
    assert kept.reason == "as found in the controller"
    assert kept.form.slope == pytest.approx(62.5, rel=2e-3)
    assert kept.form.offset == pytest.approx(-31.2, abs=0.1)


def test_what_cannot_be_pairs_is_said_in_place(window, qtbot):
    window.bench.select("pt-201")
    dialog = RecoverDialog(window.bench, window.live, None, window)
    qtbot.addWidget(dialog)
    dialog.pairs.text.setPlainText("1\t5\n1\t6")
    dialog.pairs.take.click()
    assert "Two different counts are needed" in complaint(dialog)


def test_the_rig_is_read_by_itself_and_its_numbers_come_out(window, rig, qtbot):
    """From its controller alone: a signal at the terminal, and what is shown."""
    window.bench.edit("the rig", lambda job: change_sources(job, with_places(job, rig)))
    window.live.connect_all()
    window.bench.select("pt-202")
    channel = window.bench.continuous
    inside = window.bench.job.pack_of("pt-202").form  # which the rig comes with
    qtbot.waitUntil(lambda: window.live.raw(channel) is not None and window.live.shown(channel) is not None)
    dialog = RecoverDialog(window.bench, window.live, rig.knobs, window)
    qtbot.addWidget(dialog)
    dialog.show()
    press(dialog, "Read it by injection")
    qtbot.waitUntil(dialog.by_itself.isEnabled, timeout=60_000)
    assert complaint(dialog) == ""
    assert len(dialog.pairs.text.toPlainText().splitlines()) <= PAIRS
    press(dialog, "Keep as found in the controller")
    kept = kept_packing(window.bench.job, window.bench.job.continuous("pt-202"))
    converter = channel.path.converter
    counts = np.array([converter.count_of(volts) for volts in (1.2, 2.9, 4.4)])
    assert kept.form.shown(counts, converter) == pytest.approx(inside.shown(counts, converter), abs=0.05)
    window.live.disconnect_all()
