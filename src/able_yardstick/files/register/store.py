"""The register opened by its URL, its tables brought to this version; one transaction at a time."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Self

from sqlalchemy import Connection, Engine, create_engine, event, make_url, text
from sqlalchemy.exc import ArgumentError, SQLAlchemyError
from sqlalchemy.pool import NullPool

from ...core.words.errors import BadTable, YardstickError
from .schema import HEAD

FILE_NAME = "register.sqlite"
_WAIT_S = 20


class RegisterAway(YardstickError):
    """The register does not answer: what was signed is whole in its file, and is handed in later."""


def url_of_file(path: Path) -> str:
    """The URL of a register in a file."""
    return f"sqlite:///{path}"


class Register:
    """The tables behind one URL; without one in the folder where we are.

    Raises: RegisterAway where they cannot be reached, BadTable for a URL that is none.
    """

    def __init__(self, url: str = "") -> None:
        self.url = url or url_of_file(Path(FILE_NAME))
        self._engine = _engine(self.url)
        try:
            with self._engine.begin() as connection:
                self._bring_up(connection)
        except SQLAlchemyError as error:
            self._engine.dispose()
            raise RegisterAway(f"The register {self.shown_url} cannot be opened: {_why(error)}.") from error

    @property
    def shown_url(self) -> str:
        """The URL without its password."""
        return make_url(self.url).render_as_string(hide_password=True)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_error: object) -> None:
        self.close()

    def close(self) -> None:
        """Let go of it."""
        self._engine.dispose()

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        """All or nothing of what is done inside. Raises: RegisterAway."""
        try:
            with self._engine.begin() as connection:
                yield connection
        except SQLAlchemyError as error:
            raise RegisterAway(f"The register {self.shown_url} did not take it: {_why(error)}.") from error

    def _bring_up(self, connection: Connection) -> None:
        """Make or change the tables where they are not of this version; two benches do not do it at once."""
        if _version(connection) == HEAD:
            return
        from alembic import command
        from alembic.config import Config

        if connection.dialect.name == "postgresql":
            connection.execute(text("SELECT pg_advisory_xact_lock(20816)"))
        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def _version(connection: Connection) -> str:
    if not connection.dialect.has_table(connection, "alembic_version"):
        return ""
    return str(connection.execute(text("SELECT version_num FROM alembic_version")).scalar() or "")


def _engine(url: str) -> Engine:
    try:
        parsed = make_url(url)
        if parsed.get_backend_name() == "postgresql":
            return create_engine(parsed.set(drivername="postgresql+psycopg"), pool_pre_ping=True)
        if parsed.get_backend_name() != "sqlite":
            raise BadTable(f"Expected a register on SQLite or PostgreSQL, found {parsed.get_backend_name()}.")
        if parsed.database:
            Path(parsed.database).parent.mkdir(parents=True, exist_ok=True)
        engine = create_engine(parsed, poolclass=NullPool, connect_args={"timeout": _WAIT_S})
    except (ArgumentError, ModuleNotFoundError) as error:
        raise BadTable(f"Expected the URL of a register, such as sqlite:///register.sqlite: {error}.") from error
    except OSError as error:
        raise RegisterAway(f"The register's folder cannot be made: {error.strerror or error}.") from error
    event.listen(engine, "connect", _settle)
    event.listen(engine, "begin", lambda connection: connection.exec_driver_sql("BEGIN IMMEDIATE"))
    return engine


def _settle(connection: object, _record: object) -> None:
    """SQLite: many readers beside one writer, whole after a power cut, ties between tables held."""
    connection.isolation_level = None  # type: ignore[attr-defined]  # transactions are begun by ourselves
    cursor = connection.cursor()  # type: ignore[attr-defined]
    for name, value in (("journal_mode", "WAL"), ("synchronous", "FULL"), ("foreign_keys", "ON")):
        cursor.execute(f"PRAGMA {name}={value}")
    cursor.close()


def _why(error: SQLAlchemyError) -> str:
    return str(getattr(error, "orig", None) or error).strip().splitlines()[0].rstrip(".")
