"""Every reader, fed what is broken: it refuses with a clear sentence or takes it, and nothing else."""

import random
import unittest

from ravden.core.errors import InputError
from ravden.text.say import whole_fault
from tests.fuzz.readers import pick, readers, refuses
from tests.fuzz.spoil import spoiled

INPUTS, SEED = 4000, 20


class Spoiled(unittest.TestCase):
    def test_good_input_is_taken(self):
        with readers() as found:
            for reader in found:
                for seed in reader.seeds:
                    with self.subTest(reader=reader.name):
                        self.assertFalse(refuses(reader, seed))

    def test_spoiled_input_is_refused_or_taken(self):
        refused = taken = 0
        with readers() as found:
            for i in range(INPUTS):
                chance = random.Random(f"{SEED} {i}")
                reader = pick(found, chance)
                raw = spoiled(reader.seeds, chance)
                with self.subTest(reader=reader.name, i=i):
                    if refuses(reader, raw):
                        refused += 1
                    else:
                        taken += 1
        self.assertGreater(refused, INPUTS / 4)
        self.assertGreater(taken, INPUTS / 10)

    def test_a_refusal_is_one_sentence_and_short(self):
        with readers() as found:
            for i in range(1000):
                chance = random.Random(f"words {i}")
                reader = pick(found, chance)
                try:
                    reader.read(spoiled(reader.seeds, chance))
                except InputError as error:
                    said = whole_fault(error)
                    with self.subTest(reader=reader.name, i=i):
                        self.assertLess(len(said), 700, said[:200])
                        self.assertNotIn("\n", said)
                        self.assertNotIn("\x1b", said)
                except reader.also:
                    continue
