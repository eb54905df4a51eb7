"""`./start --lan`: the app for phones of the local network, over TLS."""

from __future__ import annotations

import json
import socket
import subprocess
from dataclasses import dataclass
from pathlib import Path

from devtools.steps import PYTHON, ROOT, SetupError
from devtools.supervise import Process

ANY = "any"
DEFAULT_PORT = 8443
BESIDE = 1
"""The page about trust, over plain HTTP, is on the next port."""


@dataclass(frozen=True, kw_only=True)
class Lan:
    """Addresses and ports that are served, and what a phone needs to trust."""

    folder: Path
    addresses: tuple[str, ...]
    host: str
    fingerprint: str
    port: int

    @classmethod
    def prepare(cls, home: Path, asked: str, port: int) -> Lan:
        """Make the certificates. Raises `SetupError` where there is no local network, or a port is taken."""
        folder = home / "tls"
        command = [str(PYTHON), "-m", "wheelometron.lan.prepare", str(folder), *([] if asked == ANY else [asked])]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
        if done.returncode != 0:
            raise SetupError(
                done.stderr.strip().splitlines()[-1] if done.stderr.strip() else "No certificate was made."
            )
        found = json.loads(done.stdout)
        for address in found["addresses"]:
            for number in (port, port + BESIDE):
                _check_free(address, number)
        return cls(
            folder=folder,
            addresses=tuple(found["addresses"]),
            host=found["host"],
            fingerprint=found["fingerprint"],
            port=port,
        )

    @property
    def address(self) -> str:
        """Where phones reach it."""
        return f"https://{self.addresses[0]}:{self.port}/"

    @property
    def trust(self) -> str:
        """Where a phone learns to trust it."""
        return f"http://{self.addresses[0]}:{self.port + BESIDE}/trust/"

    def common(self) -> dict[str, str]:
        """What every web process knows of it."""
        return {"WHEELOMETRON_LAN": self.address, "WHEELOMETRON_LAN_FOLDER": str(self.folder)}

    def process(self, environment: dict[str, str], *, demo: bool) -> Process:
        """The web process of the local network; the demo is not opened by one press there unless asked for."""
        names = (*self.addresses, self.host, f"{self.host}.local", "127.0.0.1", "localhost")
        own = {
            "WHEELOMETRON_HOSTS": ",".join(names),
            "WHEELOMETRON_TLS": "1",
            "WHEELOMETRON_TO_TLS": f"{self.addresses[0]}:{self.port}",
            "WHEELOMETRON_DEMO": "1" if demo else "0",
        }
        ports = ("--port", str(self.port), "--plain-port", str(self.port + BESIDE))
        arguments = ("--folder", str(self.folder), *ports, *self.addresses)
        return Process.lan(arguments, environment | self.common() | own)

    def say(self, environment: dict[str, str]) -> None:
        """Print how a phone comes in."""
        said = ["--trust", self.trust, "--fingerprint", self.fingerprint]
        subprocess.run([str(PYTHON), "manage.py", "lan", *said], cwd=ROOT, env=environment | self.common(), check=False)


def _check_free(address: str, port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((address, port))
        except OSError as error:
            raise SetupError(f"{address}, port {port}: {error.strerror}. Choose another with --lan-port.") from error
