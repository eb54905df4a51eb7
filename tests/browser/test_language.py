"""A pseudo-language, in which every text of the catalogue stands in brackets, finds the texts that bypass it."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import Any

from playwright.sync_api import Page, Response, Route, expect

from devtools.steps import FRONTEND
from tests.browser.base import BrowserTestCase
from tests.browser.test_reach import STAGES, TABS

CATALOGUE: dict[str, str] = json.loads((FRONTEND / "public" / "locales" / "en.json").read_text("utf-8"))
PSEUDO = {text: f"⟦{text}⟧" for text in CATALOGUE}
UNITS = re.compile(
    r"\b(km/h|mph|kn|mm|in|Hz|kHz|MHz|ms|µs|mV|pp|kΩ|MΩ|Ω|µF|nF|Ctrl|Shift|Tab|PDF|CSV|VCD|NMEA|DXF|SVG)\b"
)
SEEN = """() => {
    const found = [];
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    while (walk.nextNode()) {
        const owner = walk.currentNode.parentElement;
        if (owner && !owner.closest('script, style, textarea') && owner.checkVisibility()) found.push(walk.currentNode.textContent);
    }
    for (const name of ['aria-label', 'placeholder', 'title'])
        for (const element of document.body.querySelectorAll(`[${name}]`)) found.push(element.getAttribute(name));
    return found.map(text => text.trim()).filter(text => /[A-Za-z]{2}/.test(text));
}"""
APART = re.compile(r"[;,.:()✓✕!]+|[-+−]?\d[\d.,]*")
DATE = re.compile(r"[A-Z][a-z]{2} \d{1,2}, \d{4}")
OWN = {"Wheelometron", "Notifications", "AM", "PM"}


def texts_in(value: Any) -> Iterator[str]:
    """Every text of an answer of the server."""
    match value:
        case str():
            yield value
        case dict():
            for item in value.values():
                yield from texts_in(item)
        case list():
            for item in value:
                yield from texts_in(item)


def parts_of(text: str) -> set[str]:
    """What stands between punctuation, numbers and units, where it is words."""
    parts = [UNITS.sub("", part).strip(" \u202f\u00a0").lower() for part in APART.split(text)]
    return {part for part in parts if re.search(r"[a-z]{2}", part)}


class Language(BrowserTestCase):
    maxDiff = None

    def speak(self, language: str, translations: dict[str, str]) -> Page:
        page = self.page
        page.add_init_script(f"localStorage.setItem('wheelometron.language', '{language}')")

        def answer(route: Route) -> None:
            route.fulfill(status=200, content_type="application/json", body=json.dumps(translations))

        page.route(f"**/locales/{language}.json", answer)
        return page

    def test_every_text_of_the_interface_is_in_the_catalogue(self) -> None:
        page = self.speak("en-XA", PSEUDO)
        served: set[str] = set()

        def keep(response: Response) -> None:
            if "/api/" in response.url and "json" in response.headers.get("content-type", ""):
                served.update(text for text in texts_in(response.json()) if len(text) > 1)

        page.on("response", keep)
        seen: dict[str, str] = {}

        def look(where: str) -> None:
            page.wait_for_timeout(400)
            for text in page.evaluate(SEEN):
                seen.setdefault(text, where)

        page.goto(self.address("/"))
        expect(page.get_by_role("button", name="⟦Open the demo workshop⟧")).to_be_visible()
        look("sign-in")
        self.sign_in()
        look("vehicles")
        for path in ("/new", "/bin", f"/vehicle/{self.installation_of('Dotterel').vehicle_id}"):
            page.goto(self.address(path))
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            look(path)
        for vehicle in ("Dotterel", "Turnstone", "Grebe", "Sandpiper"):
            for stage in (*STAGES, "bench"):
                self.open_installation(vehicle, stage)
                look(f"{vehicle}, {stage}")
        for vehicle, stage, tab in TABS:
            self.open_installation(vehicle, stage)
            page.get_by_role("tab", name=tab).click()
            look(tab)
        for item in ("Details", "Logbook", "Keys and help"):
            self.open_installation("Sandpiper")
            self.menu(item)
            look(item)
        known = {part for text in served for part in parts_of(text)}
        bypassing = [
            f"{where}: {text}"
            for text, where in seen.items()
            if not ("⟦" in text or text in OWN or text in served or DATE.match(text)) and not parts_of(text) <= known
        ]
        self.assertGreater(len(seen), 500)
        self.assertEqual(bypassing, [])

    def test_numbers_follow_the_language(self) -> None:
        page = self.speak("de", {"Save": "Speichern"})
        self.sign_in()
        expect(page.get_by_test_id("installation-row").first).to_contain_text("± 0,16 %")
        self.open_installation("Turnstone", "sensor")
        expect(page.locator("html")).to_have_attribute("lang", "de")
        gap = self.field("placement.air_gap_mm")
        gap.fill("1,25")
        gap.press("Enter")
        self.expect_saved()
