"""Data folders: identified by what is in them; nothing is removed or made anew that may hold data."""

from __future__ import annotations

import json
import os
import shutil
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase
from unittest.mock import patch

from devtools import datafolder
from devtools.cluster import Cluster, server_pids
from devtools.datafolder import DataFolder
from devtools.steps import SetupError


def looks_complete(database: Path) -> None:
    """What a finished database has, as far as a data folder looks at it."""
    (database / "global").mkdir(parents=True)
    (database / "PG_VERSION").write_text("15\n")
    (database / "global" / "pg_control").write_bytes(b"control")
    database.chmod(0o700)


class DataFolders(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        self.home = self.base / "data"
        self.outside = self.base / "elsewhere"
        me = datafolder.pwd.getpwuid(os.geteuid())
        for target, value in (("OUTSIDE", self.outside), ("server_user", lambda: me)):
            patcher = patch.object(datafolder, target, value)
            patcher.start()
            self.addCleanup(patcher.stop)

    def made(self, reachable: bool = True) -> DataFolder:
        with patch.object(datafolder, "_reachable", return_value=reachable):
            folder = DataFolder.open(self.home)
        folder.claim_unfinished()
        looks_complete(folder.unfinished)
        return folder.finish()

    def refused(self, *words: str, home: Path | None = None) -> None:
        before = {file: file.read_bytes() for file in self.base.rglob("*") if file.is_file()}
        with self.assertRaises(SetupError) as caught:
            DataFolder.open(home or self.home)
        for word in words:
            self.assertIn(word, str(caught.exception))
        after = {file: file.read_bytes() for file in self.base.rglob("*") if file.is_file()}
        self.assertEqual({file: after.get(file) for file in before}, before, "something was changed")

    def test_secrets_are_made_once_and_hidden(self) -> None:
        first, second = self.made(), DataFolder.open(self.home)
        self.assertEqual((first.password, first.secret_key), (second.password, second.secret_key))
        self.assertGreaterEqual(len(first.password), 24)
        self.assertEqual((self.home / "secrets.json").stat().st_mode & 0o077, 0)
        self.assertNotEqual(first.password, DataFolder.open(self.base / "other").password)

    def test_a_renamed_folder_finds_its_database_again(self) -> None:
        for reachable in (True, False):
            with self.subTest(reachable=reachable):
                folder = self.made(reachable)
                (folder.database / "mark").write_text("ours")
                moved = self.home.rename(self.base / f"renamed-{reachable}")
                again = DataFolder.open(moved)
                self.assertEqual((again.database / "mark").read_text(), "ours")
                self.assertEqual(again.is_outside, not reachable)

    def test_a_database_kept_elsewhere_is_pointed_at(self) -> None:
        folder = self.made(reachable=False)
        self.assertIn(str(folder.database), (self.home / "WHERE-THE-DATABASE-IS.txt").read_text())
        shutil.rmtree(folder.database)
        self.refused("is missing", str(folder.database), "--data")

    def test_a_copy_is_told_from_a_renamed_one(self) -> None:
        self.made(reachable=False)
        copy = Path(shutil.copytree(self.home, self.base / "copy"))
        self.refused("is a copy of", str(self.home), home=copy)
        inside = self.base / "inside"
        shutil.rmtree(self.home)
        DataFolder.open(copy)  # the first is gone: this one is it now
        shutil.copytree(DataFolder.open(copy).database, inside / "postgres")
        shutil.copy(copy / "data.json", inside)
        shutil.copy(copy / "secrets.json", inside)
        self.assertEqual(DataFolder.open(inside).database, inside / "postgres")

    def test_a_database_of_another_data_folder(self) -> None:
        folder = self.made()
        (folder.database / "wheelometron.json").write_text(json.dumps({"id": "another", "home": "/there"}))
        self.refused("belongs to the data folder /there")

    def test_without_its_stamp_or_record_nothing_is_erased(self) -> None:
        folder = self.made()
        (self.home / "data.json").unlink()
        again = DataFolder.open(self.home)  # an earlier version's folder looks the same: it is taken over
        self.assertTrue(again.ready)
        self.assertEqual(again.database, folder.database)
        (self.home / "data.json").unlink()
        (again.database / "PG_VERSION").unlink()
        self.refused("was in use", "PG_VERSION", "Nothing was changed")

    def test_a_damaged_database(self) -> None:
        folder = self.made()
        (folder.database / "PG_VERSION").unlink()
        self.refused("PG_VERSION", "backup")

    def test_a_folder_that_is_not_ours_is_left_alone(self) -> None:
        (self.home / "postgres").mkdir(parents=True)
        (self.home / "postgres" / "thesis.txt").write_text("years of work")
        self.refused("is not a database of Wheelometron")

    def test_unfinished_folders_are_removed_only_when_provably_our_own(self) -> None:
        folder = DataFolder.open(self.home)
        folder.unfinished.mkdir()
        (folder.unfinished / "thesis.txt").write_text("years of work")
        with self.assertRaisesRegex(SetupError, "was not made by this data folder"):
            folder.clear_unfinished()
        self.assertTrue((folder.unfinished / "thesis.txt").exists())
        folder.claim_unfinished()
        folder.clear_unfinished()
        self.assertFalse(folder.unfinished.exists())

    def test_half_a_secrets_file(self) -> None:
        self.made()
        for content in ("", '{"password": "x', '{"password": "x"}', "[]"):
            with self.subTest(content=content):
                (self.home / "secrets.json").write_text(content)
                self.refused("secrets.json is damaged", "backup")

    def test_wrong_owner_and_rights(self) -> None:
        folder = self.made()
        folder.database.chmod(0o755)
        self.refused("chmod 700")
        folder.database.chmod(0o700)
        other = datafolder.pwd.getpwnam("nobody")
        with patch.object(datafolder, "server_user", lambda: other):
            self.refused("chown -R nobody")

    def test_a_file_or_a_locked_folder_in_the_way(self) -> None:
        self.home.write_text("a file")
        self.refused("is a file, not a folder")
        self.refused("is a file, not a folder", home=self.home / "inner")
        with patch.object(datafolder.os, "access", return_value=False):
            self.refused("cannot be written to", home=self.base / "new")


class PidFiles(TestCase):
    def test_an_empty_foreign_or_zombies_pid_file_does_not_stop_a_start(self) -> None:
        with TemporaryDirectory() as folder:
            Path(folder).chmod(0o755)
            cluster = Cluster.at(Path(folder) / "data")
            self.addCleanup(cluster.remove)
            self.addCleanup(cluster.stop)
            cluster.start(durable=False)
            cluster.stop()
            dead = os.fork()
            if dead == 0:
                os._exit(0)  # a zombie from here on: nobody has collected it yet
            for content in ("", "not a number", f"{os.getpid()}\n/elsewhere\n", f"{dead}\n{cluster.files}\n"):
                with self.subTest(content=content):
                    (cluster.files / "postmaster.pid").write_text(content)
                    self.assertFalse(cluster.is_running())
                    cluster.start(durable=False)
                    self.assertTrue(cluster.is_running())
                    cluster.stop()
            os.waitpid(dead, 0)
            self.assertEqual(server_pids(cluster.files), [])
