"""A sensor's readings gathered: few rows, none of them noise, and a turn of the air seen at once."""

import math
import random
import unittest
from datetime import UTC, datetime, timedelta

from ravden.core.climate.gather import APART, IN_HAND, STILL, Gathering

START = datetime(2026, 3, 1, tzinfo=UTC)


def heard(hours, temp, every_s=5.0, noise_K=0.0, noise_rh=0.0, seed=3):
    rng, gathering, kept = random.Random(seed), Gathering(), []
    for i in range(int(hours * 3600 / every_s)):
        at = START + timedelta(seconds=i * every_s)
        h = i * every_s / 3600
        row = gathering.heard(at, temp(h) + rng.gauss(0, noise_K), 0.5 + rng.gauss(0, noise_rh))
        if row is not None:
            kept.append(row)
    return kept


class Gathered(unittest.TestCase):
    def test_noise_adds_no_rows(self):
        rows = heard(24, lambda h: 20.0, noise_K=0.3, noise_rh=0.01)
        self.assertLessEqual(len(rows), 24 / (STILL / timedelta(hours=1)) + 1)
        self.assertLess(max(abs(r[1] - 20) for r in rows[1:]), 0.2)

    def test_a_year_of_a_noisy_sensor_in_a_shop_heated_by_day(self):
        days = 6
        rows = heard(24 * days, lambda h: 18 + 4 * math.sin(h / 24 * 2 * math.pi) + 2 * math.sin(h), noise_K=0.3)
        self.assertLessEqual(len(rows) * 365 / days, 10_000 + IN_HAND * 365 / days)
        whole = 365 * 24 * 60 / 55
        self.assertLess(whole, 10_000)

    def test_a_turn_of_the_air_is_kept_within_minutes(self):
        rows = heard(12, lambda h: 15.0 if h < 10 else 21.0, noise_K=0.3)
        turned = next(at for at, temp, _ in rows if temp > 20)
        self.assertLess(turned - START, timedelta(hours=10, minutes=6))

    def test_a_breath_on_it_is_none_of_it(self):
        rows = heard(4, lambda h: 34.0 if 2 < h < 2.02 else 20.0)
        self.assertEqual({temp for _, temp, _ in rows}, {20.0})

    def test_very_many_at_once_and_a_clock_that_goes_back(self):
        gathering = Gathering()
        kept = [gathering.heard(START + timedelta(milliseconds=i), 20.0 + i % 7, 0.5) for i in range(1000)]
        self.assertEqual([i for i, row in enumerate(kept) if row], [0])
        later = gathering.heard(START + APART, 26.0, 0.5)
        self.assertIsNotNone(later)
        self.assertIsNone(gathering.heard(START, 40.0, 0.5))
        # An hour back the clock was set: it begins anew, and is not silent until that hour is over.
        self.assertIsNotNone(gathering.heard(START - timedelta(hours=1), 21.0, 0.5))
        self.assertIsNotNone(gathering.heard(START - timedelta(minutes=50), 24.0, 0.5))


if __name__ == "__main__":
    unittest.main()
