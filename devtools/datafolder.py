"""The data folder: what is in it, where its database is, and its secrets. Nothing in it is removed unless provably
unfinished."""

from __future__ import annotations

import json
import os
import pwd
import secrets
import shutil
import subprocess
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from uuid import uuid4

from devtools.steps import SetupError

RECORD = "data.json"
SECRETS = "secrets.json"
OWNER = "wheelometron.json"
"""In the database's folder: the id of the data folder that it belongs to, and where that folder was."""
POINTER = "WHERE-THE-DATABASE-IS.txt"
OUTSIDE = Path("/var/lib/wheelometron")
UNFINISHED = ".unfinished"


@dataclass(frozen=True, kw_only=True)
class DataFolder:
    """One data folder: its place, its id, the folder of its database, and its secrets."""

    home: Path
    id: str
    database: Path
    password: str
    secret_key: str
    ready: bool

    @classmethod
    def open(cls, home: Path) -> DataFolder:
        """Read a data folder, or begin a new one. Raises `SetupError` where something is missing, damaged or a copy."""
        check_folder(home)
        home.mkdir(parents=True, exist_ok=True)
        record = _read(home / RECORD, ("id", "database", "ready"))
        if record is None:
            record = _found_or_new(home)
        folder = cls(
            home=home,
            id=record["id"],
            database=_place(home, record["database"]),
            **_secrets(home),
            ready=record["ready"],
        )
        if folder.ready:
            folder._check_database()
        return folder

    @property
    def is_outside(self) -> bool:
        """Whether the database is kept elsewhere, since the user postgres cannot reach the data folder."""
        return self.database.parent != self.home

    @property
    def unfinished(self) -> Path:
        """Where a new database is made, to be renamed once it is complete."""
        return self.database.with_name(f"{self.database.name}{UNFINISHED}")

    def clear_unfinished(self) -> None:
        """Remove what an interrupted set-up of this same data folder left; anything else stays and is reported."""
        if not self.unfinished.exists():
            return
        owner = self.unfinished.with_name(f"{self.unfinished.name}.json")
        known = _read(owner, ("id",)) if owner.exists() else None
        if known is None or known["id"] != self.id:
            raise SetupError(
                f"{self.unfinished} was not made by this data folder. Move it away, or choose another --data."
            )
        shutil.rmtree(self.unfinished)

    def claim_unfinished(self) -> None:
        """Write down, before anything is made there, that the unfinished folder is ours."""
        self.unfinished.parent.mkdir(parents=True, exist_ok=True)
        _write(self.unfinished.with_name(f"{self.unfinished.name}.json"), {"id": self.id})

    def finish(self) -> DataFolder:
        """The database is complete: give it its final name and record it."""
        _write(self.unfinished / OWNER, {"id": self.id, "home": str(self.home)})
        self.unfinished.rename(self.database)
        self.unfinished.with_name(f"{self.unfinished.name}.json").unlink(missing_ok=True)
        self.record(ready=True)
        return DataFolder.open(self.home)

    def record(self, *, ready: bool) -> None:
        """Write the data folder's record, and a text that says where a database kept elsewhere is."""
        place = str(self.database) if self.is_outside else self.database.name
        _write(self.home / RECORD, {"id": self.id, "database": place, "ready": ready})
        if self.is_outside:
            (self.home / POINTER).write_text(
                f"The database of this data folder is in {self.database}\n"
                "because the database server's user (postgres) cannot enter this folder.\n"
                "Back up both folders together, with Wheelometron stopped. On another machine put the database at the\n"
                "same place, or into this folder under the name postgres if the user postgres can enter it.\n"
                "This folder itself can be renamed or moved.\n",
                "utf-8",
            )

    def _check_database(self) -> None:
        """The recorded database is there, is complete, and is not in use by the folder that this one is a copy of."""
        if not self.database.exists():
            raise SetupError(
                f"The database of {self.home} is missing: it was in {self.database}. Put it back there from a backup, "
                "or choose another data folder with --data. Nothing was changed."
            )
        if not (self.database / "PG_VERSION").is_file() or not (self.database / "global" / "pg_control").is_file():
            raise SetupError(
                f"{self.database} is not a complete PostgreSQL database: PG_VERSION or global/pg_control is missing. "
                "Restore the folder from a backup, or choose another data folder with --data. Nothing was changed."
            )
        check_owner(self.database)
        owner = _read(self.database / OWNER, ("id", "home"))
        if owner is not None and owner["id"] != self.id:
            raise SetupError(
                f"{self.database} belongs to the data folder {owner['home']}, not to {self.home}. "
                "Start with that folder (--data), or restore the right database."
            )
        if owner is not None and self.is_outside and Path(owner["home"]) != self.home:
            first = _read(Path(owner["home"]) / RECORD, ("id",))
            if first is not None and first["id"] == self.id:
                raise SetupError(
                    f"{self.home} is a copy of {owner['home']}, and the database of both is {self.database}. Start "
                    f"with "
                    f"--data {owner['home']}. For a separate copy, stop Wheelometron and copy the database to "
                    f"{OUTSIDE} "
                    f"under a new name, write that name into {self.home / RECORD}, and remove {OWNER} from the copy."
                )
        if owner is None or owner["home"] != str(self.home):
            _write(self.database / OWNER, {"id": self.id, "home": str(self.home)})


def check_folder(home: Path) -> None:
    """The data folder is a folder, or can be made, and can be written to."""
    nearest = home
    while not nearest.exists():
        nearest = nearest.parent
    if not nearest.is_dir():
        raise SetupError(f"{nearest} is a file, not a folder. Choose another data folder with --data.")
    if not os.access(nearest, os.W_OK | os.X_OK):
        raise SetupError(f"{nearest} cannot be written to by this user. Choose another data folder with --data.")


def check_owner(database: Path) -> None:
    """The database's folder belongs to the user that runs the database server."""
    wanted = server_user()
    state = database.stat()
    if state.st_uid != wanted.pw_uid:
        try:
            found = pwd.getpwuid(state.st_uid).pw_name
        except KeyError:
            found = f"user {state.st_uid}"
        raise SetupError(
            f"{database} belongs to {found}; the database server runs as {wanted.pw_name}. "
            f"As an administrator run: chown -R {wanted.pw_name} {database}"
        )
    if state.st_mode & 0o027:
        raise SetupError(
            f"{database} can be read by others; the database server refuses that. Run: chmod 700 {database}"
        )


def server_user() -> pwd.struct_passwd:
    """The user that the database server runs as: postgres for root, oneself otherwise."""
    if os.geteuid() != 0:
        return pwd.getpwuid(os.geteuid())
    try:
        return pwd.getpwnam("postgres")
    except KeyError:
        raise SetupError("There is no user named postgres. Run: apt-get install postgresql") from None


def _found_or_new(home: Path) -> dict[str, Any]:
    """The record of a data folder without one: of an earlier version, or new."""
    inside = home / "postgres"
    if (inside / "PG_VERSION").is_file():
        owner = _read(inside / OWNER, ("id",))
        record = {"id": owner["id"] if owner else str(uuid4()), "database": "postgres", "ready": True}
    elif (home / SECRETS).exists():
        raise SetupError(
            f"{home} was in use, but its database is not found: {inside} has no PG_VERSION, and {RECORD} is missing. "
            f"Restore both from a backup, or choose another data folder with --data. If it never held anything, remove "
            f"{home / SECRETS} and start again. Nothing was changed."
        )
    elif inside.exists():
        raise SetupError(
            f"{inside} is not a database of Wheelometron. Move it away, or choose another data folder with --data."
        )
    else:
        identity = str(uuid4())
        record = {
            "id": identity,
            "database": "postgres" if _reachable(home) else str(OUTSIDE / identity),
            "ready": False,
        }
    _write(home / RECORD, record)
    return record


def _place(home: Path, recorded: str) -> Path:
    """The database's folder: in the data folder wherever that has been moved to, or at a fixed place."""
    inside = home / "postgres"
    return inside if (inside / "PG_VERSION").is_file() else home / recorded


def _reachable(home: Path) -> bool:
    """Whether the database server's user can enter the data folder."""
    if os.geteuid() != 0:
        return True
    return (
        subprocess.run(["runuser", "-u", server_user().pw_name, "--", "test", "-x", str(home)], check=False).returncode
        == 0
    )


def _secrets(home: Path) -> dict[str, str]:
    """Password and key: generated the first time, refused when damaged."""
    kept = home / SECRETS
    known = _read(kept, ("password", "secret_key"))
    if known is None:
        known = {"password": secrets.token_urlsafe(24), "secret_key": secrets.token_urlsafe(50)}
        _write(kept, known)
    return {name: str(known[name]) for name in ("password", "secret_key")}


def _read(file: Path, names: tuple[str, ...]) -> dict[str, Any] | None:
    """A small JSON file with these names, or None when it is not there."""
    try:
        content = json.loads(file.read_text("utf-8"))
        if all(name in content for name in names):
            return dict(content)
    except FileNotFoundError:
        return None
    except (ValueError, TypeError, OSError):
        pass
    raise SetupError(
        f"{file} is damaged: it must hold {', '.join(names)}. Restore it from a backup. Nothing was changed."
    )


def _write(file: Path, content: dict[str, Any]) -> None:
    """Write a small file whole or not at all, readable by its owner only."""
    fresh = file.with_name(f"{file.name}.new")
    fresh.unlink(missing_ok=True)
    fresh.touch(mode=0o600)
    fresh.write_text(json.dumps(content) + "\n", "utf-8")
    if os.geteuid() == 0:
        folder = file.parent.stat()
        os.chown(fresh, folder.st_uid, folder.st_gid)
    fresh.rename(file)
