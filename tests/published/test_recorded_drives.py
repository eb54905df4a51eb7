"""What a recorded drive is said to be good for, against drives of which the truth is known (tests/simulated/drives.py):
± covers 95.45 %, and what is called right or wrong is so."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from speedchain import evaluate
from speedchain.fields import InputError
from speedchain.runs import CheckWanted, Proof, SpeedRecord, prove, slip_of
from tests.installations import CAR, installation
from tests.simulated.drives import Driven, driven, wheels
from tests.sizes import sized

WANTED = CheckWanted(true_channel="true", shown_channel="shown")
CARS = {
    step: installation(CAR, readouts__0__current_setting=23000, readouts__0__display_step_kmh=step)
    for step in (0.1, 1.0)
}


def proved(drive: Driven) -> Proof | None:
    """What it proves; None where it is refused."""
    car = CARS[drive.step_kmh]
    try:
        return prove(car, evaluate(car), drive.recorded, WANTED)
    except InputError:
        return None


class Drives(TestCase):
    def test_the_range_holds_the_truth_and_hardly_any_is_refused(self) -> None:
        """A factor of 2 is to hold 95.45 % (JCGM 100:2008, G.1.3): of 600 drives 93 to 97 %; sampled, within three
        binomial standard deviations. At most 2 % of usable drives are refused."""
        tries, inside, refused = sized(600, 120), 0, 0
        for seed in range(tries):
            drive = driven(seed)
            proof = proved(drive)
            if proof is None:
                refused += 1
                continue
            self.assertTrue(np.isfinite(proof.check.at_kmh), seed)
            inside += abs(proof.check.error_pct - drive.error_pct) <= proof.check.expanded_pct
        share = inside / (tries - refused)
        spread = 3 * (0.9545 * 0.0455 / tries) ** 0.5
        self.assertLessEqual(refused / tries, 0.02)
        self.assertGreaterEqual(share, 0.93 if tries == 600 else 0.9545 - spread)
        self.assertLessEqual(share, 0.97 if tries == 600 else 1.0)

    def test_right_is_called_wrong_and_wrong_right_in_a_twentieth_at_most(self) -> None:
        """A display without an error is called wrong where chance took it past ±; one that is off by twice what a
        drive can tell (± 0.25 %, the median) is called right only by chance."""
        tries = sized(300, 60)
        allowed = 0.05 * tries + 3 * (0.05 * 0.95 * tries) ** 0.5
        for error, mistaken in ((0.0, "wrong"), (0.6, "right"), (-0.6, "right")):
            verdicts = [proof.verdict for seed in range(tries) if (proof := proved(driven(seed, error))) is not None]
            with self.subTest(error=error):
                self.assertLessEqual(verdicts.count(mistaken), allowed)  # type: ignore[arg-type]


class TwoWheels(TestCase):
    def test_the_range_of_false_slip_holds_the_truth(self) -> None:
        """The check of a wheel against another: as above, 93 to 97 % of 600; none of these logs is refused."""
        tries, inside = sized(600, 100), 0
        for seed in range(tries):
            log = wheels(seed)
            found = slip_of(SpeedRecord(*log.reference), SpeedRecord(*log.driven))
            assert found is not None, seed
            inside += abs(found.false_pct - log.false_pct) <= found.false_expanded_pct
        share = inside / tries
        spread = 3 * (0.9545 * 0.0455 / tries) ** 0.5
        self.assertGreaterEqual(share, 0.93 if tries == 600 else 0.9545 - spread)
        self.assertLessEqual(share, 0.97 if tries == 600 else 1.0)
