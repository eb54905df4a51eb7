"""`python -m wheelometron.lan.serve`: the app for the local network, over TLS, with hypercorn (waitress has none).

Over plain HTTP it shows how to trust the certificate, and sends everything else to TLS. It ends when its standard input
closes: with `./start`.
"""

from __future__ import annotations

import argparse
import asyncio
import os
import signal
from pathlib import Path
from typing import Any

from django.conf import settings
from hypercorn.asyncio import serve
from hypercorn.config import Config

from wheelometron.lan.certificates import SERVER, SERVER_KEY
from wheelometron.parent import end_with_parent

READ_S = 20
KEEP_ALIVE_S = 10


def configuration(folder: Path, addresses: list[str], port: int, plain_port: int) -> Config:
    """What hypercorn serves: every address on both ports."""
    config = Config()
    config.bind = [f"{address}:{port}" for address in addresses]
    config.insecure_bind = [f"{address}:{plain_port}" for address in addresses]
    config.certfile, config.keyfile = str(folder / SERVER), str(folder / SERVER_KEY)
    config.read_timeout, config.keep_alive_timeout = READ_S, KEEP_ALIVE_S
    config.include_server_header = False
    config.wsgi_max_body_size = settings.LARGEST_REQUEST_BYTES
    config.errorlog = "-"
    config.loglevel = "WARNING"
    return config


async def work(config: Config) -> None:
    """Serve until asked to stop."""
    from wheelometron.wsgi import application

    ended = asyncio.Event()
    asyncio.get_running_loop().add_signal_handler(signal.SIGTERM, ended.set)
    app: Any = application
    await serve(app, config, shutdown_trigger=ended.wait, mode="wsgi")


def main() -> None:
    """Serve until asked to stop."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--plain-port", type=int, required=True)
    parser.add_argument("addresses", nargs="+")
    asked = parser.parse_args()
    end_with_parent()
    asyncio.run(work(configuration(asked.folder, asked.addresses, asked.port, asked.plain_port)))


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wheelometron.settings")
    main()
