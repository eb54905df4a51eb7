"""A private PostgreSQL cluster on loopback, with a generated password."""

from __future__ import annotations

import hashlib
import json
import os
import pwd
import secrets
import shutil
import socket
import subprocess
import tempfile
from dataclasses import dataclass
from pathlib import Path

from house.steps import SetupError, postgres_bin, run, step

USER = "wheelometron"


def free_port() -> int:
    """A port on loopback that nobody listens on now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@dataclass
class Cluster:
    """One cluster: its folder, the folder of its files, and its secrets."""

    home: Path
    files: Path
    bin: Path
    password: str
    secret_key: str
    port: int = 0

    @classmethod
    def at(cls, home: Path) -> Cluster:
        """The cluster kept in a data folder; secrets are generated the first time."""
        home.mkdir(parents=True, exist_ok=True)
        kept = home / "secrets.json"
        if not kept.exists():
            made = {"password": secrets.token_urlsafe(24), "secret_key": secrets.token_urlsafe(50)}
            fresh = home / "secrets.new"
            fresh.touch(mode=0o600)
            fresh.write_text(json.dumps(made))
            fresh.rename(kept)
        known = json.loads(kept.read_text())
        folder = postgres_bin()
        if folder is None:
            raise SetupError("PostgreSQL's server programs are missing: apt-get install postgresql")
        return cls(home, _place_for_files(home), folder, known["password"], known["secret_key"])

    def environment(self) -> dict[str, str]:
        """What Django needs to reach the cluster."""
        return os.environ | {
            "WHEELOMETRON_DB_PORT": str(self.port),
            "WHEELOMETRON_DB_PASSWORD": self.password,
            "WHEELOMETRON_SECRET_KEY": self.secret_key,
            "DJANGO_SETTINGS_MODULE": "wheelometron.settings",
        }

    def is_running(self) -> bool:
        """Whether a server runs on these files."""
        return self._program("pg_ctl", "status", "-D", str(self.files)).returncode == 0

    def start(self, port: int | None = None, durable: bool = True) -> None:
        """Start the server (made first if need be); one that already runs is used as it is.

        `durable=False` is for tests: nothing is waited for to reach the disk.
        """
        self._make()
        if not self.is_running():
            self.port = port or free_port()
            options = (
                f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=60"
            )
            if not durable:
                options += " -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
            log = str(self.files / "server.log")
            done = self._program("pg_ctl", "start", "-w", "-t", "60", "-D", str(self.files), "-l", log, "-o", options)
            if done.returncode != 0:
                tail = (self.files / "server.log").read_text(errors="replace")[-2000:]
                raise SetupError(f"PostgreSQL did not start:\n{done.stdout}{tail}")
        self.port = int((self.files / "postmaster.pid").read_text().splitlines()[3])
        environment = os.environ | {"PGPASSWORD": self.password}
        create = [str(self.bin / "createdb"), "-h", "127.0.0.1", "-p", str(self.port), "-U", USER, USER]
        done = subprocess.run(create, capture_output=True, text=True, env=environment, check=False)
        if done.returncode != 0 and "already exists" not in done.stderr:
            raise SetupError(f"The database could not be made: {done.stderr}")

    def stop(self) -> None:
        """Stop the server."""
        self._program("pg_ctl", "stop", "-m", "fast", "-w", "-t", "30", "-D", str(self.files))

    def tidy(self) -> None:
        """Remove the files of a stopped cluster that had to be kept outside of its data folder."""
        if self.files.parent != self.home:
            shutil.rmtree(self.files, ignore_errors=True)

    def _make(self) -> None:
        done = self.files / "made"
        if done.exists():
            version = (self.files / "PG_VERSION").read_text().strip()
            matching = self.bin.parent.parent / version / "bin"
            if not matching.is_dir():
                raise SetupError(f"This data folder needs PostgreSQL {version}: apt-get install postgresql-{version}")
            self.bin = matching
            return
        step("Making the database")
        shutil.rmtree(self.files, ignore_errors=True)  # what a half-finished set-up left
        self.files.mkdir(parents=True, mode=0o700)
        if os.geteuid() == 0:
            shutil.chown(self.files, "postgres", "postgres")
        with tempfile.NamedTemporaryFile("w") as password:
            password.write(self.password)
            password.flush()
            if os.geteuid() == 0:
                shutil.chown(password.name, "postgres")
            made = self._program(
                "initdb", "-D", str(self.files), "-U", USER, f"--pwfile={password.name}",
                "--auth=scram-sha-256", "--encoding=UTF8", "--locale=C.UTF-8", "--no-sync",
            )  # fmt: skip
        if made.returncode != 0:
            raise SetupError(f"The database cluster could not be made:\n{made.stdout}")
        done.touch()

    def _program(self, name: str, *arguments: str) -> subprocess.CompletedProcess[str]:
        """Run one of PostgreSQL's programs; they refuse root, so root runs them as postgres."""
        command = [str(self.bin / name), *arguments]
        if os.geteuid() == 0:
            command = ["runuser", "-u", "postgres", "--", *command]
        with tempfile.TemporaryFile("w+") as output:  # a pipe would be held open by the server
            done = subprocess.run(command, stdout=output, stderr=output, stdin=subprocess.DEVNULL, cwd="/", check=False)
            output.seek(0)
            return subprocess.CompletedProcess(command, done.returncode, output.read())


def _place_for_files(home: Path) -> Path:
    """The folder for the cluster's files: in the data folder, or where the user postgres can reach it."""
    inside = home / "postgres"
    if os.geteuid() != 0:
        return inside
    try:
        pwd.getpwnam("postgres")
    except KeyError:
        raise SetupError("There is no user named postgres: apt-get install postgresql") from None
    reachable = subprocess.run(["runuser", "-u", "postgres", "--", "test", "-x", str(home)], check=False)
    if reachable.returncode == 0:
        return inside
    outside = Path("/var/lib/wheelometron") / hashlib.sha256(str(home.resolve()).encode()).hexdigest()[:12]
    run(["mkdir", "-p", str(outside.parent)], "Making the data folder")
    return outside
