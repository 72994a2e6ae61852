"""Starting and leaving, as whole processes."""

import os
import subprocess
import sys
import unittest

from tests.support import FolderTest

LEAVE = """
import sys
from PySide6.QtCore import QTimer
from irontrail.app import main as app_main, session
from irontrail.cli.main import main

def leave():
    from PySide6.QtWidgets import QApplication
    window = next(each for each in QApplication.topLevelWidgets() if hasattr(each, 'actions_of'))
    {how}

class Leaving(session.Session):
    def __init__(self, *arguments):
        super().__init__(*arguments)
        self.view_changed.connect(lambda: QTimer.singleShot(50, leave))

app_main.Session = Leaving
sys.exit(main({arguments}))
"""


class StartTest(FolderTest):
    def leave_by(self, how: str, arguments: list[str]) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-c", LEAVE.format(how=how, arguments=arguments)],
            capture_output=True,
            text=True,
            timeout=120,
            env=os.environ
            | {"QT_QPA_PLATFORM": "offscreen"}
            | {f"XDG_{name}": str(self.folder) for name in ("STATE_HOME", "CONFIG_HOME", "RUNTIME_DIR")},
        )

    def test_it_opens_on_the_demo_and_leaves_without_a_word(self) -> None:
        for how, arguments in (
            ("window.actions_of.named['quit'].trigger()", []), ("QApplication.quit()", ["open", "quarry"])
        ):  # fmt: skip
            done = self.leave_by(how, arguments)
            said = [line for line in done.stderr.splitlines() if "This plugin does not support" not in line]
            self.assertEqual((done.returncode, said), (0, []), (how, arguments))


if __name__ == "__main__":
    unittest.main()
