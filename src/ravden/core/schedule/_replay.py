"""Compiled kernel of a plan that is lived through many times (see odds.py, which is the only importer).

What is drawn is no table but a hash of what it is of and of the sample: how a wait comes out is the same however the
rest of the plan stands, so that the odds of an instrument are others only where its own chain, or the hands it shares,
are others.
"""

import math
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from ravden.core.schedule.strips import SLOTS

# A step's row of numbers: all in slots but the spread. SHUTS under 0: nothing shuts that a scuff would open again.
WAIT, SPREAD, SINCE, SHUTS, SCUFFED = range(5)
# Its row of counts: in slots where they are times. PAINT under 0: it is done by hand; BEFORE under 0: nothing.
JOB, WHO, TABLE, PAINT, BEFORE, PLANNED, HANDS, COAT, LOW, HIGH = range(10)
OF_JOB, OF_STEP, OF_HANDS, OF_PERSON, OF_PAINT = range(1, 6)  # what a draw is of
GOLDEN = np.uint64(0x9E3779B97F4A7C15)  # [S] splitmix64 (Steele, Lea and Flood 2014), with its mixing below
MIX_1, MIX_2 = np.uint64(0xBF58476D1CE4E5B9), np.uint64(0x94D049BB133111EB)
EVEN = 2.0**-53  # of a draw of 53 bits
QUANTILE_BITS = 12  # of the normal distribution in QUANTILES equal parts: its sd comes out .1 % low
QUANTILES = 1 << QUANTILE_BITS


class Steps(NamedTuple):
    """In the order they are begun. numbers, counts: as above; names: by which their draws are known; needs: places of
    those that have to be over, LOW to HIGH for each."""

    numbers: NDArray[np.float64]
    counts: NDArray[np.int64]
    names: NDArray[np.uint64]
    job_names: NDArray[np.uint64]
    needs: NDArray[np.int64]


class Strips(NamedTuple):
    """Stretches of hours in a row [slots], and by table and day the place of the first that is not over when it
    begins; high: where each table ends; last: a slot no sample comes to."""

    begins: NDArray[np.int64]
    ends: NDArray[np.int64]
    by_day: NDArray[np.int64]
    high: NDArray[np.int64]
    last: int


class Chances(NamedTuple):
    """people, paints: names; bad: odds of a bad day by paint, told: up to which day its air is known; normal: the
    normal distribution in equal parts."""

    people: NDArray[np.uint64]
    paints: NDArray[np.uint64]
    bad: NDArray[np.float64]
    told: NDArray[np.int64]
    normal: NDArray[np.float64]
    sick: float
    hand_sd: float
    least_hands: float
    alike: float
    tries: int
    now: int
    seed: np.uint64


@njit(cache=True, nogil=True, error_model="numpy")
def _mixed(x):
    x = (x ^ (x >> np.uint64(30))) * MIX_1
    x = (x ^ (x >> np.uint64(27))) * MIX_2
    return x ^ (x >> np.uint64(31))


@njit(cache=True, nogil=True, error_model="numpy")
def _bits(name, what, luck):
    """64 even bits of a name, of what is drawn, and of a sample's luck: the same every time."""
    return _mixed((name + np.uint64(what) * GOLDEN) ^ luck)


@njit(cache=True, nogil=True, error_model="numpy")
def _part(name, what, luck):
    """Which of the equal parts of the normal distribution is drawn."""
    return _bits(name, what, luck) >> np.uint64(64 - QUANTILE_BITS)


@njit(cache=True, nogil=True, error_model="numpy")
def _happens(name, what, day, luck, odds):
    """Whether what happens now and then happens on a day of a sample."""
    bits = _bits(name + np.uint64(day) * MIX_1, what, luck)
    return float(bits >> np.uint64(11)) * EVEN < odds


@njit(cache=True, nogil=True, error_model="numpy")
def _open(begins, ends, place, high, at, long, last):
    """The first slot from one on with so many worked in one go, among stretches from a place on; last: there is
    none."""
    while place < high and ends[place] - max(at, begins[place]) < long:
        place += 1
    found = max(at, begins[place]) if place < high else last
    return found if found + long < last else last


@njit(cache=True, nogil=True, error_model="numpy")
def live_through(steps, strips, chances, out):
    """When each job is over in each sample [slots], into out by sample and job."""
    # Arrays are taken out of their records once: counting who holds them, step by step, took most of the time.
    numbers, counts, names, job_names, needs = steps
    begins, ends, by_day, high, last = strips
    people, paints, bad, told, normal = (
        chances.people, chances.paints, chances.bad, chances.told, chances.normal
    )  # fmt: skip
    shared, own = math.sqrt(chances.alike), math.sqrt(1.0 - chances.alike)
    many = len(names)
    over, free = np.zeros(many, np.int64), np.zeros(len(people), np.int64)
    for sample in range(out.shape[0]):
        free[:] = 0
        luck = _mixed(np.uint64(sample + 1) * GOLDEN + chances.seed)
        for i in range(many):
            job, who, paint, planned, hands = (
                counts[i, JOB], counts[i, WHO], counts[i, PAINT], counts[i, PLANNED], counts[i, HANDS]
            )  # fmt: skip
            # When it may be begun: the film, what else has to be over, the plan.
            before = float(over[counts[i, BEFORE]]) if counts[i, BEFORE] >= 0 else numbers[i, SINCE]
            wait = numbers[i, WAIT]
            if numbers[i, SPREAD] > 0.0:
                of_job = normal[_part(job_names[job], OF_JOB, luck)]
                of_step = normal[_part(names[i], OF_STEP, luck)]
                wait *= math.exp(numbers[i, SPREAD] * (shared * of_job + own * of_step))
            at = max(int(math.ceil(before + wait)), planned, chances.now)
            for n in range(counts[i, LOW], counts[i, HIGH]):
                at = max(at, over[needs[n]])
            if numbers[i, SHUTS] >= 0.0 and float(at) > before + numbers[i, SHUTS]:
                at = max(at, int(math.ceil(before + numbers[i, SCUFFED])))
            if paint < 0 or at > planned:
                at = max(at, free[who])
            # When it is: hands there, not ill, the air good.
            table, long = counts[i, TABLE], max(hands, 1)
            for tried in range(chances.tries + 1):
                if at >= last:
                    at = last
                    break
                at = _open(begins, ends, by_day[table, at // SLOTS], high[table], at, long, last)
                day = at // SLOTS
                off = tried < chances.tries and _happens(people[who], OF_PERSON, day, luck, chances.sick)
                if not off and tried < chances.tries and paint >= 0 and day > told[paint]:
                    off = _happens(paints[paint], OF_PAINT, day, luck, bad[paint])
                if not off:
                    break
                at = (day + 1) * SLOTS
            # How long it takes. Between its coats hands are free for others: they cost the coats themselves.
            took = hands
            if paint < 0 and chances.hand_sd > 0.0:
                noise = 1.0 + chances.hand_sd * normal[_part(names[i], OF_HANDS, luck)]
                took = int(math.ceil(hands * max(noise, chances.least_hands)))
            over[i] = at + took
            free[who] = max(free[who], at + counts[i, COAT] if paint >= 0 and at <= planned else over[i])
            out[sample, job] = max(out[sample, job], over[i])
