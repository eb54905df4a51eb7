"""Recorded data, and what it proves."""

from speedchain.runs.align import Lag, SpeedRecord, lag_between, on_times
from speedchain.runs.can_file import BusSignal
from speedchain.runs.check import SpeedCheck, speed_check
from speedchain.runs.coast_down import CoastDown, coast_down
from speedchain.runs.command import add_run, checked, fingerprinted, imported, simulated, slipped
from speedchain.runs.derived import (
    MOST_NOTED,
    TWO_SPEEDS,
    Derived,
    DerivedKind,
    Noted,
    derive,
    distance_m,
    wheel_speed_by,
)
from speedchain.runs.distance import PLACES, DistanceCheck, DistanceWanted, distance_check, track_length
from speedchain.runs.drift import DatedError, Drift, drift_of
from speedchain.runs.files import ColumnAs, Format, ReadAs, columns_of, format_of, known_signals, pieces_of, read_file
from speedchain.runs.fingerprint import Fingerprint, fingerprint
from speedchain.runs.health import EventKind, Health, health_of
from speedchain.runs.histogram import Histogram, histogram
from speedchain.runs.laid_over import AlignedBy, LaidOver, laid_over
from speedchain.runs.proof import LEAST_ON_WATER_KMH, CheckWanted, Proof, TimeSpan, prove
from speedchain.runs.pulse_files import read_edges
from speedchain.runs.recording import (
    LATEST_S,
    Channel,
    ChannelKind,
    Piece,
    Quantity,
    Recording,
    Tally,
    whole,
)
from speedchain.runs.ring_change import RingChange, ring_change
from speedchain.runs.roles import Lack, Role, lacking, role_of, usual_speeds, wheel_speeds
from speedchain.runs.simulate import (
    DBC,
    RINGS,
    WRITERS,
    Drive,
    Ring,
    as_dump,
    as_edges,
    as_sound,
    as_table,
    edges_of,
    rows_of,
)
from speedchain.runs.slip import Slip, slip_of
from speedchain.runs.table_file import HEAD_BYTES, UNITS, Column, TableLayout, layout_of, read_table
from speedchain.runs.track_files import steps_m
from speedchain.runs.traction import TractionTable, TractionWanted, TuneChange, traction_table, tune_change
from speedchain.runs.water import RUN_BACK, Reciprocal, RunByHand, mean_of_means, reciprocal, runs_by_hand

__all__ = [
    "DBC",
    "HEAD_BYTES",
    "LATEST_S",
    "LEAST_ON_WATER_KMH",
    "MOST_NOTED",
    "PLACES",
    "RINGS",
    "RUN_BACK",
    "TWO_SPEEDS",
    "UNITS",
    "WRITERS",
    "AlignedBy",
    "BusSignal",
    "Channel",
    "ChannelKind",
    "CheckWanted",
    "CoastDown",
    "Column",
    "ColumnAs",
    "DatedError",
    "Derived",
    "DerivedKind",
    "DistanceCheck",
    "DistanceWanted",
    "Drift",
    "Drive",
    "EventKind",
    "Fingerprint",
    "Format",
    "Health",
    "Histogram",
    "Lack",
    "Lag",
    "LaidOver",
    "Noted",
    "Piece",
    "Proof",
    "Quantity",
    "ReadAs",
    "Reciprocal",
    "Recording",
    "Ring",
    "RingChange",
    "Role",
    "RunByHand",
    "Slip",
    "SpeedCheck",
    "SpeedRecord",
    "TableLayout",
    "Tally",
    "TimeSpan",
    "TractionTable",
    "TractionWanted",
    "TuneChange",
    "add_run",
    "as_dump",
    "as_edges",
    "as_sound",
    "as_table",
    "checked",
    "coast_down",
    "columns_of",
    "derive",
    "distance_check",
    "distance_m",
    "drift_of",
    "edges_of",
    "fingerprint",
    "fingerprinted",
    "format_of",
    "health_of",
    "histogram",
    "imported",
    "known_signals",
    "lacking",
    "lag_between",
    "laid_over",
    "layout_of",
    "mean_of_means",
    "on_times",
    "pieces_of",
    "prove",
    "read_edges",
    "read_file",
    "read_table",
    "reciprocal",
    "ring_change",
    "role_of",
    "rows_of",
    "runs_by_hand",
    "simulated",
    "slip_of",
    "slipped",
    "speed_check",
    "steps_m",
    "track_length",
    "traction_table",
    "tune_change",
    "usual_speeds",
    "wheel_speed_by",
    "wheel_speeds",
    "whole",
]
