"""Texts of rules are kept with what they were made of; what is due by wear is known by its rule, not by its text."""

from typing import Any

from django.db import migrations, models

import workshop.texts

TEXTS = (("task", "text", 240), ("dueitem", "text", 240), ("revision", "summary", 400))


def as_message(model: str, name: str, length: int) -> migrations.SeparateDatabaseAndState:
    """A column of plain text as one of JSON: the text as a JSON string."""
    column = f'ALTER TABLE "workshop_{model}" ALTER COLUMN "{name}" TYPE'
    return migrations.SeparateDatabaseAndState(
        database_operations=[
            migrations.RunSQL(
                f'{column} jsonb USING to_jsonb("{name}")',
                f"{column} varchar({length}) USING left(\"{name}\" #>> '{{}}', {length})",
            )
        ],
        state_operations=[migrations.AlterField(model, name, workshop.texts.MessageField())],
    )


def name_the_rule(apps: Any, schema_editor: Any) -> None:
    """Before the texts are JSON."""
    apps.get_model("workshop", "DueItem").objects.filter(text__startswith="Wear: ").update(rule="wear")


class Migration(migrations.Migration):
    dependencies = [("workshop", "0023_wear_limit")]

    operations = [
        migrations.AddField("dueitem", "rule", models.CharField(blank=True, default="", max_length=10), False),
        migrations.RunPython(name_the_rule, migrations.RunPython.noop),
        migrations.RemoveConstraint("task", "task_has_a_text"),
        migrations.RemoveConstraint("dueitem", "due_says_something"),
        *[as_message(*column) for column in TEXTS],
        migrations.AddConstraint("task", models.CheckConstraint(condition=~models.Q(text=""), name="task_has_a_text")),
        migrations.AddConstraint(
            "dueitem", models.CheckConstraint(condition=~models.Q(text=""), name="due_says_something")
        ),
    ]
