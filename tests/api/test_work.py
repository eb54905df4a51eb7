"""The queue: a worker that is killed loses nothing, nobody waits for one busy workshop, work is stopped and kept."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from typing import Any
from unittest import mock

from django.db import IntegrityError, OperationalError, connection, transaction
from django.test import TransactionTestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from speedchain.runs import Derived, Drive, as_table
from tests.api.base import ApiTestCase, make_workshop
from tests.installations import CAR, document
from tests.worker import Worker, work_all
from workshop import recordings, work
from workshop.derived import add_derived, remove_derived
from workshop.models import RecordingRecord, Samples, Work
from workshop.queue import LEAST_WAIT_S
from workshop.recordings import ReadAs

STEADY = {"points": [{"at_s": 0, "kmh": 50}, {"at_s": 5, "kmh": 50}]}


class Rows(ApiTestCase):
    def start(self, seconds: float = 5, **changes: Any) -> Any:
        run = {"profile": {"points": [{"at_s": 0, "kmh": 10}, {"at_s": seconds, "kmh": 150}]}, "seconds": seconds}
        return self.send("post", "/bench/runs", {"document": document(CAR, **changes), "run": run})

    def shown(self, work_id: int) -> dict[str, Any]:
        found: dict[str, Any] = self.send("get", f"/work/{work_id}").json()
        return found

    def test_one_too_long_is_refused_before_it_starts(self) -> None:
        run = {"profile": STEADY, "seconds": 3601}
        body = self.refused(self.send("post", "/bench/runs", {"document": CAR, "run": run}), 422)
        self.assertIn("at most 3600 s", body["problems"][0]["limit"])
        self.assertEqual(Work.objects.count(), 0)

    def test_a_fourth_at_once_is_refused(self) -> None:
        for _ in range(3):
            self.assertEqual(self.start().status_code, 202)
        self.refused(self.start(), 429)
        work_all()
        self.assertEqual(self.start().status_code, 202)

    def test_one_that_breaks_off_says_so(self) -> None:
        made = self.start().json()
        with mock.patch("workshop.bench.run_bench", side_effect=ValueError("not meant to be")):
            work_all()
        found = self.shown(made["id"])
        self.assertEqual((found["state"], found["problem"]["message"]), ("failed", "The task was interrupted."))
        self.assertIsNone(found["bench_run"])

    def test_while_the_database_is_away_the_queue_tries_again(self) -> None:
        made = self.start().json()
        with mock.patch("workshop.bench.run_bench", side_effect=OperationalError), self.assertRaises(OperationalError):
            work_all()
        self.assertEqual(self.shown(made["id"])["state"], "going")
        work_all()
        self.assertEqual(self.shown(made["id"])["state"], "done")

    def test_one_still_waiting_is_stopped_at_once_and_never_begins(self) -> None:
        made = self.start().json()
        self.assertEqual(self.send("delete", f"/work/{made['id']}").json()["state"], "stopped")
        work.work_off(made["id"])
        self.assertEqual(self.shown(made["id"])["state"], "stopped")

    def test_a_reading_that_is_stopped_leaves_what_was_read_before(self) -> None:
        data = b"time,gps km/h\n0,1\n1,2\n"
        made = recordings.add_recording(self.user, self.vehicle.pk, "drive.csv", len(data))
        recordings.add_piece(self.user, made.pk, 0, data)
        recordings.read_recording(self.user, made.pk, ReadAs())
        shown = self.send("get", f"/recordings/{made.pk}").json()["recording"]
        self.send("delete", f"/work/{shown['reading']}")
        shown = self.send("get", f"/recordings/{made.pk}").json()["recording"]
        self.assertEqual((shown["state"], shown["problem"]["message"]), ("failed", "The reading was stopped."))
        self.send("post", f"/recordings/{made.pk}/read", {})
        work_all()
        again = self.send("post", f"/recordings/{made.pk}/read", {"rising": False}).json()
        Work.objects.filter(pk=again["reading"]).update(stop_wanted=True)
        work_all()
        shown = self.send("get", f"/recordings/{made.pk}").json()["recording"]
        self.assertEqual((shown["state"], shown["lines"]), ("ready", 2))

    def test_one_under_way_is_stopped_before_its_next_piece(self) -> None:
        made = self.start(600).json()
        Work.objects.filter(pk=made["id"]).update(stop_wanted=True)
        work_all()
        self.assertEqual(self.shown(made["id"])["state"], "stopped")

    def test_only_the_newest_are_kept(self) -> None:
        common = {"workshop": self.user.member.workshop, "kind": "bench_run", "asked": {}, "state": "stopped"}
        Work.objects.bulk_create([Work(**common) for _ in range(work.KEPT + 4)])
        made = self.start().json()
        self.assertEqual(Work.objects.count(), work.KEPT)
        self.assertEqual(Work.objects.first().pk, made["id"])  # type: ignore[union-attr]

    def test_answers_of_one_recording_do_not_push_out_others(self) -> None:
        recording = RecordingRecord.objects.create(vehicle=self.vehicle, name="drive.csv", size_bytes=1)
        common = {"workshop": self.user.member.workshop, "kind": "check", "asked": {}, "state": "stopped"}
        Work.objects.bulk_create([Work(**common, recording=recording) for _ in range(work.KEPT + 4)])
        self.start()
        self.assertEqual(Work.objects.filter(recording=recording).count(), work.KEPT + 4)
        work.start_work(self.user, "health", {"channel": "display"}, recording=recording)
        self.assertEqual(Work.objects.filter(recording=recording).count(), work.KEPT)

    def test_the_database_refuses_what_makes_no_sense(self) -> None:
        common = {"workshop": self.user.member.workshop, "kind": "bench_run", "asked": {}}
        for wrong in ({"state": "asleep"}, {"share": 1.5}, {"state": "done"}):
            with self.subTest(wrong=wrong), self.assertRaises(IntegrityError), transaction.atomic():
                Work.objects.create(**common, **wrong)

    def test_a_busy_workshop_lets_others_pass(self) -> None:
        """Priorities: the second of ours waits behind the first of theirs."""
        for _ in range(3):
            self.start()
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.start()
        order = ProcrastinateJob.objects.filter(task_name="work_off").order_by("-priority", "id")
        ids = [job.args["work_id"] for job in order]
        workshops = [Work.objects.get(pk=pk).workshop.name for pk in ids]
        self.assertEqual(workshops, ["Ours", "Theirs", "Ours", "Ours"])


class Workers(TransactionTestCase):
    """Real workers: in a thread, and as processes that are killed."""

    def setUp(self) -> None:
        with connection.cursor() as cursor:  # their tables are not emptied by the runner
            cursor.execute("DELETE FROM procrastinate_periodic_defers; DELETE FROM procrastinate_jobs")
        self.user, self.vehicle, _ = make_workshop("Ours", "builder")

    def recording(self, seconds: float = 40) -> RecordingRecord:
        data = as_table(Drive(hold_s=seconds)).encode()
        made = recordings.add_recording(self.user, self.vehicle.pk, "drive.csv", len(data))
        for number, begin in enumerate(range(0, len(data), 1_000_000)):
            recordings.add_piece(self.user, made.pk, number, data[begin : begin + 1_000_000])
        return recordings.read_recording(self.user, made.pk, ReadAs())

    def waited_for(self, found: Any, states: tuple[str, ...], seconds: float = 60) -> None:
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            found.refresh_from_db()
            if found.state in states:
                return
            time.sleep(0.1)
        self.fail(f"still {found.state}")

    def test_requests_about_one_recording_do_not_wait_for_each_other_for_ever(self) -> None:
        """One order of locks: derived channels, readings and questions at once, again and again, without a deadlock."""
        found = self.recording()
        work_all()
        failures: list[str] = []

        def again(act: Callable[[int], object]) -> None:
            try:
                for number in range(25):
                    act(number)
            except Exception as error:
                failures.append(f"{type(error).__name__}: {error}")
            finally:
                connection.close()

        def derive(number: int) -> None:
            wanted = Derived(kind="distance", of="satellite speed")
            add_derived(self.user, found.pk, wanted)
            remove_derived(self.user, found.pk, wanted.name())

        speed = {"true_channel": "satellite speed", "shown_channel": "display"}
        acts: tuple[Callable[[int], object], ...] = (
            derive,
            lambda number: work.start_work(self.user, "slip", speed | {"number": number}, recording=found),
            lambda number: recordings.read_recording(self.user, found.pk, ReadAs(threshold=number / 100)),
        )
        threads = [threading.Thread(target=again, args=(act,)) for act in acts]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(120)
        self.assertEqual(failures, [])

    def test_a_worker_takes_what_waits_and_what_comes(self) -> None:
        first = self.recording()
        worker = Worker().start()
        self.addCleanup(worker.stop)
        self.waited_for(first, ("ready",))
        second = self.recording(30)
        self.waited_for(second, ("ready",), 20)
        self.assertEqual(Work.objects.filter(state="done").count(), 2)

    def test_work_is_not_taken_before_what_it_belongs_to_is_kept(self) -> None:
        """With a worker in the same process: it listens at a connection of its own, asking stays in its transaction."""
        worker = Worker().start()
        self.addCleanup(worker.stop)
        self.waited_for(self.recording(), ("ready",))
        with transaction.atomic():
            second = self.recording(30)
            time.sleep(2.5 * LEAST_WAIT_S)
        self.waited_for(second, ("ready",), 20)

    def test_a_worker_killed_in_the_middle_loses_nothing(self) -> None:
        """kill -9 while it reads; another takes it up, from the beginning, and nothing is there twice."""
        found = self.recording(3000)
        first = self.process(
            "import time, workshop.recordings as r; from workshop.samples import samples_from as s\n"
            "def slow(*a):\n    made = s(*a); time.sleep(0.3); return made\n"
            "r.samples_from = slow\nimport workshop.samples as w; w.MOST_ROWS = 2000\n"
        )
        until = time.monotonic() + 60
        while not Samples.objects.filter(recording=found).exists() and time.monotonic() < until:
            time.sleep(0.05)
        os.kill(first.pid, signal.SIGKILL)
        first.wait()
        found.refresh_from_db()
        self.assertEqual(found.state, "reading")
        self.assertTrue(Samples.objects.filter(recording=found).exists())
        self.process("import workshop.queue as q; q.STALLED_AFTER_S = 1\n")
        self.waited_for(found, ("ready",), 90)
        self.assertEqual(
            sum(Samples.objects.filter(recording=found).values_list("count", flat=True)), found.summary["lines"]
        )

    def process(self, before: str) -> subprocess.Popen[bytes]:
        """A worker process at the tests' database."""
        code = (
            "import django; django.setup()\n"
            + before
            + "import workshop.queue as q; q.HEARTBEAT_S = 0.3\nfrom wheelometron.worker import main; main()"
        )
        process = subprocess.Popen(
            [sys.executable, "-c", code],
            env=os.environ | {"WHEELOMETRON_DB_NAME": str(connection.settings_dict["NAME"])},
            stdin=subprocess.PIPE,
        )

        def end() -> None:
            if process.poll() is None:
                process.kill()
                process.wait()
            if process.stdin:
                process.stdin.close()

        self.addCleanup(end)
        return process
