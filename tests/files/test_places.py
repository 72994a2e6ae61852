"""Files on the disk: written whole or not at all, known again, and put by where the desktop says."""

import os
import unittest
from datetime import datetime
from pathlib import Path
from unittest import mock

from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError
from irontrail.files import atomic, places, project_file, unsaved
from irontrail.files.on_disk import OnDisk
from tests.support import FolderTest


class PlacesTest(FolderTest):
    def test_a_new_file_has_the_usual_permissions_and_a_replaced_one_keeps_its_own(self) -> None:
        path = self.folder / "a.txt"
        before = os.umask(0o027)
        self.addCleanup(os.umask, before)
        atomic.write_text(path, "one")
        self.assertEqual(path.stat().st_mode & 0o777, 0o640)
        path.chmod(0o604)
        atomic.write_text(path, "two")
        self.assertEqual((path.read_text(), path.stat().st_mode & 0o777), ("two", 0o604))
        self.assertEqual([each.name for each in self.folder.iterdir()], ["a.txt"])

    def test_through_a_link_the_file_itself_is_replaced(self) -> None:
        path, link = self.folder / "a.txt", self.folder / "link.txt"
        path.write_text("one")
        link.symlink_to(path)
        atomic.write_text(link, "two")
        self.assertTrue(link.is_symlink())
        self.assertEqual(path.read_text(), "two")

    def test_what_cannot_be_written_leaves_what_was_there(self) -> None:
        path = self.folder / "a.txt"
        path.write_text("one")
        with (
            mock.patch("irontrail.files.atomic.os.replace", side_effect=OSError(28, "No space left on device")),
            self.assertRaisesRegex(IronTrailError, "No space left on device"),
        ):
            atomic.write_text(path, "two")
        self.assertEqual(path.read_text(), "one")
        self.assertEqual([each.name for each in self.folder.iterdir()], ["a.txt"], "nothing is left lying about")

    def test_a_file_is_known_again_by_what_it_holds(self) -> None:
        path = self.folder / "a.irontrail"
        path.write_text("one")
        known = OnDisk.of(path)
        self.assertFalse(known.changed())
        os.utime(path, ns=(1, 1))
        self.assertFalse(known.changed(), "it has only been touched")
        path.write_text("two")
        self.assertTrue(known.changed())
        path.unlink()
        self.assertFalse(known.changed(), "there is nothing that could be lost")
        self.assertFalse(OnDisk.of(path).changed())

    def test_a_file_written_since_a_time_has_changed(self) -> None:
        path = self.folder / "a.irontrail"
        path.write_text("one")
        for seconds, changed in ((-5.0, True), (5.0, False)):
            when = datetime.fromtimestamp(path.stat().st_mtime + seconds)
            self.assertEqual(OnDisk.at(path, when).changed(), changed)
        self.assertFalse(OnDisk.at(self.folder / "none", when).changed())

    def test_places_follow_the_desktops_settings(self) -> None:
        home = {f"XDG_{name}": str(self.folder / name) for name in ("STATE_HOME", "DATA_HOME", "RUNTIME_DIR")}
        with mock.patch.dict(os.environ, home):
            self.assertEqual(places.state(), self.folder / "STATE_HOME" / "irontrail")
            self.assertEqual(places.data(), self.folder / "DATA_HOME" / "irontrail")
            self.assertEqual(places.socket(), self.folder / "RUNTIME_DIR" / "irontrail.socket")
            self.assertEqual(unsaved.folder(), self.folder / "STATE_HOME" / "irontrail" / "unsaved")
        with mock.patch.dict(os.environ, home | {"XDG_RUNTIME_DIR": ""}):
            self.assertEqual(places.socket(), self.folder / "STATE_HOME" / "irontrail" / "irontrail.socket")

    def test_work_is_held_let_go_and_cleared(self) -> None:
        project = demo_project("quarry")
        with mock.patch.dict(os.environ, {"XDG_STATE_HOME": str(self.folder)}):
            first, second = unsaved.Place(), unsaved.Place()
            self.assertNotEqual(first.file, second.file)
            first.put(project, None)
            second.put(project, Path("mine.irontrail"))
            self.assertEqual(unsaved.left_behind(), ())
            second.leave()
            (left,) = unsaved.left_behind()
            self.assertEqual((left.project, left.path), (project, Path("mine.irontrail").absolute()))
            first.leave()
            self.assertEqual([work.path is None for work in unsaved.left_behind()], [False, True])
            for work in unsaved.left_behind():
                unsaved.forget(work)
            self.assertEqual(list(unsaved.folder().iterdir()), [])
            first.put(project, None)
            first.clear()
            first.clear()
            self.assertEqual(list(unsaved.folder().iterdir()), [])

    def test_what_cannot_be_put_by_is_told(self) -> None:
        (self.folder / "irontrail").write_text("a file where a folder should be")
        with (
            mock.patch.dict(os.environ, {"XDG_STATE_HOME": str(self.folder)}),
            self.assertRaisesRegex(IronTrailError, "cannot be made"),
        ):
            unsaved.Place().put(demo_project("quarry"), None)

    def test_a_projects_text_is_spread_out_and_a_run_stands_on_one_line(self) -> None:
        from dataclasses import replace

        from irontrail.core import derive
        from irontrail.core.project import KeptRun

        project = demo_project("lighthouse")
        figures = derive.figures(project.setup)
        kept = tuple(KeptRun(i, project.setup, figures, note=f"run {i}") for i in (1, 2))
        lines = project_file.to_text(replace(project, kept=kept)).splitlines()
        self.assertEqual(lines[0], "{")
        self.assertTrue(lines[1].startswith(' "format": '))
        self.assertTrue(any(line.strip() == '"program": {' for line in lines))
        self.assertEqual(sum('"note": "run' in line for line in lines), 2)
        self.assertTrue(all(line.startswith("  {") for line in lines if '"note": "run' in line))


if __name__ == "__main__":
    unittest.main()
