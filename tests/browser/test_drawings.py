"""The drawings are to scale, and what is drawn can be counted."""

from __future__ import annotations

import math

from playwright.sync_api import expect

from tests.browser.base import BrowserTestCase

WHEEL = """() => {
    const svg = document.querySelector('svg[aria-label^="To scale"]');
    const road = svg.querySelector('line.act[y1="239"]') ?? [...svg.querySelectorAll('line.act')].at(-1);
    const start = [...svg.querySelectorAll('circle.soft')][0];
    const ghost = svg.querySelector('circle.ghost');
    const box = svg.querySelector('rect.unsure');
    const num = (node, name) => Number(node.getAttribute(name));
    return {
        radius: num(start, 'r'), ghost: num(ghost, 'cx'), start: num(start, 'cx'),
        road: num(road, 'x2') - num(road, 'x1'), unsure: num(box, 'width'),
        ground: num(start, 'cy') + num(start, 'r'), ticks: svg.querySelectorAll('line.chalk').length,
        description: svg.getAttribute('aria-label'),
    };
}"""
TEETH = """() => {
    const svg = document.querySelector('svg[aria-label*="evenly around one turn"]');
    const ring = svg.querySelector('path.soft');
    const rounds = svg.querySelectorAll('circle.solid, circle.actfill').length;
    const poles = svg.querySelectorAll('path.solid, path.actfill').length - 1;
    return ring ? (ring.getAttribute('d').match(/[ML]/g).length) / 4 : rounds || poles;
}"""


class Wheel(BrowserTestCase):
    def test_wheel_road_and_uncertainty_share_one_scale(self) -> None:
        page = self.sign_in()
        for vehicle, circumference, relative_pct in [
            ("Sandpiper", 1563.0, 0.0522),
            ("Dotterel", math.pi * 558.8 * (1 + 0.012 * (100 / 150) ** 2), 1.506),
            ("Grebe", 370.4, 3.0),
        ]:
            self.open_installation(vehicle)
            expect(page.locator("[aria-label^='To scale']")).to_be_visible()
            drawn = page.evaluate(WHEEL)
            with self.subTest(vehicle):
                scale = drawn["radius"] / (circumference / math.pi / 2)
                self.assertAlmostEqual(drawn["road"], circumference * scale, delta=0.5)
                self.assertAlmostEqual(drawn["ghost"] - drawn["start"], drawn["road"], delta=0.01)
                expanded = 2 * relative_pct / 100 * circumference
                self.assertAlmostEqual(drawn["unsure"], max(2 * expanded * scale, 1), delta=0.2)
                self.assertAlmostEqual(drawn["ground"], 238, delta=0.01)
                self.assertGreater(drawn["ticks"], 5)
                self.assertIn("one turn laid out", drawn["description"])

    def test_the_drawing_follows_the_entry(self) -> None:
        page = self.open_installation("Turnstone")
        expect(page.get_by_role("img", name="575 mm across")).to_be_visible()
        self.field("wheel.taped_diameter.diameter_mm").fill("60 cm")
        expect(page.get_by_role("img", name="604 mm across")).to_be_visible()


class Ring(BrowserTestCase):
    def test_every_tooth_pole_and_magnet_is_drawn(self) -> None:
        page = self.open_installation("Whimbrel", "target")
        for kind, count in [
            ("toothed_ring", 24),
            ("toothed_ring", 240),
            ("slotted_disc", 1000),
            ("multipole_ring", 48),
            ("magnets", 3),
            ("bolt_heads", 5),
            ("drilled_rotor", 60),
        ]:
            self.field("target.kind").select_option(kind)
            self.field("target.count").fill(str(count))
            expect(page.get_by_role("img", name=f"with {count} drawn evenly")).to_be_visible()
            with self.subTest(f"{count} {kind}"):
                self.assertEqual(page.evaluate(TEETH), count)

    def test_sprockets_are_drawn_in_the_proportion_of_their_teeth(self) -> None:
        page = self.open_installation("Dotterel", "drive")
        self.field("drive.sprockets.shaft_teeth").fill("18")
        expect(page.get_by_role("img", name="1 turn of the wheel = 2.5 turns of the target.")).to_be_visible()
        radii = page.evaluate(
            "() => [...document.querySelectorAll('svg[aria-label*=\"1 turn of\"] circle.soft')].map(c => "
            "Number(c.getAttribute('r')))"
        )
        self.assertAlmostEqual(radii[0] / radii[1], 45 / 18, places=6)
