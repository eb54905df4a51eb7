"""All that changes something has one shape, and no route that writes goes around it."""

from __future__ import annotations

import ast
import inspect
import re
from pathlib import Path
from textwrap import dedent

import workshop
from api.app import api
from tests.api.base import ApiTestCase
from tests.api.test_access import routes
from workshop.access import editor, member_of, vehicle_for
from workshop.audit import record
from workshop.models import ACTIONS, AuditEntry, Note, Vehicle
from workshop.use_cases import USE_CASES, UnguardedError, use_case
from workshop.vehicles import refuse_stale

COMPUTING = {
    "evaluate", "guides", "compareMethods", "observeChain", "overSpeed", "placement", "sensorChoices", "signal",
    "spokes",
    "recordTest", "verifyStage", "takeFromShelf", "previewTyre", "wiring", "wiringPdf", "ringFile", "bracketFile",
    "applyCard", "benchCard", "benchCardPdf", "benchFile", "benchHand", "benchMoment", "benchReadings", "faultOnBench",
    "runsByHand",
    "plotRecording", "checkDistance", "coastDown", "compareRings", "drivePdf", "fingerprintRing", "reciprocalRuns",
    "signalHealth", "slip", "tractionTable", "compareTunes",
}  # fmt: skip
"""Routes with a body that keep nothing but, some of them, a result that was computed (`workshop.answers`)."""
SIGNING_IN = {"signIn", "signOut", "openDemo"}
BY_ANOTHER_NAME = {"keep_chart", "add_installation_to", "fit_tyre_to"}
"""As api imports some, beside routes of the same name."""
NAMES = [name.rsplit(".", 1)[1] for name in USE_CASES]


def named_in(text: str) -> set[str]:
    """The names that a piece of source uses: what it calls, and what it hands on to be called."""
    nodes = list(ast.walk(ast.parse(dedent(text))))
    return {node.attr for node in nodes if isinstance(node, ast.Attribute)} | {
        node.id for node in nodes if isinstance(node, ast.Name)
    }


def leading_to_one() -> set[str]:
    """Functions of the workshop that are a use case, or call one."""
    bodies: dict[str, set[str]] = {}
    for path in Path(workshop.__file__).parent.glob("*.py"):
        for node in ast.parse(path.read_text("utf-8")).body:
            if isinstance(node, ast.FunctionDef):
                bodies.setdefault(node.name, set()).update(named_in(ast.unparse(node)))
    found = set(NAMES)
    while more := {name for name, named in bodies.items() if named & found} - found:
        found |= more
    return found | BY_ANOTHER_NAME


class Routes(ApiTestCase):
    def test_every_route_that_writes_runs_one(self) -> None:
        paths, guarded = api.get_openapi_schema()["paths"], leading_to_one()
        writing = {paths[path][method]["operationId"] for method, path in routes() if method != "get"}
        self.assertGreater(len(writing), 80)
        views = [
            one for _, router in api._routers for path in router.path_operations.values() for one in path.operations
        ]
        named = {str(one.operation_id): named_in(inspect.getsource(one.view_func)) for one in views}
        around = {name for name in writing if not named[name] & guarded}
        self.assertEqual(around, COMPUTING | SIGNING_IN)

    def test_whoever_asks_for_permission_is_one(self) -> None:
        """Or is called by one alone: it begins with an underscore, or computes before anything is locked."""
        before = {"add_photo", "add_notes"}
        for path in sorted(Path(workshop.__file__).parent.glob("*.py")):
            for node in ast.parse(path.read_text("utf-8")).body:
                if isinstance(node, ast.FunctionDef) and "editor" in named_in(ast.unparse(node)):
                    self.assertIn(node.name, {*NAMES, *before}, path.name)

    def test_each_says_what_it_leaves_and_names_are_apart(self) -> None:
        named = {action for case in USE_CASES.values() for action in case.audits}
        purged = {action for action in ACTIONS if action.startswith("purge_")}
        self.assertEqual(named | purged, set(ACTIONS))
        for case in USE_CASES.values():
            self.assertTrue(case.audits or case.no_entry, case.name)
            for reason in (case.no_entry, case.no_version):
                self.assertTrue(reason == "" or re.fullmatch(r"[a-z].{4,}[^.]", reason), case.name)


class Unguarded(ApiTestCase):
    """What has not the shape fails, and nothing of it is kept."""

    def refused_and_undone(self, words: str, **shape: str) -> None:
        permission, entry, version = (shape.get(name) for name in ("permission", "entry", "version"))
        number = self.vehicle.pk

        @use_case("change_vehicle", no_entry=shape.get("no_entry", ""), no_version=shape.get("no_version", ""))
        def rename() -> None:
            member = editor(self.user) if permission else member_of(self.user)
            vehicle = vehicle_for(self.user, number)
            if version:
                refuse_stale(1, vehicle.version)
            vehicle.note = "written"
            vehicle.save()
            if entry:
                record(member.workshop, member, entry, subject="x")

        self.addCleanup(USE_CASES.pop, next(name for name in USE_CASES if name.endswith("rename")))
        count = AuditEntry.objects.count()
        if words:
            with self.assertRaisesRegex(UnguardedError, words):
                rename()
            self.assertEqual(Vehicle.objects.get(pk=number).note, self.vehicle.note)
            self.assertEqual(AuditEntry.objects.count(), count)
        else:
            rename()
            self.assertEqual(Vehicle.objects.get(pk=number).note, "written")

    def test_without_permission(self) -> None:
        self.refused_and_undone("asked nobody's permission", entry="change_vehicle", version="1")

    def test_without_an_entry(self) -> None:
        self.refused_and_undone("leaves no entry of", permission="1", version="1")

    def test_with_an_entry_of_another_kind(self) -> None:
        self.refused_and_undone("leaves no entry of", permission="1", entry="save_chart", version="1")

    def test_without_a_version(self) -> None:
        self.refused_and_undone("compares no version", permission="1", entry="change_vehicle")

    def test_with_all_of_it(self) -> None:
        self.refused_and_undone("", permission="1", entry="change_vehicle", version="1")

    def test_one_inside_another_is_part_of_it(self) -> None:
        @use_case("add_note")
        def inner() -> None:
            member = editor(self.user)
            Note.objects.create(vehicle=self.vehicle, kind="note", text="x", on="2026-05-02", created_by_role="builder")
            record(member.workshop, member, "add_note", subject="x")

        @use_case("change_vehicle")
        def outer() -> None:
            inner()

        for name in [name for name in USE_CASES if name.endswith((".inner", ".outer"))]:
            self.addCleanup(USE_CASES.pop, name)
        outer()
        self.assertEqual(Note.objects.filter(vehicle=self.vehicle).count(), 1)
