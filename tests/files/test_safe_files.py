"""What must not be lost on the disk, and what is no file at all: links, pipes, killed saves, read-only files."""

import os
import signal
import stat
import subprocess
import sys
import time
import unittest
from dataclasses import replace
from pathlib import Path
from threading import Thread
from unittest import mock

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.files import atomic, mat_file, picture, project_file
from irontrail.files.on_disk import OnDisk
from irontrail.files.svg import read as svg_read
from tests.support import FolderTest

# Writes one of two long texts again and again, until it is killed.
SAVING = """
import sys
from pathlib import Path
from irontrail.files import atomic
path, texts = Path(sys.argv[1]), [letter * 300_000 for letter in "ab"]
while True:
    for text in texts:
        atomic.write_text(path, text)
"""


class FilesTest(FolderTest):
    def setUp(self) -> None:
        super().setUp()
        self.path = self.folder / "a.irontrail"

    def names(self) -> list[str]:
        return sorted(each.name for each in self.folder.iterdir())


class WritingTest(FilesTest):
    def test_a_file_that_may_only_be_read_is_not_replaced(self) -> None:
        self.path.write_text("one")
        self.path.chmod(0o444)
        with self.assertRaisesRegex(IronTrailError, "a.irontrail: it may only be read. Save under another name"):
            atomic.write_text(self.path, "two")
        self.assertEqual((self.path.read_text(), self.names()), ("one", ["a.irontrail"]))

    def test_a_name_as_long_as_a_name_can_be(self) -> None:
        path = self.folder / ("n" * 245 + ".irontrail")
        self.assertEqual(len(os.fsencode(path.name)), 255)
        atomic.write_text(path, "one")
        self.assertEqual(path.read_text(), "one")
        with self.assertRaisesRegex(IronTrailError, "File name too long"):
            atomic.write_text(self.folder / ("n" * 256), "one")

    def test_all_its_names_stay_one_file(self) -> None:
        other = self.folder / "b.irontrail"
        self.path.write_text("a long text")
        os.link(self.path, other)
        for text in ("short", "a text that is longer than it was"):
            atomic.write_text(self.path, text)
            self.assertEqual(other.read_text(), text)
            self.assertEqual(self.path.stat().st_ino, other.stat().st_ino)
        full = mock.patch("irontrail.files.atomic.os.posix_fallocate", side_effect=OSError(28, "No space left"))
        with full, self.assertRaisesRegex(IronTrailError, "No space left"):
            atomic.write_text(self.path, "x" * 500)
        self.assertEqual(self.path.read_text(), "a text that is longer than it was")
        # A disk that fails when half of it is written.
        failing = mock.patch(
            "irontrail.files.atomic.os.fsync", side_effect=[None, OSError(5, "Input/output error"), None]
        )
        with failing, self.assertRaisesRegex(IronTrailError, "Input/output error"):
            atomic.write_text(self.path, "another")
        self.assertEqual(other.read_text(), "a text that is longer than it was")
        self.assertEqual(self.names(), ["a.irontrail", "b.irontrail"])

    def test_owner_permissions_and_attributes_stay(self) -> None:
        self.path.write_text("one")
        self.path.chmod(0o2640)
        if os.getuid() == 0:
            os.chown(self.path, 1234, 1235)
            self.path.chmod(0o2640)
        try:
            os.setxattr(self.path, "user.team", b"Saltmarsh")
            named = True
        except OSError:
            named = False
        before = self.path.stat()
        atomic.write_text(self.path, "two")
        after = self.path.stat()
        self.assertEqual(
            (after.st_uid, after.st_gid, stat.S_IMODE(after.st_mode)), (before.st_uid, before.st_gid, 0o2640)
        )
        if named:
            self.assertEqual(os.getxattr(self.path, "user.team"), b"Saltmarsh")

    def test_what_ended_saves_left_is_swept_once_it_is_old(self) -> None:
        old, young, other = (self.folder / name for name in (".irontrail-a.saving", ".irontrail-b.saving", ".other"))
        for path in (old, young, other):
            path.write_text("x")
        for path in (old, other):
            os.utime(path, (time.time() - 7200, time.time() - 7200))
        atomic.write_text(self.path, "one")
        self.assertEqual(self.names(), [".irontrail-b.saving", ".other", "a.irontrail"])

    def test_killed_while_saving_the_file_is_the_old_or_the_new(self) -> None:
        # `python -m tests.kills` does this 500 times.
        atomic.write_text(self.path, "a" * 300_000)
        for after in (0.0, 0.002, 0.007, 0.011, 0.019):
            child = subprocess.Popen([sys.executable, "-c", SAVING, str(self.path)])
            seen = self.path.stat().st_ino
            until = time.monotonic() + 60.0
            while self.path.stat().st_ino == seen and time.monotonic() < until:
                time.sleep(0.002)
            time.sleep(after)
            child.send_signal(signal.SIGKILL)
            child.wait()
            self.assertIn(self.path.read_text(), ("a" * 300_000, "b" * 300_000))

    def test_pipes_links_in_a_circle_and_folders(self) -> None:
        pipe, ring = self.folder / "pipe", self.folder / "ring"
        os.mkfifo(pipe)
        ring.symlink_to(ring)
        for path, said in (
            (pipe, "No such device"),
            (ring, "loop|links"),
            (self.folder, "directory"),
            (Path("a\0"), "null"),
        ):
            with self.assertRaisesRegex(IronTrailError, said):
                atomic.write_text(path, "x")
        self.assertTrue(pipe.is_fifo())
        read: list[str] = []
        reader = Thread(target=lambda: read.append(pipe.read_text()))
        reader.start()
        text = "y" * 200_000
        for _ in range(500):
            try:
                atomic.write_text(pipe, text)
                break
            except IronTrailError:
                time.sleep(0.01)
        reader.join(30.0)
        self.assertEqual(read, [text])


class ReadingTest(FilesTest):
    def test_what_is_no_file_is_refused_at_once_by_every_reader(self) -> None:
        pipe, ring, zero = self.folder / "pipe", self.folder / "ring", Path("/dev/zero")
        os.mkfifo(pipe)
        ring.symlink_to(ring)
        for reader in (project_file.read, mat_file.read, svg_read.read, picture.read_picture):
            for path, said in {
                pipe: "a pipe or a device, not a ",
                zero: "a pipe or a device, not a ",
                ring: "cannot be read",
                self.folder: "a folder, not a ",
                Path("a\0"): "cannot be read",
                self.folder / "no": "No such file",
            }.items():
                with self.assertRaisesRegex(IronTrailError, said) as caught:
                    reader(path)
                self.assertTrue(caught.exception.remedy, "it says what to do")
        self.assertFalse(OnDisk.of(pipe).changed())

    def test_a_mark_at_the_beginning_is_no_harm(self) -> None:
        mat = DEMO_MATS["orchard"]()
        path = self.folder / "a.mat.json"
        mat_file.write(path, mat)
        path.write_bytes(b"\xef\xbb\xbf" + path.read_bytes())
        self.assertEqual(mat_file.read(path), mat)

    def test_a_thing_said_twice_is_refused(self) -> None:
        self.path.write_text('{"format": 2, "format": 2}')
        with self.assertRaisesRegex(IronTrailError, "it says 'format' twice in one place. Take one of the two out"):
            project_file.read(self.path)
        mat_file.write(self.path, DEMO_MATS["orchard"]())
        self.path.write_text(self.path.read_text().replace('"closed"', '"x_mm": 1, "closed"', 1))
        with self.assertRaisesRegex(IronTrailError, "it says 'x_mm' twice"):
            mat_file.read(self.path)


class ShelfNamesTest(FilesTest):
    def test_names_that_differ_in_signs_have_a_file_each(self) -> None:
        with mock.patch.dict(os.environ, {"XDG_DATA_HOME": str(self.folder)}):
            mats = [replace(DEMO_MATS["orchard"](), name=name) for name in ("Quay +", "Quay -", "quay", "語" * 190)]
            paths = {mat_file.put_on_shelf(mat) for mat in mats}
            self.assertEqual(len(paths), 4)
            self.assertEqual({shelved.mat.name for shelved in mat_file.shelf()}, {mat.name for mat in mats})
            again = replace(mats[1], colour="#ffffff")
            self.assertIn(mat_file.put_on_shelf(again), paths)
            self.assertIn(again, [shelved.mat for shelved in mat_file.shelf()])
            broken = next(path for path in paths if path.name == "quay.mat.json")
            broken.write_text("{")
            self.assertNotEqual(mat_file.put_on_shelf(mats[0]), broken, "what cannot be read is not written over")


if __name__ == "__main__":
    unittest.main()
