"""The installation: the document that everything is worked out from."""

from speedchain.document.installation import (
    Installation,
    example_installation,
    read_installation,
    read_installation_json,
    write_installation_json,
)
from speedchain.document.schema import DocumentField, field_at, fields_by_path, installation_schema
from speedchain.document.torques import FASTENERS, MOST_TORQUE, TORQUE_UNITS, Torque

__all__ = [
    "FASTENERS",
    "MOST_TORQUE",
    "TORQUE_UNITS",
    "DocumentField",
    "Installation",
    "Torque",
    "example_installation",
    "field_at",
    "fields_by_path",
    "installation_schema",
    "read_installation",
    "read_installation_json",
    "write_installation_json",
]
