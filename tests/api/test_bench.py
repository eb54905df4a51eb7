"""Signal and bench over the API: views, the running bench, cards, tests by hand, files."""

from __future__ import annotations

import io
from typing import Any

from django.contrib.auth.models import User
from pypdf import PdfReader

from tests.api.base import ApiTestCase
from tests.core.test_every_field import RICH
from tests.installations import CAR, CYCLE, document
from workshop.models import Member

COIL = document(
    CAR,
    sensor={"kind": "variable_reluctance", "needs": {"min_speed_kmh": 5, "max_speed_kmh": 200}},
    signal={"vr": {"measured_vpp": "2 V", "at_hz": 100}, "conditioner": {"kind": "vr_converter", "max_input_vpp": 20}},
)
STEADY = {"points": [{"at_s": 0, "kmh": 50}]}


def moment(**more: Any) -> dict[str, Any]:
    return {"document": CAR, "moment": {"profile": STEADY, "now_s": 20} | more}


class Signal(ApiTestCase):
    def test_the_signal_of_a_coil(self) -> None:
        result = self.send("post", "/signal", COIL).json()
        self.assertEqual([one["code"] for one in result["coil_ways"]], ["converter", "hall"])
        self.assertEqual(len(result["coil_line"]["vpp"]), len(result["coil_line"]["kmh"]))
        found = self.send("post", "/evaluate", COIL).json()["result"]["findings"]
        self.assertIn("signal.over_driven", [one["code"] for one in found])

    def test_a_document_with_everything_in_it(self) -> None:
        for path in ("/signal", "/wiring"):
            self.assertEqual(self.send("post", path, RICH).status_code, 200)
        result = self.send("post", "/signal", RICH).json()
        self.assertEqual(result["ways"][0]["label"], "One fraction")
        self.assertGreater(result["analogue"]["smoothed"]["settling_s"], 0)

    def test_wires_on_paper(self) -> None:
        wires = [{"colour": "brown", "role": "supply"}, {"colour": "blue", "role": "ground"}]
        given = document(CAR, sensor__wires=wires, wheels_driven="four", signal={"lead": {"load_ohm": "4k7"}})
        sheet = self.send("post", "/wiring", given).json()
        self.assertEqual([row["colour"] for row in sheet["wires"]], ["brown", "blue"])
        self.assertIn({"asked": "Wheels driven", "answer": "Four wheels", "known": True}, sheet["order"])
        answer = self.send("post", "/wiring/pdf", given)
        self.assertIn("Parts: tyre 205/55R16", PdfReader(io.BytesIO(answer.content)).pages[0].extract_text())
        text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(answer.content)).pages)
        self.assertIn("brown", text)
        self.assertIn("Order sheet", text)


class Bench(ApiTestCase):
    def test_a_moment(self) -> None:
        result = self.send("post", "/bench/moment", moment()).json()
        self.assertEqual(result["true_kmh"], 50)
        self.assertEqual(result["missed"], 0)
        self.assertEqual(len(result["scope"]["raw"]), len(result["scope"]["high"]))

    def test_a_document_is_sent_once_and_called_by_its_key_afterwards(self) -> None:
        key = {"key": "bench-key-1"}
        first = self.send("post", "/bench/moment", moment() | key).json()
        again = self.send("post", "/bench/moment", {"moment": moment()["moment"]} | key).json()
        self.assertEqual(again, first)
        for unknown in ({"key": "bench-key-2"}, {}):
            body = self.refused(self.send("post", "/bench/moment", {"moment": moment()["moment"]} | unknown), 409)
            self.assertIn("Send the document again", body["detail"])
        other = User.objects.create_user("other", password="a long pass phrase")
        Member.objects.create(user=other, workshop=self.user.member.workshop, role="fitter")
        self.client.force_login(other)  # a key is its account's own
        self.refused(self.send("post", "/bench/moment", {"moment": moment()["moment"]} | key), 409)

    def test_what_cannot_be_asked_is_refused_by_name(self) -> None:
        for more, path in (
            ({"now_s": "yesterday"}, "moment.now_s"),
            ({"window_ms": 0}, "moment.window_ms"),
            ({"faults": {"noise": 99}}, "moment.faults.noise"),
            ({"profile": {"points": []}}, "moment.profile.points"),
            ({"profile": {"points": [{"at_s": 5, "kmh": 1}, {"at_s": 1, "kmh": 1}]}}, "moment.profile.points.1.at_s"),
        ):
            with self.subTest(path):
                body = self.refused(self.send("post", "/bench/moment", moment(**more)), 422)
                self.assertEqual(body["problems"][0]["path"], path)
                self.assertTrue(body["problems"][0]["remedy"])

    def test_the_card_and_its_paper(self) -> None:
        card = [{"speed_kmh": 50, "read_kmh": "33 mph"}, {"speed_kmh": 100, "read_kmh": 106}]
        given = {"document": document(CAR, readouts__0__card=card)}
        result = self.send("post", "/bench/card", given).json()
        self.assertAlmostEqual(result["rows"][0]["read_kmh"], 53.1, places=1)
        self.assertEqual(result["next"]["what"], "number")
        text = PdfReader(io.BytesIO(self.send("post", "/bench/card/pdf", given).content)).pages[0].extract_text()
        self.assertIn("Reading", text)
        self.refused(self.send("post", "/bench/card", {"document": CAR, "readout": 3}), 422)

    def test_paper_says_what_it_is_of(self) -> None:
        """Vehicle, installation, revision, date, parts and notes; and that of another workshop stays its own."""
        vehicle = self.send("post", "/vehicles", {"name": "Ruff", "kind": "car", "note": ""}).json()
        entered = document(CAR, name="Front hub", notes="Lead along the arm.")
        made = self.send("post", f"/vehicles/{vehicle['id']}/installations", entered).json()
        for path, body in (("/wiring/pdf", entered), ("/bench/card/pdf", {"document": entered})):
            answer = self.send("post", f"{path}?installation_id={made['id']}", body)
            text = " ".join(PdfReader(io.BytesIO(answer.content)).pages[0].extract_text().split())
            for words in (
                "Vehicle: Ruff",
                "Front hub, revision 1 of 20",
                "toothed ring, 48 per turn",
                "Lead along the arm.",
            ):
                self.assertIn(words, text, path)
            self.assertNotIn("not saved", text)
        changed = entered | {"notes": "Another note."}
        answer = self.send("post", f"/wiring/pdf?installation_id={made['id']}", changed)
        self.assertIn("not saved", " ".join(PdfReader(io.BytesIO(answer.content)).pages[0].extract_text().split()))
        self.refused(self.send("post", "/wiring/pdf?installation_id=987654", entered), 404)

    def test_readings_and_their_cause(self) -> None:
        pairs = [{"true_kmh": v, "shown_kmh": f"{v} mph"} for v in (30, 60, 90)]
        given = {"document": document(CAR), "readings": {"pairs": pairs}}
        found = self.send("post", "/bench/readings", given).json()
        self.assertEqual((found["pattern"], found["causes"][0]["code"]), ("constant", "unit_mile"))
        for wrong, path in (
            ([], "readings.pairs"),
            ([{"true_kmh": "fast", "shown_kmh": 1}], "readings.pairs.0.true_kmh"),
            ([{"true_kmh": 50, "shown_kmh": -3}], "readings.pairs.0.shown_kmh"),
            ([{"true_kmh": 50, "shown_kmh": 50}] * 2, "readings.pairs"),
        ):
            body = self.refused(self.send("post", "/bench/readings", given | {"readings": {"pairs": wrong}}), 422)
            self.assertEqual(body["problems"][0]["path"], path)
            self.assertTrue(body["problems"][0]["remedy"])
        body = self.refused(
            self.send("post", "/bench/readings", given | {"readings": {"readout": 5, "pairs": pairs}}), 422
        )
        self.assertIn("There is no readout", body["problems"][0]["message"])

    def test_runs_there_and_back_by_hand(self) -> None:
        """6 kn there, 4 kn back, 4.9 kn shown: 5 kn through the water, −2 %."""
        runs = [
            {"ground_kmh": "6 kn", "shown_kmh": "4.9 kn"},
            {"ground_kmh": "4 kn", "shown_kmh": "4.9 kn", "back": True},
        ]
        found = self.send("post", "/bench/reciprocal", {"runs": runs, "display_step_kmh": 0.18}).json()
        self.assertAlmostEqual(found["error_pct"], -2, places=6)
        self.assertAlmostEqual(found["current_first_kmh"], 1.852, places=6)
        one_way = {"runs": [runs[0], runs[0]]}
        self.refused(self.send("post", "/bench/reciprocal", one_way), 422)

    def test_tests_by_hand(self) -> None:
        result = self.send("post", "/bench/hand", {"document": CYCLE}).json()
        self.assertEqual(result["spin"]["predictions"][0]["readout"], "Computer")
        self.assertEqual(set(result["magnet"]["follows"]), {"agreed", "differed", "nothing"})
        body = self.refused(self.send("post", "/bench/hand", {"document": CYCLE, "seconds": 0}), 422)
        self.assertEqual(body["problems"][0]["path"], "seconds")

    def test_files_and_their_limit(self) -> None:
        run = {"profile": STEADY, "seconds": 2}
        for kind, begins in (("csv", b"time_s,wire"), ("vcd", b"$timescale"), ("nmea", b"$GPRMC")):
            answer = self.send("post", f"/bench/files/{kind}", {"document": CAR, "run": run})
            self.assertTrue(answer.content.startswith(begins))
        body = self.refused(
            self.send("post", "/bench/files/vcd", {"document": CAR, "run": run | {"seconds": 3600}}), 422
        )
        self.assertIn("at most 80000", body["problems"][0]["limit"])
