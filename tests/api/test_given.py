"""What people of a workshop wrote comes through every answer as it was written, in every unit and another language."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Iterator
from itertools import cycle
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from django.apps import apps
from django.contrib.auth.models import User
from django.db.models import CharField
from django.test import TestCase

from tests.api.test_access import routes
from tests.core.test_given import SPOILED
from tests.core.test_words import texts
from tests.sizes import LONG, sized
from wheelometron.settings import BASE_DIR
from workshop.demo import load_demo
from workshop.texts import MessageField

GIVEN = ("name", "note", "notes", "role", "remark", "reason", "by", "label", "tool", "set_to", "number", "plug")
"""Columns and fields of documents in which people write; those with choices of their own are left alone."""


class GivenComesThrough(TestCase):
    maxDiff = None

    @classmethod
    def setUpTestData(cls) -> None:
        load_demo(recordings=False)
        cls.written: dict[str, Iterator[str]] = defaultdict(lambda: cycle(SPOILED))
        for model in apps.get_app_config("workshop").get_models():
            names = [field.name for field in model._meta.get_fields()
                if field.name.removesuffix("_role") in (*GIVEN, "text", "author", "done_by", "created_by")]  # fmt: skip
            for row in model._base_manager.all():
                for name in names:
                    field = model._meta.get_field(name)
                    if isinstance(field, CharField) and not isinstance(field, MessageField) and getattr(row, name):
                        setattr(row, name, next(cls.written[name]))
                for name in ("document", "content", "sheet"):
                    if isinstance(getattr(row, name, None), dict):
                        setattr(row, name, cls.renamed(getattr(row, name)))
                row.save()

    @classmethod
    def renamed(cls, value: Any) -> Any:
        """A document with other names in it."""
        if isinstance(value, list):
            return [cls.renamed(one) for one in value]
        if not isinstance(value, dict):
            return value
        return {
            name: next(cls.written[name])
            if name in GIVEN and name != "role" and isinstance(one, str) and one and value.get("method") is None
            else cls.renamed(one)
            for name, one in value.items()
        }

    def setUp(self) -> None:
        self.client.force_login(User.objects.get(username="demo"))

    def test_in_every_answer(self) -> None:
        english = json.loads((BASE_DIR / "frontend" / "public" / "locales" / "en.json").read_text("utf-8"))
        translated = {text: f"<{text}>" for text in (*english, *SPOILED)}
        wrong: dict[str, str] = {}
        seen = 0
        for holder in self.ids("InstallationRecord"):  # a sheet of each: some are blocked, and say by what
            offers = self.client.get(f"/api/installations/{holder}/jobs").json()["offers"]
            body = {"template": offers[0]["template"]}
            made = self.client.post(f"/api/installations/{holder}/sheets", body, content_type="application/json")
            self.assertEqual(made.status_code, 201, made.content)
        with TemporaryDirectory() as folder, self.settings(LOCALES_DIR=folder):
            (Path(folder) / "de.json").write_text(json.dumps(translated), "utf-8")
            readers = (("mph", "in", "en"), ("mph", "in", "de"), ("kn", "mm", "en"))
            for place, address in enumerate(self.addresses()):
                for speed, length, language in readers if LONG else readers[place % 3 :][:1]:
                    headers = {"X-Speed-Unit": speed, "X-Length-Unit": length, "Accept-Language": language}
                    answer = self.client.get(address, headers=headers)
                    if answer.status_code != 200 or answer["Content-Type"].split(";")[0] != "application/json":
                        continue
                    for path, text in texts(answer.json()):
                        seen += any(name in text for name in SPOILED)
                        if any(one in text for spoiled in SPOILED.values() for one in spoiled):
                            wrong[f"{address} {path}"] = text
        self.assertEqual(wrong, {})
        self.assertGreater(seen, sized(500, 150))

    def addresses(self) -> Iterator[str]:
        """Every route that reads, for what there is."""
        ids: dict[str, list[Any]] = {
            "vehicle_id": self.ids("Vehicle"), "installation_id": self.ids("InstallationRecord"),
            "sheet_id": self.ids("SheetRecord"),
            "fault_id": self.ids("FaultRecord"), "part_id": self.ids("ShelfRecord"),
        }  # fmt: skip
        for method, path in routes():
            names = [name for name in ids if "{" + name + "}" in path]
            if method == "get" and path.count("{") <= 1 and len(names) == path.count("{"):
                yield from [path.format(**{name: one}) for name in names for one in ids[name]] if names else [path]

    @staticmethod
    def ids(model: str) -> list[Any]:
        return list(apps.get_model("workshop", model)._base_manager.values_list("pk", flat=True))
