"""`python -m speedchain run check|fingerprint|simulate`: recorded drives on files, without a database."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter

from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import InputError
from speedchain.runs.fingerprint import Fingerprint, fingerprint
from speedchain.runs.proof import CheckWanted, Proof, prove
from speedchain.runs.simulate import Drive, as_table
from speedchain.runs.table_file import layout_of, read_edges, read_table, usual_speeds

PROOF: TypeAdapter[Proof] = TypeAdapter(Proof)
FINGERPRINT: TypeAdapter[Fingerprint] = TypeAdapter(Fingerprint)


def add_run(commands: Any) -> None:
    """The sub-commands of `run`."""
    run = commands.add_parser("run", help="recorded drives: what they prove, as JSON; a simulated one, as CSV")
    kinds = run.add_subparsers(dest="what", required=True)
    check = kinds.add_parser("check", help="shown against true speed of a recorded drive")
    check.add_argument("file", help="the *.installation.json file, or -")
    check.add_argument("recording", help="the text file (CSV) of the drive")
    check.add_argument("--true", help="name of the column with the true speed")
    check.add_argument("--shown", help="name of the column with the shown speed")
    check.add_argument("--readout", type=int, default=1, help="which readout, from 1")
    ring = kinds.add_parser("fingerprint", help="count, missing and bent teeth from the times of pulses")
    ring.add_argument("recording", help="the text file (CSV): one line per pulse, the time of one edge in seconds")
    ring.add_argument("--count", type=int, help="pulses per turn, where they are known")
    ring.add_argument("--mark-s", type=float, help="when the chalk mark passed, in seconds")
    simulate = kinds.add_parser("simulate", help="a drive of steady speeds there and back, as CSV")
    simulate.add_argument("--shown-per-true", type=float, default=1.0)
    simulate.add_argument("--offset-kmh", type=float, default=0.0)
    simulate.add_argument("--seed", type=int, default=0)


def simulated(asked: argparse.Namespace) -> str:
    """A recorded drive as the text of a CSV file."""
    drive = Drive(shown_per_true=asked.shown_per_true, shown_offset_kmh=asked.offset_kmh, seed=asked.seed)
    return as_table(drive)


def fingerprinted(asked: argparse.Namespace) -> Any:
    """The fingerprint of a ring, as plain data."""
    edges = read_edges(_bytes_of(asked.recording))
    return FINGERPRINT.dump_python(fingerprint(edges, mark_s=asked.mark_s, count=asked.count), mode="json")


def checked(asked: argparse.Namespace, installation: Installation, evaluation: Evaluation) -> Any:
    """What a recording proves, as plain data."""
    data = _bytes_of(asked.recording)
    recorded = read_table(data, layout := layout_of(data))
    usual = usual_speeds(layout, recorded)
    wanted = CheckWanted(
        true_channel=asked.true or usual[0], shown_channel=asked.shown or usual[1], readout=asked.readout - 1
    )
    return PROOF.dump_python(prove(installation, evaluation, recorded, wanted), mode="json")


def _bytes_of(file: str) -> bytes:
    try:
        return Path(file).read_bytes()
    except (OSError, ValueError) as error:
        raise InputError(f"{file} cannot be read.", remedy="Check the name of the file.", path="recording") from error
