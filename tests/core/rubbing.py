"""The reference drawer, job and film of the rub-out tests, and made-up ones."""

import itertools
from dataclasses import replace

from ravden.catalogue.tables import shipped
from ravden.core.abrasive.grades import find
from ravden.core.abrasive.job import Job, finishes, reachable
from ravden.core.abrasive.ladder import removes_of
from ravden.core.abrasive.sandthrough import ZoneFilmLeft, zone_odds
from ravden.core.abrasive.scratch import Rung, minutes

CATALOGUE = shipped()
PAPERS = ("P320", "P400", "P500", "P600", "P800", "P1000", "P1200", "P1500", "P2000", "P2500")
COMPOUNDS = tuple(a.id for a in CATALOGUE.abrasives if a.system == "COMPOUND")
OWNED = (*(f"FEPA-P:{p}" for p in PAPERS), "FOAM-CLASS:3000", *COMPOUNDS)
WOOL = "STEEL-WOOL:#0000 (fibre 25 um)"
BACKINGS = {"foam": "foam-disc", "polish": "pad", "wool": "foam-disc", "cushion": "foam", "powder": "cloth"}


def rung(name, hardness=120.0, mode="wet", **kw):
    grade = find(CATALOGUE.abrasives, name)
    backing = CATALOGUE.backings[BACKINGS.get(grade.kind, "firm")]
    return Rung(abrasive=grade, backing=backing, mode=mode, hardness_MPa=hardness, **kw)


def rungs(*names, **kw):
    return [rung(n if ":" in n else f"FEPA-P:{n}", **kw) for n in names]


def zone(kind="flat", film=120.0, sd=10.0, area=1200.0, name=None):
    return ZoneFilmLeft(name=name or kind, kind=kind, film_um=film, sd_um=sd, area_cm2=area)


def job(texture, film=120.0, **kw):
    zones = (zone(film=film, name="top"),)
    given = {"target": "mirror", "slack": 1.0, "zones": zones} | kw
    floor = given.pop("min_film", 40)
    return Job(texture_um=texture, min_film_um=floor, hardness_MPa=120, refractive_index=1.51, **given)


def names(ladder):
    return [s.rung.abrasive.name for s in ladder.steps]


def every_sequence(the_job, drawer):
    """Every workable sequence of a drawer with its score, the slow and sure way; only those the film can pay for."""
    order = sorted(drawer, key=lambda r: (r.abrasive.kind == "wool", -r.rz_um))
    time_weight, film_weight = the_job.weight
    for size in range(1, len(order) + 1):
        for pick in itertools.combinations(order, size):
            cost = 0.0
            for i, r in enumerate(pick):
                last = i == len(pick) - 1
                remove = reachable(the_job, r, pick[i - 1] if i else None, last=last and r.abrasive.kind == "wool")
                if remove is None:
                    break
                cost += time_weight * minutes(r, remove, the_job.area_cm2, first=i == 0) + film_weight * remove
            else:
                if not finishes(the_job, pick[-1], pick[-2] if size > 1 else None):
                    continue
                if bears(the_job, pick):
                    yield cost + film_weight * the_job.residual_um(pick[-1]), pick


def bears(the_job, pick):
    """Whether every zone that has to bear a whole sequence keeps within its odds, zone by zone."""
    removes = removes_of(the_job, pick)
    cv = max(r.backing.cv for r in pick)
    for z in (z for z in the_job.zones if the_job.counts(z)):
        lost = sum(d * r.backing.bears_on(z.kind) * z.share for d, r in zip(removes, pick, strict=True))
        if zone_odds(z, lost + the_job.residual_um(pick[-1]), cv, the_job.min_film_um) > the_job.limit(z.kind) + 1e-6:
            return False
    return True


def random_case(rng):
    """A made-up job with a drawer small enough to try every sequence of."""
    some = [o for o in (*OWNED, WOOL, "NON-WOVEN:grey ultra-fine", "ANSI-CAMI:600", "MICRON-FILM:9um")
            if rng.random() < 0.6][:9]  # fmt: skip
    hardness = rng.choice((60, 90, 120, 180))
    zones = (
        zone(film=rng.uniform(50, 160), sd=rng.uniform(4, 14), name="top"),
        zone("contour", rng.uniform(50, 160), rng.uniform(4, 14), 200, "arch"),
        replace(zone("flat", rng.uniform(30, 160), rng.uniform(4, 14), 300, "end"), share=0.3, floor=0.5),
        zone("edge", rng.uniform(30, 90), rng.uniform(4, 14), 60, "edges"),
    )
    made = Job(
        texture_um=rng.choice((2, 5, 9, 18, 30)), zones=zones, min_film_um=40, hardness_MPa=hardness,
        refractive_index=1.51, target=rng.choice(("key", "matte", "satin", "semi-gloss", "gloss", "mirror")),
        objective=rng.choice(("balanced", "time", "film")), slack=rng.choice((0.8, 1.0)),
        ratio_max=rng.choice((1.5, 1.8, 2.2)), edges_count=rng.random() < 0.3,
    )  # fmt: skip
    return made, [rung(o, hardness) for o in some]
