"""Something that talks over a wire, done in a thread of its own: the window never waits for an answer."""

import logging
import threading
import time
from collections.abc import Callable
from queue import Empty, SimpleQueue
from typing import Any, NamedTuple

from PySide6.QtCore import QObject, QTimer

from ...core.words.errors import YardstickError

log = logging.getLogger(__name__)
PATIENCE_S = 0.1  # what is over by then is shown at once
_LOOK_MS = 30
Ask = Callable[[Callable[[], None]], None]  # has something done in the window's thread, and waits until it is
Talk = Callable[[Ask], Any]


class _Message(NamedTuple):
    """Something to be done in the window's thread; the talk is over with the last."""

    act: Callable[[], None]
    is_last: bool = False


class Beside(QObject):
    """Runs one talk at a time; what came of it is told in the window's thread."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._messages: SimpleQueue[_Message] = SimpleQueue()
        self.is_running = False
        self._timer = QTimer(self, interval=_LOOK_MS)
        self._timer.timeout.connect(lambda: self._take(0.0))

    def run(self, talk: Talk, done: Callable[[Any], None], refused: Callable[[str], None]) -> None:
        """Begin a talk; its result, or why there is none, follows."""
        assert not self.is_running
        self.is_running = True

        def work() -> None:
            try:
                found = talk(self._ask)
            except YardstickError as error:
                words = str(error)
                last = _Message(lambda: refused(words), True)
            except Exception as error:  # a fault of ours must not leave the window waiting
                log.exception("beside the window")
                fault = f"A fault in the program: {error or type(error).__name__}."
                last = _Message(lambda: refused(fault), True)
            else:
                last = _Message(lambda: done(found), True)
            self._messages.put(last)

        threading.Thread(target=work, name="beside the window", daemon=True).start()
        self._take(PATIENCE_S)

    def _ask(self, act: Callable[[], None]) -> None:
        """In the talk's thread: have something done in the window's. Raises: what that refuses."""
        is_done = threading.Event()
        refusal: list[YardstickError] = []

        def answered() -> None:
            try:
                act()
            except YardstickError as error:
                refusal.append(error)
            is_done.set()

        self._messages.put(_Message(answered))
        is_done.wait()
        if refusal:
            raise refusal[0]

    def _take(self, patience_s: float) -> None:
        until = time.monotonic() + patience_s
        while True:
            try:
                message = self._messages.get(timeout=max(until - time.monotonic(), 0.001))
            except Empty:
                self._timer.start()
                return
            if message.is_last:
                self.is_running = False
                self._timer.stop()
            message.act()
            if message.is_last:
                return
