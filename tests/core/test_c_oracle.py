"""The engine against the same loop written plainly in C, compiled here."""

import importlib.util
import shutil
import tempfile
import unittest
from pathlib import Path

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.engine import run
from irontrail.core.engine.pack import pack
from irontrail.core.steering.mixing import MIXING_NAMES
from irontrail.core.steering.registry import LAW_NAMES
from tests.support import lighthouse

ROOT = Path(__file__).parent.parent.parent


@unittest.skipUnless(shutil.which("gcc"), "no gcc here: sudo apt install gcc libc6-dev")
class COracleTest(unittest.TestCase):
    def test_whole_traces_agree(self) -> None:
        spec = importlib.util.spec_from_file_location("bench_engine", ROOT / "bench" / "engine.py")
        assert spec is not None and spec.loader is not None
        bench = importlib.util.module_from_spec(spec)
        spec.loader.exec_module(bench)
        setups = [
            lighthouse(),
            lighthouse(program__proportional__gain=1.6, trial__seed=9, program__edge="right"),
            lighthouse(program__speed=70.0, robot__drive__grip=0.15, robot__drive__mismatch_percent=6.0),
            lighthouse(robot__mount__aside_mm=12.0, program__loop_time_s=0.017, program__delay_s=0.0234),
            lighthouse(program__loop_time_s=0.05, program__speed=20.0),
            # Samples of one or three loops before, decided on in every third or fifth.
            lighthouse(program__decision_loops=3, program__delay_s=0.0134, program__speed=30.0),
            lighthouse(program__decision_loops=5, program__delay_s=0.034, program__speed=20.0),
            lighthouse(light__sensor__scale="counts", trial__laps=2, trial__reverse=True),
            lighthouse(light__calibrate=False, light__sensor__reads_high_on="dark", program__target=60.0),
            lighthouse(program__stop__distance_mm=2000.0),
            lighthouse(program__stop__time_s=3.0),
            demo_project("quarry").setup,
        ]
        for law in LAW_NAMES:
            other = {"program__edge": "right", "program__decision_loops": 2, "program__ease_off": 0.4}
            setups += [lighthouse(program__law=law), lighthouse(program__law=law, light__sensor__lag_s=0.01, **other)]
        for mixing in MIXING_NAMES[1:]:
            setups.append(lighthouse(program__mixing=mixing, program__proportional__dark_ratio=1.4))
        with tempfile.TemporaryDirectory() as folder:
            for setup in setups:
                packed = pack(setup, derive.route(setup.mat, setup.trial.reverse), derive.field(setup))
                ours, (end, outcome, trace) = run.run(packed), bench.c_lap(packed, folder, exact=True)()
                self.assertAlmostEqual(ours.time_s, end, places=11)
                self.assertEqual((len(ours.trace), ours.outcome), (trace.shape[1], run.OUTCOMES[outcome - 1]))
                for name, column in zip(bench.C_COLUMNS, trace, strict=True):
                    self.assertTrue(np.allclose(getattr(ours.trace, name), column, rtol=0.0, atol=1e-9), name)


if __name__ == "__main__":
    unittest.main()
