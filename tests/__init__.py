"""All tests. Hypothesis sets no deadlines: speed is measured in benchmarks/."""

from hypothesis import settings

settings.register_profile("plain", deadline=None)
settings.load_profile("plain")
