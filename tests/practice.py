"""Cases with the range a trade would accept, run as the command line would: see data/practice.json, and the second set
of them beside it."""

import json
from pathlib import Path

from ravden.app import compute

DATA = Path(__file__).parent / "data"
CASES = {
    c["id"]: c for name in ("practice.json", "practice-2.json") for c in json.loads((DATA / name).read_text())["cases"]
}
GRAVE = ("START_SOFT", "START_TOO_FINE", "CANNOT_ERASE", "BACKWARD", "AFTER_WOOL", "FILM_CAP")


def of_kind(kind):
    return [c for c in CASES.values() if c["kind"] == kind and "spot" not in c["input"]]


def outside(case, found):
    """What of a case lies outside its range: what, what was found, low, high."""
    rows = [(e["what"], found.get(e["what"]), e["low"], e["high"]) for e in case["expect"]]
    return [row for row in rows if row[1] is None or not row[2] <= row[1] <= row[3]]


def cure(given):
    """What the cases ask of a film: hours after its last coat."""
    found = compute.run("cure", json.dumps(given).encode())
    last = max(c["at_h"] for c in given["coats"])
    hours = {n: found["windows"][f"{n}_h"] for n in ("scuff", "level", "buff", "case")} | {"next": found["next_coat_h"]}
    out = {f"{n}_h": None if h is None else h - last for n, h in hours.items()}
    if None not in (out["buff_h"], out["level_h"]):
        out["buff_minus_level_h"] = out["buff_h"] - out["level_h"]
    return out


def rubout(given):
    """What the cases ask of a rub-out."""
    found = compute.run("rubout", json.dumps(given).encode())
    steps, codes = found["sequence"], {r["code"] for r in found["remarks"]}
    out = {w: float(found["verdict"] == w) for w in ("ok", "measure", "refused")}
    out |= {
        "grave": float(bool(codes & set(GRAVE))), "coarse_start": float("START_TOO_COARSE" in codes),
        "mirror_missed": float("FINISH_MISSES_SHEEN" in codes), "steps": len(steps), "gloss60": found["gloss60"],
        "total_um": found["total_um"],
        "hours": None if found["minutes"] is None else found["minutes"] / 60,
    }  # fmt: skip
    papers = [s for s in steps if s["grade"].startswith("FEPA-P")]
    polishes = [s for s in steps if s["grade"].startswith("COMPOUND")]
    out |= {
        "first_d50": steps[0]["d50_um"], "last_d50": steps[-1]["d50_um"], "polishes": len(polishes),
        "first_not_p2500": float("P2500" not in steps[0]["grade"]),
        "minutes_paper": sum(s["minutes"] for s in papers), "minutes_polish": sum(s["minutes"] for s in polishes),
    }  # fmt: skip
    for s in steps:
        name = s["grade"].split(":")[-1].split(" ")[0]
        out[f"minutes:{name}"], out[f"pieces:{name}"] = s["minutes"], s["pieces"]
    for z in given["zones"]:
        out[f"kept:{z['name']}"] = float(z["name"] in found["kept_off"])
        if z["name"] == "edges" and papers:
            out["edge_before_soft_um"] = z["film_um"] - papers[-1]["film_left_um"]["edges"]
    return out
