"""Vehicles, installations and revisions: what is kept, what is refused, and that nothing is lost."""

import json
from datetime import timedelta
from threading import Barrier, Thread
from typing import Any
from unittest.mock import patch

from django.contrib.auth.models import User
from django.db import IntegrityError, OperationalError, connection, transaction
from django.test import TestCase, TransactionTestCase
from django.utils import timezone

from speedchain import read_installation
from tests.api.base import ApiTestCase, make_workshop
from tests.archetypes import archetypes
from tests.installations import CAR, CYCLE, document
from workshop.demo import load_demo
from workshop.installations import AMENDED_WITHIN, Base, save_installation
from workshop.models import InstallationRecord, Member, Revision, Task, Vehicle, Workshop
from workshop.vehicles import StaleError

CHANGED = document(CAR, target__count=44)


class SpeedUnits(ApiTestCase):
    """Texts come in the unit that the page is read in; documents and figures stay as they are."""

    UNDER = document(CAR, name="Dash at 50 km/h", check_speed_kmh=80, readouts__0__current_setting=27_000)

    def evaluated(self, unit: str | None) -> dict[str, Any]:
        headers = {} if unit is None else {"X-Speed-Unit": unit}
        answer = self.client.post("/api/evaluate", self.UNDER, content_type="application/json", headers=headers)
        self.assertEqual(answer.status_code, 200, answer.content)
        found: dict[str, Any] = answer.json()
        return found

    def law(self, found: dict[str, Any]) -> str:
        return next(one["message"] for one in found["result"]["findings"] if one["code"] == "readout.under_reads")

    def test_a_finding_says_its_speeds_in_miles_per_hour(self) -> None:
        """80 km/h are 49.71 mph."""
        plain, in_mph = self.evaluated(None), self.evaluated("mph")
        self.assertIn("80 km/h true", self.law(plain))
        self.assertIn("49.7 mph true", self.law(in_mph))
        self.assertNotIn("km/h", self.law(in_mph))
        self.assertEqual(in_mph["document"], plain["document"])
        self.assertEqual(in_mph["result"]["shown"]["shown_kmh"], plain["result"]["shown"]["shown_kmh"])

    def test_an_unknown_unit_is_kilometres_per_hour(self) -> None:
        self.assertEqual(self.law(self.evaluated("furlongs")), self.law(self.evaluated("km/h")))

    def test_the_list_says_what_was_kept_in_the_unit_of_who_reads_it(self) -> None:
        """The outline is stored with the revision, in km/h, whoever saved it."""
        path = f"/api/installations/{self.installation.pk}"
        body = {"base_revision": 1, "document": self.UNDER}
        saved = self.client.put(path, body, content_type="application/json", headers={"X-Speed-Unit": "kn"})
        self.assertEqual(saved.status_code, 200, saved.content)
        for unit, text in (("mph", "49.7 mph true"), ("kn", "43.2 kn true"), ("km/h", "80 km/h true")):
            page = self.client.get("/api/vehicles", headers={"X-Speed-Unit": unit}).json()
            self.assertIn(text, page["vehicles"][0]["installations"][0]["finding"])

    def test_a_refusal_says_its_limit_in_that_unit(self) -> None:
        bad = document(CAR, check_speed_kmh=2000)
        answer = self.client.post(
            "/api/evaluate", bad, content_type="application/json", headers={"X-Speed-Unit": "mph"}
        )
        (problem,) = self.refused(answer, 422)["problems"]
        self.assertIn("621.4 mph", problem["limit"] + problem["message"])
        self.assertEqual(problem["path"], "check_speed_kmh")


class ListAgrees(ApiTestCase):
    def test_the_list_shows_what_the_page_shows(self) -> None:
        """Every eighth archetype: shown speed, ±, evidence, what comes first and what to do next, as evaluated for the
        page."""
        seen = 0
        for place, (name, known) in enumerate(archetypes()):
            if place % 8:
                continue
            sent = known.model_dump(mode="json") | {"name": f"Wheel {place}"}
            saved = self.send("post", f"/vehicles/{self.vehicle.pk}/installations", sent)
            self.assertEqual(saved.status_code, 201, (name, saved.content))
            page = self.client.post("/api/evaluate", sent, content_type="application/json").json()["result"]
            listed = self.client.get("/api/vehicles").json()["vehicles"][0]["installations"]
            (row,) = [item for item in listed if item["name"] == f"Wheel {place}"]
            for field in ("true_kmh", "shown_kmh", "error_pct", "expanded_uncertainty_pct"):
                self.assertEqual(row[field], page["shown"][field], (name, field))
            self.assertEqual(row["next_action"], page["next_action"]["action"], name)
            self.assertEqual(row["finding"], page["findings"][0]["message"] if page["findings"] else "", name)
            self.assertEqual(
                [item["evidence"] for item in row["stages"]], [item["evidence"] for item in page["stages"]], name
            )
            self.send("delete", f"/installations/{saved.json()['id']}")
            seen += 1
        self.assertEqual(seen, 24)


class Listed(ApiTestCase):
    """The list: what needs something first, found by text, kind, purpose and state."""

    def setUp(self) -> None:
        super().setUp()
        proof = {"test": "spin", "on": "2026-05-02", "by": "fitter"}
        failed = [{"test": "spin", "on": "2026-05-02", "outcome": "nothing"}]
        self.made: dict[str, int] = {}
        for name, kind, changes in [
            ("Ardea", "bicycle", {"purpose": "true_speed"}),
            ("Bittern", "car", {"test_records": failed, "purpose": "slip_control"}),
            ("Crake", "car", {"readouts__0__current_setting": 99999}),
            ("Dunlin", "car", {"target__verification": proof}),
        ]:
            vehicle = self.send("post", "/vehicles", {"name": name, "kind": kind}).json()["id"]
            body = document(CAR, vehicle_kind=kind, name=f"{name} sensor", **changes)
            made = self.send("post", f"/vehicles/{vehicle}/installations", body)
            self.assertEqual(made.status_code, 201, made.content)
            self.made[name] = made.json()["id"]
        Task.objects.create(
            installation_id=self.made["Dunlin"], stage="readout", text="Enter it", created_at=timezone.now()
        )

    def page(self, query: str = "") -> Any:
        return self.send("get", f"/vehicles{query}").json()

    def names(self, query: str) -> list[str]:
        return [vehicle["name"] for vehicle in self.page(query)["vehicles"]]

    def test_what_needs_something_comes_first(self) -> None:
        self.assertEqual(self.names("")[:3], ["Bittern", "Crake", "Dunlin"])
        states = [one["state"] for vehicle in self.page()["vehicles"] for one in vehicle["installations"]]
        self.assertEqual(states[:3], ["failed", "blocked", "to_do"])
        self.send("post", "/vehicles", {"name": "Aaa without any", "kind": "car"})
        self.assertEqual(self.names("")[-1], "Aaa without any")

    def test_by_state_kind_purpose_and_text_together(self) -> None:
        self.assertEqual(self.names("?state=failed"), ["Bittern"])
        self.assertEqual(self.names("?state=blocked"), ["Bittern", "Crake"])  # a failed test blocks as well
        self.assertEqual(self.names("?state=to_do"), ["Dunlin"])
        self.assertEqual(self.names("?state=verified"), [])
        self.assertEqual(self.names("?kind=bicycle"), ["Ardea"])
        self.assertEqual(self.names("?purpose=slip_control"), ["Bittern"])
        self.assertEqual(self.names("?purpose=slip_control&state=verified"), [])
        self.assertEqual(self.names("?search=dunlin+sensor&state=unverified"), ["Dunlin"])

    def test_counts_are_of_all_states_and_pages_of_the_one_asked_for(self) -> None:
        page = self.page("?state=failed&kind=car")
        self.assertEqual((page["failed"], page["blocked"], page["to_do"], page["total"]), (1, 2, 1, 1))
        self.assertEqual(len(self.page("?limit=2")["vehicles"]), 2)

    def test_only_the_installations_asked_for_are_shown(self) -> None:
        good = document(CAR, name="Second sensor")
        vehicle = next(item for item in self.page("?state=failed")["vehicles"])
        self.send("post", f"/vehicles/{vehicle['id']}/installations", good)
        (shown,) = self.page("?state=failed")["vehicles"][0]["installations"]
        self.assertEqual(shown["name"], "Bittern sensor")
        self.assertEqual(len(self.page("?search=bittern")["vehicles"][0]["installations"]), 2)

    def test_unknown_choices_are_refused(self) -> None:
        self.refused(self.send("get", "/vehicles?state=broken"), 422)
        self.refused(self.send("get", "/vehicles?kind=spaceship"), 422)

    def test_a_copy_goes_to_another_vehicle(self) -> None:
        target = self.send("post", "/vehicles", {"name": "Egret", "kind": "motorcycle"}).json()["id"]
        body = {"vehicle": target, "name": "Rear", "sensed_at": "rear"}
        made = self.send("post", f"/installations/{self.made['Bittern']}/copies", body)
        self.assertEqual(made.status_code, 201)
        head = made.json()["head"]["document"]
        self.assertEqual((head["name"], head["sensed_at"], head["vehicle_kind"]), ("Rear", "rear", "motorcycle"))
        self.assertEqual(head["test_records"], [])
        self.refused(self.send("post", f"/installations/{self.made['Bittern']}/copies", body | {"vehicle": 10**9}), 404)
        self.refused(self.send("post", f"/installations/{10**9}/copies", body), 404)
        wrong = self.refused(
            self.send("post", f"/installations/{self.made['Bittern']}/copies", body | {"name": " "}), 422
        )
        self.assertEqual(wrong["problems"][0]["path"], "name")


class Amending(ApiTestCase):
    """The logbook holds decisions, not keystrokes: one edit that goes on stays one revision."""

    def save(self, base: int, amended: int, count: int, key: str, **more: Any) -> Any:
        body = {
            "base_revision": base,
            "base_amended": amended,
            "edit_key": key,
            "document": document(CAR, target__count=count, **more),
        }
        return self.send("put", f"/installations/{self.installation.pk}", body)

    def lines(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.send("get", f"/installations/{self.installation.pk}/revisions").json()[
            "revisions"
        ]
        return found

    def test_the_same_edit_going_on_amends_the_newest_revision(self) -> None:
        first = self.save(1, 0, 47, "edit-1").json()
        self.assertEqual((first["number"], first["amended"]), (2, 0))
        second = self.save(2, 0, 46, "edit-1").json()
        self.assertEqual((second["number"], second["amended"]), (2, 1))
        self.assertEqual(second["document"]["target"]["count"], 46)
        newest, _ = self.lines()
        self.assertIn("48 → 46", newest["summary"])  # against the revision before, not the state on the way
        self.assertAlmostEqual(newest["shown_kmh"], second["shown_kmh"])
        listed = self.client.get("/api/vehicles").json()["vehicles"][0]["installations"][0]
        self.assertEqual(listed["shown_kmh"], second["shown_kmh"])

    def test_another_edit_and_no_key_at_all_make_the_next_revision(self) -> None:
        self.save(1, 0, 47, "edit-1")
        self.assertEqual(self.save(2, 0, 46, "edit-2").json()["number"], 3)
        self.assertEqual(self.save(3, 0, 45, "").json()["number"], 4)
        self.assertEqual(self.save(4, 0, 44, "").json()["number"], 5)

    def test_after_minutes_it_is_a_new_decision(self) -> None:
        self.save(1, 0, 47, "edit-1")
        earlier = timezone.now() - AMENDED_WITHIN - timedelta(seconds=1)
        Revision.objects.filter(installation=self.installation, number=2).update(created_at=earlier)
        self.assertEqual(self.save(2, 0, 46, "edit-1").json()["number"], 3)

    def test_another_author_with_the_same_key_does_not_amend(self) -> None:
        self.save(1, 0, 47, "edit-1")
        colleague = User.objects.create_user("colleague", password="a long pass phrase")
        Member.objects.create(user=colleague, workshop=self.user.member.workshop, role="fitter")
        self.client.force_login(colleague)
        self.assertEqual(self.save(2, 0, 46, "edit-1").json()["number"], 3)

    def test_who_started_before_it_was_amended_is_told(self) -> None:
        self.save(1, 0, 47, "edit-1")
        self.save(2, 0, 46, "edit-1")
        body = self.refused(self.save(2, 0, 40, "edit-9"), 409)
        self.assertEqual(body["theirs"]["document"]["target"]["count"], 46)
        self.assertIn("Version 2 was changed after you opened it", body["detail"])
        self.assertEqual(Revision.objects.filter(installation=self.installation).count(), 2)

    def test_a_repeat_of_a_lost_answer_is_the_first_answer(self) -> None:
        body = {"base_revision": 1, "edit_key": "edit-1", "document": document(CAR, target__count=47)}
        path, key = f"/api/installations/{self.installation.pk}", {"Idempotency-Key": "0123456789abcdef"}
        answers = [self.client.put(path, body, content_type="application/json", headers=key) for _ in range(2)]
        self.assertEqual(answers[0].json(), answers[1].json())
        self.assertEqual(Revision.objects.filter(installation=self.installation).count(), 2)

    def test_tasks_follow_what_it_is_at_the_end(self) -> None:
        """48 → 4 → 48 within one edit leaves nothing to do."""
        self.save(1, 0, 48, "", readouts__0__current_setting=24_905)
        for amended, count, texts in ((0, 4, 1), (0, 44, 1), (1, 48, 0)):
            base = 2 if count == 4 else 3
            answer = self.save(base, amended, count, "edit-1", readouts__0__current_setting=24_905)
            self.assertEqual(answer.status_code, 200, answer.content)
            self.assertEqual(len(self.send("get", f"/installations/{self.installation.pk}/tasks").json()), texts)

    def test_a_key_of_another_shape_is_refused(self) -> None:
        problems = self.refused(self.save(1, 0, 47, "not a key!"), 422)["problems"]
        self.assertEqual([one["path"] for one in problems], ["edit_key"])


class Saving(ApiTestCase):
    def test_another_ring_makes_tasks_and_taking_it_back_removes_them(self) -> None:
        """Each of several revisions on the way puts its own in place of the last."""
        entered = document(CAR, readouts__0__current_setting=24_905)
        self.save(1, entered)
        path = f"/installations/{self.installation.pk}/tasks"
        for base, count, texts in ((2, 4, 1), (3, 44, 1), (4, 48, 0)):
            answer = self.save(base, document(CAR, readouts__0__current_setting=24_905, target__count=count))
            self.assertEqual(answer.status_code, 200)
            tasks = self.send("get", path).json()
            self.assertEqual(len(tasks), texts, count)
            if texts:
                self.assertIn("after the change of ring or gearing (now 24905)", tasks[0]["text"])
        self.assertEqual(tasks, [])

    def save(self, base: int, given: dict[str, Any]) -> Any:
        return self.send("put", f"/installations/{self.installation.pk}", {"base_revision": base, "document": given})

    def test_each_saved_change_is_a_revision_with_its_effect(self) -> None:
        saved = self.save(1, document(CAR, readouts__0__current_setting="25 000"))
        self.assertEqual(saved.status_code, 200, saved.content)
        lines = self.send("get", f"/installations/{self.installation.pk}/revisions").json()["revisions"]
        self.assertEqual([line["number"] for line in lines], [2, 1])
        self.assertEqual(lines[0]["author"], "builder")
        self.assertIn("Current setting none → 25000", lines[0]["summary"])
        self.assertIn("true 0.00 % → −0.38 %", lines[0]["summary"])
        self.assertAlmostEqual(lines[0]["shown_kmh"] - lines[0]["shown_before_kmh"], -0.38, places=2)
        first = self.send("get", f"/installations/{self.installation.pk}/revisions/1").json()
        self.assertIsNone(first["document"]["readouts"][0]["current_setting"])

    def test_what_follows_from_the_newest_revision_says_of_which(self) -> None:
        in_mph = {"content_type": "application/json", "headers": {"X-Speed-Unit": "mph"}}
        for number, given in (
            (2, CHANGED),
            (3, document(CAR, check_speed_kmh=80, readouts__0__current_setting=27_000)),
        ):
            self.assertEqual(self.save(number - 1, given).status_code, 200)
            found = self.client.get(f"/api/installations/{self.installation.pk}/evaluated", **in_mph).json()
            asked = self.client.post("/api/evaluate", given, **in_mph).json()
            self.assertEqual((found["number"], found["amended"], found["evaluated"]), (number, 0, asked))
        self.assertIn("mph true", str(asked["result"]["findings"]))

    def test_a_stale_save_gets_both_documents_and_changes_nothing(self) -> None:
        self.save(1, CHANGED)
        body = self.refused(self.save(1, document(CAR, target__count=50)), 409)
        self.assertEqual(body["base"], 1)
        self.assertEqual(body["theirs"]["number"], 2)
        self.assertEqual(body["theirs"]["document"]["target"]["count"], 44)
        self.assertEqual(body["yours"]["target"]["count"], 50)
        self.assertEqual(InstallationRecord.objects.get(pk=self.installation.pk).head, 2)

    def test_saving_the_same_again_makes_no_revision(self) -> None:
        """A save repeated because its answer was lost must not fail or count twice."""
        self.save(1, CHANGED)
        again = self.save(1, CHANGED)
        self.assertEqual((again.status_code, again.json()["number"]), (200, 2))

    def test_bad_fields_are_named_inside_the_document(self) -> None:
        body = self.refused(self.save(1, document(CAR, target__count=0, wheel__marking__text="round")), 422)
        paths = {problem["path"]: problem for problem in body["problems"]}
        self.assertEqual(set(paths), {"document.target.count", "document.wheel.marking.text"})
        self.assertIn("1 to 1000", paths["document.target.count"]["limit"])
        self.assertEqual(Revision.objects.filter(installation=self.installation).count(), 1)

    def test_a_change_of_wheel_is_told_in_words(self) -> None:
        wheel = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 5800}}
        summary = self.save(1, document(CAR, wheel=wheel)).json()["summary"]
        self.assertIn("Wheel: method Size marking → Roll-out", summary)


class Evaluating(ApiTestCase):
    def test_text_is_understood_and_evaluated(self) -> None:
        given = document(CYCLE, wheel={"method": "taped_diameter", "taped_diameter": {"diameter_mm": "26 in"}})
        body = self.send("post", "/evaluate", given).json()
        self.assertEqual(body["document"]["wheel"]["taped_diameter"]["diameter_mm"], 660.4)
        self.assertAlmostEqual(body["result"]["stages"][0]["figures"][0]["value"], 2079.9, places=1)
        self.assertEqual(len(body["result"]["stages"]), 6)

    def test_refusals_carry_field_limit_and_remedy(self) -> None:
        given = document(CYCLE, wheel={"method": "taped_diameter", "taped_diameter": {"diameter_mm": "61.2 m"}})
        problem = self.refused(self.send("post", "/evaluate", given), 422)["problems"][0]
        self.assertEqual(problem["path"], "wheel.taped_diameter.diameter_mm")
        self.assertEqual(problem["limit"], "10 to 6000 mm")
        self.assertTrue(problem["remedy"])

    def test_what_is_not_json_at_all(self) -> None:
        for raw in (b"", b"{", b"\xff", b"[]", b"null", b'{"name": 1e999}', b"[" * 20000):
            with self.subTest(raw[:8]):
                answer = self.client.post("/api/evaluate", raw, content_type="application/json")
                self.assertIn(answer.status_code, (400, 413, 422))
                self.assertEqual(answer["Content-Type"], "application/problem+json")

    def test_the_catalogue_names_every_choice(self) -> None:
        body = self.send("get", "/catalogue").json()
        (kinds,) = [one["choices"] for one in body["fields"] if one["path"] == "vehicle_kind"]
        self.assertEqual({one["code"] for one in kinds}, {one["vehicle_kind"] for one in body["starts"]})
        self.assertEqual(len(body["purposes"]), 7)


class Vehicles(ApiTestCase):
    def test_made_renamed_and_deleted(self) -> None:
        made = self.send("post", "/vehicles", {"name": "  Knot ", "kind": "kart", "note": "old"})
        self.assertEqual((made.status_code, made.json()["name"]), (201, "Knot"))
        path = f"/vehicles/{made.json()['id']}"
        changed = self.send("put", path, {"base_version": 1, "name": "Red Knot", "kind": "kart"})
        self.assertEqual((changed.json()["name"], changed.json()["version"]), ("Red Knot", 2))
        self.assertEqual(self.send("get", path).json()["installations"], [])
        self.refused(self.send("delete", f"{path}?base_version=1"), 409)
        self.assertEqual(self.send("delete", f"{path}?base_version=2").status_code, 204)
        self.refused(self.send("get", path), 404)

    def test_a_name_once_per_workshop(self) -> None:
        body = self.refused(self.send("post", "/vehicles", {"name": "Avocet", "kind": "car"}), 409)
        self.assertEqual(body["problems"][0]["path"], "name")
        other = self.send("post", "/vehicles", {"name": "Knot", "kind": "car"}).json()
        taken = {"base_version": 1, "name": "Avocet", "kind": "car"}
        body = self.refused(self.send("put", f"/vehicles/{other['id']}", taken), 409)
        self.assertEqual(body["type"], "urn:wheelometron:problem:name-taken")

    def test_a_kind_that_is_none(self) -> None:
        body = self.refused(self.send("post", "/vehicles", {"name": "Knot", "kind": "hovercraft"}), 422)
        self.assertEqual(body["problems"][0]["path"], "kind")

    def test_limits_on_how_many(self) -> None:
        with patch("workshop.vehicles.MAX_VEHICLES", 1):
            self.refused(self.send("post", "/vehicles", {"name": "Knot", "kind": "car"}), 422)
        with patch("workshop.installations.MAX_INSTALLATIONS", 1):
            self.refused(self.send("post", f"/vehicles/{self.vehicle.pk}/installations", CAR), 422)

    def test_export_is_a_file_that_imports_as_the_same_installation(self) -> None:
        exported = self.send("get", f"/installations/{self.installation.pk}/file")
        self.assertIn('filename="avocet-dash-from-the-front-hub.installation.json"', exported["Content-Disposition"])
        imported = self.send("post", f"/vehicles/{self.vehicle.pk}/installations", json.loads(exported.content))
        self.assertEqual(imported.status_code, 201)
        self.assertEqual(read_installation(imported.json()["head"]["document"]), read_installation(CAR))
        self.assertEqual(len(self.send("get", f"/vehicles/{self.vehicle.pk}").json()["installations"]), 2)
        path = f"/installations/{imported.json()['id']}"
        self.refused(self.send("delete", f"{path}?base_revision=2"), 409)
        self.assertEqual(self.send("delete", f"{path}?base_revision=1").status_code, 204)


class Hostile(ApiTestCase):
    """What PostgreSQL or JSON cannot hold is refused with a field, never answered with a 500."""

    def test_texts_that_cannot_be_kept(self) -> None:
        for text in ("a\x00b", "\x00", "bell\x07"):
            body = self.refused(self.send("post", "/vehicles", {"name": text, "kind": "car"}), 422)
            self.assertRegex(body["detail"], "control characters|cannot be stored")
            for path in ("name", "notes", "readouts__0__name"):
                given = document(CAR, **{path: text})
                body = self.refused(self.send("post", f"/vehicles/{self.vehicle.pk}/installations", given), 422)
                self.assertEqual(body["problems"][0]["path"], path.replace("__", "."))
            sign_in = {"username": text, "password": text}
            self.refused(self.client.post("/api/session", sign_in, content_type="application/json"), 422)

    def test_a_marking_with_odd_letters(self) -> None:
        for text in ("205/55R16\x00", "\ud800", "2️⃣05/55R16", "205/55R16" * 10**4):
            given = document(CAR, wheel__marking__text=text)
            answer = self.client.post(
                f"/api/vehicles/{self.vehicle.pk}/installations", json.dumps(given), content_type="application/json"
            )
            with self.subTest(text[:12].encode(errors="replace")):
                body = self.refused(answer, 422)
                self.assertEqual(body["problems"][0]["path"], "wheel.marking.text")

    def test_numbers_beyond_the_database(self) -> None:
        self.refused(self.send("get", f"/installations/{10**30}"), 404)
        self.refused(self.send("get", f"/installations/{self.installation.pk}/revisions/{10**30}"), 404)
        body = {"base_revision": 10**30, "document": document(CAR, target__count=44)}
        self.refused(self.send("put", f"/installations/{self.installation.pk}", body), 409)

    def test_a_body_that_is_far_too_large(self) -> None:
        answer = self.client.post("/api/evaluate", b"[" + b"1," * 3_000_000 + b"1]", content_type="application/json")
        self.assertIn("at most 400000 bytes", self.refused(answer, 413)["detail"])


class Health(TestCase):
    def test_up_and_down(self) -> None:
        self.assertEqual(self.client.get("/api/health").json(), {"status": "ok", "database": "ok"})
        with patch.object(connection, "cursor", side_effect=OperationalError):
            self.assertEqual(self.client.get("/api/health").status_code, 503)


class Constraints(TestCase):
    """What must hold is held by the database itself, whoever writes to it."""

    def refused(self, write: Any) -> None:
        with self.assertRaises(IntegrityError), transaction.atomic():
            write()

    def test_the_database_refuses(self) -> None:
        user, vehicle, installation = make_workshop("Ours", "builder")
        head = Revision.objects.get(installation=installation)

        def again(**changes: Any) -> None:
            values = {"number": 2, "document": head.document, "true_kmh": 100, "shown_kmh": 100, "summary": "x"}
            Revision.objects.create(installation=installation, author=user, **(values | changes))

        self.refused(lambda: again(number=1))
        self.refused(lambda: again(number=0))
        self.refused(lambda: again(document={"version": 3}))
        self.refused(lambda: again(true_kmh=0))
        self.refused(lambda: Vehicle.objects.create(workshop=vehicle.workshop, name="Avocet", kind="car"))
        self.refused(lambda: Vehicle.objects.create(workshop=vehicle.workshop, name="Knot", kind="hovercraft"))
        self.refused(lambda: Vehicle.objects.create(workshop=vehicle.workshop, name="", kind="car"))
        self.refused(lambda: Workshop.objects.create(name=""))
        again()


class Demo(TestCase):
    def test_six_vehicles_each_in_another_state(self) -> None:
        self.assertTrue(load_demo())
        self.assertFalse(load_demo())
        self.assertEqual(InstallationRecord.objects.count(), 9)
        self.assertEqual(sum("First saved" in item.summary for item in Revision.objects.all()), 9)


class Race(TransactionTestCase):
    def test_of_two_saves_at_once_one_comes_through_and_one_is_told(self) -> None:
        user, _, installation = make_workshop("Ours", "builder")
        start, outcomes = Barrier(2), []

        def save(count: int) -> None:
            start.wait()
            try:
                outcomes.append(
                    save_installation(
                        user, installation.pk, Base(1), read_installation(document(CAR, target__count=count))
                    ).number
                )
            except StaleError as error:
                outcomes.append(error.head.document["target"]["count"])
            finally:
                connection.close()

        threads = [Thread(target=save, args=(count,)) for count in (44, 50)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertIn(2, outcomes)
        self.assertEqual(len(outcomes), 2)
        winner = Revision.objects.get(installation=installation, number=2).document["target"]["count"]
        self.assertIn(winner, outcomes)
        self.assertEqual(InstallationRecord.objects.get(pk=installation.pk).head, 2)
