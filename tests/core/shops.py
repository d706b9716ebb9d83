"""Small made-up shops to plan for, by number."""

import random

HOURS = [[[480, 720], [780, 1020]]] * 5 + [[], []]
EVENINGS = [[[1140, 1290]]] * 4 + [[], [[540, 780]], []]


def shop(seed, pieces=4, people=1, tight=2, week=HOURS):
    """A shop as ``compute schedule`` takes it: pieces in three materials, promises more or less tight."""
    draw = random.Random(seed)
    materials = {
        "lacquer": {"setup_min": 10, "clean_min": 25, "no_spray": [[3 * 1440, 4 * 1440]]},
        "waterborne": {"setup_min": 10, "clean_min": 20},
        "two-part": {"setup_min": 15, "clean_min": 30, "no_spray": [[6 * 1440 + 480, 6 * 1440 + 900]]},
    }
    days = min(60 + (20 if week is EVENINGS else 5) * pieces, 400)
    instruments = []
    for n in range(pieces):
        material = draw.choice(sorted(materials))
        steps = [{"id": "prepare", "kind": "hand", "hands_min": draw.choice([60, 90, 120])}]
        for b in range(draw.randint(1, 3)):
            coats = {
                "id": f"build {b + 1}", "kind": "coats", "material": material, "coats": draw.randint(1, 3),
                "coat_min": draw.choice([5, 10, 15]), "flash_min": [30, 90], "wet_min": 45,
                "wait_min": 0 if b == 0 else 60 if material == "waterborne" else 1080,
            }  # fmt: skip
            if material == "waterborne" and b:
                coats |= {"shuts_min": 240, "scuff": {"wait_min": 1440, "hands_min": 20, "good_min": 1440}}
            steps.append(coats)
        level = {"id": "level", "kind": "hand", "hands_min": draw.choice([60, 90]),
                 "wait_min": draw.choice([4320, [[0, 7200], [7, 6480]]])}  # fmt: skip
        if draw.random() < 0.5:
            level["cabinet_wait_min"] = 2880
        steps.append(level)
        if draw.random() < 0.4:
            steps.append({"id": "neck oil", "kind": "hand", "hands_min": 20, "wait_min": 600, "after": "prepare"})
        buff = {"id": "buff", "kind": "hand", "hands_min": 30, "wait_min": 60, "arbor": True, "after": "level"}
        if steps[-1]["id"] == "neck oil":
            buff["needs"] = ["neck oil"]
        steps.append(buff)
        instruments.append({
            "id": f"piece {n}", "steps": steps, "weight": draw.randint(1, 3),
            "promised_min": draw.choice([None, draw.randint(7, 8 + tight * pieces) * 1440 + 1020]),
        })  # fmt: skip
    staff = [{"name": "Odd", "week": week}]
    if people > 1:
        staff.append({"name": "Mirre", "week": week, "spray": False})
    return {
        "people": staff, "instruments": instruments, "materials": materials, "horizon_days": days,
        "cabinet_places": 1, "now_min": 480,
    }  # fmt: skip
