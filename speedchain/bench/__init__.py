"""The bench: simulated stand-ins for generator, reader, gauge and satellite receiver, and the tests made with them."""

from speedchain.bench.card import Card
from speedchain.bench.command import add_bench, run_bench_command
from speedchain.bench.hand_tests import spin_test
from speedchain.bench.moment import BenchFrame, Moment, bench_moment
from speedchain.bench.profile import Profile
from speedchain.bench.records import record_test
from speedchain.bench.shown_now import ShownNow, shown_now
from speedchain.bench.simulation import Faults, edges_of, line_of

__all__ = [
    "BenchFrame",
    "Card",
    "Faults",
    "Moment",
    "Profile",
    "ShownNow",
    "add_bench",
    "bench_moment",
    "edges_of",
    "line_of",
    "record_test",
    "run_bench_command",
    "shown_now",
    "spin_test",
]
