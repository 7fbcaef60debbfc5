"""What is remembered between runs: theme, splitter positions, window size, last and recent jobs."""

from pathlib import Path

from PySide6.QtCore import QByteArray, QSettings

from .theme import ThemeName

RECENT_JOBS = 8


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

    def layout(self, name: str) -> QByteArray:
        """A stored geometry or splitter state; empty if there is none."""
        found = self._store.value(f"layout/{name}")
        return found if isinstance(found, QByteArray) else QByteArray()

    def keep_layout(self, name: str, state: QByteArray) -> None:
        """Remember a geometry or splitter state."""
        self._store.setValue(f"layout/{name}", state)

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
