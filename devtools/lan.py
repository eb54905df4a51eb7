"""`./start --lan`: the app for phones of the local network, over TLS: Debian's nginx before a web process of its
own."""

from __future__ import annotations

import json
import os
import shutil
import socket
import subprocess
from dataclasses import dataclass
from pathlib import Path

from devtools.steps import PYTHON, ROOT, SetupError
from devtools.supervise import Process, open_socket

ANY = "any"
DEFAULT_PORT = 8443
BESIDE = 1
"""The page about trust, over plain HTTP, is on the next port."""
TRIES = 50
TEMPLATE = Path(__file__).with_name("nginx.conf")


@dataclass(frozen=True, kw_only=True)
class Lan:
    """Addresses and ports that are served, the sockets that hold them, and what a phone needs to trust."""

    folder: Path
    addresses: tuple[str, ...]
    host: str
    fingerprint: str
    port: int
    listening: tuple[socket.socket, ...]
    inner: socket.socket
    """Where nginx finds the web process, on loopback."""

    @classmethod
    def prepare(cls, home: Path, asked: str, port: int) -> Lan:
        """Make the certificates and take the ports; of port 0, two free ones.

        Raises `SetupError` where there is no local network, or a port is taken.
        """
        folder = home / "tls"
        command = [str(PYTHON), "-m", "wheelometron.lan.prepare", str(folder), *([] if asked == ANY else [asked])]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
        if done.returncode != 0:
            raise SetupError(
                done.stderr.strip().splitlines()[-1] if done.stderr.strip() else "No certificate was made."
            )
        found = json.loads(done.stdout)
        addresses = tuple(found["addresses"])
        listening = _taken(addresses, port)
        return cls(
            folder=folder,
            addresses=addresses,
            host=found["host"],
            fingerprint=found["fingerprint"],
            port=listening[0].getsockname()[1],
            listening=listening,
            inner=open_socket(0),
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

    def processes(self, environment: dict[str, str], *, demo: bool) -> list[Process]:
        """The web process of the local network, where the demo is not opened by one press unless asked for, and
        nginx."""
        names = (*self.addresses, self.host, f"{self.host}.local", "127.0.0.1", "localhost")
        own = {
            "WHEELOMETRON_HOSTS": ",".join(names),
            "WHEELOMETRON_TLS": "1",
            "WHEELOMETRON_PROXY": "127.0.0.1",
            "WHEELOMETRON_DEMO": "1" if demo else "0",
        }
        web = Process.web("for the local network", self.inner, environment | self.common() | own)
        return [web, self.nginx()]

    def nginx(self) -> Process:
        """nginx, on the sockets that are held already. It ends when `./start` does, however that ends."""
        folder = self.folder / "nginx"
        folder.mkdir(mode=0o711, parents=True, exist_ok=True)
        settings = TEMPLATE.read_text()
        for name, value in {
            "USER": "user www-data;" if os.geteuid() == 0 else "",
            "FOLDER": str(self.folder),
            "TLS": "\n".join([f"        listen {address}:{self.port} ssl backlog=1024;" for address in self.addresses]),
            "PLAIN": "\n".join([f"        listen {address}:{self.port + BESIDE};" for address in self.addresses]),
            "PORT": str(self.port),
            "INNER": f"127.0.0.1:{self.inner.getsockname()[1]}",
        }.items():
            settings = settings.replace(f"@{name}@", value)
        (folder / "nginx.conf").write_text(settings)
        inherited = "".join([f"{one.fileno()};" for one in self.listening])
        command = ["setpriv", "--pdeathsig", "TERM", shutil.which("nginx") or "/usr/sbin/nginx"]
        return Process(
            "TLS server of the local network",
            dict(os.environ) | {"NGINX": inherited},
            (*command, "-p", str(folder), "-e", "stderr", "-c", str(folder / "nginx.conf")),
            self.listening,
        )

    def say(self, environment: dict[str, str]) -> None:
        """Print how a phone comes in."""
        said = ["--trust", self.trust, "--fingerprint", self.fingerprint]
        subprocess.run([str(PYTHON), "manage.py", "lan", *said], cwd=ROOT, env=environment | self.common(), check=False)


def _taken(addresses: tuple[str, ...], port: int) -> tuple[socket.socket, ...]:
    """Sockets on the port and the next one, of every address; nobody else takes them between here and nginx."""
    for tries_left in range(TRIES, 0, -1):
        sockets: list[socket.socket] = []
        base, address, number = port, "", port
        try:
            for address in addresses:
                for beside in (0, BESIDE):
                    number = base + beside if base else 0
                    sockets.append(open_socket(number, address))
                    base = base or sockets[0].getsockname()[1]
            return tuple(sockets)
        except OSError as error:
            for one in sockets:
                one.close()
            if port or tries_left == 1:
                raise SetupError(
                    f"{address}, port {number}: {error.strerror}. Choose another with --lan-port."
                ) from error
    raise AssertionError
