"""A boat's drive: the current is not the display's fault. Runs are made here by vectors, apart from the core's own."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np

from speedchain import Installation, evaluate, read_installation
from speedchain.fields import InputError, said, speeds_in
from speedchain.runs import Channel, CheckWanted, Proof, Recording, RunByHand, mean_of_means, prove, runs_by_hand
from tests.installations import CAR, installation
from tests.kinds import KINDS
from tests.sizes import sized

KN = 1.852
"""km/h, exact: the international nautical mile (1929) is 1852 m."""
ON_WATER = CheckWanted(true_channel="over ground", shown_channel="log")


def boat(current_setting: float | None = None) -> Installation:
    paddle = next(item for item in KINDS.values() if item["vehicle_kind"] == "boat")
    log = {"name": "Log", "encoding": "pulses_per_km", "current_setting": current_setting}
    return read_installation(paddle | {"name": "Paddle", "readouts": [log]})


def sailed(
    through_kn: list[float],
    *,
    shown_per_true: float,
    current_kn: tuple[float, float],
    seed: int = 1,
    hold_s: float = 60.0,
    heading_deg: float = 30.0,
    courses: bool = True,
    across_kn: float = 0.0,
    bend_kn: float = 0.0,
    compass_deg: float | None = None,
    on_track: bool = False,
) -> Recording:
    """Runs with a turn after each; the current goes with the first, from one speed evenly to another, or bent by so
    much at the middle; once a second. The boat heads the opposite way on the way back, or keeps to one track over
    ground; its compass, where it is recorded, is off by so much."""
    random = np.random.default_rng(seed)
    turn_s = 20.0
    count = len(through_kn)
    time_s = np.arange(0.0, count * (hold_s + turn_s), 1.0)
    leg = (time_s // (hold_s + turn_s)).astype(int)
    into = time_s % (hold_s + turn_s)
    ahead = np.radians(heading_deg + 180.0 * leg + np.where(into > hold_s, (into - hold_s) / turn_s * 180, 0))
    through = np.array(through_kn)[leg] * KN
    share = np.linspace(0, 1, time_s.size)
    current = (current_kn[0] + (current_kn[1] - current_kn[0]) * share + bend_kn * 4 * share * (1 - share)) * KN
    if on_track:  # headed into the current across, so that the course over ground is the line
        ahead = ahead - np.arcsin(across_kn * KN / through) * np.where(leg % 2, -1, 1)
    along = np.radians(heading_deg)
    beside = across_kn * KN
    east = through * np.sin(ahead) + current * np.sin(along) + beside * np.cos(along)
    north = through * np.cos(ahead) + current * np.cos(along) - beside * np.sin(along)
    east, north = (speed + random.normal(0, 0.08, time_s.size) for speed in (east, north))
    shown = shown_per_true * through + random.normal(0, 0.08, time_s.size)
    made = [("over ground", "speed", "km/h", np.hypot(east, north)), ("log", "speed", "km/h", shown)]
    if courses:
        made.append(("course", "course", "°", np.degrees(np.arctan2(east, north)) % 360))
    if compass_deg is not None:
        made.append(("compass", "heading", "°", (np.degrees(ahead) + compass_deg) % 360))
    channels = [Channel(name=n, quantity=q, unit=u, time_s=time_s, values=v) for n, q, u, v in made]  # type: ignore[arg-type]
    return Recording(channels=tuple(channels), lines=time_s.size, bad_lines=0)


def proved(recorded: Recording, current_setting: float | None = None, **wanted: Any) -> Proof:
    paddle = boat(current_setting)
    return prove(paddle, evaluate(paddle), recorded, ON_WATER.model_copy(update=wanted))


class Current(TestCase):
    def test_two_headings_in_nine_tenths_of_a_knot(self) -> None:
        """The display shows 1 % less than the speed through the water, whatever the current."""
        for current in (0.0, 0.9, 2.0):
            with self.subTest(current):
                found = proved(sailed([6, 6, 6], shown_per_true=0.99, current_kn=(current, current)))
                assert found.runs is not None
                self.assertAlmostEqual(found.check.error_pct, -1.0, delta=0.4)
                self.assertLess(found.check.expanded_pct, 1.4)  # a third of 2 kn across 6: 0.6 % (standard)
                self.assertLessEqual(abs(found.check.error_pct + 1.0), found.check.expanded_pct)
                self.assertAlmostEqual(found.runs.current_first_kmh, current * KN, delta=0.1)
                with speeds_in("kn"):
                    self.assertIn("Speed through the water 6 kn; the display shows 5.9", said(found.check.text))

    def test_a_current_that_turns_while_they_run(self) -> None:
        found = proved(sailed([6, 6, 6, 6], shown_per_true=0.99, current_kn=(1.0, -0.5)))
        assert found.runs is not None
        self.assertAlmostEqual(found.check.error_pct, -1.0, delta=0.5)
        # at the middles of the first and the last run, 30 and 270 s of 320
        self.assertAlmostEqual(found.runs.current_first_kmh, (1.0 - 1.5 * 30 / 320) * KN, delta=0.15)
        self.assertAlmostEqual(found.runs.current_last_kmh, (1.0 - 1.5 * 270 / 320) * KN, delta=0.15)

    def test_the_way_of_checking_can_be_chosen(self) -> None:
        """A fast boat, there and back in half a knot: by the runs its current is out, over the whole drive it is in ±;
        a car's drive there and back can be checked by its runs as well."""
        recorded = sailed([40, 40, 40], shown_per_true=1.01, current_kn=(0.5, 0.5), hold_s=120)
        by_itself, whole = proved(recorded), proved(recorded, by="whole")
        self.assertEqual((by_itself.runs is None, by_itself.there_and_back), (False, True))
        self.assertEqual((whole.runs is None, whole.there_and_back), (True, True))
        self.assertLess(by_itself.check.expanded_pct, whole.check.expanded_pct / 2)
        self.assertAlmostEqual(by_itself.check.error_pct, 1.0, delta=0.3)
        car = installation(CAR, readouts__0__current_setting=23000)
        plain = prove(car, evaluate(car), recorded, ON_WATER)
        runs = prove(car, evaluate(car), recorded, ON_WATER.model_copy(update={"by": "runs"}))
        self.assertEqual((plain.runs is None, runs.runs is None), (True, False))
        one_way = sailed([40], shown_per_true=1.0, current_kn=(0.5, 0.5), hold_s=200)
        with self.assertRaisesRegex(InputError, "No two runs in opposite directions"):
            proved(one_way, by="runs")

    def test_a_current_across_and_leeway(self) -> None:
        """0.9 kn across at 6 kn: V = √(6² − 0.9²) along a track is 1.13 % less than 6, which opposite courses cannot
        show. Recorded headings tell it, whatever variation and leeway add to them; so do opposite headings alone."""
        legs = [6.0, 6.0, 6.0, 6.0]
        known = proved(
            sailed(legs, shown_per_true=0.99, current_kn=(0.5, 0.5), across_kn=0.9, compass_deg=14, on_track=True)
        )
        assert known.runs is not None
        self.assertAlmostEqual(known.check.error_pct, -1.0, delta=0.35)
        self.assertAlmostEqual(known.runs.current_across_kmh, 0.9 * KN, delta=0.1)
        self.assertLess(known.check.expanded_pct, 0.8)
        steered = proved(sailed(legs, shown_per_true=0.99, current_kn=(0.5, 0.5), across_kn=0.9))
        self.assertAlmostEqual(steered.check.error_pct, -1.0, delta=0.35)
        unseen = proved(sailed(legs, shown_per_true=0.99, current_kn=(0.5, 0.5), across_kn=0.9, on_track=True))
        self.assertAlmostEqual(unseen.check.error_pct, 100 * (0.99 / np.cos(np.arcsin(0.15)) - 1), delta=0.35)

    def test_its_range_holds_the_truth(self) -> None:
        """Of 400 drives 93 to 97 %, with what the current does drawn as the page of the formulas allows for it: of two
        runs a change by 4 km/h in an hour (standard), of more a bend of which the rate differs by 2 km/h in an hour
        between the halves, and a third of it across. Sampled, 95.45 % within three binomial standard deviations."""
        tries, inside, refused = sized(400, 60), 0, 0
        random = np.random.default_rng(7)
        for seed in range(tries):
            count = int(random.integers(2, 6))
            speed, ratio, current = random.uniform(4, 12), random.uniform(0.95, 1.05), random.uniform(-1.5, 1.5)
            legs = [speed * random.uniform(0.99, 1.01) for _ in range(count)]
            hours = count * 140 / 3600
            turned = random.normal(0, 4 if count == 2 else 8) * hours / KN
            bend = 0.0 if count == 2 else random.normal(0, 2) * hours / 4 / KN
            recorded = sailed(
                legs,
                shown_per_true=ratio,
                current_kn=(current, current + turned),
                bend_kn=bend,
                across_kn=current / 3 * random.normal(),
                on_track=True,
                hold_s=120,
                seed=seed,
            )
            try:
                check = proved(recorded).check
            except InputError:  # a drive that says too little is refused
                refused += 1
                continue
            inside += abs(check.error_pct - 100 * (ratio - 1)) <= check.expanded_pct
        self.assertLess(refused / tries, 0.2)
        tries -= refused
        spread = 3 * (0.9545 * 0.0455 / tries) ** 0.5
        low, high = (0.93, 0.975) if tries > 300 else (0.9545 - spread, 1.0)
        self.assertGreaterEqual(inside / tries, low)
        self.assertLessEqual(inside / tries, high)

    def test_one_way_alone_says_what_is_lacking(self) -> None:
        for courses, text, remedy in (
            (True, "Run one way only, the current is in it", "Run the same stretch both ways"),
            (False, "Without a heading a current and an error look alike", "Record the course over ground"),
        ):
            with self.subTest(courses), self.assertRaises(InputError) as caught:
                proved(sailed([6], shown_per_true=0.99, current_kn=(0.9, 0.9), hold_s=200, courses=courses))
            (problem,) = caught.exception.problems
            self.assertIn(text, said(problem.text))
            self.assertIn(remedy, said(problem.remedy))

    def test_the_new_setting_follows_from_the_one_that_is_set(self) -> None:
        """set_new = set·shown/true; where nobody knows what is set, it is asked for."""
        recorded = sailed([6, 6, 6, 6], shown_per_true=1.03, current_kn=(0.9, 0.9))
        asked = proved(recorded)
        self.assertEqual((asked.verdict, asked.usable), ("wrong", False))
        self.assertIn("Read back what is set in Log", said(asked.action))
        # 3 % of a nominal constant that is good to ± 6 % is no fault; and missed pulses cannot show too much
        self.assertEqual(asked.causes[0].code, "unsure")
        self.assertNotIn("missed", [cause.code for cause in asked.causes])
        known = proved(recorded, 10_000)
        assert known.to_type is not None
        self.assertTrue(known.usable)
        self.assertIn("and run there and back again", said(known.action))
        self.assertAlmostEqual(known.to_type.value, 10_300, delta=60)

    def test_a_display_that_shows_nothing_is_no_current(self) -> None:
        """Dead from the beginning, or from the middle of the second run on."""
        for begins_s, text in ((0, "nothing was shown"), (120, "does not follow the true one")):
            recorded = sailed([6, 6, 6], shown_per_true=1.0, current_kn=(0.9, 0.9))
            ground, log, course = recorded.channels
            died = replace(log, values=np.where(log.time_s < begins_s, log.values, 0.0))
            with self.subTest(begins_s), self.assertRaises(InputError) as caught:
                proved(replace(recorded, channels=(ground, died, course)))
            self.assertIn(text, said(caught.exception.problems[0].text))

    def test_one_way_of_a_fast_boat_carries_the_current_in_its_range(self) -> None:
        """Half a knot, twice, of 40 knots: ± 2.5 %."""
        check = proved(sailed([40], shown_per_true=1.0, current_kn=(0.5, 0.5), hold_s=200)).check
        self.assertAlmostEqual(check.expanded_pct, 100 * 2 * 0.9 / (40.5 * KN), delta=0.1)
        self.assertIn("Run back as well", said(check.advice))


class ByHand(TestCase):
    """Runs without a file: as they were read, or timed between two marks."""

    def runs(self, ground: list[float], shown: float) -> tuple[RunByHand, ...]:
        numbered = enumerate(ground)
        return tuple([RunByHand(ground_kmh=kmh, shown_kmh=shown, back=bool(at % 2)) for at, kmh in numbered])

    def test_three_and_four_even_runs_are_the_mean_of_means(self) -> None:
        """N. Bowditch, The American Practical Navigator (speed trials), from memory: (12 + 2·8.5 + 11)/4 = 10."""
        found = runs_by_hand(self.runs([12.0, 8.5, 11.0], 9.5), 0.1)
        self.assertAlmostEqual(found.water_kmh, 10.0, places=9)
        self.assertAlmostEqual(found.error_pct, -5.0, places=9)
        four = runs_by_hand(self.runs([12.0, 8.5, 11.0, 9.5], 9.5), 0.1)
        self.assertAlmostEqual(four.water_kmh, mean_of_means(np.array([12.0, 8.5, 11.0, 9.5])), delta=0.02)

    def test_its_range_holds_the_truth(self) -> None:
        """Four runs of three minutes timed over half a nautical mile with presses 0.3 s off, a display that steps by
        0.1 kn, a current that changes evenly: in 400 draws the truth is within ± in 93 % and more; a range that is
        much too wide would hold nearly all of a third of it as well."""
        random = np.random.default_rng(8)
        held = third = 0
        for _ in range(400):
            through, error = random.uniform(5, 12), random.uniform(-0.04, 0.04)
            current, change = random.uniform(-1, 1), random.uniform(-1, 1) / 3600
            runs, at = [], 0.0
            for place in range(4):
                sign = -1 if place % 2 else 1
                over = through + sign * (current + change * (at + 90))
                seconds = 0.5 / over * 3600
                begin, end = at + random.normal(0, 0.3), at + seconds + random.normal(0, 0.3)
                shown = round(through * (1 + error) + random.uniform(-0.02, 0.02), 1) * KN
                kmh = 0.5 * 3600 / (end - begin) * KN
                runs.append(RunByHand(ground_kmh=kmh, shown_kmh=shown, back=bool(place % 2), from_s=begin, to_s=end))
                at += seconds + 60
            found = runs_by_hand(tuple(runs), 0.1 * KN)
            off = abs(found.error_pct - 100 * error)
            held += off <= found.expanded_pct
            third += off <= found.expanded_pct / 3
        self.assertGreaterEqual(held / 400, 0.93)
        self.assertLess(third / 400, 0.85)

    def test_what_is_lacking_is_named(self) -> None:
        one_way = (RunByHand(ground_kmh=10, shown_kmh=10), RunByHand(ground_kmh=11, shown_kmh=10))
        with self.assertRaisesRegex(InputError, "there and back"):
            runs_by_hand(one_way, 0.1)
        with self.assertRaisesRegex(InputError, "shows nothing in run 2"):
            runs_by_hand((one_way[0], RunByHand(ground_kmh=10, shown_kmh=0, back=True)), 0.1)
