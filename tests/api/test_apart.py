"""What strangers send is read in processes apart, within limits, and every failure ends in a state with words."""

from __future__ import annotations

import io
import resource
import struct
import time
import zlib
from typing import Any
from unittest import TestCase, mock

import psycopg
from django.db import OperationalError
from django.utils import timezone
from PIL import Image

from speedchain.fields import InputError
from speedchain.runs import ReadAs
from tests.api.base import ApiTestCase
from tests.api.test_recordings import RecordingsTestCase
from tests.installations import CAR
from workshop import apart, recordings, work
from workshop.apart import Limits, TooMuchError
from workshop.models import RecordingRecord, Samples, Vehicle, Work
from workshop.photos import kept_photo

TABLE = b"time,gps km/h\n0,10\n1,20\n2,30\n"


def blank_png(width: int, height: int) -> bytes:
    """A PNG of one colour: hundreds of megabytes in some kilobytes (PNG, ISO/IEC 15948)."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    packer, row = zlib.compressobj(9), bytes(1 + 3 * width)
    lines = b"".join([packer.compress(row) for _ in range(height)]) + packer.flush()
    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", lines) + chunk(b"IEND", b"")


class Processes(TestCase):
    def run_apart(self, name: str, seconds: float = 1, megabytes: float = 100, **more: Any) -> list[Any]:
        function = f"tests.apart:{name}"
        return list(apart.apart(function, limits=Limits(seconds, megabytes), path="file", remedy="Cut it.", **more))

    def test_time_and_memory_are_bounded_and_the_limit_is_named(self) -> None:
        for name, words in (("endless", "takes too long"), ("large", "too much memory")):
            with self.subTest(name), self.assertRaisesRegex(TooMuchError, words) as caught:
                self.run_apart(name)
            problem = caught.exception.problems[0]
            self.assertEqual((problem.path, problem.remedy), ("file", "Cut it."))
            self.assertRegex(problem.limit, r"at most (1 s of computing time|100 MB of memory)")

    def test_it_is_ended_when_it_is_stopped(self) -> None:
        def going() -> None:
            raise KeyError

        began = time.monotonic()
        with self.assertRaises(KeyError):
            self.run_apart("waiting", 30, going=going)
        self.assertLess(time.monotonic() - began, 20)

    def test_a_fault_of_our_own_is_none_of_the_file(self) -> None:
        with self.assertRaisesRegex(RuntimeError, "ZeroDivisionError"):
            self.run_apart("failing")

    def test_this_process_has_no_limits_afterwards(self) -> None:
        self.assertEqual(resource.getrlimit(resource.RLIMIT_DATA)[0], resource.RLIM_INFINITY)


class PhotosApart(TestCase):
    def test_a_picture_of_64_megapixels_in_kilobytes_is_refused_by_its_size(self) -> None:
        data = blank_png(8000, 8000)
        self.assertLess(len(data), 300_000)
        with self.assertRaisesRegex(InputError, "64 megapixels"):
            kept_photo(data)

    def test_what_a_phone_takes_is_kept_within_200_mb(self) -> None:
        large = io.BytesIO()
        Image.linear_gradient("L").resize((8000, 6000)).convert("RGB").save(large, "JPEG", quality=40)
        found = kept_photo(large.getvalue())
        self.assertEqual((found.width, found.height), (1600, 1200))


class EveryFailureHasWords(RecordingsTestCase):
    def test_a_fault_of_our_own_ends_the_reading(self) -> None:
        sent = self.sent(TABLE)
        self.send("post", f"/recordings/{sent['id']}/read", {})
        with mock.patch.object(recordings, "facts_of", side_effect=RuntimeError):
            shown = self.read_again(sent["id"])
        self.assertEqual(shown["recording"]["state"], "failed")
        self.assertEqual(shown["recording"]["problem"]["remedy"], "Start it again.")
        self.assertEqual(self.read_again(sent["id"])["recording"]["state"], "ready")

    def test_what_no_queue_holds_any_more_is_ended(self) -> None:
        sent = self.sent(TABLE)
        self.send("post", f"/recordings/{sent['id']}/read", {})
        asked = Work.objects.get(kind="read_recording")
        self.assertEqual(work.settle(), 0)  # it waits in the queue
        work.ProcrastinateJob.objects.filter(args__work_id=asked.pk)._raw_delete("default")  # type: ignore[attr-defined]
        self.assertEqual(work.settle(), 0)  # not yet: it may be just coming
        Work.objects.update(beat_at=timezone.now() - work.LOST_AFTER * 2)
        self.assertEqual(work.settle(), 1)
        asked.refresh_from_db()
        self.assertEqual((asked.state, RecordingRecord.objects.get(pk=sent["id"]).state), ("failed", "failed"))

    def test_a_full_disk_is_said_as_such_and_reads_go_on(self) -> None:
        full = OperationalError("could not extend file")
        full.__cause__ = psycopg.errors.DiskFull("could not extend file")
        sent = self.sent(TABLE)
        self.send("post", f"/recordings/{sent['id']}/read", {})
        with mock.patch.object(recordings, "samples_from", side_effect=full):
            shown = self.read_again(sent["id"])
        self.assertEqual(shown["recording"]["state"], "failed")
        self.assertIn("disk of the server is full", shown["recording"]["problem"]["message"])
        self.assertEqual(Samples.objects.count(), 0)
        with mock.patch("workshop.vehicles.record", side_effect=full):
            answer = self.refused(self.send("post", "/vehicles", {"name": "Tern", "kind": "car"}), 507)
        self.assertIn("Free space", answer["detail"])
        self.assertEqual(self.send("get", "/vehicles").status_code, 200)
        self.assertFalse(Vehicle.objects.filter(name="Tern").exists())

    def test_before_the_disk_is_full_nothing_new_is_taken(self) -> None:
        """64 MiB are 67 108 864 bytes; one less refuses."""
        sent = self.sent(TABLE)
        self.send("post", f"/recordings/{sent['id']}/read", {})
        for free, status in ((67_108_863, 507), (67_108_864, 201)):
            left = mock.Mock(free=free)
            with (
                self.settings(DATABASE_FOLDER="/"),
                mock.patch("workshop.storage.shutil.disk_usage", return_value=left),
            ):
                made = self.send("post", "/vehicles", {"name": f"Tern {status}", "kind": "car"})
                self.assertEqual(made.status_code, status, made.content)
                self.assertEqual(self.send("get", "/vehicles").status_code, 200)
                self.assertEqual(self.send("post", "/evaluate", CAR).status_code, 200)
                if status == 507:
                    work.work_off(Work.objects.get(kind="read_recording").pk)
        shown = self.send("get", f"/recordings/{sent['id']}").json()
        self.assertIn("disk of the server is full", shown["recording"]["problem"]["message"])

    def test_while_the_database_is_away_it_stays_to_be_tried_again(self) -> None:
        sent = self.sent(TABLE)
        self.send("post", f"/recordings/{sent['id']}/read", {})
        with (
            mock.patch.object(recordings, "facts_of", side_effect=OperationalError),
            self.assertRaises(OperationalError),
        ):
            work.work_off(Work.objects.get(kind="read_recording").pk)
        self.assertEqual(RecordingRecord.objects.get(pk=sent["id"]).state, "reading")

    def test_two_readings_at_once(self) -> None:
        """The later one counts; the same again is no other one."""
        sent = self.sent(b"time,a,b\n0,1,2\n1,2,3\n")
        columns = [{"meaning": "time", "unit": "s"}, {"meaning": "speed", "unit": "km/h"}, {"meaning": "ignored"}]
        other = [columns[0], columns[2], columns[1]]
        for wanted in (columns, columns, other):
            self.assertEqual(self.send("post", f"/recordings/{sent['id']}/read", {"columns": wanted}).status_code, 200)
        first, second = Work.objects.filter(kind="read_recording").order_by("pk")
        self.assertEqual((first.state, second.state), ("stopped", "waiting"))
        shown = self.read_again(sent["id"], columns=other)
        self.assertEqual([item["name"] for item in shown["recording"]["channels"]], ["b"])

    def test_one_that_was_overtaken_leaves_nothing(self) -> None:
        sent = self.sent(TABLE)
        self.send("post", f"/recordings/{sent['id']}/read", {})
        first = Work.objects.get(kind="read_recording")
        found = RecordingRecord.objects.get(pk=sent["id"])
        later = Work.objects.create(
            workshop=first.workshop, kind=first.kind, key="x", asked=first.asked, recording=found
        )
        work.work_off(first.pk)
        self.assertEqual(Samples.objects.filter(version=first.pk).count(), 0)
        work.work_off(later.pk)
        found.refresh_from_db()
        self.assertEqual((found.state, found.version), ("ready", later.pk))

    def test_a_list_with_a_recording_of_impossible_times(self) -> None:
        """As one was kept before times were bounded: the vehicle's list goes on."""
        found = RecordingRecord.objects.get(pk=self.read(TABLE)["recording"]["id"])
        found.summary |= {"begins_s": 1.7e12, "ends_s": 1.7e12 + 3}
        found.save()
        answer = self.send("get", f"/vehicles/{self.vehicle.pk}/recordings")
        self.assertEqual((answer.status_code, answer.json()[0]["begins_at"]), (200, None))

    def test_columns_are_known_without_reading_the_file_in_a_request(self) -> None:
        sent = self.sent(TABLE)
        with mock.patch("speedchain.runs.files.format_of", side_effect=AssertionError):
            self.assertEqual(self.send("get", f"/recordings/{sent['id']}").json()["columns"], [])
            self.send("post", f"/recordings/{sent['id']}/read", {})
        shown = self.read_again(sent["id"])
        self.assertEqual([item["name"] for item in shown["columns"]], ["time", "gps"])
        RecordingRecord.objects.update(layout=None)  # as before layouts were kept
        recordings.see_layouts()
        self.assertEqual(self.send("get", f"/recordings/{sent['id']}").json()["columns"], shown["columns"])
        self.assertEqual(ReadAs(**shown["read_as"]), ReadAs())

    def test_piece_numbers(self) -> None:
        sent = self.send("post", f"/vehicles/{self.vehicle.pk}/recordings", {"name": "a", "size_bytes": 5}).json()
        for number in (-1, 1, 10**30):
            self.assertEqual(self.piece(sent["id"], number, b"01234").status_code, 422)


class Refused(ApiTestCase):
    """What PostgreSQL or a calendar cannot hold is refused by field; once each of these was a failure of the server."""

    def note(self, **values: Any) -> Any:
        body = {"kind": "note", "text": "Bled the brake.", "on": "2026-11-29"} | values
        return self.send("post", f"/vehicles/{self.vehicle.pk}/notes", body)

    def test_texts(self) -> None:
        for text in ("a\x00b", "half \ud800", {"\x00": 1}):
            refused = self.refused(self.note(text=text), 422)
            self.assertEqual(refused["problems"][0]["path"], "text")
            self.assertEqual(refused["problems"][0]["limit"], "no NUL, no half of a character")
        path = f"/api/vehicles/{self.vehicle.pk}/notes"
        for body in (b'{"text": "\xed\xa0\x80"}', b'{"text": NaN}', b"\xff\xfe{\x00}\x00"):
            self.refused(self.client.post(path, body, "application/json"), 400)

    def test_addresses_and_headers(self) -> None:
        for path in ("/api/bin?a=%00", "/api/vehicles/%00", f"/api/vehicles/{self.vehicle.pk}/timeline?search=a%00"):
            self.refused(self.client.get(path), 400)
        self.refused(self.client.get("/api/session", HTTP_USER_AGENT="a\x00"), 400)
        self.client.cookies["sessionid"] = "a\x00b"
        self.refused(self.client.get("/api/session"), 400)

    def test_dates_and_numbers(self) -> None:
        for day in ("9999-12-31", "0001-01-01", "2200-01-01"):
            self.assertEqual(self.refused(self.note(on=day), 422)["problems"][0]["limit"], "1900-01-01 to 2199-12-31")
        for day in ("1900-01-01", "2199-12-31"):
            self.assertEqual(self.note(on=day).status_code, 201)
            self.assertEqual(self.send("get", f"/vehicles/{self.vehicle.pk}/due").status_code, 200)
        path = f"/api/vehicles/{self.vehicle.pk}/notes"
        body = b'{"kind": "odometer", "on": "2026-11-29", "value": 1e999}'
        self.assertEqual(self.client.post(path, body, "application/json").status_code, 422)

    def test_neither_done_nor_put_off_is_not_done(self) -> None:
        body = {"text": "Clean the paddle", "due": {"on": "2026-12-01"}}
        made = self.send("post", f"/vehicles/{self.vehicle.pk}/due", body).json()["items"][0]["id"]
        self.refused(self.send("put", f"/due/{made}", {"done": False}), 422)
        self.assertEqual(len(self.send("get", f"/vehicles/{self.vehicle.pk}/due").json()["items"]), 1)

    def test_timelines_of_5000_entries_come_in_within_seconds_and_absurd_numbers_by_entry(self) -> None:
        rows = "".join([f"2026-01-02,odometer,,,,{km},\n" for km in range(5000)])
        head = "date,kind,what,by,installation,value,km\n"
        path = f"/vehicles/{self.vehicle.pk}/timeline"
        began = time.process_time()
        answer = self.send("post", path, {"file": head + rows})
        self.assertEqual((answer.status_code, answer.json()["added"]), (200, 5000), answer.content[:300])
        self.assertLess(time.process_time() - began, 10)  # once 100 s for 100 kB
        self.vehicle.notes.all().delete()
        for value in ("nan", "inf", "-5", "1e300"):
            refused = self.refused(self.send("post", path, {"file": f"{head}2026-01-02,odometer,,,,{value},\n"}), 422)
            self.assertIn("Entry 1", refused["detail"])
            self.assertIn("value", refused["detail"])
        self.refused(self.send("post", path, {"file": '{"items": [{"date": "2026-01-02", "value": NaN}]}'}), 422)
        self.refused(self.send("post", path, {"file": f"{head}9999-01-02,note,x,,,,\n"}), 422)
        long = self.refused(self.send("post", path, {"file": "é" * 1_000_001}), 422)
        self.assertIn("1000000 characters", long["problems"][0]["limit"])
