"""The installation: the document that everything is worked out from."""

from speedchain.document.installation import (
    Installation,
    read_installation,
    read_installation_json,
    write_installation_json,
)
from speedchain.document.schema import DocumentField, field_at, fields_by_path, installation_schema

__all__ = [
    "DocumentField",
    "Installation",
    "field_at",
    "fields_by_path",
    "installation_schema",
    "read_installation",
    "read_installation_json",
    "write_installation_json",
]
