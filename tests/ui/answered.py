"""Remembers, through one run of tests, what was worked out: each window opened on the same shop at the same moment asks
the same again, and the answer depends on nothing but what is asked. What is asked anew is worked out anew."""

from collections import OrderedDict
from dataclasses import dataclass
from typing import Any
from unittest import mock

from ravden.app import shop_days, shop_plan
from ravden.app.session import ShopSession

KEPT = 200
_asked = ShopSession.request
_asked_days = shop_days.asked
_redated = shop_plan.redated
_known: OrderedDict[Any, Any] = OrderedDict()
_planned: OrderedDict[Any, Any] = OrderedDict()


@dataclass
class Answered:
    """A request that is run once for everything that is known to it."""

    key: Any
    request: Any

    def run(self):
        if self.key not in _known:
            _known[self.key] = self.request.run()
            if len(_known) > KEPT:
                _known.popitem(last=False)
        _known.move_to_end(self.key)
        return _known[self.key]

    def __getattr__(self, name):
        return getattr(self.request, name)


def _request(session, instrument_id, *, zone="", advise=False):
    request = _asked(session, instrument_id, zone=zone, advise=advise)
    return Answered(repr(_whole(request)), request)


def _whole(request):
    """All that a request has, but for what is only remembered and for the tables, which are the shipped ones."""
    teaching = request.teaching
    earlier = [_rack(e[0]) if isinstance(e, tuple) else e for e in request.earlier]
    taught = [_rack(r) for r in teaching.teachers], teaching.told, teaching.rules, teaching.drawer
    but = ("rack", "earlier", "teaching", "memory", "local")
    rest = [getattr(request, name) for name in request.__struct_fields__ if name not in but]
    return _rack(request.rack), earlier, taught, rest


def _rack(rack):
    return [getattr(rack, name) for name in rack.__struct_fields__ if name != "catalogue"] + [rack.method]


def once_each():
    """A patch under which a session remembers its answers."""
    return mock.patch.object(ShopSession, "request", _request)


def _days(session, outlooks, standing=None, pressed="", touched=frozenset()):
    work = _asked_days(session, outlooks, standing, pressed=pressed, touched=touched)
    told = repr((session.shop.hours, session.shop.crew, session.shop.kept, session.shop.session, standing))
    key = (session.now, told, pressed, touched, tuple((i, id(found)) for i, found in outlooks.items()))

    return lambda: _once(key, work, tuple(outlooks.values()))


def _dated(known, held, advised):
    work = _redated(known, held, advised)
    told = repr([(i, sorted(held.get(i, {}).items())) for i in known])
    key = (told, advised, tuple((i, id(found)) for i, found in known.items()))
    return lambda: _once(key, work, tuple(known.values()))


def _once(key, work, made_of):
    if key not in _planned:
        _planned[key] = work(), made_of  # which is kept, so that no other has its place
        if len(_planned) > KEPT:
            _planned.popitem(last=False)
    return _planned[key][0]


def days_once():
    """A patch under which the days of a shop are planned once."""
    return mock.patch.object(shop_days, "asked", _days)


def dated_once():
    """A patch under which outlooks are dated by a plan once."""
    return mock.patch.object(shop_plan, "redated", _dated)


def forget():
    """Have everything worked out anew, as for a test that lets the work fail."""
    _known.clear()
    _planned.clear()
