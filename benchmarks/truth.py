"""Write docs/truth.md: what is checked against what, what ± covers, and how causes are ranked. By hand, seeds fixed.

python -m benchmarks.truth            # about seven minutes; --quick for a try
"""

from __future__ import annotations

import argparse
import importlib
import inspect
import pkgutil
from collections import Counter
from pathlib import Path
from unittest import TestCase

import tests.published
from speedchain.faults.policy import MOST_STEPS, Policy
from tests.simulated.bounds import BOUNDS
from tests.simulated.causes import MISTAKES, ranking, unlisted_sure
from tests.simulated.chain import CASES, coverage_of_chain
from tests.simulated.coverage import (
    COMBINATIONS,
    METHODS,
    coverage_of_combination,
    coverage_of_method,
    coverage_of_tape,
    naive_coverage,
)
from tests.simulated.faults import HALF, Cell, cells, mean_minutes, mistaken, reliability, results, right_share
from tests.simulated.rings import tally

TARGET = Path(__file__).resolve().parent.parent / "docs" / "truth.md"
REPEATED = ("roll_out", "taped_diameter", "taped_circumference")
TAPED: tuple[tuple[str, str, float | None, bool], ...] = (
    ("car, radial, flattened by 5 to 8 % of its radius", "car", None, False),
    ("the same, all at 5 %", "car", 0.05, False),
    ("the same, all at 8 %", "car", 0.08, False),
    ("the same, axle height measured", "car", None, True),
    ("motorcycle, 2 to 5 %", "motorcycle", None, False),
    ("bicycle, 0.5 to 2.5 %", "bicycle", None, False),
)
POLICIES: dict[Policy, str] = {"best": "best next test", "fixed": "practised order", "random": "at random"}
SCATTERS = (1.0, 2.0, 3.0, 5.0, 10.0)


def checks() -> list[str]:
    """One line for each class of checks against something outside the project, from its own docstring."""
    lines = ["| checks | against | tests |", "|---|---|---|"]
    for module in pkgutil.iter_modules(tests.published.__path__):
        found = importlib.import_module(f"tests.published.{module.name}")
        head = (inspect.getdoc(found) or "").split("\n\n")[0].replace("\n", " ")
        lines.append(f"| **{module.name.removeprefix('test_').replace('_', ' ')}** | {head} | |")
        for name, case in inspect.getmembers(found, inspect.isclass):
            if not issubclass(case, TestCase) or case.__module__ != found.__name__:
                continue
            methods = [method for method in dir(case) if method.startswith("test")]
            docs = [inspect.getdoc(getattr(case, method)) or "" for method in methods]
            texts = [case.__doc__ or "", *docs]
            said = [" ".join(text.split()).split(". ")[0].rstrip(".") for text in texts if text]
            lines.append(f"| {name} | {'; '.join(dict.fromkeys(said)).replace('|', 'abs')} | {len(methods)} |")
    return lines


def coverage(samples: int) -> list[str]:
    """Coverage of every method alone, of repeats, and of combinations."""
    percent = "{:.1f}".format
    lines = [
        f"95.45 % is claimed. {samples} experiments for each figure (± {100 * (0.95 * 0.05 / samples) ** 0.5:.1f} "
        f"points), "
        "drawn from what each method states of itself; bounded parts (rectangular, triangular) are covered nearly "
        "always.",
        "",
        "| one reading | covered, % |",
        "|---|---|",
    ]
    for name, method in METHODS.items():
        share = coverage_of_method(method, readings=1, scatter=1.0, samples=samples)
        lines.append(f"| {name.replace('_', ' ')} | {percent(100 * share)} |")
    lines += ["", f"| repeats, true scatter × the marks' | {' | '.join([f'{s:g} ×' for s in SCATTERS])} |"]
    lines.append("|---" * (len(SCATTERS) + 1) + "|")
    for name in REPEATED:
        for readings in (2, 3, 5):
            shares = [
                percent(100 * coverage_of_method(METHODS[name], readings=readings, scatter=s, samples=samples))
                for s in SCATTERS
            ]
            lines.append(f"| {name.replace('_', ' ')}, {readings} readings | {' | '.join(shares)} |")
    for rule in ("k = 2", "effective"):
        shares = [percent(100 * naive_coverage(rule, readings=2, scatter=s, samples=samples)) for s in SCATTERS]
        label = "k = 2 for all" if rule == "k = 2" else "effective degrees of freedom (JCGM 100, G.4)"
        lines.append(f"| *not used: {label}; roll-out, 2 readings* | {' | '.join(shares)} |")
    lines += ["", "A single reading knows only of the scatter that is stated: it cannot cover more.", ""]
    lines += ["| tapes, by construction or with the axle's height | across | round |", "|---|---|---|"]
    for label, kind, at, axle in TAPED:
        shares = [
            percent(100 * coverage_of_tape(field, kind, at=at, axle=axle, samples=samples))
            for field in ("taped_diameter", "taped_circumference")
        ]
        lines.append(f"| {label} | {' | '.join(shares)} |")
    lines += ["", "| combinations | covered, % |", "|---|---|"]
    for name, combination in COMBINATIONS.items():
        share = coverage_of_combination(combination, samples=samples)
        lines.append(f"| {name} | {percent(100 * share)} |")
    lines += ["", "| the whole chain: its parts, and what was observed of it | covered, % |", "|---|---|"]
    lines += [f"| {name} | {percent(100 * coverage_of_chain(case, samples))} |" for name, case in CASES.items()]
    lines += ["", "| made of more than one measurement (tests/simulated/bounds.py) | wanted, % | covered, % | |"]
    lines.append("|---|---|---|---|")
    lines += [_bounded(name, 100 * covered(samples)) for name, covered in BOUNDS.items()]
    return lines


def _bounded(name: str, covered: float) -> str:
    verdict = (
        "met" if 93 <= covered <= 97 else "not met: too narrow" if covered < 93 else "not met: wider than it need be"
    )
    return f"| {name} | 93 to 97 | {covered:.1f} | {verdict} |"


def causes(each: int) -> list[str]:
    """How the causes of injected mistakes are ranked."""
    found = ranking(each)
    return [
        f"{each} cases of each of {len(MISTAKES)} mistakes, made by hand in tests/simulated/causes.py on "
        f"installations whose chain is "
        "measured: settings, and readings at four speeds.",
        "",
        "| | wanted, % | share, % |",
        "|---|---|---|",
        f"| the mistake comes first | at least 92 | {100 * found.first:.1f} |",
        f"| it is among the first three | at least 98 | {100 * found.in_three:.1f} |",
        f"| another one comes first with more than 50 % | at most 0.5 | {100 * found.wrong_above_half:.2f} |",
        f"| least often first: {min(found.each, key=lambda code: found.each[code])} | at least 80 | "
        f"{100 * min(found.each.values()):.1f} |",
        f"| a ratio that nobody lists gets a cause with more than 50 % | below 30 | {100 * unlisted_sure(each):.1f} |",
        "",
        f"Where a second mistake explains the ratio as well, no probability is said, only the order: how common "
        f"mistakes are is no "
        f"measurement. In {found.order_only[0]} such cases the first was right in {found.order_only[1]:.0f} %. What "
        f"was said of the others:",
        "",
        "| said, up to % | cases | mean said, % | right, % |",
        "|---|---|---|---|",
        *[f"| {up_to} | {cases} | {said:.0f} | {right:.0f} |" for up_to, cases, said, right in found.said],
        "",
        "Most often taken for another: "
        + "; ".join([f"{made} for {taken} ({number})" for made, taken, number in found.missed[:6]])
        + f", of {each} each.",
    ]


def faults(cases: int) -> list[str]:
    """How the fault finder does on faulty installations: right causes, minutes, and whether its chances are chances."""
    found = {policy: results(policy, cases) for policy in POLICIES}
    fixed = mean_minutes(found["fixed"])
    lines = [
        f"{cases} faulty installations from the bench's simulation (tests/simulated/faults.py), each cause as likely "
        f"as another, 4 % of "
        f"the tests wrong by human error. The best next test ends after {MOST_STEPS} tests at most.",
        "",
        "| way | right cause first, % | minutes | of the practised order, % | tests |",
        "|---|---|---|---|---|",
    ]
    for policy, name in POLICIES.items():
        run = found[policy]
        tests = sum(item.tests for item in run) / len(run)
        minutes = mean_minutes(run)
        lines.append(
            f"| {name} | {100 * right_share(run):.1f} | {minutes:.1f} | {100 * minutes / fixed:.0f} | {tests:.1f} |"
        )
    lines += ["", "Of the causes that were first after any test of the best way, by the chance they were given:", ""]
    lines += ["| chance given, % | times | mean, % | right, % | |", "|---|---|---|---|---|"]
    for one in reliability(found["best"]):
        bar = "█" * round(20 * one.right)
        span = f"{100 * one.low:.0f} to {100 * one.high:.0f}"
        lines.append(f"| {span} | {one.count} | {100 * one.given:.0f} | {100 * one.right:.0f} | {bar} |")
    each = max(cases // 50, 4)
    by_answer: dict[str, list[Cell]] = {}
    every = cells(each)
    for cell in every:
        by_answer.setdefault(cell.installation, []).append(cell)
    lines += [
        "",
        f"By kind (tests/kinds.py) and whether it ever worked, {each} searches each (wanted: at least 90 %; by chance "
        f"they scatter by ± 4 %):",
        "",
    ]
    lines += ["| kind | never worked, % | failed later, % | after a change, % |", "|---|---|---|---|"]
    lines += [
        f"| {name} | " + " | ".join([f"{100 * cell.right:.1f}" for cell in row]) + " |"
        for name, row in by_answer.items()
    ]
    lines += [
        "",
        f"Once the cure was done and its retest agreed (after one that did not, the search goes on): right in "
        f"{100 * sum(cell.proved for cell in every) / len(every):.1f} % of all; a wrong cause with more than 50 % in "
        f"{100 * sum(cell.wrong_above_half for cell in every) / len(every):.2f} %.",
    ]
    forced = mistaken(max(cases // 250, 2))
    usual = [f"{item.wrong} for {item.cause} on {item.installation}" for item in forced if item.taken > HALF]
    by_cause: dict[str, list[float]] = {}
    for item in forced:
        by_cause.setdefault(item.cause, []).append(item.right)
    means = sorted([(sum(shares) / len(shares), cause) for cause, shares in by_cause.items()])
    lines += [
        "",
        f"Each cause on each kind where it can be, however rare, {max(cases // 250, 2)} searches each ({len(forced)} "
        f"pairs): a wrong "
        f"cause came first in more than half of the searches of {len(usual)} "
        f"pairs{': ' + '; '.join(usual) if usual else ''}. Least "
        "often first where they were there: "
        + "; ".join([f"{cause} {100 * share:.0f} %" for share, cause in means[:6]])
        + ".",
    ]
    wrong = Counter([(item.there, item.found) for item in found["best"] if item.there != item.found])
    named = "; ".join([f"{taken} for {there} ({number})" for (there, taken), number in wrong.most_common(6)])
    return [*lines, "", f"Most often taken for another: {named}."]


def captures(count: int) -> list[str]:
    """How often a ring's count from captured pulses is right."""
    found = tally(count, seed=2027)
    percent = "{:.2f}".format
    return [
        f"{count} captures made in tests/simulated/rings.py: 6 to 120 teeth, 60−2 and 36−1, 0.4 to 50 turns, pitch "
        f"errors of 0.02 "
        "to 2 %, runout, a speed that changes up to five times and wobbles by up to 3 %, noise of the edges; in half "
        "of them one "
        "pulse in a thousand or in a hundred is lost, extra or double.",
        "",
        "| what | wanted | found |",
        "|---|---|---|",
        f"| sure and wrong, of all | at most 0.2 % | {percent(100 * found.wrong / found.captures)} % |",
        f"| right, of those that are sure | at least 98 % | {percent(100 * found.right / max(found.sure, 1))} % of "
        f"{found.sure} |",
        "| sure, of clean captures of three turns and more whose teeth differ by three times the noise | at least 90 % "
        f"| {percent(100 * found.clean_sure / max(found.clean, 1))} % of {found.clean} |",
        "| a bent tooth that is not there, of clean rings counted right | at most 1 % "
        f"| {percent(100 * found.flawed / max(found.right, 1))} % |",
    ]


def main() -> None:
    """Run everything and write the page."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--quick", action="store_true", help="a tenth of the experiments; writes nothing")
    quick = parser.parse_args().quick
    samples, each, cases = (1000, 30, 200) if quick else (10_000, 400, 3000)
    page = "\n".join(
        [
            "# What is true, and how we know",
            "",
            "Written by `python -m benchmarks.truth`; seeds are fixed, so it comes out the same.",
            "",
            "## What ± covers",
            "",
            *coverage(samples),
            "",
            "## Causes of injected mistakes",
            "",
            *causes(each),
            "",
            "## Faults found",
            "",
            *faults(cases),
            "",
            "## Rings from captured pulses",
            "",
            *captures(600 if quick else 6000),
            "",
            "## Checked against something outside the project",
            "",
            "From the tests in tests/published; values quoted from memory are marked there.",
            "",
            *checks(),
            "",
        ]
    )
    if quick:
        print(page)
    else:
        TARGET.write_text(page, "utf-8")


if __name__ == "__main__":
    main()
