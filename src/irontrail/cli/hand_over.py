"""Gives a file to a window that is open already; spoken without Qt, so that it is quick."""

import json
import socket
from pathlib import Path

from irontrail.files import places

# A window that does not answer for so long is busy with something else; another one is opened then.
ANSWERS_S = 3.0


def hand_over(path: Path) -> bool:
    """Whether a running window has taken a file."""
    with socket.socket(socket.AF_UNIX) as there:
        there.settimeout(ANSWERS_S)
        try:
            there.connect(str(places.socket()))
            there.sendall(json.dumps({"open": str(path.absolute())}).encode() + b"\n")
            return there.recv(16).startswith(b"taken")
        except OSError:
            return False
