"""Texts that are kept with what they were made of, so that a record can be read in another language."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.db import models

from speedchain.fields import Given, as_data, from_data

if TYPE_CHECKING:
    TextColumn = models.CharField[str, str]
else:
    TextColumn = models.CharField


class GivenField(TextColumn):
    """What a person wrote; read as `Given`, so that no text changes it. For the database it is a `CharField`."""

    def from_db_value(self, value: str | None, expression: Any, connection: Any) -> str | None:
        """The text."""
        return value if value is None else Given(value)

    def deconstruct(self) -> tuple[str, str, Any, Any]:
        """As a `CharField`: nothing has to be migrated."""
        name, _, arguments, options = super().deconstruct()
        return name, "django.db.models.CharField", arguments, options


class MessageField(models.JSONField):
    """A text of a rule or of a person; read as a `str`, which keeps its template and values where it has some."""

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> str:
        """The text."""
        return from_data(super().from_db_value(value, expression, connection))

    def get_prep_value(self, value: Any) -> Any:
        """The text as plain data."""
        return as_data(value) if isinstance(value, str) else value

    def value_to_string(self, obj: models.Model) -> Any:
        """The same for Django's serializers."""
        return self.get_prep_value(self.value_from_object(obj))
