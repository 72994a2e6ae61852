"""Project files: round trips, refusals, saving that loses nothing."""

import json
import os
import unittest
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest import mock

from hypothesis import given, reject, settings

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.route import make_route
from irontrail.core.project import KeptRun, Project
from irontrail.core.setup import Setup
from irontrail.files import atomic, project_file
from irontrail.files.upgrades import upgraded
from tests.core.test_any_setup import PAIRS, SETUPS
from tests.support import FolderTest, lighthouse

ROOT = Path(__file__).parent.parent.parent


def with_kept(demo: str) -> Project:
    project = demo_project(demo)
    slower = lighthouse(program__speed=40.0)
    kept = tuple(KeptRun(i, s, derive.figures(s)) for i, s in ((1, project.setup), (4, slower)))
    return replace(project, kept=kept)


class RoundTripTest(unittest.TestCase):
    def test_a_project_comes_back_as_it_was(self) -> None:
        for demo in ("lighthouse", "quarry"):
            project = with_kept(demo)
            self.assertEqual(project_file.from_text(project_file.to_text(project), "x"), project)

    def test_what_went_out_as_a_listing_comes_back_and_is_not_in_a_file_of_which_nothing_has(self) -> None:
        project = with_kept("lighthouse")
        self.assertNotIn("exported", project_file.to_text(project))
        project = replace(project, exported=lighthouse(program__speed=40.0))
        self.assertEqual(project_file.from_text(project_file.to_text(project), "x"), project)
        content = json.loads(project_file.to_text(project))
        content["project"]["exported"]["mat"]["line"]["pieces"] = [{"kind": "straight", "length_mm": 1_500}] * 300
        with self.assertRaisesRegex(IronTrailError, "project.exported.mat.line"):
            project_file.from_text(json.dumps(content), "x")

    @settings(max_examples=50, deadline=None)
    @given(SETUPS | PAIRS)
    def test_any_setup_comes_back_as_it_was(self, setup: Setup) -> None:
        try:
            make_route(setup.mat)
        except IronTrailError:
            reject()
        project = Project(setup)
        self.assertEqual(project_file.from_text(project_file.to_text(project), "x"), project)

    def test_files_of_every_format_still_open(self) -> None:
        for version, count in (("v1", 2), ("v2", 1)):
            samples = sorted((ROOT / "tests/projects" / version).glob("*.irontrail"))
            self.assertEqual(len(samples), count)
            for path in samples:
                self.assertIn(project_file.read(path).setup.mat.name, ("Lighthouse Loop", "Quarry Switchback"))

    def test_a_time_that_a_decision_was_held_becomes_loops(self) -> None:
        project = project_file.read(ROOT / "tests/projects/v1/quarry-holding.irontrail")
        loops = [setup.program.decision_loops for setup in (project.setup, *(kept.setup for kept in project.kept))]
        # 30 ms in loops of 10; 25 ms in loops of 20; none.
        self.assertEqual(loops, [3, 1, 1])
        self.assertEqual(project, project_file.read(ROOT / "tests/projects/v2/quarry-holding.irontrail"))
        for hold, loop, expected in (
            (0.025, 0.01, 3),
            (0.015, 0.01, 2),
            (0.014, 0.01, 1),
            (0.0, 0.01, 1),
            (0.3, 0.1, 3),
        ):
            content = {"format": 1, "project": {"setup": {"program": {"hold_s": hold, "loop_time_s": loop}}}}
            self.assertEqual(upgraded(content, 1, 2)["project"]["setup"]["program"]["decision_loops"], expected)

    def test_bringing_a_file_up_leaves_it_as_it_was_and_survives_what_is_wrong(self) -> None:
        content = json.loads((ROOT / "tests/projects/v1/quarry-holding.irontrail").read_text())
        before = json.dumps(content)
        upgraded(content, 1, 2)
        self.assertEqual(json.dumps(content), before)
        for wrong in (
            None, [], "x", {"setup": 3}, {"setup": {"program": []}}, {"kept": 7}, {"kept": [None, {"setup": 1}]},
        ):  # fmt: skip
            upgraded({"format": 1, "project": wrong}, 1, 2)
        content["project"]["setup"]["program"]["hold_s"] = "long"
        with self.assertRaisesRegex(IronTrailError, "hold_s: unknown field"):
            project_file.from_text(json.dumps(content), "x")

    def test_a_file_may_leave_out_what_has_a_default(self) -> None:
        line = {"x_mm": 100, "y_mm": 500, "heading_deg": 0, "pieces": [{"kind": "straight", "length_mm": 800}]}
        content = {"format": 2, "project": {"setup": {"mat": {"name": "short", "line": line}}}}
        project = project_file.from_text(json.dumps(content), "x")
        self.assertEqual(project.setup.program.speed, 50.0)

    def test_the_published_schema_is_that_of_the_code(self) -> None:
        published = json.loads((ROOT / "docs/format/project-v2.schema.json").read_text())
        self.assertEqual(published, project_file.schema())
        speed = published["$defs"]["Program"]["properties"]["speed"]
        self.assertEqual((speed["minimum"], speed["maximum"]), (0.0, 100.0))


class RefusalTest(unittest.TestCase):
    def content(self) -> dict[str, Any]:
        made: dict[str, Any] = json.loads(project_file.to_text(demo_project("lighthouse")))
        return made

    def refusal(self, content: object) -> str:
        text = content if isinstance(content, str) else json.dumps(content)
        with self.assertRaises(IronTrailError) as caught:
            project_file.from_text(text, "pip.irontrail")
        self.assertIn("pip.irontrail", str(caught.exception))
        return str(caught.exception)

    def test_every_problem_is_told_at_once_with_its_field(self) -> None:
        content = self.content()
        setup = content["project"]["setup"]
        setup["program"]["speed"] = 300
        setup["program"]["sped"] = 3
        setup["program"]["law"] = "bang"
        setup["robot"]["drive"]["grip"] = "sticky"
        del setup["mat"]["line"]["x_mm"]
        setup["mat"]["colour"] = "red"
        said = self.refusal(content)
        for part in (
            "6 problems",
            "project.setup.program.speed: 300 is above 100",
            "project.setup.program.sped: unknown field, perhaps 'speed' is meant",
            "project.setup.program.law: must be 'on-off', 'bands', 'mixed', 'proportional' or 'PID', not 'bang'",
            "project.setup.robot.drive.grip: input should be a valid number",
            "project.setup.mat.line.x_mm: missing",
            "project.setup.mat.colour: 'red' is not a colour",
        ):
            self.assertIn(part, said)

    def test_of_many_problems_ten_are_told_and_long_texts_cut_short(self) -> None:
        content = self.content()
        setup = content["project"]["setup"]
        setup["program"] |= {f"sped{i}": i for i in range(40_000)}
        setup["mat"]["colour"] = "red" * 100_000
        setup["robot"]["\x1b[2J" + "x" * 100_000] = 1
        said = self.refusal(content)
        self.assertIn("40,002 problems: ", said)
        self.assertIn("; and 39,992 more. Mend that with a text editor, or open another copy.", said)
        self.assertLess(len(said), 2000)
        self.assertTrue(said.isprintable())

    def test_names_hold_what_can_be_read(self) -> None:
        for name, said in (("a\x07b", "has signs in it that cannot be read"), ("x" * 201, "more than 200 letters"),
                           ("a\u202eb", "has signs"), ("a\nb", "has signs")):  # fmt: skip
            content = self.content()
            content["project"]["setup"]["mat"]["name"] = name
            self.assertIn(f"project.setup.mat.name: {'a text of ' if 'x' in name[:1] else ''}", self.refusal(content))
            self.assertIn(said, self.refusal(content))
        # What is made here is plain from the first.
        mat = replace(demo_project("lighthouse").setup.mat, name="<b>a\x07b\nc</b>\u202e")
        self.assertEqual(mat.name, "<b>ab c</b>")
        kept = KeptRun(1, demo_project("lighthouse").setup, derive.figures(lighthouse()), note="one\ntwo\x00")
        self.assertEqual(kept.note, "one\ntwo")

    def test_a_piece_is_told_by_its_own_kind(self) -> None:
        content = self.content()
        pieces = content["project"]["setup"]["mat"]["line"]["pieces"]
        pieces[0] = {"kind": "wavy"}
        pieces[1] = {"kind": "bend", "radius_mm": 2.0, "angle_deg": 10.0}
        pieces[2] = {"kind": "straight", "length_mm": 10.0, "radius_mm": 5.0}
        said = self.refusal(content)
        self.assertIn("3 problems", said)
        self.assertIn("pieces.0.kind: must be one of bend, corner, gap, straight", said)
        self.assertIn("pieces.1.radius_mm: 2.0 is below 10", said)
        self.assertIn("pieces.2.radius_mm: has no place here", said)

    def test_a_newer_format_is_refused_by_name(self) -> None:
        content = self.content()
        content["format"] = 3
        content["project"]["something new"] = 1
        self.assertIn("format 3 is newer than this Iron Trail knows (2)", self.refusal(content))

    def test_what_is_no_project_at_all(self) -> None:
        for text in ("", "{", "[]", "null", '{"format": true}', '{"format": 0}', "[" * 100_000, "NaN"):
            self.refusal(text)

    def test_numbers_that_are_none(self) -> None:
        for number in ("NaN", "Infinity", "1e999"):
            text = json.dumps(self.content()).replace('"speed": 50.0', f'"speed": {number}')
            self.assertIn("program.speed", self.refusal(text))

    def test_a_line_that_cannot_be_laid(self) -> None:
        content = self.content()
        content["project"]["setup"]["mat"]["line"]["pieces"].pop(5)
        self.assertIn("project.setup.mat.line: the ends of the closed line do not meet", self.refusal(content))

    def test_a_line_that_is_not_followed_is_laid_too(self) -> None:
        content = json.loads(project_file.to_text(demo_project("ferry")))
        content["project"]["setup"]["mat"]["goal"] = 1
        content["project"]["setup"]["mat"]["line"]["closed"] = True
        self.assertIn("project.setup.mat.line: the ends of the closed line do not meet", self.refusal(content))

    def test_bright_as_dark(self) -> None:
        content = self.content()
        content["project"]["setup"]["light"]["calibration"] = {"dark": 60, "bright": 60.5}
        self.assertIn("light.calibration: bright (60.5) and dark (60) are the same", self.refusal(content))


class DiskTest(FolderTest):
    def test_a_file_on_disk_comes_back(self) -> None:
        path = self.folder / "höhe 1.irontrail"
        project_file.write(path, with_kept("quarry"))
        self.assertEqual(project_file.read(path), with_kept("quarry"))
        self.assertEqual([p.name for p in self.folder.iterdir()], [path.name])

    def test_a_save_that_fails_leaves_the_old_file_whole(self) -> None:
        path = self.folder / "pip.irontrail"
        project_file.write(path, demo_project("lighthouse"))
        before = path.read_bytes()
        full = mock.patch.object(os, "fsync", side_effect=OSError(28, "No space left on device"))
        with full, self.assertRaisesRegex(IronTrailError, "No space left on device.*unchanged"):
            project_file.write(path, demo_project("quarry"))
        self.assertEqual(path.read_bytes(), before)
        self.assertEqual(len(list(self.folder.iterdir())), 1)

    def test_a_folder_that_is_not_there(self) -> None:
        with self.assertRaisesRegex(IronTrailError, "cannot be written"):
            atomic.write_text(self.folder / "no" / "such.csv", "x")

    def test_what_cannot_be_read(self) -> None:
        (self.folder / "bytes.irontrail").write_bytes(b"\xff\xfe\x00")
        for name, said in (("none.irontrail", "No such file"), ("", "a folder, not"), ("bytes.irontrail", "not text")):
            with self.assertRaisesRegex(IronTrailError, said):
                project_file.read(self.folder / name)


if __name__ == "__main__":
    unittest.main()
