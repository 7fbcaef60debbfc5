"""Pack's list before and after, in the real window."""

from acting import complaint, go, press


def test_the_list_is_ticked_refused_and_put_back(window, qtbot):
    panel = go(window, "PT-201", "pack")
    panel.around_part.head.click()
    box = panel.around
    press(box, "Done")  # the first row
    assert "to put back: Control loop in manual" in panel.around_part.summary
    qtbot.wait(50)  # until the row stands anew
    press(box, "×")
    assert "taken and not put back" in complaint(box)
    assert "Put back at the end: Control loop in manual" in go(window, "PT-201", "prove").lead_box.more.text()
    panel = go(window, "PT-201", "pack")
    qtbot.wait(50)
    press(box, "Put back")
    assert panel.around_part.summary == "nothing to put back"
    box.more.setText("Flame guard looked at")
    qtbot.keyClick(box.more, "\r")
    assert "Flame guard looked at" in [one.name for one in window.bench.job.document.precautions]
    assert "Low alarm: trips by these numbers" in box.users.text()
