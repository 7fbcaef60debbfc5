"""What is looked at in the register, and what is handed in: one holder for its picture, its panel and Sign."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from PySide6.QtCore import QObject, Signal

from ...core.document.channel import SignableChannel
from ...core.drift.trend import DriftTrend, trend_of
from ...core.drift.visit import Visit
from ...core.drift.words import worst_stop
from ...core.job.people import person_of
from ...core.words.errors import YardstickError
from ..frame.settings import Settings
from ..frame.workbench import Workbench

if TYPE_CHECKING:
    from ...core.document.controller import Controller
    from ...files.register.find import DueUnit, FoundRecord, FoundUnit, LastRecord
    from ...files.register.store import Register

Say = Callable[[str, bool], None]
_FOLDERS = "* records"


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

    def __init__(self, bench: Workbench, settings: Settings, say: Say, parent: QObject) -> None:
        super().__init__(parent)
        self.bench, self.settings, self.say = bench, settings, say
        self._opened: Register | None = None
        self.unit: UnitSeen | None = None
        self.stop: float | None = None  # the value whose errors are drawn large; None: where it drifts most
        self.refusal = ""
        self._last: dict[str, LastRecord] = {}

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

    def take_in(self) -> int:
        """Hand in every record that lies in folders of records beside the job; how many were new.

        Raises: RegisterAway.
        """
        from ...core.words.errors import BadTable
        from ...files.register.find import all_hashes
        from ...files.register.take import is_known, take_file
        from ...files.register.take_job import put_job

        if self.bench.path is None:
            return 0
        new = 0
        with self.register() as register:
            put_job(register, self.bench.job)
            known = all_hashes(register)
            for path in sorted(self.bench.path.parent.glob(f"{_FOLDERS}/*.record.json")):
                try:
                    if is_known(path, known):
                        continue
                    new += take_file(register, path).is_new
                except BadTable as error:
                    self.say(f"{path.name} was not taken: {error}", True)
        return new

    def last_known(self, channel: SignableChannel) -> "LastRecord | None":
        """The unit's last record if it was asked for before; None while the register would have to be opened for it."""
        return self._last.get(self._key_of(channel)) if self._last else None

    def last_of(self, channel: SignableChannel, *, anew: bool = False) -> "LastRecord":
        """The unit's last record in the register; none where there is none, or the register does not answer.

        It is asked once, unless it is to be asked anew.
        """
        from ...files.register.find import LastRecord, last_record

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
        self.refusal = ""
        try:
            self.take_in()
            self.unit = self._seen(key or self._own_key())
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
