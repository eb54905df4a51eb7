"""`python -m speedchain bench generator|reader|gauge|satellite`: the stand-ins, writing to standard output."""

from __future__ import annotations

import argparse
import csv
import sys
from collections.abc import Iterable, Iterator
from typing import IO, Any

import numpy as np
from pydantic import ValidationError

from speedchain.bench.export import run_lines
from speedchain.bench.files import table
from speedchain.bench.gauge import Gauge, needle_kmh
from speedchain.bench.profile import Profile
from speedchain.bench.run import Run
from speedchain.bench.satellite import Receiver, sentences
from speedchain.bench.simulation import Edges, Faults, at_the_reader, line_of, shown_by
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import (
    DocumentError,
    InputError,
    TestFrequency,
    parse_quantity,
    problems_from_pydantic,
    quantity_of,
)

MOST_LINES = 2_000_000
STEP_S = 0.1


def add_bench(commands: Any) -> None:
    """The sub-commands of `bench`."""
    bench = commands.add_parser("bench", help="simulated stand-ins: CSV, VCD or NMEA to standard output")
    kinds = bench.add_subparsers(dest="device", required=True)
    generator = kinds.add_parser("generator", help="pulses of an installation's target over a speed profile")
    generator.add_argument("file", help="the *.installation.json file, or -")
    _profile(generator)
    generator.add_argument("--hz", help="frequency at the sensor, in place of a speed")
    generator.add_argument("--profile", help="CSV file with time_s and kmh, in place of one speed")
    generator.add_argument("--format", choices=("csv", "vcd"), default="csv")
    for name, text in (("noise", "of the signal"), ("missing", "missing teeth"), ("bounce-ms", "of a contact"),
                       ("runout-mm", "more of it"), ("seed", "of the noise")):  # fmt: skip
        generator.add_argument(f"--{name}", default="0", help=text)
    reader = kinds.add_parser(
        "reader", help="what an installation's reader shows for edges (CSV with time_s on standard input)"
    )
    reader.add_argument("file", help="the *.installation.json file")
    reader.add_argument("--readout", type=int, default=1, help="which readout, from 1")
    gauge = kinds.add_parser("gauge", help="what a gauge shows for frequencies (CSV with hz on standard input)")
    for name, text in (("pulses-per-km", "it was made for"), ("scale-pct", "scale error"), ("offset-kmh", "offset"),
                       ("scale-end-kmh", "end of its scale")):  # fmt: skip
        gauge.add_argument(f"--{name}", required=name == "pulses-per-km", help=text)
    gauge.add_argument("--past-end", choices=("stops", "wraps"), default="stops")
    satellite = kinds.add_parser("satellite", help="NMEA 0183 sentences of a straight run")
    _profile(satellite)
    for name, text in (("rate-hz", "fixes a second"), ("speed-noise-kmh", ""), ("place-noise-m", ""),
                       ("course-deg", ""), ("seed", "")):  # fmt: skip
        satellite.add_argument(f"--{name}", help=text)


def _profile(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--speed", default="50", help="true speed, such as 50 or 30 mph")
    parser.add_argument("--to", help="speed at the end, for a sweep")
    parser.add_argument("--seconds", default="10", help="how long")


def run_bench_command(
    asked: argparse.Namespace, installation: Installation | None, evaluation: Evaluation | None
) -> Iterator[str]:
    """The lines of one stand-in."""
    match asked.device, installation, evaluation:
        case "gauge", _, _:
            return _gauge(asked, sys.stdin)
        case "satellite", _, _:
            profile, seconds = _speeds(asked)
            inputs = {
                name: getattr(asked, name) for name in Receiver.model_fields if getattr(asked, name, None) is not None
            }
            return iter(sentences(_read(Receiver, inputs), profile, seconds))
        case "reader", Installation(), Evaluation():
            return _reader(asked, installation, evaluation, sys.stdin)
        case "generator", Installation(), Evaluation():
            return _generator(asked, installation, evaluation)
        case device, _, _:
            raise AssertionError(f"{device} needs an installation")


def _read(model: Any, inputs: dict[str, Any]) -> Any:
    try:
        return model.model_validate(inputs)
    except ValidationError as error:
        raise DocumentError(*problems_from_pydantic(error.errors(include_url=False))) from None


def _speeds(asked: argparse.Namespace) -> tuple[Profile, float]:
    run = _read(Run, {
        "seconds": asked.seconds,
        "profile": {"points": [
            {"at_s": 0, "kmh": asked.speed}, {"at_s": asked.seconds, "kmh": asked.to or asked.speed},
        ]},
    })  # fmt: skip
    return run.profile, run.seconds


def _generator(asked: argparse.Namespace, installation: Installation, evaluation: Evaluation) -> Iterator[str]:
    profile, seconds = _speeds(asked)
    if asked.hz is not None:
        kmh = 3600 * parse_quantity(quantity_of(TestFrequency), asked.hz) / evaluation.pulses_per_km
        profile = _read(Run, {"profile": {"points": [{"at_s": 0, "kmh": kmh}]}}).profile
    if asked.profile is not None:
        profile = _profile_in(asked.profile)
    inputs = {
        "noise": asked.noise,
        "missing": asked.missing,
        "bounce_ms": asked.bounce_ms,
        "runout_mm": asked.runout_mm,
    }
    faults = _read(Faults, inputs | {"seed": asked.seed})
    run = Run(profile=profile, seconds=seconds, faults=faults)
    return run_lines(asked.format, installation=installation, evaluation=evaluation, run=run)


def _profile_in(file: str) -> Profile:
    try:
        with open(file, encoding="utf-8", newline="") as lines:
            points = [
                {"at_s": _number(row, "time_s"), "kmh": _number(row, "kmh")} for row in _columns(lines, "time_s", "kmh")
            ]
    except OSError as error:
        raise InputError(
            f"{file}: {error.strerror or 'cannot be read'}.", remedy="Give the path of a CSV file.", path="profile"
        ) from None
    profile: Profile = _read(Run, {"profile": {"points": points}}).profile
    return profile


def _columns(lines: Iterable[str], *names: str) -> Iterator[dict[str, str]]:
    reader = csv.DictReader(lines)
    for name in names:
        if reader.fieldnames is None or name not in reader.fieldnames:
            raise InputError(
                f"The table has no column {name}.",
                remedy=f"Its first line names the columns; one of them is {name}.",
                path="table",
            )
    for number, row in enumerate(reader, start=2):
        if number > MOST_LINES:
            raise InputError("The table is too long.", remedy="Cut it.", limit=f"{MOST_LINES} lines", path="table")
        yield row


def _number(row: dict[str, str], name: str) -> float:
    try:
        value = float(row[name])
    except (TypeError, ValueError):
        value = np.nan
    if not np.isfinite(value):
        raise InputError(f"“{str(row[name])[:24]}” is not a number.", remedy="Correct the table.", path=name)
    return value


def _reader(
    asked: argparse.Namespace, installation: Installation, evaluation: Evaluation, stream: IO[str]
) -> Iterator[str]:
    readout = installation.readout_at(asked.readout - 1)
    seen = evaluation.readouts[asked.readout - 1]
    rows = [(row.get("wire") or "sensor", _number(row, "time_s")) for row in _columns(stream, "time_s")]
    wire = "converter" if evaluation.signal_detail.conversion is not None and not readout.before_converter else "sensor"
    times = np.sort(np.array([time for name, time in rows if name == wire]))
    width = np.full(times.size, np.inf)
    line = line_of(installation, evaluation, Faults())
    # what comes in has been through the converter already
    edges = at_the_reader(line, readout.model_copy(update={"before_converter": True}), Edges(times, times, width))
    end = float(times[-1]) if times.size else 0.0
    at = np.arange(STEP_S, end + STEP_S / 2, STEP_S)
    shown = shown_by(readout, seen, edges, at) if at.size else at
    return table(["time_s", "shown_kmh"], iter(list(zip(at.round(6).tolist(), shown.round(6).tolist(), strict=True))))


def _gauge(asked: argparse.Namespace, stream: IO[str]) -> Iterator[str]:
    names = ("pulses_per_km", "scale_pct", "offset_kmh", "scale_end_kmh", "past_end")
    gauge = _read(Gauge, {name: getattr(asked, name) for name in names if getattr(asked, name) is not None})
    hertz = [_number(row, "hz") for row in _columns(stream, "hz")]
    stands = needle_kmh(gauge, np.array(hertz))
    return table(["hz", "needle_kmh"], iter(list(zip(hertz, stands.tolist(), strict=True))))
