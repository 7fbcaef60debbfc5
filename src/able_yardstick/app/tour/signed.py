"""Pictures of what comes after a proof: the signed page, and the unit over its visits."""

from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication

if TYPE_CHECKING:
    from ...files.records.keys import SigningKey
    from ..frame.window import MainWindow

_AT = datetime(2026, 11, 16, 10, 5, tzinfo=UTC)
_WHY = "a diaphragm shows no hysteresis"


def signed_pictures(window: "MainWindow", folder: Path, own: Path) -> Iterator[Path]:
    """Sign the demo's gas pressure in a copy of its own, with a key of its own, and look at both views."""
    from ...demo import fresh_copy
    from ...files.records.keys import key_of_seed

    window.jobs.open_job(fresh_copy(own / "signed"))
    channel = window.bench.job.continuous("pt-201")
    window.bench.select(channel.id)
    _sign(window, key_of_seed(b"the tour's own key, of 32 bytes!"))
    window.bench.go("sign")
    yield _kept(window, folder, "sign")
    window.show_side("register")
    window.register.panel.plan()
    window.set_theme("night")
    yield _kept(window, folder, "register")
    window.leave_side()
    window.bench.go("describe")  # where the next job asks no register


def _sign(window: "MainWindow", key: "SigningKey") -> None:
    from ...core.job.people import name_person
    from ...core.sign.contents import Signing
    from ...files.records.signing import records_folder, sign_channel

    bench = window.bench
    bench.edit("technician", lambda job: name_person(job, "technician", "R. Adeyemi"))
    channel = bench.job.continuous("pt-201")
    last = window.shop.last_of(channel)
    signing = Signing(
        "R. Adeyemi", "technician", _AT, accepted=_WHY, previous=last.sha256, number=last.number + 1, read_at=3.3
    )
    assert bench.path is not None
    made = sign_channel(bench.job, channel, signing, key, records_folder(bench.path))
    bench.record(lambda job: job.entered(signatures=[made.job.journal.signatures[-1]]))
    window.shop.hand_in()


def _kept(window: "MainWindow", folder: Path, name: str) -> Path:
    for _ in range(8):
        QApplication.processEvents()
    path = folder / f"{name}.png"
    window.grab().save(str(path))
    return path
