"""Made-up shops with habits of their own that are known, to see whether what is learnt of them holds what it says."""

import math
from datetime import UTC, datetime, timedelta

import numpy as np
from msgspec.structs import replace

from ravden.core.abrasive.scratch import rubbing_minutes
from ravden.core.record import Coat, Reading, Sanding
from ravden.core.record.word import HOURS, Word, gathered, key_of
from ravden.core.rubout.hands import worked_on
from ravden.core.rubout.words import words_on
from ravden.core.state.beliefs import PRIORS, Beliefs
from ravden.core.state.history import cured_share, known
from ravden.core.state.learnt import learnt, started_from
from ravden.core.state.zone_factors import TAU
from tests.core.test_plan import DRAWER, project

ZONES = ("top", "back", "sides")
DAY0 = datetime(2026, 1, 1, tzinfo=UTC)
FAMILY, WAY, METHOD, TEXTURE_UM = "mandolin, teardrop", "spray", "m", 18.0
Z90 = 1.645


def _coated(rng, gun, habit):
    """An instrument with coats on it, and the film that is truly there [um]."""
    coats, um = int(rng.integers(4, 9)), 12.0
    k0 = {"top": 1.0, "back": 1.0, "sides": 0.85}
    g, common = gun * math.exp(0.08 * rng.normal()), np.exp(0.07 * rng.normal(size=coats))
    acts = [Coat(at_h=0.0, dry_um=um, count=coats)]
    drunk, film = project(acts).absorbed, {}
    for zone in ZONES:
        k = k0[zone] * math.exp(habit[zone] + math.sqrt(0.12**2 - TAU**2) * rng.normal())
        laid = um * g * k * float((common * np.exp(0.07 * rng.normal(size=coats))).sum())
        film[zone] = max(laid - sum(drunk.get(zone, ())[:coats]), 5.0)
    return acts, film


def _read(rng, acts, film, gain, zones=ZONES):
    """Gauge readings of it."""
    share = cured_share(project(acts), Reading(at_h=700.0, zone="top", um=50), "top")
    for i, zone in enumerate(zones):
        dry = film[zone] * gain * math.exp(0.07 / math.sqrt(3) * rng.normal())
        read = dry / share + 3.0 / math.sqrt(3) * rng.normal()
        yield Reading(at_h=700.0 + i, zone=zone, um=max(read, 1.0), n=3)


def _instrument(rng, n, gun, habit, texture, gain, pace):
    """The record of one instrument of a shop: coats, a gauge on every zone, and a levelling whose texture was told."""
    acts, film = _coated(rng, gun, habit)
    acts += _read(rng, acts, film, gain)
    told = TEXTURE_UM * texture * math.exp(math.hypot(0.25, 0.20) * rng.normal())
    level = Sanding(at_h=720.0, um=8, grade="P800", mode="wet", zones=("top",), texture_um=min(told, 400.0))
    rung = worked_on(project((*acts, level)), DRAWER)[0].rung
    area = project().zone("top").area_cm2
    took = rubbing_minutes(rung, level.um, area, first=True) * pace * math.exp(0.25 * rng.normal())
    made = project((*acts, replace(level, minutes=took)))
    at = DAY0 + timedelta(days=40 * n)
    words = words_on(made, DRAWER, METHOD, (TEXTURE_UM,), lambda h: at + timedelta(hours=h), WAY)
    return [Word(key=w.key, ln=w.ln, sd=w.sd, at=w.at, of=f"i{n}") for w in words]


def inside(rng, shops):
    """Share of learnt figures whose truth lies in the 90 % range, by kind of figure."""
    hits, total = {}, {}

    def count(kind, ln, mean, sd):
        total[kind] = total.get(kind, 0) + 1
        hits[kind] = hits.get(kind, 0) + (abs(ln - mean) <= Z90 * sd)

    for _ in range(shops):
        gun, gain = math.exp(0.236 * rng.normal()), math.exp(0.03 * rng.normal())
        habit = {z: TAU * rng.normal() for z in ZONES}
        texture, hours = math.exp(0.37 * rng.normal()), math.exp(0.37 * rng.normal())
        pace = math.exp(0.32 * rng.normal())
        words = [
            w for n in range(int(rng.integers(3, 7))) for w in _instrument(rng, n, gun, habit, texture, gain, pace)
        ]
        for n in range(int(rng.integers(1, 9))):
            told = math.log(hours) + 0.30 * rng.normal()
            words.append(Word(key=key_of(HOURS, "coats"), ln=told, sd=0.30, at=DAY0 + timedelta(days=n)))
        found = Beliefs(words=gathered({}, words))
        for zone, factor in found.factors(FAMILY, WAY).items():
            count("zone", habit[zone], factor.ln, factor.sd)
        for kind, key, truth in (
            ("texture", f"texture/{METHOD}", texture), ("hours", "hours/coats", hours),
            ("minutes", "minutes/FEPA-P:P800", pace),
        ):  # fmt: skip
            belief = found.of(key)
            count(kind, math.log(truth), belief.ln_mean, belief.ln_sd)
            assert belief.ln_sd < PRIORS[kind]
    return {kind: hits[kind] / total[kind] for kind in total}


def next_one(rng, shops, *, learn):
    """The next instrument of shops with habits, gauged on its top alone, after four that were gauged all over: share of
    zones whose true film lies in the 90 % range, and the sd of ln of the film believed over the true one. learn: with
    the factors of zones that were learnt."""
    hits, off = [], []
    for _ in range(shops):
        gun, gain = math.exp(0.236 * rng.normal()), math.exp(0.03 * rng.normal())
        habit = {z: TAU * rng.normal() for z in ZONES}
        past, words = [], []
        for n in range(4):
            acts, film = _coated(rng, gun, habit)
            made = project((*acts, *_read(rng, acts, film, gain)))
            past.append((made, 800.0, {}))
            told = words_on(made, DRAWER, METHOD, (TEXTURE_UM,), lambda h: DAY0 + timedelta(hours=h), WAY)
            words += [replace(w, of=f"i{n}") for w in told]
        acts, film = _coated(rng, gun, habit)
        made = project((*acts, *_read(rng, acts, film, gain, ("top",))))
        if learn:
            made = replace(made, zones=Beliefs(words=gathered({}, words)).zones(made.zones, FAMILY, WAY))
        ledger = known(made, 800.0, {}, started_from(learnt(past))).ledger
        for zone in ZONES:
            low, middle, high = ledger.quantiles(zone, (0.05, 0.5, 0.95))
            hits.append(low <= film[zone] <= high)
            off.append(math.log(middle / film[zone]))
    return float(np.mean(hits)), float(np.std(off))
