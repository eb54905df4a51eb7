"""`python -m wheelometron.worker`: one worker of the queue; any number may run, on this machine or another.

It ends when its standard input closes (with `./start`), or on SIGTERM, after what it is doing or some seconds.
"""

from __future__ import annotations

import asyncio
import os

import django

from wheelometron.parent import end_with


def main() -> None:
    """Work until asked to stop."""
    end_with()
    django.setup()
    from workshop.queue import work  # after the set-up

    asyncio.run(work())


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wheelometron.settings")
    main()
