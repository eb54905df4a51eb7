"""A pseudo-language, in which every text of the catalogue stands in brackets, finds the texts that bypass it."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from playwright.sync_api import Page, Response, Route, expect

from devtools.messages import catalogue
from speedchain.fields.messages import Message
from speedchain.runs import Drive, as_table
from tests.browser.base import BrowserTestCase
from tests.browser.test_scan import DIALOGS, STAGES, TABS
from workshop.models import (
    DueItem,
    FaultRecord,
    Note,
    RecordingRecord,
    Revision,
    SheetRecord,
    ShelfRecord,
    Vehicle,
    Workshop,
)

UNITS = re.compile(
    r"\b(bar|km/h|km|mph|kn|mm|in|Hz|kHz|MHz|ms|µs|mV|pp|kΩ|MΩ|Ω|µF|nF|Ctrl|Shift|Tab|PDF|CSV|VCD|NMEA|GPX|FIT|DBC|WAV|DXF|SVG)\b"
)
SEEN = """() => {
    const found = [];
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    while (walk.nextNode()) {
        const owner = walk.currentNode.parentElement;
        if (owner && !owner.closest('script, style, textarea') && owner.checkVisibility())
            found.push(walk.currentNode.textContent);
    }
    for (const name of ['aria-label', 'placeholder', 'title'])
        for (const element of document.body.querySelectorAll(`[${name}]`)) found.push(element.getAttribute(name));
    return found.map(text => text.trim()).filter(text => /[A-Za-z]{2}/.test(text));
}"""
DATE = re.compile(r"[A-Z][a-z]{2} (\d{4}|\d{1,2}(, \d{4}(, \d{1,2}:\d\d\s[AP]M)?)?)")
OWN = {"Wheelometron", "Notifications", "en", "csv", "lat", "lon", "ele"}
"""The product, the toaster's own landmark, the languages' own names, elements of GPX."""
NAMES = {
    "name",
    "notes",
    "note",
    "done_by",
    "conditions",
    "load",
    "author",
    "subject",
    "colour",
    "plug",
    "username",
    "workshop",
    "role",
    "assigned_to",
    "by",
    "created_by_role",
}
"""Fields that hold what people wrote."""
LABEL = {"name", "type_or_year", "number", "plug", "side"}
VALUE = re.compile(r"(\{\w*(?::[^}]*)?\})")
TRANSLATED = re.compile("(⟦|^[^⟦]*(?=⟧))[^⟦⟧]*(⟧|$)")


def pseudo(text: str) -> str:
    """A text in brackets, its values outside of them.

    >>> pseudo("Set {0:.2f} mm")
    '⟦Set ⟧{0:.2f}⟦ mm⟧'
    """
    return "".join(part if VALUE.fullmatch(part) else f"⟦{part}⟧" for part in VALUE.split(text) if part)


def texts_of(value: Any, keys: set[str], key: str = "") -> Iterator[str]:
    """The texts under some keys of an answer of the server."""
    match value:
        case str() if key in keys:
            yield value
        case dict():
            for name, item in value.items():
                yield from texts_of(item, keys, name)
        case list():
            for item in value:
                yield from texts_of(item, keys, key)


class Spoken(BrowserTestCase):
    """The interface in a language of the test's own."""

    def speak(self, language: str, translations: dict[str, str]) -> Page:
        """This language on the device, and its one file on the server."""
        folder = Path(self.enterContext(TemporaryDirectory()))
        (folder / f"{language}.json").write_text(json.dumps(translations), "utf-8")
        self.enterContext(self.settings(LOCALES_DIR=folder))
        page = self.page
        page.add_init_script(f"localStorage.setItem('wheelometron.language', '{language}')")

        def answer(route: Route) -> None:
            route.fulfill(status=200, content_type="application/json", body=json.dumps(translations))

        page.route(f"**/locales/{language}.json", answer)
        return page


class EveryTextIsInTheCatalogue(Spoken):
    """What is seen in the pseudo-language without its brackets, and was not written by people, bypasses the
    catalogue."""

    recordings = True
    maxDiff = None

    def setUp(self) -> None:
        super().setUp()
        self.view = page = self.speak("en-xa", {text: pseudo(text) for text in catalogue()})
        documents = list(Revision.objects.values_list("document", flat=True))
        people = [
            *texts_of(documents, NAMES),
            *Vehicle.objects.values_list("name", flat=True),
            *Workshop.objects.values_list("name", flat=True),
            *Note.objects.values_list("text", flat=True),
            *RecordingRecord.objects.values_list("name", flat=True),
            *FaultRecord.objects.values_list("remark", flat=True),
            *[item.text for item in DueItem.objects.all() if not isinstance(item.text, Message)],
            *DueItem.objects.values_list("assigned_to", flat=True),
            *texts_of(list(ShelfRecord.objects.values_list("content__label", flat=True)), LABEL),
        ]
        self.written = OWN.union(*(re.findall(r"[A-Za-z]{2,}", text) for text in people))
        self.seen: dict[str, str] = {}

        def keep(response: Response) -> None:
            if "/api/" in response.url and "json" in response.headers.get("content-type", ""):
                found = (re.findall(r"[A-Za-z]{2,}", text) for text in texts_of(response.json(), NAMES))
                self.written.update(*found)

        page.on("response", keep)
        page.goto(self.address("/"))
        expect(page.get_by_role("button", name="⟦Open the demo workshop⟧")).to_be_visible()
        self.look("sign-in")
        self.sign_in()
        self.look("vehicles")

    def look(self, where: str) -> None:
        """Remember what is seen."""
        self.settle(self.view)
        for text in self.view.evaluate(SEEN):
            self.seen.setdefault(text, where)

    def expect_all_translated(self, least: int) -> None:
        """Of so many texts at least, none bypasses the catalogue."""
        bypassing = {text: where for text, where in self.seen.items() if self.words_of(text) - self.written}
        self.assertGreater(len(self.seen), least)
        self.assertEqual(bypassing, {})

    @staticmethod
    def words_of(text: str) -> set[str]:
        """What is left of a text without what is translated, a date or a unit."""
        return set(re.findall("[A-Za-z]{2,}", UNITS.sub("", TRANSLATED.sub(" ", DATE.sub(" ", text)))))

    def test_places(self) -> None:
        page = self.view
        dotterel, plover = self.installation_of("Dotterel"), self.installation_of("Plover")
        for path in (
            "/new",
            "/bin",
            "/phones",
            "/nowhere",
            f"/vehicle/{dotterel.vehicle_id}",
            f"/vehicle/{dotterel.vehicle_id}/record",
            f"/installation/{plover.pk}/jobs",
        ):
            page.goto(self.address(path))
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            self.look(path)
        for path, part in (
            (f"/installation/{plover.pk}/faults", "new-fault"),
            (f"/fault/{plover.faults.get().pk}", "causes"),
            ("/practice", "graded"),
            ("/fault-table", "fault-table"),
            ("/jobs", "templates"),
            ("/shelf", "shelf"),
            (f"/vehicle/{self.installation_of('Grebe').vehicle_id}/service", "timeline"),
            (f"/vehicle/{self.installation_of('Turnstone').vehicle_id}/service", "due"),
            (f"/sheet/{SheetRecord.objects.filter(signed_at=None)[0].pk}", "closing"),
        ):
            page.goto(self.address(path))
            expect(page.get_by_test_id(part)).to_be_visible()
            self.look(path)
        page.goto(self.address("/practice"))
        page.get_by_role("button", name="⟦Begin case ⟧6").click()
        expect(page.get_by_test_id("moves")).to_be_visible()
        self.look("a case")
        self.expect_all_translated(350)

    def test_stages_tabs_and_dialogs(self) -> None:
        page = self.view
        for vehicle in ("Dotterel", "Turnstone", "Grebe", "Sandpiper", "Plover"):
            for stage in (*STAGES, "bench"):
                self.open_installation(vehicle, stage)
                self.look(f"{vehicle}, {stage}")
        for vehicle, stage, tab in TABS:
            self.open_installation(vehicle, stage)
            page.get_by_role("tab", name=tab).click()
            self.look(tab)
        for vehicle, stage, openers in DIALOGS:
            self.open_installation(vehicle, stage)
            for opener in openers:
                name = re.compile(r"^\W*" + r"\W*".join(opener.split()), re.I)
                page.get_by_role("button", name=name).first.click()
            expect(page.get_by_role("dialog")).to_be_visible()
            self.look(openers[-1])
        for item in ("Details", "Logbook", "Keys and help"):
            self.open_installation("Sandpiper")
            self.menu(item)
            self.look(item)
        self.expect_all_translated(1000)

    def test_recordings(self) -> None:
        page = self.view
        self.open_installation("Turnstone", "readout")
        page.get_by_role("tab", name="Check with a recorded drive").click()
        drive = as_table(Drive(shown_per_true=1.03, wind_pct=2)).replace("\n9.00,", "\nlost,").encode()
        page.get_by_test_id("recording-file").set_input_files(
            {"name": "1.csv", "mimeType": "text/csv", "buffer": drive}
        )
        expect(page.get_by_test_id("proof")).to_be_visible()
        for opener in ("Parts of the drive", "Channels: "):
            page.get_by_text(opener).first.click()
        self.look("a recorded drive")
        for vehicle, name, answers in (
            ("Dotterel", "Hill climb", ("Signal health", "Slip")),
            ("Grebe", "Four runs", ("Reciprocal runs",)),
            ("Turnstone", "Ring of", ("",)),
            ("Whimbrel", "phone", ("",)),
        ):
            for answer in answers:
                self.open_recording(page, vehicle, name, answer and f"⟦{answer}⟧")
                page.locator("details").evaluate_all("all => all.forEach(one => { one.open = true })")
                self.look(f"{name}, {answer}")
        self.expect_all_translated(200)


class Language(Spoken):
    def test_numbers_follow_the_language(self) -> None:
        page = self.speak("de", {"Save": "Speichern"})
        self.sign_in()
        expect(page.get_by_test_id("installation-row").filter(has_text="Hub display")).to_contain_text("± 0,24 %")
        self.open_installation("Turnstone", "sensor")
        expect(page.locator("html")).to_have_attribute("lang", "de")
        gap = self.field("placement.air_gap_mm")
        gap.fill("1,25")
        gap.press("Enter")
        self.expect_saved()
