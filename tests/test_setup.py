"""What ./start does to set up: its steps in order, once, and on to the command; with a Python that only notes them."""

import shutil
import subprocess
from pathlib import Path

from tests.support import FolderTest

ROOT = Path(__file__).parent.parent

# Notes what it is asked for; of what matches the file `fails` it makes a failure.
NOTING = """#!/bin/sh
echo "$*" >> "$(dirname "$0")/calls"
if [ -s "$(dirname "$0")/fails" ] && echo "$*" | grep -q -f "$(dirname "$0")/fails"; then exit 1; fi
case "$*" in "-m irontrail "*) echo "ran $*" ;; esac
"""


class StartTest(FolderTest):
    def setUp(self) -> None:
        super().setUp()
        for name in ("start", "pyproject.toml"):
            shutil.copy(ROOT / name, self.folder)
        for name in ("setup", "requirements"):
            shutil.copytree(ROOT / name, self.folder / name)
        self.bin = self.folder / ".venv/bin"
        self.bin.mkdir(parents=True)
        (self.bin / "python").write_text(NOTING)
        (self.bin / "python").chmod(0o755)

    def start(self, fails: str = "") -> subprocess.CompletedProcess[str]:
        (self.bin / "fails").write_text(fails)
        (self.bin / "calls").write_text("")
        return subprocess.run([self.folder / "start", "demos"], capture_output=True, text=True, timeout=60)

    @property
    def calls(self) -> list[str]:
        return (self.bin / "calls").read_text().splitlines()

    def test_it_sets_up_once_whatever_packages_hold_that_is_no_python(self) -> None:
        done = self.start(fails="compileall.*site-packages")
        self.assertEqual(
            (done.returncode, done.stdout), (0, "ran -m irontrail warm\nran -m irontrail demos\n"), done.stderr
        )
        self.assertEqual(sum("pip install" in call for call in self.calls), 2)
        self.assertTrue((self.folder / ".venv/ready-run").exists())
        again = self.start()
        self.assertEqual((again.returncode, self.calls), (0, ["-m irontrail demos"]))
        (self.folder / "requirements/run.txt").write_text("# nothing\n")
        self.assertEqual(self.start().returncode, 0)
        self.assertGreater(len(self.calls), 4)

    def test_what_cannot_be_set_up_is_told_and_nothing_is_run(self) -> None:
        done = self.start(fails="pip install.*require-hashes")
        self.assertEqual((done.returncode, done.stdout), (1, ""))
        self.assertIn("The packages could not be installed", done.stderr)
        for step in ("pip install.*-e", "compileall.*/src", "irontrail warm"):
            done = self.start(fails=step)
            self.assertEqual(done.returncode, 1, step)
            self.assertNotIn("demos", done.stdout)
            self.assertFalse((self.folder / ".venv/ready-run").exists())
