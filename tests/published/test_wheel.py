"""Wheels against standards, handbooks and trade values. All quoted values are from memory."""

from unittest import TestCase

from speedchain import evaluate
from speedchain.fields.errors import InputError
from speedchain.wheel import ETRTO_FACTOR
from speedchain.wheel.cycle_sizes import (
    FRENCH_BEAD_SEATS_MM,
    INCH_DECIMAL_BEAD_SEATS_MM,
    INCH_FRACTION_BEAD_SEATS_MM,
    ISO_5775_BEAD_SEATS_MM,
)
from speedchain.wheel.marking import parse_marking
from tests.installations import CAR, CYCLE, installation


class Iso5775(TestCase):
    def test_bead_seats(self) -> None:
        """ISO 5775-2, nominal rim diameters of common cycle tyres; values quoted from memory."""
        for text, bead_seat in [
            ("28-622", 622), ("700x28C", 622), ("47-406", 406), ("54-559", 559), ("650B x 47", 584),
            ("35-590", 590), ("28-451", 451), ("32-630", 630), ("700 x 35 C", 622), ("650Ax35", 590),
        ]:  # fmt: skip
            with self.subTest(text):
                self.assertEqual(parse_marking(text).rim_mm, bead_seat)
                self.assertEqual(parse_marking(text).caution, "")

    def test_every_french_size_is_a_standard_bead_seat(self) -> None:
        for table in (FRENCH_BEAD_SEATS_MM, INCH_DECIMAL_BEAD_SEATS_MM, INCH_FRACTION_BEAD_SEATS_MM):
            self.assertLessEqual(set(table.values()), set(ISO_5775_BEAD_SEATS_MM))

    def test_decimal_and_fraction_are_different_rims(self) -> None:
        """ISO 5775 / ETRTO; values quoted from memory."""
        for text, bead_seat, other in [
            ("26x2.1", 559, "590"), ("26x1 3/8", 590, "559"), ("20x1.75", 406, "451"), ("20 x 1 1/8", 451, "406"),
            ("27.5x2.3", 584, ""), ("29 x 2.2", 622, ""), ("27x1 1/4", 630, ""), ("28x1 5/8x1 3/8", 622, ""),
        ]:  # fmt: skip
            with self.subTest(text):
                marking = parse_marking(text)
                self.assertEqual(marking.rim_mm, bead_seat)
                self.assertIn(other, marking.caution)
        self.assertAlmostEqual(parse_marking("26x2.1").diameter_mm, 559 + 2 * 2.1 * 25.4)

    def test_sizes_that_leave_something_out(self) -> None:
        """155R13 has an aspect of 82 %; an old inch tyre such as 3.00-18 is about as high as wide; common practice."""
        plain = parse_marking("155R13")
        self.assertAlmostEqual(plain.diameter_mm, 13 * 25.4 + 2 * 155 * 0.82)
        self.assertIn("82 %", plain.caution)
        self.assertAlmostEqual(parse_marking("3.00-18").diameter_mm, 24 * 25.4)
        self.assertEqual(parse_marking("10x4.50-5").diameter_mm, 254)


class UnRegulation30(TestCase):
    """UN Regulation 30, 6.1.2: D = d + 2H, d the rim in mm, H = section × aspect. From memory."""

    RIM_MM = {13: 330, 14: 356, 15: 381, 16: 406, 17: 432, 18: 457, 19: 483}

    def test_outer_diameter_by_definition(self) -> None:
        for width, aspect, rim in [
            (205, 55, 16), (195, 65, 15), (195, 45, 14), (225, 45, 17), (225, 40, 18), (175, 65, 14), (185, 60, 14),
            (165, 70, 13), (215, 60, 16), (235, 35, 19), (155, 80, 13), (245, 40, 18),
        ]:  # fmt: skip
            with self.subTest(f"{width}/{aspect}R{rim}"):
                regulation = self.RIM_MM[rim] + 2 * width * aspect / 100
                ours = parse_marking(f"{width}/{aspect}R{rim}").diameter_mm
                self.assertAlmostEqual(ours, regulation, delta=0.5)

    def test_outer_diameter_in_its_table(self) -> None:
        """Annex 5 of the regulation lists these outer diameters; from memory. Agreement within 1 mm."""
        for text, diameter in [
            ("205/55R16", 632), ("195/65R15", 635), ("175/65R14", 584), ("225/45R17", 634), ("185/60R14", 578),
            ("195/45R14", 532), ("225/40R18", 637), ("215/60R16", 664),
        ]:  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(parse_marking(text).diameter_mm, diameter, delta=1.0)


class Schools(TestCase):
    def test_etrto_factor(self) -> None:
        """ETRTO Standards Manual: rolling circumference = 3.05 × overall diameter, radial car tyres; from memory."""
        self.assertEqual(ETRTO_FACTOR, 3.05)
        self.assertAlmostEqual(evaluate(installation()).stages[0].value, 3.05 * 631.9, places=6)
        self.assertAlmostEqual(100 * (1 - 3.05 / 3.14159265), 2.9, places=1)

    def test_common_practice_circumferences(self) -> None:
        """Worked values of the trade; common practice."""
        for text, factor, expected in [
            ("195/45R14", "pi", 1668.5),
            ("205/55R16", "pi", 1985.2),
            ("205/55R16", "etrto_3_05", 1927.3),
            ("29.5x10.5-15", "pi", 2354.0),
        ]:
            with self.subTest(text):
                wheel = {"method": "marking", "marking": {"text": text, "factor": factor}}
                self.assertAlmostEqual(evaluate(installation(CAR, wheel=wheel)).stages[0].value, expected, delta=0.06)

    def test_taped_wheels(self) -> None:
        """660 mm across gives 2072 with 3.14; a 12 in wheel gives 957; common practice. The standing tyre is flattened,
        so its circumference is a little more: by 0 to 0.7 % (Jazar's effective radius, deflection at most 4 % of
        it)."""
        for typed, expected in [("660", 2072), ("12in", 957)]:
            wheel = {"method": "taped_diameter", "taped_diameter": {"diameter_mm": typed}}
            stage = evaluate(installation(CYCLE, wheel=wheel)).stages[0]
            self.assertAlmostEqual(float(stage.why[0].with_numbers.split("=")[1].split()[0]), expected, delta=1.5)
            self.assertTrue(expected < stage.value < 1.0077 * expected)

    def test_tyre_swaps(self) -> None:
        """190/55 to 200/55 on 17 in is +1.7 %; 29.5 in to 28 in is −5.1 %; common practice."""
        small, large = parse_marking("190/55ZR17").diameter_mm, parse_marking("200/55-17").diameter_mm
        self.assertAlmostEqual(small, 640.8, places=1)
        self.assertAlmostEqual(large, 651.8, places=1)
        self.assertAlmostEqual(100 * (large / small - 1), 1.7, places=1)
        self.assertAlmostEqual(100 * (28 / 29.5 - 1), -5.1, places=1)

    def test_accepted_writings_mean_the_same(self) -> None:
        for text in ("205/55R16", "205/55 R 16 91V", "P205/55R16", "205/55r16", " 205/55 ZR16 ", "205/55R16 91W XL"):
            with self.subTest(text):
                self.assertAlmostEqual(parse_marking(text).diameter_mm, 631.9, places=6)
        self.assertAlmostEqual(parse_marking("120/70-17").diameter_mm, 17 * 25.4 + 168, places=6)
        self.assertEqual(parse_marking("25x8-12").diameter_mm, 635)
        self.assertTrue(parse_marking("31x10.50R15").radial)

    def test_vans_trailers_trucks_and_small_wheels(self) -> None:
        """Outer diameters as makers' tables have them, from memory, or by what the notation says; within what ±
        allows."""
        for text, diameter_mm, within_pct in (
            ("225/70R15C", 15 * 25.4 + 2 * 225 * 0.7, 0.0),  # UN R54: the same form as R30, C for commercial
            ("255/35ZRF19", 19 * 25.4 + 2 * 255 * 0.35, 0.0),
            ("MT90B16", 16 * 25.4 + 2 * 130 * 0.9, 0.0),  # the same tyre as 130/90B16, common practice
            ("11R22.5", 1050, 1.5),
            ("10R22.5", 1020, 1.5),
            ("12.4-24", 1160, 1.5),
            ("13.6-28", 1310, 2.0),
            ("4.80/4.00-8", 412, 2.0),
            ("4.10/3.50-4", 275, 2.0),
            ("200x50", 200, 0.0),
            ("8 1/2x2", 8.5 * 25.4, 0.0),
            ("10x2.5", 254, 0.0),
            ("12 1/2 x 2 1/4", 12.5 * 25.4, 0.2),  # bead seat 203 of ISO 5775
            ("16x1 1/2", 16 * 25.4, 0.2),  # bead seat 330
            ("700-28C", 622 + 2 * 28, 0.0),
            ("29.5in", 749.3, 0.0),  # 1 in = 25.4 mm exactly
            ('12"', 304.8, 0.0),
            ("26.5 inches", 673.1, 0.0),
            ("200 mm", 200, 0.0),
        ):
            with self.subTest(text):
                self.assertAlmostEqual(
                    100 * (parse_marking(text).diameter_mm / diameter_mm - 1), 0, delta=within_pct + 1e-9
                )

    def test_what_cannot_be_read_shows_the_accepted_forms(self) -> None:
        for text in (
            "",
            "round",
            "205/55",
            "205/5R16",
            "205/55R99",
            "10x8-12",
            "28-900",
            "700E x 28",
            "x" * 41,
            "7-622",
            "100x60",
            "MX90B16",
            "6x3.5",
            "29.5",
            "1in",
            "9000mm",
        ):
            with self.subTest(text), self.assertRaises(InputError) as caught:
                parse_marking(text)
            self.assertTrue(caught.exception.problems[0].remedy)
        with self.assertRaisesRegex(InputError, "ETRTO number"):
            parse_marking("26x1 7/8")
