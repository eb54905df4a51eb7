"""Settings of the tests: the same, with a quick password hash and a quiet log."""

import os

from wheelometron.settings import *  # noqa: F403
from wheelometron.settings import DATABASES

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
LOGGING = {
    "version": 1,
    "disable_existing_loggers": True,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"level": "CRITICAL"},
    "loggers": {"tests": {"handlers": ["console"], "level": "ERROR"}},  # what the tests themselves have to say
}
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
TEST_RUNNER = "tests.runner.Runner"
DATABASES["default"]["TEST"] = {"NAME": os.environ.get("WHEELOMETRON_TEST_DATABASE", "test_wheelometron")}
