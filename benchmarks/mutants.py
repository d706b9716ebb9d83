"""Small changes put at random into all but the interface, one at a time: do the tests beside the changed module notice?

``mutants.py [changes] [seed]``: a comparison turned, a sign, a constant by a third, a condition negated, or for
and. Each is tried on a copy of the source, with the tests of its folder, on every core. Prints every change that nobody
noticed and the share that was. 85 of 100 are asked for; every survivor needs a test, or a reason why it is harmless.
"""

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SRC = ROOT / "src"
TIMEOUT_S = 150.0  # a change that never ends is noticed
TOLERANCE = 1e-6  # constants up to it stand against rounding: a third more or less of one shows nowhere
BESIDE = {
    "core/abrasive": ("core.test_edges", "core.test_abrasive", "core.test_ladder_practice", "core.test_rubout_choices",
                      "core.test_rubout_beside"),
    "core/ahead": ("core.test_edges",
                   "core.test_plan", "core.test_waits", "core.test_counsel", "core.test_methods", "core.test_witness"),
    "core/calendar": ("core.test_plan", "test_hours"),
    "core/climate": ("core.test_edges", "core.test_gather", "core.test_air_steps", "core.test_over_time", "test_air"),
    "core/cure": ("core.test_edges", "core.test_cure", "core.test_chemistries",
                  "core.test_cure_practice", "core.test_cure_before",
                  "core.test_witness", "core.test_waits"),
    "core/film": ("core.film.test_ledger", "core.film.test_observations", "core.film.test_deposits",
                  "core.film.test_brute_force", "core.test_counsel"),
    "core/materials": ("core.film.test_deposits", "core.test_chemistries", "test_tables"),
    "core/method": ("core.test_methods", "core.test_compose", "core.test_plan", "core.test_quarrels"),
    "core/quarrels": ("core.test_quarrels",),
    "core/repair": ("core.test_repair", "core.test_causes", "core.test_one_through", "test_mending", "ui.test_repair"),
    "core/schedule": ("core.test_schedule", "core.test_jobs", "core.test_hold", "core.test_why_moved", "test_shop_plan",
                      "ui.test_day_acts"),
    "core/stock": ("core.test_stock", "test_stock"),
    "core/surface": ("core.test_surface", "core.test_levelling", "core.test_trial", "core.test_look", "core.test_seen",
                     "ui.test_trainer", "test_compute_surface"),
    "core/record": ("core.test_instrument", "core.test_plan", "test_journal", "core.test_doctests"),
    "core/rubout": ("core.test_rubout_plan", "core.test_rubout_beside", "core.test_rubout_choices"),
    "core/session": ("core.test_bench", "core.test_booth_turns"),
    "core/state": ("core.test_history", "core.test_counsel", "core.test_plan", "test_coats_alike"),
    "core": ("core.test_plan", "core.test_instrument", "core.test_doctests"),
    "journal": ("test_journal", "test_any_fold", "test_book", "test_file_kept", "test_air", "test_hours",
                "ui.test_session", "ui.test_record_kept", "test_damage", "test_limits", "test_forget", "test_reopen"),
    "app": ("test_stock", "test_learning", "test_shop_plan", "test_same_figures", "test_missed", "test_compute_plan",
            "test_mending", "test_wrong_clock", "test_air", "test_search", "ui.test_forms", "ui.test_slips",
            "ui.test_session", "ui.test_correcting", "ui.test_presenters", "ui.test_settings", "ui.test_record_kept",
            "core.test_foretold", "ui.test_trainer", "ui.test_days", "ui.test_people", "ui.test_rack", "ui.test_shop",
            "ui.test_as_written"),
    "exchange": ("test_exchange", "test_air", "test_compute", "test_compute_plan", "test_compute_surface", "test_stock",
                 "test_photos", "core.test_schedule"),
    "text": ("test_words", "test_written", "test_told", "test_entry_words", "ui.test_presenters", "core.test_doctests",
             "test_stock", "ui.test_units_everywhere", "ui.test_as_written", "ui.test_stock", "ui.test_rack"),
    "system": ("test_files_out", "test_system"),
}  # fmt: skip
PARTS = ("core", "journal", "app", "exchange", "text", "system")
TURNED = {
    ast.Lt: ast.Gt, ast.LtE: ast.GtE, ast.Gt: ast.Lt, ast.GtE: ast.LtE, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
SIGNS = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}


def changes(node):
    """What may be done to a node: a word for it, and the node in its place."""
    out = copy.deepcopy(node)
    if isinstance(node, ast.Compare) and type(node.ops[0]) in TURNED:
        out.ops[0] = TURNED[type(node.ops[0])]()
        return "comparison turned", out
    if isinstance(node, ast.BinOp) and type(node.op) in SIGNS:
        if isinstance(node.left, ast.Constant | ast.JoinedStr) and isinstance(getattr(node.left, "value", ""), str):
            return None
        out.op = SIGNS[type(node.op)]()
        return "sign", out
    if isinstance(node, ast.Constant) and type(node.value) in (int, float):
        if 0 < abs(node.value) <= TOLERANCE:
            return None
        if type(node.value) is float and node.value not in (0.0,):
            out.value = node.value * 4 / 3
        else:
            out.value = node.value + max(round(abs(node.value) / 3), 1)
        return "constant", out
    if isinstance(node, ast.BoolOp):
        out.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        return "and/or", out
    if isinstance(node, ast.IfExp | ast.If):
        out.test = ast.UnaryOp(op=ast.Not(), operand=node.test)
        return "condition", out
    return None


class _Put(ast.NodeTransformer):
    def __init__(self, old, new):
        self.old, self.new = old, new

    def visit(self, node):
        return self.new if node is self.old else self.generic_visit(node)


def _unseen(tree):
    """Nodes whose change nothing could show: annotations, texts, and what only says what is wrong."""
    out = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.AnnAssign):
            out.update(ast.walk(node.annotation))
        elif isinstance(node, ast.Call) and getattr(node.func, "id", "") in ("InputError", "fact"):
            out.update(n for a in node.args for n in ast.walk(a))
        elif isinstance(node, ast.JoinedStr) or ast.unparse(getattr(node, "test", node)) == "TYPE_CHECKING":
            out.update(ast.walk(node))
    return out


def sample(many, seed):
    chance = random.Random(seed)
    places = []
    for path in sorted(p for part in PARTS for p in SRC.glob(f"ravden/{part}/**/*.py")):
        tree = ast.parse(path.read_text())
        skip = _unseen(tree)
        nodes = list(ast.walk(tree))
        places += [(path, i) for i, n in enumerate(nodes) if n not in skip and changes(n) is not None]
    return chance.sample(places, many)


def tests_of(path):
    folder = str(path.relative_to(SRC / "ravden").parent)
    key = max((k for k in BESIDE if folder == k or folder.startswith(k + "/")), key=len)
    also = ("test_figures_kept", "core.test_edges", "core.test_doctests") if key.startswith("core") else ()
    return [f"tests.{name}" for name in dict.fromkeys((*also, *BESIDE[key]))]


def tried(place):
    path, index = place
    tree = ast.parse(path.read_text())
    node = list(ast.walk(tree))[index]
    what, new = changes(node)
    before, after = ast.unparse(node).splitlines()[0][:70], ast.unparse(new).splitlines()[0][:70]
    where = f"{path.relative_to(SRC)}:{node.lineno} {what}: {before}  ->  {after}"
    if ast.unparse(node) == ast.unparse(new):
        return where, "same"
    with tempfile.TemporaryDirectory() as folder:
        shutil.copytree(SRC, Path(folder) / "src", ignore=shutil.ignore_patterns("__pycache__"))
        spoilt = ast.fix_missing_locations(_Put(node, new).visit(tree))
        (Path(folder) / "src" / path.relative_to(SRC)).write_text(ast.unparse(spoilt))
        env = {
            **os.environ,
            "PYTHONPATH": f"{folder}/src:{ROOT}",
            "RAVDEN_HOME": folder,
            "QT_QPA_PLATFORM": "offscreen",
        }
        line = [sys.executable, "-m", "unittest", "-f", "-q", *tests_of(path)]
        try:
            done = subprocess.run(line, cwd=ROOT, env=env, capture_output=True, timeout=TIMEOUT_S, check=False)
        except subprocess.TimeoutExpired:
            return where, "noticed"
        return where, "noticed" if done.returncode else "MISSED"


def main(many, seed):
    count = {"noticed": 0, "MISSED": 0, "same": 0}
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        for where, how in pool.map(tried, sample(many, seed)):
            count[how] += 1
            print(f"{sum(count.values())} of {many}: {how}", end="\r", file=sys.stderr, flush=True)
            if how == "MISSED":
                print(f"missed  {where}", flush=True)
    of = count["noticed"] + count["MISSED"]
    print(f"noticed {count['noticed']} of {of} ({100 * count['noticed'] / max(of, 1):.0f} %; 85 asked)")


if __name__ == "__main__":
    told = [int(a) for a in sys.argv[1:]]
    main(*(told + [200, 1][len(told) :]))
