"""The demo world in the tests' database: lived through once, then put back for each test as it was, table by table."""

from __future__ import annotations

from django.db import connection, transaction

from workshop.demo import load_demo

STAYING = ("django_migrations", "django_content_type", "auth_permission", "procrastinate_%")
TABLES = """SELECT tablename FROM pg_tables WHERE schemaname = %s AND NOT tablename LIKE ANY(%s) ORDER BY tablename"""


def _tables(schema: str) -> list[str]:
    with connection.cursor() as cursor:
        cursor.execute(TABLES, [schema, list(STAYING)])
        return [name for (name,) in cursor.fetchall()]


def _run(statements: list[str]) -> None:
    """All in one transaction, without a look at what refers to what: the whole is right before and after."""
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("; ".join(["SET LOCAL session_replication_role = replica", *statements]))


def make_world(*, recordings: bool) -> None:
    """The demo world, with its recordings or without."""
    schema = "kept_with_recordings" if recordings else "kept"
    if not _tables(schema):
        load_demo(recordings=recordings)
        kept = [f'CREATE TABLE {schema}."{name}" AS TABLE public."{name}"' for name in _tables("public")]
        _run([f"CREATE SCHEMA {schema}", *kept])
        return
    _run([f'INSERT INTO public."{name}" SELECT * FROM {schema}."{name}"' for name in _tables(schema)])


def end_world() -> None:
    """Nothing is left of it, but for what was kept to make it again."""
    _run([f'DELETE FROM public."{name}"' for name in _tables("public")])
