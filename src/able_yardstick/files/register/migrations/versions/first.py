"""The first register: units, records, words, instruments with certificates, dues, keys, library."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    """Make the tables."""
    op.create_table(
        "instruments",
        sa.Column("key", sa.String(length=200), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("serial", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("key"),
    )
    op.create_table(
        "keys",
        sa.Column("key", sa.String(length=64), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("role", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("key"),
    )
    op.create_table(
        "library",
        sa.Column("kind", sa.String(length=40), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("source", sa.Text(), nullable=False),
        sa.Column("vouched", sa.Text(), nullable=False),
        sa.Column("body", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("kind", "name"),
    )
    op.create_table(
        "units",
        sa.Column("key", sa.String(length=200), nullable=False),
        sa.Column("maker", sa.Text(), nullable=False),
        sa.Column("model", sa.Text(), nullable=False),
        sa.Column("serial", sa.Text(), nullable=False),
        sa.Column("tag", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("place", sa.Text(), nullable=False),
        sa.Column("quantity", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("key"),
    )
    op.create_table(
        "certificates",
        sa.Column("instrument", sa.String(length=200), nullable=False),
        sa.Column("certificate", sa.String(length=200), nullable=False),
        sa.Column("calibrated", sa.Date(), nullable=True),
        sa.Column("due", sa.Date(), nullable=True),
        sa.Column("expanded", sa.Float(), nullable=True),
        sa.Column("unit", sa.Text(), nullable=False),
        sa.Column("body", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["instrument"],
            ["instruments.key"],
        ),
        sa.PrimaryKeyConstraint("instrument", "certificate"),
    )
    op.create_table(
        "dues",
        sa.Column("unit", sa.String(length=200), nullable=False),
        sa.Column("due", sa.Date(), nullable=False),
        sa.Column("months", sa.Integer(), nullable=False),
        sa.Column("rule", sa.Text(), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("person", sa.Text(), nullable=False),
        sa.Column("in_use", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["unit"],
            ["units.key"],
        ),
        sa.PrimaryKeyConstraint("unit"),
    )
    op.create_index("dues_by_day", "dues", ["due"], unique=False)
    op.create_table(
        "records",
        sa.Column("sha256", sa.String(length=64), nullable=False),
        sa.Column("unit", sa.String(length=200), nullable=False),
        sa.Column("tag", sa.Text(), nullable=False),
        sa.Column("job", sa.Text(), nullable=False),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("signed", sa.DateTime(timezone=True), nullable=False),
        sa.Column("person", sa.Text(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("found", sa.Text(), nullable=False),
        sa.Column("left", sa.Text(), nullable=False),
        sa.Column("previous", sa.String(length=64), nullable=False),
        sa.Column("corrects", sa.String(length=64), nullable=False),
        sa.Column("signatures", sa.Integer(), nullable=False),
        sa.Column("body", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(
            ["unit"],
            ["units.key"],
        ),
        sa.PrimaryKeyConstraint("sha256"),
    )
    op.create_index("records_by_time", "records", ["signed"], unique=False)
    op.create_index("records_of_unit", "records", ["unit", "signed"], unique=False)
    op.create_table(
        "uses",
        sa.Column("record", sa.String(length=64), nullable=False),
        sa.Column("instrument", sa.String(length=200), nullable=False),
        sa.Column("certificate", sa.String(length=200), nullable=False),
        sa.ForeignKeyConstraint(
            ["instrument"],
            ["instruments.key"],
        ),
        sa.ForeignKeyConstraint(
            ["record"],
            ["records.sha256"],
        ),
        sa.PrimaryKeyConstraint("record", "instrument", "certificate"),
    )
    op.create_index("uses_of_instrument", "uses", ["instrument", "record"], unique=False)
    op.create_table(
        "words",
        sa.Column("word", sa.String(64).with_variant(sa.String(64, collation="C"), "postgresql"), nullable=False),
        sa.Column("record", sa.String(length=64), nullable=False),
        sa.ForeignKeyConstraint(
            ["record"],
            ["records.sha256"],
        ),
        sa.PrimaryKeyConstraint("word", "record"),
    )
    op.create_index("words_of_record", "words", ["record", "word"], unique=False)
