"""What is remembered between runs: theme, splitter positions, window size, last and recent jobs."""

from collections.abc import Iterator, MutableMapping
from pathlib import Path
from typing import Any

from PySide6.QtCore import QByteArray, QSettings

from .theme import ThemeName

RECENT_JOBS = 8


class Kept(MutableMapping[Any, Any]):
    """Some of the settings by their names, of one kind, under one heading."""

    def __init__(self, store: QSettings, group: str) -> None:
        self._store, self._group = store, group

    def __getitem__(self, name: str) -> Any:
        found = self._store.value(f"{self._group}/{name}")
        if found is None:
            raise KeyError(name)
        return {"true": True, "false": False}.get(found, found) if isinstance(found, str) else found

    def __setitem__(self, name: str, value: Any) -> None:
        self._store.setValue(f"{self._group}/{name}", value)

    def __delitem__(self, name: str) -> None:
        self._store.remove(f"{self._group}/{name}")

    def __iter__(self) -> Iterator[str]:
        self._store.beginGroup(self._group)
        names = self._store.childKeys()
        self._store.endGroup()
        return iter(names)

    def __len__(self) -> int:
        return sum(1 for _ in self)


class Settings:
    """A thin face over Qt's settings, kept in an INI file of the user's."""

    def __init__(self) -> None:
        self._store = QSettings(
            QSettings.Format.IniFormat, QSettings.Scope.UserScope, "able-yardstick", "able-yardstick"
        )

    @property
    def theme(self) -> ThemeName:
        """Day unless night was chosen."""
        return "night" if self._store.value("theme") == "night" else "day"

    @theme.setter
    def theme(self, name: ThemeName) -> None:
        self._store.setValue("theme", name)

    @property
    def register_url(self) -> str:
        """The register's URL; empty for a file beside the job."""
        return str(self._store.value("register") or "")

    @register_url.setter
    def register_url(self, url: str) -> None:
        self._store.setValue("register", url)

    def layout(self, name: str) -> QByteArray:
        """A stored geometry or splitter state; empty if there is none."""
        found = self._store.value(f"layout/{name}")
        return found if isinstance(found, QByteArray) else QByteArray()

    def keep_layout(self, name: str, state: QByteArray) -> None:
        """Remember a geometry or splitter state."""
        self._store.setValue(f"layout/{name}", state)

    @property
    def folds(self) -> MutableMapping[str, bool]:
        """Which parts of the panels were left open or folded, by their names."""
        return Kept(self._store, "folds")

    @property
    def plot_sizes(self) -> MutableMapping[Any, QByteArray]:
        """How a person shares the room between curve and errors, for straight and for bent curves."""
        return Kept(self._store, "plots")

    @property
    def recent(self) -> list[Path]:
        """Jobs opened before, the latest first, without those that are gone."""
        found = self._store.value("recent") or []
        paths = [found] if isinstance(found, str) else list(found)
        return [path for text in paths if (path := Path(str(text))).exists()]

    def opened(self, path: Path) -> None:
        """Put a job at the head of the recent ones."""
        rest = [str(old) for old in self.recent if old != path.resolve()]
        self._store.setValue("recent", [str(path.resolve()), *rest][:RECENT_JOBS])

    def sync(self) -> None:
        """Write to disk now."""
        self._store.sync()
