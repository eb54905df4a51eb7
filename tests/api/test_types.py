"""The front end's types are what the API says, generated anew and compared."""

import json
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

from django.core.serializers.json import DjangoJSONEncoder

from api.app import api
from devtools.steps import FRONTEND, npm


class Types(TestCase):
    def test_the_generated_types_are_fresh(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            described, made = Path(folder) / "openapi.json", Path(folder) / "schema.d.ts"
            described.write_text(json.dumps(api.get_openapi_schema(), cls=DjangoJSONEncoder), "utf-8")
            command, environment = npm("exec", "--", "openapi-typescript", str(described), "-o", str(made))
            subprocess.run(command, cwd=FRONTEND, env=environment, check=True, capture_output=True)
            again = "run docs/developing.md's command for the types"
            self.assertEqual(made.read_text("utf-8"), (FRONTEND / "src/api/schema.d.ts").read_text("utf-8"), again)
