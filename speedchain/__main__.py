"""The command line: `python -m speedchain evaluate FILE | wheel MARKING | schema | bench ... | run ...`."""

from __future__ import annotations

import argparse
import json
import math
import os
import sys
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter

import speedchain
from speedchain.bench import add_bench, run_bench_command
from speedchain.document import Installation, installation_schema, read_installation_json
from speedchain.evaluation import EVALUATION, evaluate
from speedchain.fields import SpeedchainError
from speedchain.runs import add_run, checked, fingerprinted, imported, simulated, slipped
from speedchain.views import ImpliedSetting, implied_settings
from speedchain.wheel import ETRTO_FACTOR, parse_marking


def _installation_in(file: str) -> Installation:
    try:
        text = sys.stdin.buffer.read() if file == "-" else Path(file).read_bytes()
    except OSError as error:
        raise SystemExit(_refuse(f"{file}: {error.strerror or 'cannot be read'}.")) from None
    except ValueError:  # a NUL in the name
        raise SystemExit(_refuse("This is not a file name.")) from None
    return read_installation_json(text)


def _evaluated(installation: Installation) -> Any:
    """The evaluation, and what the numbers in the displays imply."""
    evaluation = evaluate(installation)
    implied = TypeAdapter(tuple[ImpliedSetting, ...]).dump_python(
        implied_settings(installation, evaluation), mode="json"
    )
    return {**EVALUATION.dump_python(evaluation, mode="json"), "implied_settings": implied}


def _bench(asked: argparse.Namespace) -> int:
    """One stand-in; ends quietly when nobody reads on."""
    installation = _installation_in(asked.file) if hasattr(asked, "file") else None
    lines = run_bench_command(asked, installation, None if installation is None else evaluate(installation))
    try:
        for line in lines:
            print(line, end="\r\n" if asked.device == "satellite" else "\n")
        sys.stdout.flush()
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 0


def _wheel(marking_text: str) -> Any:
    marking = parse_marking(marking_text)
    return asdict(marking) | {
        "circumference_pi_mm": round(math.pi * marking.diameter_mm, 1),
        "circumference_etrto_3_05_mm": round(ETRTO_FACTOR * marking.diameter_mm, 1),
    }


def _refuse(message: str) -> int:
    print(f"speedchain: {' '.join(message.split())}", file=sys.stderr)
    return 2


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> Any:
        raise SystemExit(_refuse(f"{message}. Try --help."))


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; JSON to standard output, or exit 2 and one line on bad input."""
    parser = _Parser(prog="speedchain", description="From a wheel to the number on the display.")
    parser.add_argument("--version", action="version", version=f"Wheelometron {speedchain.__version__}")
    commands = parser.add_subparsers(dest="command", required=True)
    commands.add_parser("evaluate", help="evaluate a *.installation.json file").add_argument(
        "file", help="the file, or -"
    )
    commands.add_parser("wheel", help="read a size marking").add_argument("marking", help='such as "205/55R16"')
    commands.add_parser("schema", help="the JSON Schema of the installation document")
    add_bench(commands)
    add_run(commands)
    asked = parser.parse_args(arguments)
    try:
        match asked.command:
            case "bench":
                return _bench(asked)
            case "run" if asked.what == "simulate":
                sys.stdout.buffer.write(simulated(asked))
                return 0
            case "run" if asked.what == "fingerprint":
                answer = fingerprinted(asked)
            case "run" if asked.what == "slip":
                answer = slipped(asked)
            case "run" if asked.what == "import":
                answer = imported(asked)
            case "run":
                answer = checked(asked, known := _installation_in(asked.file), evaluate(known))
            case "evaluate":
                answer = _evaluated(_installation_in(asked.file))
            case "wheel":
                answer = _wheel(asked.marking)
            case _:
                answer = installation_schema()
    except SpeedchainError as error:
        return _refuse(str(error))
    print(json.dumps(answer, indent=2, ensure_ascii=False))
    return 0


if __name__ == "__main__":
    sys.exit(main())
