"""The app's settings with the baseline's routes."""

from wheelometron.settings import *  # noqa: F403

ROOT_URLCONF = "benchmarks.baseline_urls"
