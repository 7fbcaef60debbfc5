"""Runs the migrations on the connection that the register gives."""

from alembic import context

from able_yardstick.files.register.schema import METADATA

context.configure(connection=context.config.attributes["connection"], target_metadata=METADATA)
with context.begin_transaction():
    context.run_migrations()
