"""Saves that are killed at any moment: `python -m tests.kills COUNT`. The file is the old one or the new, whole.

A child saves one of two projects again and again until it is killed; what it leaves is read, and what it had begun is
counted. `./check` does a few of these.
"""

import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path
from tempfile import TemporaryDirectory

from irontrail.core.demos import demo_project
from irontrail.files import atomic, project_file

SAVING = """
import sys
from pathlib import Path
from irontrail.core.demos import demo_project
from irontrail.files import project_file
path, projects = Path(sys.argv[1]), [demo_project(name) for name in ("lighthouse", "quarry")]
print("saving", flush=True)
while True:
    for project in projects:
        project_file.write(path, project)
"""


def main() -> int:
    """Kill so many saves, and tell what they left."""
    count, chance = int(sys.argv[1]), random.Random(1)
    projects = [demo_project(name) for name in ("lighthouse", "quarry")]
    harmed = begun = 0
    with TemporaryDirectory() as folder:
        path = Path(folder) / "a.irontrail"
        project_file.write(path, projects[0])
        for _ in range(count):
            child = subprocess.Popen([sys.executable, "-c", SAVING, str(path)], stdout=subprocess.PIPE)
            assert child.stdout is not None
            child.stdout.readline()
            time.sleep(chance.uniform(0.0, 0.05))
            child.send_signal(signal.SIGKILL)
            child.wait()
            child.stdout.close()
            harmed += project_file.read(path) not in projects
            left = [each for each in Path(folder).iterdir() if each != path]
            begun += len(left)
            for each in left:
                os.utime(each, (0, 0))
        project_file.write(path, projects[0])
        still = [each for each in Path(folder).iterdir() if each.name.startswith(atomic.BEGINS)]
    print(
        f"{count} saves killed: {harmed} files harmed; {begun} had begun another file, {len(still)} of them still there"
    )
    return 1 if harmed or still else 0


if __name__ == "__main__":
    sys.exit(main())
