"""The command line, run as people run it."""

import contextlib
import csv
import io
import json
import subprocess
import sys
import unittest
from dataclasses import replace
from unittest import mock

import av
import numpy as np
import pypdf

from irontrail.cli.main import main
from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.listing.c99 import c99
from irontrail.core.listing.python import python
from irontrail.core.listing.robot import Options
from irontrail.core.project import KeptRun
from irontrail.core.quantity import with_value
from irontrail.files import project_file
from tests.support import FolderTest, lighthouse

JSON_KEYS = {
    "outcome", "time_s", "route_length_mm", "path_length_mm", "progress_mm", "rms_edge_mm", "worst_edge_mm",
    "wobble_hz", "wobble_mm", "heading_swing_deg", "clipped_share", "end_angle_deg", "seed",
}  # fmt: skip
TRACE_HEADER = (
    "time_s,x_mm,y_mm,heading_rad,reading,error,steer,left_power,right_power,left_speed_mm_s,right_speed_mm_s,"
    "progress_mm,edge_mm,side,angle_rad,clipped,skidding,rule,p_term,i_term,d_term,raw_output,margin,leg,ended_by,following"
)


def irontrail(*arguments: str) -> tuple[int, str, str]:
    """Exit code, output and errors of one command."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            code = main(list(arguments))
        except SystemExit as left:
            code = int(left.code or 0)
    return code, out.getvalue(), err.getvalue()


class CommandTest(FolderTest):
    def refused(self, *arguments: str) -> str:
        """The one line that a bad call is refused with."""
        code, out, err = irontrail(*arguments)
        self.assertEqual((code, out), (2, ""))
        self.assertEqual(len(err.splitlines()), 1, err)
        self.assertTrue(err.startswith("irontrail: "))
        return err

    def test_demos_are_listed_by_the_name_they_are_opened_with(self) -> None:
        code, out, _ = irontrail("demos")
        self.assertEqual(code, 0)
        names = [line.split()[0] for line in out.splitlines()]
        mats = ["lighthouse", "quarry", "orchard", "ferry", "tannery", "lantern"]
        self.assertEqual(names, [*mats, "lantern-on-off", "ropewalk"])
        for name in names:
            self.assertIn(demo_project(name).setup.mat.name, out)

    def test_json_is_one_object_with_the_figures_of_the_run(self) -> None:
        code, out, _ = irontrail("run", "lighthouse", "--json", "--seed", "3", "--set", "program.speed=45")
        found = json.loads(out)
        self.assertEqual(code, 0)
        self.assertTrue(set(found) >= JSON_KEYS)
        expected = derive.figures(lighthouse(program__speed=45.0, trial__seed=3))
        self.assertEqual((found["time_s"], found["seed"]), (expected.time_s, 3))

    def test_settings_of_every_kind(self) -> None:
        settings = ["program.law=on-off", "trial.reverse=true", "program.edge=right", "trial.time_limit_s=2"]
        code, out, _ = irontrail("run", "quarry", "--json", *(a for s in settings for a in ("--set", s)))
        self.assertEqual((code, json.loads(out)["outcome"]), (0, "time-out"))

    def test_lists_and_whole_parts_are_set_in_json(self) -> None:
        finish = 'mat.finish={"x_mm": 700, "y_mm": 120, "width_mm": 80, "height_mm": 80}'
        shadow = 'light.areas=[{"x_mm": 9, "y_mm": 9, "half_width_mm": 9, "half_height_mm": 9, "factor": 0.5}]'
        code, out, _ = irontrail("run", "lighthouse", "--json", "--set", finish, "--set", shadow)
        self.assertEqual((code, json.loads(out)["outcome"]), (0, "finished"))
        # Once round and on to the zone, which does not end a lap that has not been driven.
        found = json.loads(out)
        self.assertAlmostEqual(found["progress_mm"] - found["route_length_mm"], 660.0 - 480.0, delta=20.0)
        code, out, _ = irontrail("run", "orchard", "--json", "--set", "mat.finish=null")
        self.assertGreater(json.loads(out)["progress_mm"], 1500.0)
        self.assertIn("width_mm", self.refused("run", "lighthouse", "--set", 'mat.finish={"x_mm": 3}'))
        self.assertIn("light.areas", self.refused("run", "lighthouse", "--set", "light.areas=[{"))

    def test_a_trace_goes_to_the_terminal_and_never_over_the_project(self) -> None:
        path = self.folder / "trace.csv"
        irontrail("run", "lighthouse", "--trace", str(path))
        self.assertEqual(irontrail("run", "lighthouse", "--trace", "-"), (0, path.read_text(), ""))
        command = [sys.executable, "-m", "irontrail", "run", "lighthouse", "--trace", "/dev/stdout"]
        done = subprocess.run(command, capture_output=True, text=True, check=True)
        self.assertTrue(done.stdout.startswith(path.read_text()))
        project = self.folder / "p.irontrail"
        project_file.write(project, demo_project("ferry"))
        before = project.read_bytes()
        for name in (str(project), str(self.folder / "." / "p.irontrail")):
            code, out, err = irontrail("run", str(project), "--trace", name)
            self.assertEqual((code, out, project.read_bytes()), (2, "", before))
            self.assertIn("is the project itself. Write the trace to another file.", err)

    def test_the_trace_has_a_row_a_loop(self) -> None:
        path = self.folder / "trace.csv"
        code, out, _ = irontrail("run", "lighthouse", "--trace", str(path))
        self.assertEqual(code, 0)
        self.assertIn("finished", out)
        # A measure a line, its figure at the right of a column.
        figures = derive.figures(lighthouse())
        self.assertIn(f"{'time_s':20}{f'{figures.time_s:.3f}':>12}", out.splitlines())
        self.assertEqual({len(line) for line in out.splitlines()}, {32})
        lines = path.read_text().splitlines()
        self.assertEqual(lines[0], TRACE_HEADER)
        rows = list(csv.DictReader(lines))
        trace = derive.run(lighthouse()).trace
        self.assertEqual(len(rows), len(trace))
        for name in TRACE_HEADER.replace("side,", "").split(","):
            column = [float(row[name]) for row in rows]
            self.assertTrue(np.allclose(column, getattr(trace, name), atol=1e-6), name)
        self.assertEqual({row["side"] for row in rows}, {"dark", "light"})

    def test_a_file_runs_like_the_project_in_it(self) -> None:
        path = self.folder / "pip.irontrail"
        project_file.write(path, demo_project("quarry"))
        _, out, _ = irontrail("run", str(path), "--json")
        self.assertEqual(json.loads(out)["time_s"], derive.figures(demo_project("quarry").setup).time_s)

    def test_bad_arguments_are_refused_in_one_line(self) -> None:
        for arguments, said in (
            (("run",), "FILE-or-demo"),
            (("run", "harbour"), "no such file or demo"),
            (("fly",), "fly"),
            (("run", "lighthouse", "--fast"), "--fast"),
            (("run", "lighthouse", "--set", "program.sped=4"), "Did you mean program.speed?"),
            (("run", "lighthouse", "--set", "program.speed"), "no such setting|program.speed=60"),
            (("run", "lighthouse", "--set", "program.speed=fast"), "program.speed: input should be a valid number"),
            (("run", "lighthouse", "--set", "program.speed=101"), "program.speed: 101 is above 100"),
            (("run", "lighthouse", "--set", "program.speed=nan"), "program.speed"),
            (
                ("run", "lighthouse", "--set", "program.law=magic"),
                "must be 'on-off', 'bands', 'mixed', 'proportional' or 'PID'",
            ),
            (("run", "lighthouse", "--set", "mat=3"), "no such setting"),
            (("run", "lighthouse", "--set", "light.calibration.bright=8.2"), "are the same"),
            (("run", "lighthouse", "--seed", "-1"), "trial.seed"),
            (("run", "lighthouse", "--trace", "/no/such/folder/t.csv"), "cannot be written"),
            (("open", "nowhere.irontrail"), "no such file or demo"),
        ):
            self.assertRegex(self.refused(*arguments), said)

    def test_a_broken_file_is_refused_before_there_is_a_window(self) -> None:
        path = self.folder / "broken.irontrail"
        path.write_text('{"format": 1}')
        self.assertIn("project: missing", self.refused("open", str(path)))
        self.assertIn("project: missing", self.refused("run", str(path)))

    def test_help_and_version(self) -> None:
        for arguments in (("--help",), ("run", "--help"), ("--version",)):
            code, out, _ = irontrail(*arguments)
            self.assertEqual(code, 0)
            self.assertIn("irontrail", out.lower().replace(" ", ""))

    def test_a_run_needs_no_qt(self) -> None:
        check = "import sys; from irontrail.cli.main import main; main(['run','lighthouse','--json']); "
        check += "sys.exit('PySide6' in sys.modules or 'pyqtgraph' in sys.modules)"
        done = subprocess.run([sys.executable, "-c", check], capture_output=True, text=True, timeout=120)
        self.assertEqual(done.returncode, 0, done.stderr)

    def test_the_window_loads_what_makes_pages_and_films_only_when_asked_to(self) -> None:
        check = "import sys; import irontrail.app.window, irontrail.app.stops.pit, irontrail.cli.main; "
        check += "sys.exit(any(name in sys.modules for name in ('av', 'jinja2', 'PIL')))"
        done = subprocess.run([sys.executable, "-c", check], capture_output=True, text=True, timeout=120)
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    def test_a_reader_that_leaves_early_is_no_error(self) -> None:
        command = f"{sys.executable} -m irontrail schema | head -1"
        done = subprocess.run(["bash", "-c", command], capture_output=True, text=True, timeout=120)
        self.assertEqual((done.stdout.strip(), done.stderr), ("{", ""))

    def test_export_a_listing_in_the_language_of_its_ending(self) -> None:
        setup = demo_project("ropewalk").setup
        for ending, made in ((".py", python(setup)), (".c", c99(setup))):
            out = self.folder / f"pip{ending}"
            code, said, _ = irontrail("export", "listing", "ropewalk", str(out))
            self.assertEqual((code, out.read_text()), (0, made.text))
            self.assertIn(f"{len(made.lines)} lines", said)
        out = self.folder / "pip.py"
        whole = Options("by a sweep", log=True, wheels=True, stop_button=True)
        asked = ("--calibrate", "by a sweep", "--log", "--wheels", "--stop-button")
        code, _, _ = irontrail("export", "listing", "ropewalk", str(out), *asked)
        self.assertEqual((code, out.read_text()), (0, python(setup, whole).text))
        out = self.folder / "pip"
        code, _, _ = irontrail("export", "listing", "ropewalk", str(out), "--language", "words")
        self.assertEqual((code, out.read_text()[:3]), (0, "1. "))

    def test_a_listing_in_no_language_or_half_asked_for_is_refused_in_words(self) -> None:
        out = self.folder / "pip.exe"
        code, _, said = irontrail("export", "listing", "lighthouse", str(out))
        self.assertEqual(code, 2)
        self.assertIn("End it in .py, .c, .txt, or give --language.", said)
        code, _, said = irontrail("export", "listing", "lighthouse", str(out.with_suffix(".py")), "--wheels")
        self.assertEqual(code, 2)
        self.assertIn("Give --log too.", said)
        code, _, said = irontrail("export", "listing", "lighthouse", f"{self.folder}/no/pip.py")
        self.assertEqual(code, 2)
        self.assertIn("pip.py", said)
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_export_a_card_on_either_paper(self) -> None:
        out = self.folder / "card.pdf"
        for paper, wide in (("A5", 148.0), ("A4", 210.0)):
            code, said, _ = irontrail("export", "card", "orchard", str(out), "--paper", paper)
            self.assertEqual(code, 0)
            self.assertRegex(said, rf"a card on {paper}, from [\d,]+ runs")
            (page,) = pypdf.PdfReader(out).pages
            self.assertAlmostEqual(float(page.mediabox[2]) * 25.4 / 72.0, wide, delta=0.5)
            self.assertIn("battery is low", " ".join(page.extract_text().split()))

    def test_export_pages_of_chosen_runs_or_of_a_demo_as_it_is(self) -> None:
        project = demo_project("orchard")
        kept = []
        for number, speed in enumerate((40.0, 45.0, 50.0), 1):
            setup = with_value(project.setup, "program.speed", speed)
            kept.append(KeptRun(number, setup, derive.figures(setup), note=f"note {number}"))
        path, out = self.folder / "team.irontrail", self.folder / "pages.html"
        project_file.write(path, replace(project, kept=tuple(kept)))
        code, said, _ = irontrail("export", "evidence", str(path), str(out), "--runs", "1,3", "--no-map")
        self.assertEqual((code, said.strip()), (0, f"{out}: pages on 2 runs, from 40 runs of the model"))
        html = out.read_text()
        self.assertEqual(["note 1" in html, "note 2" in html, "note 3" in html], [True, False, True])
        pdf = out.with_suffix(".pdf")
        code, _, _ = irontrail("export", "evidence", "orchard", str(pdf), "--no-map")
        self.assertEqual(code, 0)
        self.assertIn("20 of 20", " ".join(pypdf.PdfReader(pdf).pages[0].extract_text().split()))
        code, _, said = irontrail("export", "evidence", str(path), str(out), "--runs", "1,7")
        self.assertEqual(code, 2)
        self.assertIn("no kept run '7'. The kept runs are: 1, 2, 3.", said)

    def test_export_a_film_of_a_run_and_of_a_race(self) -> None:
        project = demo_project("orchard")
        slower = with_value(project.setup, "program.speed", 40.0)
        path, out = self.folder / "team.irontrail", self.folder / "race.mp4"
        project_file.write(path, replace(project, kept=(KeptRun(1, slower, derive.figures(slower)),)))
        lasts = []
        for asked in ((), ("--race",)):
            how = ("--speed", "4", "--width", "640", *asked)
            code, said, _ = irontrail("export", "film", str(path), str(out), *how)
            self.assertEqual(code, 0)
            with av.open(str(out)) as container:
                lasts.append(container.duration / 1e6)
                self.assertEqual(container.streams.video[0].width, 640)
            self.assertIn(f"{lasts[-1]:.1f} s, 640 × ", said)
        self.assertGreater(lasts[1], lasts[0] + 0.2)
        # Four times as fast as it drives, and standing a moment at its end.
        self.assertLess(lasts[0], 0.5 * derive.figures(project.setup).time_s)

    def test_a_race_is_run_by_the_newest_that_were_kept(self) -> None:
        project = demo_project("orchard")
        figures = derive.figures(project.setup)
        setups = [with_value(project.setup, "program.speed", 40.0 + i) for i in range(5)]
        kept = tuple(KeptRun(i, setup, figures) for i, setup in enumerate(setups, 1))
        path, out = self.folder / "team.irontrail", self.folder / "race.mp4"
        project_file.write(path, replace(project, kept=kept))
        with mock.patch("irontrail.app.pages.film.film_of", return_value=b"a film") as film:
            irontrail("export", "film", str(path), str(out), "--race")
        self.assertEqual([each.name for each in film.call_args.args[0].driven], ["3", "4", "5", "now"])

    def test_pages_that_cannot_be_are_refused_before_any_work(self) -> None:
        for what, name, says in (
            ("card", "card.html", "End it in .pdf."),
            ("evidence", "pages.txt", "End it in .html or .pdf."),
            ("film", "run.avi", "End it in .mp4 or .webp."),
            ("film", "no/run.mp4", "no such folder"),
        ):
            code, _, said = irontrail("export", what, "orchard", f"{self.folder}/{name}")
            self.assertEqual(code, 2)
            self.assertIn(says, said)
        code, _, said = irontrail("export", "film", "orchard", f"{self.folder}/run.mp4", "--race")
        self.assertIn("no other run is kept", said)
        self.assertEqual(list(self.folder.iterdir()), [])


if __name__ == "__main__":
    unittest.main()
