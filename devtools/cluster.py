"""A private PostgreSQL server on loopback, on the database of a data folder."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

from devtools.datafolder import DataFolder, server_user
from devtools.steps import SetupError, postgres_bin, say, step

USER = "wheelometron"
ORPHANS_END_S = 20.0


def free_port() -> int:
    """A port on loopback that nobody listens on now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@dataclass
class Cluster:
    """The database server of one data folder."""

    folder: DataFolder
    bin: Path
    port: int = 0

    @classmethod
    def at(cls, home: Path) -> Cluster:
        """The database server of a data folder; secrets are generated the first time."""
        newest = postgres_bin()
        if newest is None:
            raise SetupError("PostgreSQL's server programs are missing. Run: apt-get install postgresql")
        return cls(DataFolder.open(home), newest)

    @property
    def files(self) -> Path:
        """The folder of the database."""
        return self.folder.database

    @property
    def log(self) -> Path:
        """What the database server reports."""
        return self.files / "server.log"

    def environment(self) -> dict[str, str]:
        """What Django needs to reach the database."""
        return os.environ | {
            "WHEELOMETRON_DB_PORT": str(self.port),
            "WHEELOMETRON_DB_FOLDER": str(self.files),
            "WHEELOMETRON_DB_PASSWORD": self.folder.password,
            "WHEELOMETRON_SECRET_KEY": self.folder.secret_key,
            "DJANGO_SETTINGS_MODULE": "wheelometron.settings",
        }

    def is_running(self) -> bool:
        """Whether a database server runs on these files (a dead one that nobody has collected yet does not)."""
        number = self._recorded_pid()
        return number is not None and number in server_pids(self.files)

    def open_handle(self) -> int | None:
        """A handle (pidfd) on the server's first process; None when it has ended already."""
        number = self._recorded_pid()
        try:
            return None if number is None else os.pidfd_open(number)
        except ProcessLookupError:
            return None

    def start(self, port: int | None = None, durable: bool = True) -> None:
        """Start the server (the database is made first if need be); one that already runs is used as it is.

        `durable=False` is for tests: nothing is waited for to reach the disk.
        """
        self._make()
        if not self.is_running():
            self._clear_stale_pid_file()
            for last in (False, False, True):  # a port that was free may be taken by the time it is used
                self.port = port or free_port()
                done = self._started(durable)
                if done.returncode == 0:
                    break
                if last or port or "could not bind" not in self._end_of_log():
                    raise SetupError(f"PostgreSQL did not start:\n{done.stdout}{self._end_of_log()}")
        self.port = int((self.files / "postmaster.pid").read_text().splitlines()[3])
        self._make_database()

    def _started(self, durable: bool) -> subprocess.CompletedProcess[str]:
        options = f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=60"
        if not durable:
            options += " -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
        log = str(self.log)
        return self._program("pg_ctl", "start", "-w", "-t", "60", "-D", str(self.files), "-l", log, "-o", options)

    def stop(self) -> None:
        """Stop the server."""
        if self.folder.ready and self.is_running():
            self._program("pg_ctl", "stop", "-m", "fast", "-w", "-t", "30", "-D", str(self.files))

    def remove(self) -> None:
        """Remove a test's database that had to be kept outside of its data folder."""
        if self.folder.is_outside and not self.is_running():
            shutil.rmtree(self.files, ignore_errors=True)

    def _make(self) -> None:
        if self.folder.ready:
            version = (self.files / "PG_VERSION").read_text().strip()
            matching = self.bin.parent.parent / version / "bin"
            if not (matching / "postgres").exists():
                raise SetupError(
                    f"This data folder needs PostgreSQL {version}. Run: apt-get install postgresql-{version}"
                )
            self.bin = matching
            return
        if self.files.exists():
            raise SetupError(f"{self.files} is in the way: it is not this data folder's database. Move it away.")
        step("Making the database")
        self.folder.clear_unfinished()
        self.folder.claim_unfinished()
        fresh = self.folder.unfinished
        fresh.mkdir(mode=0o700)
        if os.geteuid() == 0:
            shutil.chown(fresh, server_user().pw_name, server_user().pw_gid)
        with tempfile.NamedTemporaryFile("w") as password:
            password.write(self.folder.password)
            password.flush()
            if os.geteuid() == 0:
                shutil.chown(password.name, server_user().pw_name)
            made = self._program(
                "initdb", "-D", str(fresh), "-U", USER, f"--pwfile={password.name}",
                "--auth=scram-sha-256", "--encoding=UTF8", "--locale=C.UTF-8", "--no-sync",
            )  # fmt: skip
        if made.returncode != 0:
            raise SetupError(f"The database could not be made:\n{made.stdout}")
        self.folder = self.folder.finish()

    def _make_database(self) -> None:
        environment = os.environ | {"PGPASSWORD": self.folder.password}
        create = [str(self.bin / "createdb"), "-h", "127.0.0.1", "-p", str(self.port), "-U", USER, USER]
        done = subprocess.run(create, capture_output=True, text=True, env=environment, check=False)
        if "password authentication failed" in done.stderr:
            raise SetupError(
                f"The password in {self.folder.home / 'secrets.json'} is not the database's. Restore that file from "
                f"the "
                "same backup as the database."
            )
        if done.returncode != 0 and "already exists" not in done.stderr:
            raise SetupError(f"The database could not be reached: {done.stderr}")

    def _recorded_pid(self) -> int | None:
        try:
            return int((self.files / "postmaster.pid").read_text().split()[0])
        except (OSError, ValueError, IndexError):
            return None

    def _clear_stale_pid_file(self) -> None:
        """Remove postmaster.pid when no server works on these files; wait for the last processes of a killed one."""
        end = time.monotonic() + ORPHANS_END_S
        while left := server_pids(self.files):
            if time.monotonic() > end:
                raise SetupError(
                    f"Processes of an earlier database server still use {self.files}: {', '.join(map(str, left))}. "
                    "End them, then start again."
                )
            time.sleep(0.2)
        file = self.files / "postmaster.pid"
        if file.exists():
            say("  Removed postmaster.pid: its database server no longer runs.")
            file.unlink()

    def _end_of_log(self) -> str:
        try:
            return self.log.read_text(errors="replace")[-2000:]
        except OSError:
            return ""

    def _program(self, name: str, *arguments: str) -> subprocess.CompletedProcess[str]:
        """Run one of PostgreSQL's programs; they refuse root, so root runs them as postgres."""
        command = [str(self.bin / name), *arguments]
        if os.geteuid() == 0:
            command = ["runuser", "-u", server_user().pw_name, "--", *command]
        with tempfile.TemporaryFile("w+") as output:  # a pipe would be held open by the server
            done = subprocess.run(command, stdout=output, stderr=output, stdin=subprocess.DEVNULL, cwd="/", check=False)
            output.seek(0)
            return subprocess.CompletedProcess(command, done.returncode, output.read())


def server_pids(files: Path) -> list[int]:
    """Live PostgreSQL processes that work in a database's folder; dead ones waiting to be collected do not count."""
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit():
            continue
        try:
            # the state stands after the name in brackets; a zombie has no working folder either
            if (entry / "stat").read_text().rsplit(")", 1)[1].split()[0] == "Z":
                continue
            if (entry / "comm").read_text().strip() == "postgres" and (entry / "cwd").samefile(files):
                found.append(int(entry.name))
        except OSError:
            continue
    return sorted(found)
