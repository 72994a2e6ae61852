"""The engine against the same loop written plainly in C, compiled here."""

import importlib.util
import shutil
import tempfile
import unittest
from pathlib import Path

import numpy as np

from irontrail.core import derive
from irontrail.core.engine import run
from irontrail.core.engine.pack import pack
from irontrail.core.project import demo_project
from irontrail.core.result import COLUMNS
from tests.support import lighthouse

ROOT = Path(__file__).parent.parent.parent


@unittest.skipUnless(shutil.which("gcc"), "no gcc here: sudo apt install gcc libc6-dev")
class COracleTest(unittest.TestCase):
    def test_whole_traces_agree(self) -> None:
        spec = importlib.util.spec_from_file_location("bench_engine", ROOT / "bench" / "engine.py")
        assert spec is not None and spec.loader is not None
        bench = importlib.util.module_from_spec(spec)
        spec.loader.exec_module(bench)
        setups = (
            lighthouse(),
            lighthouse(program__proportional__gain=1.6, trial__seed=9, program__edge="right"),
            lighthouse(program__speed=70.0, robot__drive__grip=0.15, robot__drive__mismatch_percent=6.0),
            lighthouse(robot__mount__aside_mm=12.0, program__loop_time_s=0.017, program__delay_s=0.0234),
            demo_project("quarry").setup,
        )
        with tempfile.TemporaryDirectory() as folder:
            for setup in setups:
                packed = pack(setup, derive.route(setup.mat, setup.trial.reverse), derive.field(setup))
                ours, (end, trace) = run.run(packed), bench.c_lap(packed, folder)()
                self.assertAlmostEqual(ours.time_s, end, places=9)
                self.assertEqual(len(ours.trace), trace.shape[1])
                for column, row in zip(trace, bench.C_COLUMNS, strict=True):
                    self.assertTrue(np.allclose(getattr(ours.trace, COLUMNS[row]), column, atol=1e-6), COLUMNS[row])


if __name__ == "__main__":
    unittest.main()
