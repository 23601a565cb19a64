"""The database brought up to date, with nothing lost on the way."""

from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from toadbell.records import backup
from toadbell.shed.models import Maker


def prepare() -> None:
    """Bring the database up to date, after a backup where there is something to lose, and make the local owner."""
    executor = MigrationExecutor(connection)
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        if executor.loader.applied_migrations:
            backup.make("before-migration")
        call_command("migrate", verbosity=0)
    Maker.local_owner()
