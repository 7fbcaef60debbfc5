"""The register's tables. A record is kept as it was signed; the columns beside it are only what is looked for."""

from sqlalchemy import (
    Boolean,
    Column,
    Date,
    DateTime,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    String,
    Table,
    Text,
)

HEAD = "0001"  # the migration that the tables below are the outcome of
METADATA = MetaData()
_KEY = String(200)
_WORD = String(64).with_variant(String(64, collation="C"), "postgresql")  # so that what begins alike stands together

UNITS = Table(
    "units", METADATA,
    Column("key", _KEY, primary_key=True),
    Column("maker", Text, nullable=False), Column("model", Text, nullable=False),
    Column("serial", Text, nullable=False),
    Column("name", Text, nullable=False),
    Column("tag", Text, nullable=False),  # as it was called last
    Column("place", Text, nullable=False),
    Column("quantity", Text, nullable=False),
)  # fmt: skip

RECORDS = Table(
    "records", METADATA,
    Column("sha256", String(64), primary_key=True),
    Column("unit", _KEY, ForeignKey("units.key"), nullable=False),
    Column("tag", Text, nullable=False), Column("job", Text, nullable=False), Column("title", Text, nullable=False),
    Column("signed", DateTime(timezone=True), nullable=False),
    Column("person", Text, nullable=False),
    Column("number", Integer, nullable=False),
    Column("found", Text, nullable=False), Column("left", Text, nullable=False),  # pass, fail, or not known
    Column("previous", String(64), nullable=False), Column("corrects", String(64), nullable=False),
    Column("signatures", Integer, nullable=False),
    Column("body", LargeBinary, nullable=False),  # the sealed record as JSON, deflated (RFC 1950)
)  # fmt: skip
Index("records_of_unit", RECORDS.c.unit, RECORDS.c.signed)
Index("records_by_time", RECORDS.c.signed)

WORDS = Table(
    "words", METADATA,
    Column("word", _WORD, primary_key=True),
    Column("record", String(64), ForeignKey("records.sha256"), primary_key=True),
)  # fmt: skip
Index("words_of_record", WORDS.c.record, WORDS.c.word)

INSTRUMENTS = Table(
    "instruments", METADATA,
    Column("key", _KEY, primary_key=True),
    Column("name", Text, nullable=False), Column("serial", Text, nullable=False),
)  # fmt: skip

CERTIFICATES = Table(
    "certificates", METADATA,
    Column("instrument", _KEY, ForeignKey("instruments.key"), primary_key=True),
    Column("certificate", _KEY, primary_key=True),
    Column("calibrated", Date), Column("due", Date),
    Column("expanded", Float), Column("unit", Text, nullable=False),
    Column("body", Text, nullable=False),
)  # fmt: skip

USES = Table(
    "uses", METADATA,
    Column("record", String(64), ForeignKey("records.sha256"), primary_key=True),
    Column("instrument", _KEY, ForeignKey("instruments.key"), primary_key=True),
    Column("certificate", _KEY, primary_key=True),
)  # fmt: skip
Index("uses_of_instrument", USES.c.instrument, USES.c.record)

DUES = Table(
    "dues", METADATA,
    Column("unit", _KEY, ForeignKey("units.key"), primary_key=True),
    Column("due", Date, nullable=False),
    Column("months", Integer, nullable=False),
    Column("rule", Text, nullable=False), Column("reason", Text, nullable=False),
    Column("person", Text, nullable=False),
    Column("in_use", Boolean, nullable=False),
)  # fmt: skip
Index("dues_by_day", DUES.c.due)

KEYS = Table(
    "keys", METADATA,
    Column("key", String(64), primary_key=True),
    Column("name", Text, nullable=False), Column("role", Text, nullable=False),
)  # fmt: skip

LIBRARY = Table(
    "library", METADATA,
    Column("kind", String(40), primary_key=True),
    Column("name", _KEY, primary_key=True),
    Column("source", Text, nullable=False), Column("vouched", Text, nullable=False),
    Column("body", Text, nullable=False),
)  # fmt: skip
