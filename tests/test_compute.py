"""The headless face: results, schemas, and one clear line for every kind of bad input."""

import contextlib
import io
import json
import os
import subprocess
import sys
import unittest
from pathlib import Path
from unittest import mock

from ravden import cli
from ravden.app import compute
from ravden.core.errors import InputError
from ravden.text.say import fault, whole_fault

REFERENCE = json.loads((Path(__file__).parent / "data" / "cure.json").read_text())["cases"]
COAT = {"at_h": 0, "dry_um": 10}
CURE = {"material": "lacquer-sprayed", "coats": [COAT], "until_h": 500}
FILM = {"zones": [{"name": "top", "area_cm2": 1200, "k_mean": 1}], "events": [{"kind": "coat", "nominal_dry_um": 12}]}
TOP = {"name": "top", "film_um": 120, "sd_um": 10, "area_cm2": 1200}
RUBOUT = {"texture_um": 18, "zones": [TOP], "target": "mirror"}


def run(kind, case):
    return compute.run(kind, json.dumps(case).encode())


def changed(case, **by):
    return case | by


class Results(unittest.TestCase):
    def test_cure_takes_the_reference_cases_as_they_are(self):
        for name, raw in REFERENCE.items():
            case = {k: raw[k] for k in ("material", "coats", "climate")}
            found = run("cure", case | {"sample_h": [e["at_h"] for e in raw["expect"]], "until_h": 3000})
            for got, want in zip(found["samples"], raw["expect"], strict=True):
                self.assertEqual(set(got), set(want))
                self.assertAlmostEqual(got["film_um"], want["film_um"], delta=0.3, msg=name)
            self.assertIsNotNone(found["windows"]["level_h"])

    def test_cure_windows_are_null_before_the_end(self):
        found = run("cure", changed(CURE, until_h=1))
        self.assertIsNone(found["windows"]["case_h"])
        self.assertIsNone(found["shrink_left_um"]["case_h"])

    def test_adding_no_coats_changes_nothing(self):
        found = run("cure", {"material": "shellac-pad", "coats": [], "sample_h": [0, 5]})
        self.assertEqual([s["film_um"] for s in found["samples"]], [0, 0])
        self.assertIsNone(found["samples"][0]["Tg_min_C"])

    def test_sanding_and_climate(self):
        cold = run("cure", changed(CURE, climate=[{"at_h": 0, "temp_C": 5}]))
        warm = run("cure", changed(CURE, climate=[{"at_h": 0, "temp_C": 30}]))
        self.assertGreater(cold["windows"]["level_h"], 2 * warm["windows"]["level_h"])
        cut = run("cure", changed(CURE, sand=[{"at_h": 20, "um": 4}], sample_h=[30]))
        self.assertAlmostEqual(cut["samples"][0]["dry_um"], 6)

    def test_film(self):
        events = [{"kind": "coat", "nominal_dry_um": 12}] * 6
        events += [{"kind": "sand", "um": 15}, {"kind": "gauge", "zone": "top", "um": 60, "n": 3}]
        found = run("film", changed(FILM, events=events))
        zone = found["zones"][0]
        self.assertTrue(zone["p05_um"] < zone["p50_um"] < zone["p95_um"])
        self.assertAlmostEqual(zone["mean_um"], 60, delta=2)
        self.assertEqual(found["next_best"][0]["measurement"], "gauge")
        known = run("film", changed(FILM, applicator={"ln_mean": 0.2, "ln_sd": 0.05}))
        self.assertAlmostEqual(known["applicator"]["ln_mean"], 0.2, delta=0.005)
        self.assertGreater(known["zones"][0]["mean_um"], 14)

    def test_rubout_plans_and_judges(self):
        found = run("rubout", RUBOUT)
        self.assertEqual(found["verdict"], "ok")
        self.assertEqual(found["sequence"][0]["grade"], "FEPA-P:P400")
        self.assertAlmostEqual(found["total_um"], 25.76, delta=0.01)
        own = run("rubout", changed(RUBOUT, sequence=["P1000", "P2000"]))
        self.assertEqual([s["grade"] for s in own["sequence"]], ["FEPA-P:P1000", "FEPA-P:P2000"])

    def test_rubout_says_what_else_could_be_done(self):
        found = run("rubout", changed(RUBOUT, slack=1.0))
        self.assertGreater(len(found["equally_good"]), 4)
        self.assertEqual(len(found["schools"]), 2)
        unused = {c["grade"]: c for c in found["changes"] if not c["used"]}
        self.assertAlmostEqual(unused["FEPA-P:P1500"]["film_um"], 1.03, delta=0.01)
        self.assertEqual(found["sequence"][0]["odds"], {"top": "under 1 %"})

    def test_rubout_takes_what_is_told_in_micrometres_and_what_is_worn(self):
        mine = {"label": "mine", "d50_um": 10.3}
        own = run("rubout", changed(RUBOUT, owned=["P1000"], custom=[mine], target="satin", slack=1.0, texture_um=8))
        self.assertEqual([s["grade"] for s in own["sequence"]], ["FEPA-P:P1000", "CUSTOM:mine"])
        worn = run("rubout", changed(RUBOUT, sequence=["P1000", "P2000"], wear={"P2000": 1.0}))
        usual = run("rubout", changed(RUBOUT, sequence=["P1000", "P2000"]))
        self.assertLess(worn["sequence"][1]["scratch_um"], usual["sequence"][1]["scratch_um"])
        self.assertGreater(worn["sequence"][1]["minutes"], usual["sequence"][1]["minutes"])
        fast = run("rubout", changed(RUBOUT, sequence=["P1000", "P2000"], cut=2.0))
        self.assertLess(fast["minutes"], 0.7 * usual["minutes"])

    def test_rubout_judges_in_remarks(self):
        own = run("rubout", changed(RUBOUT, sequence=["P400", "P1500"], margin_K=20))
        codes = [r["code"] for r in own["remarks"]]
        self.assertEqual(codes[0], "SOFT")
        self.assertIn("JUMP_TOO_BIG", codes)
        asked = run("rubout", changed(RUBOUT, sequence=["P400", "800"]))
        self.assertEqual((asked["verdict"], asked["remarks"][0]["code"]), ("refused", "AMBIGUOUS_SYSTEM"))
        edges = [TOP, {"name": "edges", "film_um": 72, "sd_um": 14.4, "area_cm2": 60, "kind": "edge"}]
        found = run("rubout", changed(RUBOUT, zones=edges, sequence=["P1000", "P2000"]))
        self.assertIn("Keep off the edges altogether, or tape them.", [r["text"] for r in found["remarks"]])
        strict = run("rubout", changed(RUBOUT, zones=[TOP | {"film_um": 75}], odds_limit={"flat": 0.0001}))
        self.assertEqual(strict["verdict"], "refused")
        machine = run("rubout", changed(RUBOUT, mode="machine"))
        self.assertLess(machine["minutes"], found["minutes"] + 60)
        self.assertEqual(run("rubout", changed(RUBOUT, flatted=True))["verdict"], "refused")

    def test_rubout_refuses_in_words(self):
        soft = run("rubout", changed(RUBOUT, margin_K=5))
        self.assertEqual((soft["verdict"], soft["sequence"]), ("refused", []))
        self.assertIn("soft", soft["reason"])
        empty = run("rubout", changed(RUBOUT, owned=[]))
        self.assertIn("drawer is empty", empty["reason"])
        thin = run("rubout", changed(RUBOUT, zones=[TOP | {"film_um": 45}]))
        self.assertEqual(thin["verdict"], "refused")

    def test_schemas_describe_every_kind(self):
        for kind in compute.KINDS:
            described = compute.schema(kind)
            self.assertIn("$defs", described)


class FilmEvents(unittest.TestCase):
    def film(self, *events, **more):
        return run("film", changed(FILM, events=list(events), **more))

    def test_every_kind_of_event(self):
        coat = {"kind": "coat", "nominal_dry_um": 12}
        found = self.film(
            {"kind": "coat", "nominal_dry_um": 20, "applicator": "sealer", "absorbed_um": {"top": 8}},
            *[coat] * 6, {"kind": "volume", "dry_equivalent_um": 11},
            {"kind": "coat", "nominal_dry_um": 12, "count_odds": {"2": 0.5, "3": 0.5}},
            {"kind": "sand", "um": 5}, {"kind": "not_through", "zone": "top", "spot": True},
            {"kind": "micrometer", "um": 110}, {"kind": "card", "um": 108},
            {"kind": "gauge", "zone": "top", "um": 95, "n": 3},
        )  # fmt: skip
        self.assertEqual(set(found["other_applicators"]), {"sealer"})
        self.assertAlmostEqual(sum(found["counts"][0].values()), 1.0)
        top = found["zones"][0]
        self.assertTrue(top["p05_um"] < top["p50_um"] < top["p95_um"])
        self.assertAlmostEqual(top["mean_um"], 95, delta=6)
        self.assertEqual(
            found["next_best"], sorted(found["next_best"], key=lambda c: c["sd_after_um"] / c["sd_before_um"])
        )
        self.assertLessEqual(
            {"gauge", "card", "micrometer", "comb", "volume"}, {c["measurement"] for c in found["next_best"]}
        )

    def test_a_spot_and_a_zone_seen_through(self):
        coats = {"kind": "coat", "nominal_dry_um": 12, "count": 4}
        spot = self.film(coats, {"kind": "through", "zone": "top", "spot": True})
        whole = self.film(coats, {"kind": "through", "zone": "top"})
        self.assertEqual((spot["thin_spots"], whole["thin_spots"]), (["top"], []))
        self.assertGreater(spot["zones"][0]["mean_um"], 1)
        self.assertLess(whole["zones"][0]["mean_um"], 1)

    def test_what_does_not_belong_or_cannot_be(self):
        coat = {"kind": "coat", "nominal_dry_um": 12}
        reversed_comb = {"kind": "comb", "zone": "top", "low_um": 75, "high_um": 50, "landed_solids": 0.2}
        for events, path in (
            ([coat, {"kind": "volume", "um": 4}], "events[1].um"),
            ([coat, {"kind": "volume"}], "events[1].dry_equivalent_um"),
            ([{"kind": "volume", "dry_equivalent_um": 4}], "events[0].dry_equivalent_um"),
            ([coat, reversed_comb], "events[1].high_um"),
            ([coat | {"count_odds": {"9": 0.5, "10": 0.4}}], "events[0].count_odds"),
            ([coat | {"count_odds": {"nine": 1}}], "events[0].count_odds"), ([coat | {"count": 0}], "events[0].count"),
            ([coat, {"kind": "gauge", "zone": "top", "um": 4, "spot": True}], "events[1].spot"),
            ([coat | {"absorbed_um": {"lid": 3}}], "events[0].um"),
            ([coat, {"kind": "micrometer", "um": 0}], "events[1].um"),
            ([coat, {"kind": "through"}], "events[1].zone"),
            ([coat | {"applicator": str(i)} for i in range(9)], "events"),
        ):  # fmt: skip
            with self.subTest(path=path), self.assertRaises(InputError) as caught:
                self.film(*events)
            self.assertEqual(caught.exception.path, path)


class BadInput(unittest.TestCase):
    def expect_refused(self, kind, case, path, words=""):
        raw = case if isinstance(case, bytes) else json.dumps(case).encode()
        with self.assertRaises(InputError) as caught:
            compute.run(kind, raw)
        self.assertEqual(caught.exception.path, path)
        self.assertIn(words, fault(caught.exception))
        self.assertNotIn("\n", whole_fault(caught.exception))

    def test_cure(self):
        self.expect_refused("cure", b"nope", "input", "not JSON")
        self.expect_refused("cure", b'{"material": "lacquer-sprayed", "coats": [{"at_h": 0, "dry_um": NaN}]}', "input")
        self.expect_refused("cure", b"\xff\xfe", "input")
        self.expect_refused("cure", b"[1]", "")
        self.expect_refused("cure", changed(CURE, material="paint"), "material", "unknown material paint")
        self.expect_refused(
            "cure", changed(CURE, coats=[COAT] * 3 + [{"at_h": 0, "dry_um": -4}]), "coats[3].dry_um", "got -4"
        )
        self.expect_refused("cure", changed(CURE, coats=[{"at_h": 0, "dry_um": "a"}]), "coats[0].dry_um", "expected")
        self.expect_refused("cure", changed(CURE, coats=[{"at_h": 0, "dry": 4}]), "coats[0]", "dry")
        self.expect_refused("cure", changed(CURE, colour=1), "", "colour")
        self.expect_refused("cure", changed(CURE, coats=[{"at_h": 1e300, "dry_um": 4}]), "coats[0].at_h")
        self.expect_refused("cure", changed(CURE, coats=[{"at_h": 5, "dry_um": 4}, COAT]), "coats[1].at_h", "backwards")
        self.expect_refused("cure", changed(CURE, coats=[COAT] * 5001), "coats", "5000")
        self.expect_refused("cure", changed(CURE, climate=[{"at_h": 0, "temp_C": 140}]), "climate[0].temp_C")
        self.expect_refused("cure", changed(CURE, sand=[{"at_h": 1, "um": 40}]), "sand[0].um", "only 10 um")
        self.expect_refused("cure", changed(CURE, until_h=-1), "until_h")
        self.expect_refused("cure", changed(CURE, bench_C=99), "bench_C")
        inline = REFERENCE["lacquer_9x10"]["material"]
        self.expect_refused("cure", changed(CURE, material=inline | {"solids": 1.5}), "material.solids")
        self.expect_refused("cure", changed(CURE, material=inline | {"smell": 1}), "material.smell", "not a constant")
        self.expect_refused("cure", b" " * (compute.MAX_BYTES + 1), "input", "10 MB")

    def test_film(self):
        self.expect_refused("film", changed(FILM, zones=[]), "zones")
        self.expect_refused("film", changed(FILM, zones=[FILM["zones"][0]] * 2), "zones", "same name")
        self.expect_refused("film", changed(FILM, priors={"luck": 1}), "priors.luck")
        self.expect_refused("film", changed(FILM, priors={"spot": -1}), "priors.spot")
        for event, path in (
            ({"kind": "coat"}, "events[0].nominal_dry_um"),
            ({"kind": "coat", "nominal_dry_um": 0}, "events[0].nominal_dry_um"),
            ({"kind": "gauge", "zone": "lid", "um": 5}, "events[0].zone"),
            ({"kind": "gauge", "um": 5}, "events[0].zone"),
            ({"kind": "card", "um": {"top": 1}}, "events[0].um"), ({"kind": "sand", "um": 2, "n": 4}, "events[0].n"),
            ({"kind": "sand", "um": {"lid": 3}}, "events[0].um"), ({"kind": "dance"}, "events[0].kind"),
            ({"kind": "comb", "zone": "top", "low_um": 50, "high_um": 75, "landed_solids": 0.2}, "events[0].zone"),
        ):  # fmt: skip
            with self.subTest(event=event):
                self.expect_refused("film", changed(FILM, events=[event]), path)

    def test_rubout(self):
        self.expect_refused("rubout", changed(RUBOUT, texture_um=0), "texture_um")
        self.expect_refused("rubout", changed(RUBOUT, zones=[]), "zones")
        self.expect_refused("rubout", changed(RUBOUT, owned=["800"]), "owned[0]", "Is there a P")
        self.expect_refused("rubout", changed(RUBOUT, sequence=[]), "sequence")
        self.expect_refused("rubout", changed(RUBOUT, target="shiny"), "target")
        self.expect_refused("rubout", changed(RUBOUT, backing="sponge"), "backing")
        self.expect_refused("rubout", changed(RUBOUT, zones=[TOP | {"sd_um": -1}]), "zones[0].sd_um")
        self.expect_refused("rubout", changed(RUBOUT, hardness_MPa=0), "hardness_MPa")
        self.expect_refused("rubout", changed(RUBOUT, owned=["P800", "P800"]), "owned", "named twice")
        self.expect_refused("rubout", changed(RUBOUT, custom=[{"label": "x", "d50_um": -1}]), "custom[0].d50_um")
        self.expect_refused("rubout", changed(RUBOUT, wear={"P800": 3}), "wear.P800")
        self.expect_refused("rubout", changed(RUBOUT, odds_limit={"rim": 0.1}), "odds_limit")
        self.expect_refused("rubout", changed(RUBOUT, zones=[TOP, TOP]), "zones", "the same name")
        self.expect_refused("rubout", changed(RUBOUT, cut=0), "cut")


class CommandLine(unittest.TestCase):
    def call(self, *words, stdin=b"", env=None):
        return subprocess.run(
            [sys.executable, "-m", "ravden", *words], input=stdin, capture_output=True, timeout=120,
            env=os.environ | (env or {}),
        )  # fmt: skip

    def test_a_case_through_the_command(self):
        done = self.call("compute", "cure", stdin=json.dumps(CURE).encode())
        self.assertEqual((done.returncode, done.stderr), (0, b""))
        self.assertGreater(json.loads(done.stdout)["windows"]["level_h"], 0)

    def test_bad_input_is_one_line_and_exit_2(self):
        done = self.call(
            "compute", "cure", stdin=b'{"material": "lacquer-sprayed", "coats": [{"at_h": 0, "dry_um": -4}]}'
        )
        self.assertEqual((done.returncode, done.stdout), (2, b""))
        self.assertEqual(done.stderr.decode(), "ravden: coats[0].dry_um: must be greater than 0 (got -4)\n")

    def test_without_a_display_it_says_so(self):
        done = self.call("demo", env={"DISPLAY": "", "WAYLAND_DISPLAY": "", "QT_QPA_PLATFORM": ""})
        self.assertEqual(done.returncode, 3)
        self.assertIn(b"--offscreen", done.stderr)

    def inside(self, *words):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = cli.main(list(words))
        return code, out.getvalue(), err.getvalue()

    def test_list_schema_and_what_is_wrong(self):
        self.assertEqual(
            self.inside("compute", "--list")[1].split(),
            ["cure", "film", "rubout", "level", "inspect", "schedule", "plan", "repair", "stock"],
        )
        code, out, _ = self.inside("compute", "film", "--schema")
        self.assertEqual((code, "$defs" in json.loads(out)), (0, True))
        self.assertEqual(self.inside("compute", "magic", "--schema")[0], 2)
        self.assertEqual(self.inside("compute")[0], 2)
        code, _, err = self.inside("export", "/nowhere/at/all.ravden")
        self.assertEqual(code, 2)
        self.assertIn("is not there", err)
        self.assertEqual(self.inside("demo", "--offscreen", "x", "--on", "someday")[0], 2)

    def test_export_writes_all_of_the_journal(self):
        import tempfile
        from datetime import UTC, datetime

        from ravden.demo import ferrow_lane

        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "shop.ravden"
            start = datetime(2026, 5, 4, 15, tzinfo=UTC)
            ferrow_lane.build(path, start)
            code, out, _ = self.inside("export", str(path))
        self.assertEqual(code, 0)
        self.assertEqual(len(json.loads(out)["entries"]), len(ferrow_lane.entries(start)))

    def test_a_bug_is_not_dressed_as_bad_input(self):
        with mock.patch.dict(
            compute.KINDS, {"cure": (compute.KINDS["cure"][0], lambda case, catalogue: {"x": float("nan")})}
        ):
            self.assertRaises(RuntimeError, run, "cure", CURE)
