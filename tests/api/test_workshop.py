"""What the workshop does beneath the API: words for changes, the demo's history, commands."""

from __future__ import annotations

import json
import stat
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest.mock import patch

from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.test import TestCase, override_settings

from speedchain import evaluate, read_installation
from speedchain.document.schema import field_at
from speedchain.vehicle.tyre_change import NewTyre, change_tyre
from tests.installations import CAR, CYCLE, document, installation
from workshop.access import NotFoundError, vehicles_of, workshop_of
from workshop.changes import changed_fields, effect, summarise
from workshop.demo import FOLDER, load_demo, patched
from workshop.models import Member, Revision, Task, Workshop
from workshop.outline import heads_of


class Words(TestCase):
    def test_fields_have_the_words_of_the_trade(self) -> None:
        for path, words in [
            ("wheel.taped_diameter.diameter_mm", "Height, floor to top"),
            ("wheel.roll_out.tape_mm", "Tape uncertainty"),
            ("readouts.1.current_setting", "Current setting"),
            ("wheel.verification", "Verification"),
            ("target.edges", "Edges of each that the reader counts"),
        ]:
            self.assertEqual(field_at(path).title, words)
        self.assertIsNone(field_at("readouts.0.no_such_field"))
        self.assertEqual(field_at("target.magnets.pole").labels["north"], "North to the sensor")
        self.assertEqual(field_at("placement.air_gap_mm").unit, "mm")

    def test_every_changed_leaf_is_found(self) -> None:
        before, after = {"a": {"b": 1, "c": [1, 2]}, "d": 1}, {"a": {"b": 2, "c": [1, 3]}, "e": None}
        self.assertEqual(list(changed_fields(before, after)), [("a.b", 1, 2), ("a.c.1", 2, 3), ("d", 1, None)])
        self.assertEqual(list(changed_fields({"a": [1]}, {"a": [1, 2]})), [("a", [1], [1, 2])])

    def test_a_summary_says_what_and_what_it_did(self) -> None:
        before, after = installation(), installation(target__count=49)
        said = summarise(before, after, evaluate(before), evaluate(after))
        self.assertEqual(said, "Target: count per turn 48 → 49. Shown speed unchanged. Setting to enter 24905 → 25424.")
        typed, wrong = (
            installation(readouts__0__current_setting=24905),
            installation(readouts__0__current_setting=24905, target__count=49),
        )
        self.assertEqual(
            effect(evaluate(typed), evaluate(wrong)),
            "Shown against true +0.00 % → +2.08 %. Setting to enter 24905 → 25424.",
        )
        self.assertIn("First saved: shows 100.00 km/h at 100 km/h", summarise(None, after, None, evaluate(after)))

    def test_entries_and_tests_are_entered_changed_and_removed(self) -> None:
        before = installation()
        after = installation(target__verification={"test": "spin", "on": "2026-05-01"})
        self.assertIn("Target: verification entered. ", summarise(before, after, evaluate(before), evaluate(after)))
        self.assertIn("Target: verification removed. ", summarise(after, before, evaluate(after), evaluate(before)))
        more = installation(readouts=[CAR["readouts"][0]] * 2)
        self.assertIn("Readouts changed. ", summarise(before, more, evaluate(before), evaluate(more)))

    def test_many_and_long_changes_stay_short(self) -> None:
        before = installation()
        after = installation(CYCLE, name="x" * 80, notes="y" * 2000)
        said = summarise(before, after, evaluate(before), evaluate(after))
        self.assertIn("more. ", said)
        self.assertLess(len(said), 400)


class DemoWorld(TestCase):
    def test_every_document_of_the_demo_is_a_installation_and_each_step_changes_it(self) -> None:
        files = sorted(FOLDER.glob("*.json"))
        self.assertEqual(len(files), 10)
        for file in files:
            if file.stem == "world":
                continue
            history = json.loads(file.read_text("utf-8"))
            state = history["first"]
            for changes in history["then"]:
                before = read_installation(state)
                if "tyre" in changes:
                    state = change_tyre(before, NewTyre(**changes["tyre"])).after.model_dump(mode="json")
                else:
                    state = patched(state, changes)
                with self.subTest(file.stem):
                    self.assertNotEqual(before, read_installation(state))

    def test_each_installation_is_in_its_own_state_and_its_mistake_is_found(self) -> None:
        load_demo()
        user = User.objects.get(username="demo")
        vehicles = list(vehicles_of(user))
        found: dict[str, dict[str, str]] = {}
        states = set()
        for head in heads_of(vehicles):
            result = evaluate(read_installation(head.document))
            states.add(tuple(stage.evidence for stage in result.stages))
            found[head.document["name"]] = {f.code: f.severity for f in result.findings if f.severity != "note"}
        self.assertGreaterEqual(len(states), 6)
        self.assertEqual(
            found,
            {
                "Speed display, left wheel": {},
                "Slip log, rear countershaft": {"signal.over_driven": "warning"},
                "Slip log, front left": {"wheel.methods_disagree": "warning", "placement.too_weak": "blocking"},
                "Old gauge, cable": {"drive.driven_gear": "warning"},
                "Dash gauge, through a converter": {"signal.wraps": "warning"},
                "Dash, front wheel": {"readout.under_reads": "blocking", "signal.no_fuse": "warning"},
                "Cycle computer, left front": {
                    "test.spin_failed": "blocking",
                    "wheel.methods_disagree": "warning",
                    "placement.reed_end": "blocking",
                },
                "Hub display, front left": {"readout.chart_neighbour": "blocking"},
                "Speed through water": {"sensor.supply": "warning"},
            },
        )
        self.assertEqual(Task.objects.filter(done_at=None).count(), 3)


class Commands(TestCase):
    def test_prepare_makes_one_owner_with_a_hidden_password(self) -> None:
        with TemporaryDirectory() as folder, override_settings(DEMO=False):
            file = Path(folder) / "owner.txt"
            call_command("prepare", owner_file=file)
            first = file.read_text("utf-8")
            call_command("prepare", owner_file=file)
            self.assertEqual(file.read_text("utf-8"), first)
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600)
        password = first.split("password: ")[1].strip()
        self.assertTrue(User.objects.get().check_password(password))
        self.assertEqual(workshop_of(User.objects.get()).name, "My workshop")
        self.assertFalse(Workshop.objects.filter(is_demo=True).exists())

    def test_prepare_loads_the_demo_once(self) -> None:
        with override_settings(DEMO=True):
            call_command("prepare")
            call_command("prepare")
        self.assertEqual(Workshop.objects.filter(is_demo=True).count(), 1)
        self.assertEqual(Revision.objects.filter(number=1).count(), 9)

    def test_add_account(self) -> None:
        with patch("workshop.management.commands.add_account.getpass", return_value="tidal flat at noon"):
            call_command("add_account", "mechanic", workshop="Bike stand", role="bike mechanic")
            member = Member.objects.get(user__username="mechanic")
            self.assertEqual((member.workshop.name, member.role), ("Bike stand", "bike mechanic"))
            with self.assertRaisesMessage(CommandError, "already"):
                call_command("add_account", "mechanic", workshop="Bike stand")
        with (
            patch("workshop.management.commands.add_account.getpass", return_value="12345"),
            self.assertRaises(CommandError),
        ):
            call_command("add_account", "second", workshop="Bike stand")
        self.assertFalse(User.objects.filter(username="second").exists())

    def test_an_account_without_a_workshop_sees_nothing(self) -> None:
        self.client.force_login(User.objects.create_user("lost"))
        self.assertEqual(self.client.get("/api/vehicles").status_code, 404)
        answer = self.client.post("/api/vehicles", {"name": "Knot", "kind": "car"}, content_type="application/json")
        self.assertEqual(answer.status_code, 404)
        with self.assertRaises(NotFoundError):
            workshop_of(User.objects.get(username="lost"))


class Page(TestCase):
    def test_every_path_but_the_api_is_the_page_with_its_policy(self) -> None:
        for path in ("/", "/new", "/installation/1/wheel"):
            answer = self.client.get(path)
            self.assertEqual(answer.status_code, 200)
            self.assertIn("default-src 'self'", answer["Content-Security-Policy"])
            self.assertEqual(answer["X-Frame-Options"], "DENY")
        nowhere = self.client.get("/api/nothing")
        self.assertEqual((nowhere.status_code, nowhere["Content-Type"]), (404, "application/problem+json"))
        self.assertIn("paths", self.client.get("/api/openapi.json").json())
        with override_settings(FRONTEND_DIST=Path("/nowhere")):
            answer = self.client.get("/")
            self.assertEqual((answer.status_code, b"./start" in answer.content), (503, True))

    def test_documents_of_both_kinds_survive_the_database(self) -> None:
        for base in (CAR, CYCLE):
            stored = json.loads(json.dumps(read_installation(document(base)).model_dump(mode="json")))
            self.assertEqual(read_installation(stored), read_installation(base))
