"""The bench: simulated stand-ins for generator, reader, gauge and satellite receiver, and the tests made with them."""

from speedchain.bench.card import Card
from speedchain.bench.command import add_bench, run_bench_command

__all__ = ["Card", "add_bench", "run_bench_command"]
