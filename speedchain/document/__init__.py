"""The installation: the document that everything is worked out from."""

from speedchain.document.installation import (
    WHEELS_DRIVEN,
    Installation,
    read_installation,
    read_installation_json,
    write_installation_json,
)
from speedchain.document.schema import installation_schema, titles_by_path

__all__ = [
    "WHEELS_DRIVEN",
    "Installation",
    "installation_schema",
    "read_installation",
    "read_installation_json",
    "titles_by_path",
    "write_installation_json",
]
