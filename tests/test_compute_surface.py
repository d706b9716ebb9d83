"""``ravden compute level``: the runs worked out elsewhere, and what is refused."""

import json
import unittest

from ravden.app.compute import run
from ravden.core.errors import InputError
from tests.core.reference import surface

PEEL = {"kind": "peel", "pv_um": 18, "lambda_mm": [1.5, 5], "seed": 3}
PAPER = {"grain_um": 22.0, "kappa_um_kPa_m": 0.38}


def level(**case):
    return run("level", json.dumps({"surface": [PEEL], "paper": PAPER, "cells": 96, **case}).encode())


class Runs(unittest.TestCase):
    def test_runs_worked_out_elsewhere(self):
        near = {"touched": 0.005, "through": 0.004, "mean_um": 0.002, "p95_um": 0.01, "max_um": 0.01, "rms_um": 0.01}
        for case in surface()["level"]:
            found, want = run("level", json.dumps(case["in"]).encode()), case["out"]
            passes = "passes" in case["in"]
            for got, sample in zip(found["samples"], want["samples"], strict=True):
                self.assertEqual(got["n"], sample["n"])
                for name in ("touched", "through"):
                    self.assertAlmostEqual(
                        got[name], sample[name], delta=0.01 if passes else near[name], msg=case["id"]
                    )
                for name in ("mean_um", "rms_um") if passes else ("mean_um", "p95_um", "max_um", "rms_um"):
                    allowed = 0.02 * sample[name] + 1e-4 if passes else max(near[name] * sample[name], 0.003)
                    self.assertAlmostEqual(got[name], sample[name], delta=allowed, msg=f"{case['id']} {name}")
            if passes:
                volume = want["volume_um_mm2"]
                self.assertAlmostEqual(found["volume_um_mm2"], volume, delta=0.003 * volume)
                for a, b in zip(found["row_um"], want["row_um"], strict=True):
                    self.assertAlmostEqual(a, b, delta=0.05 * max(want["row_um"]))

    def test_until_so_much_is_touched(self):
        sample = level(until_touched=0.9)["samples"][0]
        self.assertGreaterEqual(sample["touched"], 0.9)
        self.assertLess(sample["pv_um"], 18)
        self.assertAlmostEqual(sample["minutes"], sample["n"] * 0.1 / 0.4 / 60)

    def test_a_shipped_paper_that_loads_takes_less(self):
        usual = {"paper": {"grade": "P800"}, "sample_n": [120], "area_ratio": 13.7}
        clean, loads = level(**usual)["samples"][0], level(**usual, clog=True)["samples"][0]
        self.assertLess(loads["mean_um"], clean["mean_um"])
        self.assertLess(loads["cut"], 0.6)
        dry = level(**usual, clog=True, mode="dry")["samples"][0]
        self.assertLess(dry["cut"], loads["cut"])
        harder = level(**usual, hardness_MPa=240.0)["samples"][0]
        self.assertAlmostEqual(harder["mean_um"], clean["mean_um"] / 2, places=3)

    def test_film_may_be_told_place_by_place(self):
        film = [[10.0 if x < 48 else 0.5 for x in range(96)] for _ in range(96)]
        found = level(surface=[{"kind": "flat"}], film_um=film, sample_n=[30])["samples"][0]
        self.assertAlmostEqual(found["through"], 0.5, delta=0.02)


class Refused(unittest.TestCase):
    def test_each_with_its_path(self):
        for case, path in (
            ({"surface": []}, "surface"), ({"surface": [{"kind": "flat", "a_um": 1}]}, "surface[0].a_um"),
            ({"surface": [{"kind": "wave", "a_um": 1}]}, "surface[0].lambda_mm"),
            ({"surface": [{**PEEL, "lambda_mm": [5, 2]}]}, "surface[0].lambda_mm"),
            ({"surface": [{**PEEL, "seed": -1}]}, "surface[0].seed"), ({"cells": 32}, "cells"),
            ({"cells": 1024}, "cells"), ({"load_kPa": 0}, "load_kPa"), ({"backing": "cloth"}, "backing"),
            ({"backing": {"E_kPa": -1, "t_mm": 1, "D": 0}}, "backing.E_kPa"), ({"paper": {}}, "paper"),
            ({"paper": {"grain_um": 20}}, "paper.kappa_um_kPa_m"), ({"paper": {"grade": "P17"}}, "paper.grade"),
            ({"paper": {**PAPER, "grain_um": -2}}, "paper.grain_um"), ({}, "sample_n"),
            ({"sample_n": [0]}, "sample_n[0]"), ({"sample_n": [5001]}, "sample_n[0]"),
            ({"until_touched": 2}, "until_touched"), ({"sample_n": [1], "until_touched": 0.5}, "until_touched"),
            ({"film_um": [[1.0]]}, "film_um"), ({"block_mm": [60, 30]}, "passes"),
            ({"passes": [[1, 2, 3]]}, "block_mm"), ({"block_mm": [60, 30], "passes": [[1, 2]]}, "passes[0]"),
            ({"block_mm": [60, 30], "passes": [[1, 2, 0.1]], "repeat": 6000}, "repeat"),
            ({"block_mm": [60, 30], "passes": [[1, 2, -0.1]]}, "passes[0].slide_m"),
            ({"block_mm": [60, 30], "passes": [[1, 2, 0.1]], "sample_n": [2]}, "sample_n[0]"),
            ({"sample_n": [1], "film_um": 9000}, "film_um"), ({"sample_n": [1], "shine": 1}, ""),
        ):  # fmt: skip
            with self.subTest(case), self.assertRaises(InputError) as caught:
                level(**case)
            self.assertEqual(caught.exception.path, path)
