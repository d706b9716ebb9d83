"""Whatever is told of a shop's hands, stations, weather, pins and promises, its plan keeps every rule, and answers."""

import random
from datetime import timedelta

from ravden.app import shop_acts, shop_questions
from ravden.app.shop_days import calendars, days_of
from ravden.app.shop_plan import stands
from ravden.core.errors import InputError
from ravden.core.schedule.verify import verify
from ravden.journal.crew import Gun
from ravden.journal.kinds.crew import BoothRule, DayOff, DaysStruck, PersonSet, StationsSet
from ravden.journal.kinds.pin import PinSet
from ravden.journal.kinds.promise import PromiseSet
from tests.test_shop_plan import NOW, ShopTest

SHOPS, DEEDS = 5, 5
WEEKS = ({}, {"mon": ((8.0, 12.0),), "thu": ((13.0, 15.5),)}, {"sat": ((9.0, 17.0),)})


class AnyShop(ShopTest):
    def told(self, dice, found):
        """One more thing told of the shop."""

        def day():
            return (NOW + timedelta(days=dice.randint(-2, 20))).date().isoformat()

        name = dice.choice(list(self.session.shop.racked))
        ids = [step for instrument, step in (found.steps if found is not None else {}) if instrument == name]
        return dice.choice((
            (PersonSet(name=dice.choice("ABC"), week=dice.choice(WEEKS), sprays=dice.random() < 0.7), ""),
            (DayOff(first=day(), hours=dice.choice(((), ((9.0, 10.0),)))), ""),
            (StationsSet(cabinet_places=dice.randint(0, 2), drying_places=dice.choice((None, 1, 3))), ""),
            (BoothRule(company_days=7, guns={"lacquer-sprayed": Gun(setup_min=60, dampest=0.5)}), ""),
            (DaysStruck(days=tuple({day() for _ in range(3)})), ""),
            (PinSet(step=dice.choice(ids or ["4.1"]), day=day(), who=dice.choice(("", "A"))), name),
            (PromiseSet(promised=(NOW + timedelta(days=dice.randint(-3, 40))).isoformat()), name),
        ))  # fmt: skip

    def test_its_plan_keeps_every_rule(self):
        checked = 0
        for seed in range(SHOPS):
            dice, found, standing = random.Random(seed), None, {}
            with self.subTest(seed):
                for _ in range(DEEDS):
                    body, instrument = self.told(dice, found)
                    try:
                        self.session.log(body, instrument=instrument)
                        if found is not None and dice.random() < 0.3:
                            shop_acts.keep(self.session, found)
                    except InputError:
                        continue  # what cannot be is refused, and changes nothing
                    for again in range(3):
                        outlooks = self.outlooks()
                        found = self.made(outlooks, standing, pressed="" if again else "crew")
                        if found.plan is not None and not found.broken:
                            self.assertEqual(verify(found.problem, found.plan), ())
                            checked += 1
                        standing = found.steps
                        self.session.held, self.session.stays = dict(found.held), dict(found.stays)
                        if again and stands(found, outlooks):
                            break
                    for instrument in found.parts:
                        self.assertLessEqual(len(shop_questions.why(found, instrument)), 6)
                    self.assertEqual(set(calendars(days_of(found), NOW)), {d.who for d in days_of(found).doings})
            while self.session.shop.crew.hands or self.session.shop.kept is not None:
                self.session.undo("test")
        self.assertGreater(checked, SHOPS * DEEDS)
