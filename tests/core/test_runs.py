"""Recorded drives: tables as loggers write them, parts that prove something, and what follows for a setting."""

from __future__ import annotations

import contextlib
import csv
import io
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from speedchain import evaluate
from speedchain.fields import InputError
from speedchain.runs import (
    CheckWanted,
    Drive,
    Proof,
    SpeedRecord,
    TimeSpan,
    as_table,
    fingerprint,
    layout_of,
    prove,
    read_edges,
    read_file,
    read_table,
    speed_check,
)
from speedchain.runs.steady import parts_of
from tests.installations import CAR, installation

WANTED = CheckWanted(true_channel="satellite speed", shown_channel="display")


def driven(drive: Drive, wanted: CheckWanted = WANTED, **changes: object) -> Proof:
    """The proof of a simulated drive with a car whose display holds 23000 pulses per km."""
    known = installation(CAR, readouts__0__current_setting=23000, **changes)
    data = as_table(drive).encode()
    return prove(known, evaluate(known), read_table(data, layout_of(data)), wanted)


class Tables(TestCase):
    def table(self, text: str, encoding: str = "utf-8") -> tuple[list[tuple[str, str, str]], object]:
        data = text.encode(encoding)
        layout = layout_of(data)
        return [(item.name, item.meaning, item.unit) for item in layout.columns], read_table(data, layout)

    def test_separators_decimal_commas_headings_and_encodings(self) -> None:
        rows = [("0", "10", "10.5"), ("0.5", "20.25", "21"), ("1", "30", "31.5")]
        for separator, comma, encoding in (
            (",", False, "utf-8"),
            (";", True, "cp1252"),
            ("\t", False, "utf-16"),
            ("\t", True, "utf-8-sig"),
            (";", False, "utf-8"),
        ):
            with self.subTest(separator=separator, comma=comma, encoding=encoding):
                body = "\r\n".join(separator.join(row) for row in rows)
                text = f"Logger für Läufe\r\n\r\nTime (s){separator}GPS speed [km/h]{separator}Dash [km/h]\r\n"
                columns, found = self.table(text + (body.replace(".", ",") if comma else body) + "\r\n", encoding)
                self.assertEqual(
                    columns, [("Time", "time", "s"), ("GPS speed", "speed", "km/h"), ("Dash", "speed", "km/h")]
                )
                np.testing.assert_allclose(found.channels[0].time_s, [0, 0.5, 1])
                np.testing.assert_allclose(found.channels[1].values, [10.5, 21, 31.5])
                self.assertEqual(found.bad_lines, 0)

    def test_a_row_of_units_and_clocks_over_midnight(self) -> None:
        columns, found = self.table(
            "Time,GPS Speed,Wheel\nhh:mm:ss,mph,kn\n23:59:59.5,60,52\n00:00:00.5,60,52\n00:00:01.5,61,53\n"
        )
        self.assertEqual([unit for _, _, unit in columns[1:]], ["mph", "kn"])
        np.testing.assert_allclose(np.diff(found.channels[0].time_s), [1, 1])
        # 1 mile is 1609.344 m, 1 nautical mile 1852 m: international agreements
        np.testing.assert_allclose([item.values[0] for item in found.channels], [60 * 1.609344, 52 * 1.852])

    def test_dates_with_times(self) -> None:
        _, found = self.table(
            "time;v [m/s];gps "
            "[m/s]\n2026-05-02T10:00:00Z;10;10\n2026-05-02T10:00:02Z;11;11\n2026-05-02T10:00:03Z;12;12\n"
        )
        np.testing.assert_allclose(np.diff(found.channels[0].time_s), [2, 1])
        np.testing.assert_allclose(found.channels[0].values, [36, 39.6, 43.2])

    def test_bad_lines_are_counted_and_named_and_stop_nothing(self) -> None:
        _, found = self.table("time,a mph,b mph\n0,10,10\nlost the fix\n1,oops,11\n2,12,12\n,,\n3,13,13\n")
        np.testing.assert_allclose(found.channels[0].time_s, [0, 1, 2, 3])
        self.assertEqual((found.lines, found.bad_lines), (6, 3))
        self.assertEqual(found.examples, ("line 3", "line 4", "line 6"))
        self.assertTrue(np.isnan(found.channels[0].values[1]))

    def test_what_is_no_table_is_refused_with_a_remedy(self) -> None:
        for data in (b"", b"hello\nworld\n", b"\x00\x01\x02" * 50, b"only,words\nand,more\n"):
            with self.subTest(data), self.assertRaises(InputError) as caught:
                layout_of(data)
            self.assertTrue(caught.exception.problems[0].remedy)
        data = b"a,b,c\n5,4,9\n3,2,8\n"
        with self.assertRaisesRegex(InputError, "A column for the time"):
            read_table(data, layout_of(data))

    def test_tables_as_loggers_write_them(self) -> None:
        """Made by Python's csv: times in ms with and without saying so, since 1970, over midnight, doubled, out of
        order; decimal commas within commas, thousands, columns lined up by blanks, speeds without a unit."""

        def written(heads: list[str], rows: list[list[str]], **dialect: str) -> bytes:
            text = io.StringIO()
            csv.writer(text, **dialect).writerows([heads, *rows])  # type: ignore[arg-type]
            return text.getvalue().encode()

        at = range(20)
        plain = ["gps km/h", "dash km/h"]
        clock = [f"23:59:{50 + i:02d}" if i < 10 else f"00:00:{i - 10:02d}" for i in at]
        for name, data, step_s, count in (
            ("ms said", written(["Time (ms)", *plain], [[f"{100 * i}", "50", "51"] for i in at]), 0.1, 20),
            ("ms alone", written(["ms", *plain], [[f"{100 * i}", "50", "51"] for i in at]), 0.1, 20),
            ("ms not said", written(["time", *plain], [[f"{100 * i}", "50", "51"] for i in at]), 0.1, 20),
            ("s not said", written(["time", *plain], [[f"{2 * i}", "50", "51"] for i in at]), 2.0, 20),
            ("100 Hz", written(["time", *plain], [[f"{i / 100:.2f}", "50", "51"] for i in at]), 0.01, 20),
            ("epoch", written(["utc", *plain], [[f"{1764580000000 + 100 * i}", "50", "51"] for i in at]), 0.1, 20),
            ("midnight", written(["Time", *plain], [[of, "50", "51"] for of in clock]), 1.0, 20),
            ("doubled", written(["time s", *plain], [[f"{i // 2}", "50", "51"] for i in at]), 1.0, 10),
            ("order", written(["time s", *plain], [[f"{i ^ 1}", "50", "51"] for i in at]), 1.0, 20),
            ("commas", written(["time s", *plain], [[f"{i},5", "50,0", "51,0"] for i in at]), 1.0, 20),
            ("blanks", b"time  gps_kmh dash_kmh\n" + b"".join(b"%4d   50.0  51\n" % i for i in at), 1.0, 20),
            ("no unit", written(["time", "GNSS speed", "Speed"], [[f"{i}", "50", "51"] for i in at]), 1.0, 20),
        ):  # fmt: skip
            with self.subTest(name):
                found = read_file(data)
                speeds = [item for item in found.channels if item.quantity == "speed"]
                self.assertEqual([item.true for item in speeds], [True, False])
                self.assertEqual([round(float(item.values.mean()), 6) for item in speeds], [50, 51])
                np.testing.assert_allclose(np.diff(speeds[0].time_s), step_s, atol=1e-6)
                self.assertEqual(speeds[0].time_s.size, count)

    def test_a_guess_is_called_one_and_other_numbers_are_kept(self) -> None:
        layout = layout_of(b"time,Vehicle speed,RPM,Throttle [%],Note\n0,50,3000,12,a\n1,51,3100,13,b\n")
        known = [(item.meaning, item.unit, item.unit_guessed) for item in layout.columns]
        self.assertEqual(known[0], ("time", "s", True))
        self.assertEqual(known[1], ("speed", "km/h", True))
        self.assertEqual(known[2], ("engine", "rpm", True))
        self.assertEqual(known[3:], [("other", "%", False), ("ignored", "", False)])
        _, found = self.table('time s,way m,v km/h\n0,"1,000.5",50\n1,"1,002.5",50\n')
        np.testing.assert_allclose(found.channel("way").values, [1000.5, 1002.5])

    def test_absurd_times_speeds_and_widths(self) -> None:
        for text, word in (
            ("time,a km/h,b km/h\n0,1,1\n1e9,1,1\n", "span more than 31 days"),
            (",".join("1" * 201) + "\n" + ",".join("2" * 201) + "\n", "201 columns"),
        ):
            data = text.encode()
            with self.subTest(word), self.assertRaisesRegex(InputError, word):
                read_table(data, layout_of(data))
        _, found = self.table("time,a km/h,b km/h\n0,50,50\n1,1e300,50\n2,50,-1e9\n")
        self.assertEqual(found.bad_lines, 2)

    @settings(deadline=None, max_examples=60)
    @given(st.binary(max_size=400))
    def test_any_bytes_are_read_or_refused(self, data: bytes) -> None:
        with contextlib.suppress(InputError):
            read_table(data, layout_of(data))


class Parts(TestCase):
    def reasons(self, **more: object) -> dict[str | None, float]:
        time_s = np.arange(0, 100, 0.5)
        true = np.interp(time_s, [0, 20, 60, 70, 100], [0, 60, 60, 90, 90])
        found: dict[str | None, float] = {}
        for part in parts_of(time_s, true, true, **more):  # type: ignore[arg-type]
            found[part.reason] = found.get(part.reason, 0) + part.to_s - part.from_s
        return found

    def test_starts_and_changes_of_speed_are_left_out(self) -> None:
        found = self.reasons()
        self.assertAlmostEqual(found["slow"], 3.5, delta=0.6)  # 10 km/h at 3 km/h a second
        self.assertAlmostEqual(found[None], 70, delta=5)
        self.assertAlmostEqual(found["speed_changes"], 26, delta=5)

    def test_turns_and_poor_fixes_are_left_out(self) -> None:
        course = np.interp(np.arange(0, 100, 0.5), [0, 30, 40, 100], [350, 350, 440, 440]) % 360
        self.assertAlmostEqual(self.reasons(course_deg=course)["turn"], 11, delta=2)
        accuracy = np.where(np.arange(200) < 100, 3.0, 25.0)
        self.assertAlmostEqual(self.reasons(accuracy_m=accuracy)["poor_fix"], 49.5, delta=0.6)

    def test_lost_samples_hide_no_change_of_speed(self) -> None:
        time_s = np.arange(0, 100, 0.5)
        true = np.interp(time_s, [0, 20, 60, 70, 100], [0, 60, 60, 90, 90])
        true[[3, 60, 90]] = np.nan
        found = [part for part in parts_of(time_s, true, np.interp(time_s, [0, 100], [50, 60])) if part.reason is None]
        self.assertEqual(len(found), 4)  # two steady stretches, cut where a sample is lost
        self.assertLess(max(part.to_s for part in found if part.from_s < 60), 61)
        nothing = parts_of(time_s, np.full(200, np.nan), true)
        self.assertEqual([part.reason for part in nothing], ["not_recorded"])

    def test_a_person_may_decide_otherwise(self) -> None:
        self.assertAlmostEqual(self.reasons(left_out=((30.0, 40.0),))["by_hand"], 10.5, delta=0.6)
        self.assertNotIn("slow", self.reasons(used=((0.0, 25.0),)))


class Checks(TestCase):
    def test_a_wrong_setting_is_found_with_its_cause_and_the_right_number(self) -> None:
        proof = driven(Drive(shown_per_true=48 / 47, seed=2))
        self.assertEqual(proof.verdict, "wrong")
        self.assertAlmostEqual(proof.check.error_pct, 100 / 47, delta=proof.check.expanded_pct)
        assert proof.to_type is not None
        # the reader counted 48/47 of what it is set to: 23000·48/47 = 23489
        self.assertAlmostEqual(proof.to_type.value, 23489, delta=23489 * proof.check.expanded_pct / 100 + 1)
        self.assertIn("47 teeth", proof.causes[0].text)

    def test_a_setting_changed_since_the_drive_is_not_corrected_twice(self) -> None:
        wanted = WANTED.model_copy(update={"driven_setting": 23000.0})
        data = as_table(Drive(shown_per_true=48 / 47, seed=2)).encode()
        known = installation(CAR, readouts__0__current_setting=23489)
        after = prove(known, evaluate(known), read_table(data, layout_of(data)), wanted)
        before = driven(Drive(shown_per_true=48 / 47, seed=2))
        assert after.to_type is not None
        assert before.to_type is not None
        self.assertEqual((after.changed, before.changed), (True, False))
        self.assertEqual(after.to_type.value, before.to_type.value)

    def test_a_drive_against_what_the_installation_expects_is_said(self) -> None:
        expected = evaluate(installation(CAR, readouts__0__current_setting=23000)).readouts[0].in_use.error_pct
        self.assertIn("is not as entered", driven(Drive(shown_per_true=1.2)).conflict)
        self.assertEqual(driven(Drive(shown_per_true=1 + expected / 100)).conflict, "")

    def test_a_right_display_needs_nothing(self) -> None:
        proof = driven(Drive(seed=3))
        self.assertNotEqual(proof.verdict, "wrong")
        self.assertIsNone(proof.to_type)
        self.assertEqual(proof.causes, ())

    def test_the_lag_of_the_display_is_found(self) -> None:
        self.assertAlmostEqual(driven(Drive(shown_late_s=1.7, seed=4)).check.lag.lag_s, 1.7, delta=0.15)

    def test_speeds_are_paired_at_one_time(self) -> None:
        """Two seconds behind, while the speed rises by 1 km/h a second, a right display would seem 2 km/h low."""
        time_s = np.arange(0, 120, 0.5)
        true = np.interp(time_s, [0, 10, 50, 60, 100, 120], [0, 30, 70, 70, 30, 30])
        shown = SpeedRecord(time_s + 2, true)
        found = speed_check(SpeedRecord(time_s, true), shown, used=((14.0, 46.0),), left_out=((48.0, 120.0),))
        assert found is not None
        self.assertAlmostEqual(found.error_pct, 0, delta=0.1)

    def test_slope_or_wind_cancels_there_and_back(self) -> None:
        check = driven(Drive(shown_per_true=1.01, wind_pct=2, seed=5)).check
        self.assertAlmostEqual(check.error_pct, 1.0, delta=check.expanded_pct)
        self.assertIn("two directions differ", check.advice)
        self.assertAlmostEqual(check.directions[0].error_pct - check.directions[1].error_pct, 2.02, delta=0.4)

    def test_a_setting_that_is_known_to_be_wrong_is_not_called_the_range_of_the_figures(self) -> None:
        """A tyre by its marking is good to some per cent; 3 % off by that alone, or with a setting that is 3 % off."""
        for off, first in ((0.0, True), (3.0, False)):
            tyre = installation(CAR, wheel={"method": "marking", "marking": {"text": "205/55R16"}})
            asked = evaluate(tyre).readouts[0].to_type.value
            readout = tyre.readouts[0].model_copy(update={"current_setting": round(asked * (1 + off / 100))})
            known = tyre.model_copy(update={"readouts": (readout,)})
            data = as_table(Drive(shown_per_true=0.97, seed=4)).encode()
            proof = prove(known, evaluate(known), read_table(data, layout_of(data)), WANTED)
            self.assertEqual("unsure" in [cause.code for cause in proof.causes], first, off)

    def test_one_direction_alone_is_said(self) -> None:
        data = as_table(Drive(speeds_kmh=(50.0,), hold_s=120)).encode()
        known = installation(CAR)
        proof = prove(known, evaluate(known), read_table(data, layout_of(data)), WANTED)
        self.assertIn("drive back as well", proof.check.advice)

    def test_an_offset_is_told_from_a_ratio(self) -> None:
        speeds = (30.0, 50.0, 70.0, 90.0, 110.0, 130.0, 40.0, 100.0)
        check = driven(Drive(speeds_kmh=speeds, shown_offset_kmh=3, seed=6)).check
        self.assertAlmostEqual(check.offset_kmh, 3, delta=0.6)
        self.assertIn("offset", check.text)
        self.assertEqual(driven(Drive(speeds_kmh=speeds, shown_per_true=1.03, seed=6)).check.offset_kmh, 0)

    def test_spans_left_out_by_hand_do_not_count(self) -> None:
        time_s = np.arange(0, 400, 0.5)
        true = np.interp(time_s, [0, 20, 400], [0, 60, 60])
        shown = np.where(time_s > 300, 0.5, 1.0) * true
        half = speed_check(SpeedRecord(time_s, true), SpeedRecord(time_s, shown), left_out=((295.0, 400.0),))
        assert half is not None
        self.assertAlmostEqual(half.error_pct, 0, delta=0.05)

    def test_a_gap_in_the_record_is_not_bridged(self) -> None:
        time_s = np.arange(0, 200, 0.5)
        true = np.interp(time_s, [0, 20, 200], [0, 60, 60])
        there = (time_s < 80) | (time_s > 120)
        found = speed_check(SpeedRecord(time_s, true), SpeedRecord(time_s[there], true[there]))
        assert found is not None
        lost = [part for part in found.parts if part.reason == "not_recorded" and part.from_s < 150]
        self.assertAlmostEqual(sum(part.to_s - part.from_s for part in lost), 40, delta=2)

    def test_single_lost_samples_are_bridged(self) -> None:
        time_s = np.arange(0, 200, 0.5)
        true = np.interp(time_s, [0, 20, 200], [0, 60, 60])
        lost = true.copy()
        lost[::7] = np.nan
        found = speed_check(SpeedRecord(time_s, lost), SpeedRecord(time_s, 1.01 * true))
        assert found is not None
        self.assertAlmostEqual(found.error_pct, 1, delta=0.01)
        self.assertGreater(found.steady_s, 170)

    def test_too_little_is_refused_with_what_to_do(self) -> None:
        with self.assertRaisesRegex(InputError, "Too little of this drive") as caught:
            driven(Drive(speeds_kmh=(40.0,), hold_s=1))
        self.assertIn("Hold a speed", caught.exception.problems[0].remedy)
        with self.assertRaisesRegex(InputError, "no speed named"):
            driven(Drive(), CheckWanted(true_channel="nothing", shown_channel="display"))
        with self.assertRaisesRegex(InputError, "each in a column of its own"):
            driven(Drive(), CheckWanted(true_channel="display", shown_channel="display"))

    def test_a_needle_at_the_end_of_its_scale_is_no_error(self) -> None:
        """40 to 100 km/h, a dial that ends at 85: what is shown there says nothing of the setting."""
        drive = Drive(seed=2, speeds_kmh=(40.0, 60.0, 75.0, 100.0), hold_s=30)
        lines = as_table(drive).splitlines()
        heading = lines[0].split(",")
        at = next(place for place, name in enumerate(heading) if name.startswith("display"))
        rows = [line.split(",") for line in lines[1:]]
        for row in rows:
            row[at] = str(min(float(row[at]), 85.0))
        data = "\n".join([lines[0], *[",".join(row) for row in rows]]).encode()
        known = installation(CAR, readouts__0__current_setting=25_000, readouts__0__scale_end_kmh=85)
        proof = prove(known, evaluate(known), read_table(data, layout_of(data)), WANTED)
        self.assertAlmostEqual(proof.check.error_pct, 0.0, delta=max(proof.check.expanded_pct, 0.3))
        endless = installation(CAR, readouts__0__current_setting=25_000)
        with self.assertRaises(InputError) as caught:  # without the end of its scale it does not follow at all
            prove(endless, evaluate(endless), read_table(data, layout_of(data)), WANTED)
        self.assertIn("does not follow", str(caught.exception))
        stuck = installation(CAR, readouts__0__current_setting=25_000, readouts__0__scale_end_kmh=20)
        with self.assertRaises(InputError) as caught:
            prove(stuck, evaluate(stuck), read_table(data, layout_of(data)), WANTED)
        self.assertIn("end of its scale", str(caught.exception))

    def test_a_dead_or_stuck_display_proves_nothing(self) -> None:
        known = installation(CAR, readouts__0__current_setting=23000)
        for shown, word in (("0", "nothing was shown"), ("50", "does not follow")):
            rows = as_table(Drive(seed=1)).splitlines()
            dead = [rows[0], *(",".join([*row.split(",")[:2], shown, row.split(",")[3]]) for row in rows[1:])]
            data = "\n".join(dead).encode()
            with self.subTest(shown), self.assertRaisesRegex(InputError, word):
                prove(known, evaluate(known), read_table(data, layout_of(data)), WANTED)

    def test_standing_does_not_count_even_by_hand(self) -> None:
        wanted = WANTED.model_copy(update={"used": (TimeSpan(from_s=-1, to_s=4),)})
        self.assertAlmostEqual(driven(Drive(seed=1), wanted).check.error_pct, 0, delta=0.4)

    def test_spans_of_the_wish_reach_the_check(self) -> None:
        wanted = WANTED.model_copy(update={"left_out": (TimeSpan(from_s=0, to_s=60),)})
        self.assertIn("by_hand", [part.reason for part in driven(Drive(), wanted).check.parts])


class Fingerprints(TestCase):
    def ring(self, pitches: list[float], turns: int = 30, lead: float = 0.0) -> np.ndarray:  # type: ignore[type-arg]
        return np.concatenate([[0.0], np.cumsum(np.tile(pitches, turns))]) * 0.001 + lead

    def test_missing_teeth_are_counted_and_placed(self) -> None:
        """A trigger wheel of 36 places with one tooth missing: 35 pulses, the long interval after the 35th."""
        found = fingerprint(self.ring([1.0] * 34 + [2.0]))
        self.assertEqual((found.pulses_per_turn, found.positions, found.sure), (35, 36, True))
        self.assertEqual([(tooth.number, tooth.flaw) for tooth in found.flaws], [(35, "missing")])
        self.assertIn("1 missing of 36, after tooth 35", found.text)

    def test_teeth_are_numbered_from_the_mark(self) -> None:
        edges = self.ring([1.0, 1.2, 0.8, *[1.0] * 9])
        self.assertEqual([tooth.number for tooth in fingerprint(edges).flaws], [3])
        self.assertEqual([tooth.number for tooth in fingerprint(edges, mark_s=0.0015).flaws], [1])

    def test_a_known_count_is_taken_as_it_is(self) -> None:
        found = fingerprint(self.ring([1.0] * 12), count=12)
        self.assertTrue(found.sure)
        self.assertEqual((found.pulses_per_turn, found.flaws), (12, ()))

    def test_what_cannot_be_read_is_refused(self) -> None:
        for edges, word in ((np.array([1.0, 0.5, 2.0]), "must rise"), (np.arange(3.0), "less than 2 turns")):
            with self.subTest(word), self.assertRaisesRegex(InputError, word):
                fingerprint(edges)
        with self.assertRaisesRegex(InputError, "less than 2 turns"):
            fingerprint(np.arange(100.0), count=60)

    def test_times_of_pulses_from_text(self) -> None:
        for text, expected in (
            ("time_s\n0.1\n0.2\n0.4\n", [0.1, 0.2, 0.4]),
            ("0,1\r\n0,2\r\n0,4\r\n", [0.1, 0.2, 0.4]),
            ("level;time [us]\n1;100\n1;200\n1;400\n", [1e-4, 2e-4, 4e-4]),
            ("0.1\nnoise\n0.2\n", [0.1, 0.2]),
        ):
            with self.subTest(text):
                np.testing.assert_allclose(read_edges(text.encode()), expected)
        with self.assertRaisesRegex(InputError, "no times of pulses"):
            read_edges(b"nothing\nhere\n")

    @settings(deadline=None, max_examples=60)
    @given(st.binary(max_size=300))
    def test_any_bytes_are_edges_or_refused(self, data: bytes) -> None:
        with contextlib.suppress(InputError):
            fingerprint(read_edges(data))
