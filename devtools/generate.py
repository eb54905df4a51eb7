"""`python -m devtools.generate`: all that is written from the sources anew. Tests compare each with what is committed.

The front end's types from the API; the document's schema; the pages of findings and of words; the list of all texts.
"""

from __future__ import annotations

import json
import os
import subprocess
from pathlib import Path
from tempfile import TemporaryDirectory

from devtools import messages
from devtools.steps import FRONTEND, ROOT, npm, say


def types(to: Path) -> None:
    """The front end's types, from the API's own description."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wheelometron.settings")
    os.environ.setdefault("WHEELOMETRON_SECRET_KEY", "for generating only")
    import django
    from django.core.serializers.json import DjangoJSONEncoder

    django.setup()
    from api.app import api

    with TemporaryDirectory() as folder:
        described = Path(folder) / "openapi.json"
        described.write_text(json.dumps(api.get_openapi_schema(), cls=DjangoJSONEncoder), "utf-8")
        command, environment = npm("exec", "--", "openapi-typescript", str(described), "-o", str(to))
        subprocess.run(command, cwd=FRONTEND, env=environment, check=True, capture_output=True)


def pages() -> dict[Path, str]:
    """The pages of docs/ that are written from the core, and their text."""
    from speedchain import glossary
    from speedchain.document import installation_schema
    from speedchain.stages import findings

    docs = ROOT / "docs"
    return {
        docs / "installation.schema.json": json.dumps(installation_schema(), indent=2, ensure_ascii=False) + "\n",
        docs / "findings.md": findings.as_markdown(),
        docs / "glossary.md": glossary.as_markdown(),
    }


def main() -> None:
    """Write all of it."""
    for path, text in pages().items():
        path.write_text(text, "utf-8")
        say(f"  {path.relative_to(ROOT)}")
    made = FRONTEND / "src" / "api" / "schema.d.ts"
    types(made)
    say(f"  {made.relative_to(ROOT)}")
    messages.main()
    say(f"  {messages.ENGLISH.relative_to(ROOT)}")


if __name__ == "__main__":
    main()
