"""Recorded data, and what it proves."""

from speedchain.runs.align import Lag, SpeedRecord, lag_between
from speedchain.runs.check import SpeedCheck, speed_check
from speedchain.runs.command import add_run, checked, fingerprinted, simulated
from speedchain.runs.fingerprint import Fingerprint, fingerprint
from speedchain.runs.proof import CheckWanted, Proof, TimeSpan, prove
from speedchain.runs.recording import Channel, Recording
from speedchain.runs.simulate import Drive, as_table
from speedchain.runs.table_file import SPEED_UNITS, Column, TableLayout, layout_of, read_edges, read_table, usual_speeds

__all__ = [
    "SPEED_UNITS",
    "Channel",
    "CheckWanted",
    "Column",
    "Drive",
    "Fingerprint",
    "Lag",
    "Proof",
    "Recording",
    "SpeedCheck",
    "SpeedRecord",
    "TableLayout",
    "TimeSpan",
    "add_run",
    "as_table",
    "checked",
    "fingerprint",
    "fingerprinted",
    "lag_between",
    "layout_of",
    "prove",
    "read_edges",
    "read_table",
    "simulated",
    "speed_check",
    "usual_speeds",
]
