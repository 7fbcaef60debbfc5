"""What is looked at in the register, and what is handed in: one holder for its picture, its panel and Sign."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from PySide6.QtCore import QObject, QTimer, Signal

from ...core.document.channel import SignableChannel
from ...core.drift.trend import DriftTrend, trend_of
from ...core.drift.visit import Visit
from ...core.drift.words import worst_stop
from ...core.job.people import person_of
from ...core.sign.chain import LastRecord
from ...core.words.errors import YardstickError
from ...files.register.handing import HandingIn
from ..frame.beside import Ask, Beside
from ..frame.settings import Settings
from ..frame.workbench import Say, Workbench

if TYPE_CHECKING:
    from ...core.document.controller import Controller
    from ...files.register.find import DueUnit, FoundRecord, FoundUnit
    from ...files.register.handing import HandedIn
    from ...files.register.store import Register


_AFTER_THE_PAGE_MS = 30


class UnitSeen(NamedTuple):
    """A unit by its key, its sealed records, its visits, the drift over them, and when it is due."""

    key: str
    records: tuple[dict[str, Any], ...]
    visits: tuple[Visit, ...]
    trend: DriftTrend | None
    due: "DueUnit | None"

    @property
    def tag(self) -> str:
        """As it is called now."""
        return str(self.records[-1]["record"]["channel"]["tag"]) if self.records else self.key

    @property
    def title(self) -> str:
        """Tag, name and serial."""
        if not self.records:
            return self.key
        record = self.records[-1]["record"]
        serial = (record.get("unit") or {}).get("serial") or "serial not stated"
        return f"{self.tag} {record['channel']['name']}, {serial}"


class Shop(QObject):
    """The register of the job's folder, or the one whose URL is set; opened when it is first asked."""

    changed = Signal()
    chained = Signal()  # the last record of the unit looked at is known now

    def __init__(self, bench: Workbench, settings: Settings, say: Say, parent: QObject) -> None:
        super().__init__(parent)
        self.bench, self.settings, self.say = bench, settings, say
        self._opened: Register | None = None
        self.unit: UnitSeen | None = None
        self.stop: float | None = None  # the value whose errors are drawn large; None: where it drifts most
        self.refusal = ""
        self._last: dict[str, LastRecord] = {}
        self._wanted = ""
        self._handing = HandingIn()
        self._loading = Beside(self)
        self.busy = ""  # what is being done, and how far
        self._waiting: list[Callable[[], None]] = []

    # -- the register -----------------------------------------------------------------------------------------------

    @property
    def url(self) -> str:
        """Where the register is: as set, else a file beside the job."""
        from ...files.register.store import FILE_NAME, url_of_file

        folder = self.bench.path.parent if self.bench.path is not None else Path.cwd()
        return self.settings.register_url or url_of_file(folder / FILE_NAME)

    def change_url(self, url: str) -> None:
        """Turn to another register. Raises: BadTable for what is no URL, RegisterAway where it does not answer."""
        from ...files.register.store import Register

        if url:
            Register(url).close()
        self.settings.register_url = url
        self._close()
        self._last.clear()
        self.look()

    @contextmanager
    def register(self) -> Iterator["Register"]:
        """The register for a while. Raises: RegisterAway."""
        from ...files.register.store import Register

        if self._opened is None or self._opened.url != self.url:
            self._close()
            self._opened = Register(self.url)
        yield self._opened

    def _close(self) -> None:
        if self._opened is not None:
            self._opened.close()
            self._opened = None

    # -- what is handed in ------------------------------------------------------------------------------------------

    def take_in(self) -> None:
        """Hand in every record that lies beside the job and was not handed in yet. Raises: RegisterAway."""
        if self.bench.path is None:
            return
        with self.register() as register:
            self._tell(self._handing.hand_in(register, self.bench.job, self.bench.path))

    def _tell(self, handed: "HandedIn") -> None:
        for words in handed.refused:
            self.say(words, True)

    def _once_handed_in(self, then: Callable[[], None]) -> None:
        """Do something once what lies beside the job was handed in: the first time beside the window."""
        self._waiting.append(then)
        if self._loading.is_running:
            return
        url, job, path = self.url, self.bench.job, self.bench.path
        if path is None or self._handing.was_done(url, path):
            self._handed_in()
            return
        handing = self._handing

        def talk(ask: Ask) -> "HandedIn":
            from ...files.register.store import Register

            with Register(url) as register:
                return handing.hand_in(register, job, path, lambda done, all_of: ask(lambda: self._count(done, all_of)))

        def done(handed: "HandedIn") -> None:
            self._tell(handed)
            self._handed_in()

        self._loading.run(talk, done, lambda _why: self._handed_in())  # which asks the register, and tells why not

    def _handed_in(self) -> None:
        waiting, self._waiting, self.busy = self._waiting, [], ""
        for then in dict.fromkeys(waiting):
            then()

    def _count(self, done: int, all_of: int) -> None:
        self.busy = f"Records beside the job are handed in: {done} of {all_of}."
        self.changed.emit()

    def last_soon(self, channel: SignableChannel) -> LastRecord:
        """The unit's last record if it was asked for before; else it is asked for, and `chained` follows."""
        known = self._last.get(self._key_of(channel)) if self._last else None
        if known is None:
            QTimer.singleShot(_AFTER_THE_PAGE_MS, self, lambda: self._once_handed_in(self._ask_last))
        return known or LastRecord()

    def _ask_last(self) -> None:
        channel = self.bench.signable
        if channel is not None and self.last_of(channel).number:
            self.chained.emit()

    def last_of(self, channel: SignableChannel, *, anew: bool = False) -> LastRecord:
        """The unit's last record in the register; none where there is none, or the register does not answer.

        It is asked once, unless it is to be asked anew.
        """
        from ...files.register.find import last_record

        key = self._key_of(channel)
        if anew or key not in self._last:
            try:
                self.take_in()
                with self.register() as register:
                    self._last[key] = last_record(register, key)
            except YardstickError as error:
                self.say(f"{error} What is signed is handed in later.", True)
                self._last[key] = LastRecord()
        return self._last[key]

    def hand_in(self) -> str:
        """Take in what was signed; what there is to say of it."""
        self._last.clear()
        try:
            self.take_in()
        except YardstickError:
            return " The register does not answer: it is handed in when it does."
        return ""

    # -- what is looked at ------------------------------------------------------------------------------------------

    def look(self, key: str = "") -> None:
        """Look at a unit; without a key at that of the channel looked at. What stands in the way is kept as words."""
        self._wanted = key
        self._once_handed_in(self._look)

    def _look(self) -> None:
        self.refusal = ""
        try:
            self.take_in()
            self.unit = self._seen(self._wanted or self._own_key())
        except YardstickError as error:
            self.unit, self.refusal = None, str(error)
        self.changed.emit()

    def due_of(self, channel: SignableChannel) -> date | None:
        """When the channel's unit is due; None where nobody said, or the register does not answer."""
        key = self._key_of(channel)
        try:
            return next((one.due for one in self.due() if one.unit == key), None)
        except YardstickError:
            return None

    def _key_of(self, channel: SignableChannel) -> str:
        from ...files.register.take import key_of_channel

        return key_of_channel(self.bench.job, channel)

    def _own_key(self) -> str:
        channel = self.bench.signable
        return "" if channel is None else self._key_of(channel)

    def _seen(self, key: str) -> UnitSeen | None:
        from ...files.register.find import due_units, history
        from ...files.register.visits import visits_in

        if not key:
            return None
        with self.register() as register:
            records = tuple(history(register, key))
            due = next((one for one in due_units(register) if one.unit == key), None)
        visits = visits_in(records) if records else ()
        try:
            trend = trend_of(visits)
        except YardstickError:
            trend = None
        if self.unit is None or self.unit.key != key:
            self.stop = None
        return UnitSeen(key, records, visits, trend, due)

    @property
    def stop_drawn(self) -> float | None:
        """The value whose errors are drawn large; None where nothing was found or left."""
        if self.stop is not None:
            return self.stop
        if self.unit is None or not self.unit.visits:
            return None
        if self.unit.trend is not None:
            return worst_stop(self.unit.trend)
        stops = self.unit.visits[-1].left or self.unit.visits[-1].found
        return stops[-1].value if stops else None

    def draw_stop(self, value: float) -> None:
        """Draw another value's errors large."""
        self.stop = value
        self.changed.emit()

    def find(self, typed: str) -> "list[FoundRecord]":
        """Records found by what is typed. Raises: RegisterAway."""
        from ...files.register.find import find

        with self.register() as register:
            return find(register, typed)

    def controllers(self) -> "list[Controller]":
        """The controllers that the shop keeps. Raises: RegisterAway."""
        from ...files.register.library import controllers

        with self.register() as register:
            return controllers(register)

    def keep_controller(self, controller: "Controller") -> None:
        """Keep a controller's description for every bench. Raises: RegisterAway."""
        from ...files.register.library import put_controller

        by = person_of(self.bench.job, "technician")
        with self.register() as register:
            put_controller(register, controller, self.bench.job.title, by)
        self.say(f"{controller.name} is in the shop's library.", False)

    def find_unsigned(self, typed: str) -> "list[FoundUnit]":
        """Units without a record found by what is typed. Raises: RegisterAway."""
        from ...files.register.find import find_unsigned

        with self.register() as register:
            return find_unsigned(register, typed)

    def due(self) -> "list[DueUnit]":
        """What is due, the earliest first. Raises: RegisterAway."""
        from ...files.register.find import due_units

        with self.register() as register:
            return due_units(register)
