"""The simulated plant from the window's side: its process, and its knobs as a person's hands."""

import json
import sys
from typing import Any

from PySide6.QtCore import QObject, QProcess, QTimer, Signal
from PySide6.QtNetwork import QAbstractSocket, QTcpSocket

from ...bench.rig.knobs import KnobRow
from ...bench.rig.layout import HOST, Places

DEMO_FAULTS = ("AT-209=chassis-ground offset", "FT-210=missing pull-up")
_STATE_MS = 400
_STOP_MS = 2000


class RigProcess(QObject):
    """Starts the rig as a process of its own, and tells where it serves."""

    serving = Signal(object)  # Places
    stopped = Signal(str)  # why; empty if it was asked to

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._process: QProcess | None = None
        self._wanted_end = False
        self.places: Places | None = None
        self.missing: tuple[str, ...] = ()  # what it does without, and why

    @property
    def is_on(self) -> bool:
        """Whether it runs."""
        return self._process is not None

    def start(self, job_path: str, faults: tuple[str, ...] = ()) -> None:
        """Simulate the channels of a job file, with these faults to begin with."""
        if self.is_on:
            return
        self._wanted_end = False
        process = QProcess(self)
        arguments = ["-m", "able_yardstick", "rig", "--free-ports", "--job", job_path]
        for fault in faults:
            arguments += ["--fault", fault]
        process.readyReadStandardOutput.connect(self._read)
        process.finished.connect(self._ended)
        process.start(sys.executable, arguments)
        self._process = process

    def stop(self) -> None:
        """Ask it to end; `stopped` tells when it has."""
        if self._process is not None:
            self._wanted_end = True
            self._process.terminate()
            QTimer.singleShot(_STOP_MS, self._process, self._process.kill)

    def wait(self) -> None:
        """Until it has ended: for the end of the program."""
        if self._process is not None and not self._process.waitForFinished(_STOP_MS):
            self._process.kill()
            self._process.waitForFinished(_STOP_MS)

    def _read(self) -> None:
        if self._process is None or self.places is not None or not self._process.canReadLine():
            return
        told = json.loads(bytes(self._process.readLine().data()))
        self.places = Places(
            told["modbus"]["port"], told["gauge"]["port"], told["meter"]["port"], told["knobs"]["port"],
            told["logger"]["device"],
        )  # fmt: skip
        self.missing = tuple(told["missing"])
        self.serving.emit(self.places)

    def _ended(self) -> None:
        if self._process is None:
            return
        words = bytes(self._process.readAllStandardError().data()).decode("utf-8", "replace").strip()
        why = "" if self._wanted_end else words.splitlines()[-1] if words else "The rig ended."
        self._process.deleteLater()
        self._process, self.places, self.missing = None, None, ()
        self.stopped.emit(why)


class KnobLink(QObject):
    """Lines of JSON to the plant and back, without waiting."""

    state = Signal(object)  # tuple of KnobRow
    probe = Signal(object)  # tag and point, or None
    outputs = Signal(object)  # tags of the outputs
    refused = Signal(str)

    def __init__(self, port: int, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._socket = QTcpSocket(self)
        self._rest = b""
        self._socket.readyRead.connect(self._read)
        self._socket.connectToHost(HOST, port)
        self._waiting: list[dict[str, Any]] = []
        self._socket.connected.connect(self._flush)
        self._timer = QTimer(self)
        self._timer.setInterval(_STATE_MS)
        self._timer.timeout.connect(lambda: self.turn(do="state"))
        self._timer.start()

    def turn(self, **wanted: Any) -> None:
        """Ask for one thing; the plant's state follows."""
        self._waiting.append(wanted)
        self._flush()

    def _flush(self) -> None:
        if self._socket.state() != QAbstractSocket.SocketState.ConnectedState:
            del self._waiting[:-20]
            return
        for wanted in self._waiting:
            self._socket.write(json.dumps(wanted).encode() + b"\n")
        self._waiting.clear()

    def _read(self) -> None:
        whole = (self._rest + bytes(self._socket.readAll().data())).split(b"\n")
        self._rest = whole.pop()
        for line in whole:
            told = json.loads(line)
            if "error" in told:
                self.refused.emit(str(told["error"]))
                continue
            self.state.emit(tuple(KnobRow(**{**row, "faults": tuple(row["faults"])}) for row in told["rows"]))
            self.outputs.emit([row[0] for row in told.get("outputs", ())])
            self.probe.emit(tuple(told["probe"]) if told["probe"] else None)

    def close(self) -> None:
        """End it."""
        self._timer.stop()
        self._socket.abort()
