"""`python -m speedchain run check|fingerprint|simulate`: recorded drives on files, without a database."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter

from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import InputError
from speedchain.runs.align import SpeedRecord
from speedchain.runs.files import ColumnAs, ReadAs, format_of, read_file
from speedchain.runs.fingerprint import Fingerprint, fingerprint
from speedchain.runs.proof import CheckWanted, Proof, prove
from speedchain.runs.recording import Recording
from speedchain.runs.roles import usual_speeds
from speedchain.runs.simulate import DBC, RINGS, WRITERS, Drive, Ring
from speedchain.runs.slip import Slip, slip_of
from speedchain.runs.table_file import HEAD_BYTES, SPEED_UNITS, Meaning, layout_of

PROOF: TypeAdapter[Proof] = TypeAdapter(Proof)
SLIP: TypeAdapter[Slip] = TypeAdapter(Slip)
FINGERPRINT: TypeAdapter[Fingerprint] = TypeAdapter(Fingerprint)
FORMATS = (*WRITERS, "dbc", *RINGS)


def add_run(commands: Any) -> None:
    """The sub-commands of `run`."""
    run = commands.add_parser("run", help="recorded drives: what they prove, as JSON; a simulated one, as CSV")
    kinds = run.add_subparsers(dest="what", required=True)
    check = kinds.add_parser("check", help="shown against true speed of a recorded drive")
    check.add_argument("file", help="the *.installation.json file, or -")
    check.add_argument("recording", help="the file of the drive: CSV, GPX, NMEA, FIT, a CAN log")
    check.add_argument("--dbc", help="the DBC file that describes the bus")
    check.add_argument("--true", help="name of the column with the true speed")
    check.add_argument("--shown", help="name of the column with the shown speed")
    check.add_argument("--time", help="name of the column with the time")
    check.add_argument("--readout", type=int, default=1, help="which readout, from 1")
    ring = kinds.add_parser("fingerprint", help="count, missing and bent teeth from the times of pulses")
    ring.add_argument("recording", help="the captured pulses: CSV with the time of one edge in a line, VCD, or WAV")
    ring.add_argument("--count", type=int, help="pulses per turn, where they are known")
    ring.add_argument("--mark-s", type=float, help="when the chalk mark passed, in seconds")
    load = kinds.add_parser("import", help="what a recording holds: its channels, what could not be read")
    load.add_argument("recording", help="the file: CSV, GPX, NMEA, FIT, a CAN log, VCD, WAV")
    load.add_argument("--dbc", help="the DBC file that describes the bus")
    load.add_argument("--true", help="name of a column with the true speed")
    load.add_argument("--shown", help="name of a column with the shown speed")
    load.add_argument("--time", help="name of the column with the time")
    slipping = kinds.add_parser("slip", help="slip of a driven wheel against a reference")
    slipping.add_argument("recording", help="the file of the drive: CSV, GPX, NMEA, FIT, a CAN log")
    slipping.add_argument("--dbc", help="the DBC file that describes the bus")
    slipping.add_argument("--reference", help="name of the channel with the reference")
    slipping.add_argument("--driven", help="name of the channel with the driven wheel")
    simulate = kinds.add_parser("simulate", help="a drive of steady speeds there and back, or a captured ring")
    simulate.add_argument("--format", choices=FORMATS, default="csv")
    simulate.add_argument("--teeth", type=int, default=40, help="of a captured ring")
    simulate.add_argument("--bent", type=int, help="number of a tooth out of place")
    simulate.add_argument("--shown-per-true", type=float, default=1.0)
    simulate.add_argument("--offset-kmh", type=float, default=0.0)
    simulate.add_argument("--seed", type=int, default=0)


def simulated(asked: argparse.Namespace) -> bytes:
    """A recorded drive or a captured ring as the content of a file."""
    if asked.format == "dbc":
        return DBC.encode()
    if asked.format in RINGS:
        return RINGS[asked.format](Ring(teeth=asked.teeth, bent=asked.bent, seed=asked.seed))
    drive = Drive(shown_per_true=asked.shown_per_true, shown_offset_kmh=asked.offset_kmh, seed=asked.seed)
    return WRITERS[asked.format](drive)


def imported(asked: argparse.Namespace) -> Any:
    """What a recording holds, as plain data."""
    data = _bytes_of(asked.recording)
    found = read_file(data, _read_as(asked, data))
    if not found.channels:
        raise InputError(
            "The recording holds no channel.",
            remedy="Name the columns: --time, --true, --shown. Check that its lines hold numbers.",
            path="recording",
        )
    return {
        "format": format_of(data[:HEAD_BYTES]),
        "lines": found.lines,
        "bad_lines": found.bad_lines,
        "examples": list(found.examples),
        "channels": [
            {
                "name": item.name,
                "quantity": item.quantity,
                "unit": item.unit,
                "samples": int(item.time_s.size),
                "from_s": float(item.time_s[0]),
                "to_s": float(item.time_s[-1]),
            }
            for item in found.channels
        ],
    }


def slipped(asked: argparse.Namespace) -> Any:
    """Slip of a recording, as plain data."""
    recorded = read_file(_bytes_of(asked.recording), _read_as(asked))
    usual = speeds_of(recorded)
    channels = []
    for field, name in (("reference", asked.reference or usual[0]), ("driven", asked.driven or usual[1])):
        channel = recorded.channel(name)
        if channel is None or channel.quantity != "speed":
            raise InputError(f"The recording has no speed named {name}.", remedy="Choose another.", path=field)
        channels.append(SpeedRecord(channel.time_s, channel.values))
    found = slip_of(*channels)
    if found is None:
        raise InputError("There is too little cruise.", remedy="Hold a speed for ten seconds.", path="recording")
    return SLIP.dump_python(found, mode="json")


def fingerprinted(asked: argparse.Namespace) -> Any:
    """The fingerprint of a ring, as plain data."""
    pulses = read_file(_bytes_of(asked.recording)).first("pulses")
    if pulses is None:
        raise InputError(
            "There are no times of pulses in this file.",
            remedy="Export one line per pulse, with the time of one edge, in seconds.",
            path="recording",
        )
    return FINGERPRINT.dump_python(fingerprint(pulses.time_s, mark_s=asked.mark_s, count=asked.count), mode="json")


def _read_as(asked: argparse.Namespace, data: bytes = b"") -> ReadAs:
    return ReadAs(
        dbc=_bytes_of(asked.dbc).decode("latin-1") if asked.dbc else "",
        columns=_columns_as(asked, data[:HEAD_BYTES]),
    )


def _columns_as(asked: argparse.Namespace, head: bytes) -> tuple[ColumnAs, ...] | None:
    """The columns of a table with what was named on the command line; what is named a speed and has no unit is in km/h.

    Raises
    ------
    `InputError` for a column that is not there; it names those that are.
    """
    named: dict[str, Meaning] = {}
    for option, meaning in (("time", "time"), ("true", "speed"), ("shown", "speed")):
        if name := getattr(asked, option, None):
            named[name.casefold()] = meaning  # type: ignore[assignment]
    if not named or not head or format_of(head) != "table":
        return None
    columns = layout_of(head).columns
    there = {column.name.casefold() for column in columns}
    for name in named:
        if name not in there:
            listed = ", ".join([column.name for column in columns])
            raise InputError(
                f"The table has no column named {name}.", remedy=f"Choose one of: {listed}.", path="recording"
            )
    found = []
    for column in columns:
        gives_way = column.meaning == "time" and "time" in named.values()  # to the one that is named
        meaning = named.get(column.name.casefold(), "ignored" if gives_way else column.meaning)
        unit = column.unit
        if meaning == "speed" and unit not in SPEED_UNITS:
            unit = "km/h"
        found.append(ColumnAs(meaning=meaning, unit=unit))
    return tuple(found)


def speeds_of(recorded: Recording) -> tuple[str, str]:
    """The usual speeds of a recording, or an `InputError` where it holds none."""
    usual = usual_speeds(recorded.channels)
    if usual is None:
        raise InputError("The recording holds no speed.", remedy="Name its columns: --true, --shown.", path="recording")
    return usual


def checked(asked: argparse.Namespace, installation: Installation, evaluation: Evaluation) -> Any:
    """What a recording proves, as plain data."""
    data = _bytes_of(asked.recording)
    recorded = read_file(data, _read_as(asked, data))
    usual = (asked.true, asked.shown) if asked.true and asked.shown else speeds_of(recorded)
    wanted = CheckWanted(
        true_channel=asked.true or usual[0], shown_channel=asked.shown or usual[1], readout=asked.readout - 1
    )
    return PROOF.dump_python(prove(installation, evaluation, recorded, wanted), mode="json")


def _bytes_of(file: str) -> bytes:
    try:
        return Path(file).read_bytes()
    except (OSError, ValueError) as error:
        raise InputError(f"{file} cannot be read.", remedy="Check the name of the file.", path="recording") from error
