"""Experiments in which the truth is known: for tests/published and benchmarks/truth.py."""
