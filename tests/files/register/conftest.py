"""A register on each kind of database, and signed records to hand in."""

import tempfile
from datetime import UTC, datetime
from pathlib import Path

import pytest
from serving import Server
from sqlalchemy import create_engine, text

from able_yardstick.core.job.job import Job
from able_yardstick.core.sign.contents import Signing, contents_of
from able_yardstick.demo import demo_text
from able_yardstick.files.records.keys import make_key
from able_yardstick.files.records.signed import Signer, sealed
from able_yardstick.files.register.store import Register, url_of_file


@pytest.fixture(scope="session")
def server():
    folder = Path(tempfile.mkdtemp(prefix="register-"))
    folder.chmod(0o755)
    made = Server(folder)
    yield made
    made.remove()


@pytest.fixture(params=["sqlite", pytest.param("postgresql", marks=pytest.mark.slow)])
def url(request, tmp_path):
    """An empty register's URL."""
    if request.param == "sqlite":
        return url_of_file(tmp_path / "shop" / "register.sqlite")
    server = request.getfixturevalue("server")
    engine = create_engine(server.url.replace("postgresql:", "postgresql+psycopg:"))
    with engine.begin() as connection:
        connection.execute(text("DROP SCHEMA public CASCADE"))
        connection.execute(text("CREATE SCHEMA public"))
    engine.dispose()
    return server.url


@pytest.fixture
def register(url):
    with Register(url) as made:
        yield made


@pytest.fixture(scope="session")
def key(tmp_path_factory):
    return make_key(tmp_path_factory.mktemp("keys"))


@pytest.fixture(scope="session")
def signed(key):
    """Makes a signed record of a channel of the demo, with what a signing says changed."""
    job = Job.model_validate_json(demo_text())

    def make(tag="PT-201", by="Ada Tester", at=datetime(2026, 11, 29, 12, tzinfo=UTC), **said):
        signing = Signing(by, "technician", at, accepted="trial", **said)
        record = contents_of(job, job.tagged(tag), signing, "1.0")
        return sealed(record, key, Signer(by, "technician", at.isoformat()))

    return make
