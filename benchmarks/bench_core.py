"""`evaluate` against the validation of the same document by Pydantic, in one run."""

from __future__ import annotations

import json
from pathlib import Path

import pyperf

from speedchain import Fit, evaluate, read_fit

DEMO = Path(__file__).resolve().parent.parent / "demo"


def main() -> None:
    """One pair per demo vehicle: `NAME validate` is the baseline of `NAME evaluate`."""
    runner = pyperf.Runner()
    for file in ("dotterel-rear", "sandpiper"):
        fit = read_fit(json.loads((DEMO / f"{file}.json").read_text("utf-8"))["first"])
        document = fit.model_dump(mode="json")
        runner.bench_func(f"{file} validate", Fit.model_validate, document)
        runner.bench_func(f"{file} evaluate", evaluate, fit)


if __name__ == "__main__":
    main()
