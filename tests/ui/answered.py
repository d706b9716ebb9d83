"""Remembers, through one run of tests, what was worked out: each window opened on the same shop at the same moment asks
the same again, and the answer depends on nothing but what is asked. What is asked anew is worked out anew."""

from collections import OrderedDict
from dataclasses import dataclass
from typing import Any
from unittest import mock

from ravden.app import shop_days
from ravden.app.session import ShopSession

KEPT = 200
_asked = ShopSession.request
_asked_days = shop_days.asked
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
    told = tuple((e.id, e.at, e.instrument, e.corrects, e.body) for e in session.entries)
    return Answered((repr((told, session.tools)), session.now, instrument_id, zone, advise), request)


def once_each():
    """A patch under which a session remembers its answers."""
    return mock.patch.object(ShopSession, "request", _request)


def _days(session, outlooks):
    work = _asked_days(session, outlooks)
    key = (session.now, session.shop.hours, tuple((i, id(found)) for i, found in outlooks.items()))

    def once():
        if key not in _planned:
            _planned[key] = work(), tuple(outlooks.values())  # which are kept, so that no other has their place
            if len(_planned) > KEPT:
                _planned.popitem(last=False)
        return _planned[key][0]

    return once


def days_once():
    """A patch under which the days of a shop are planned once."""
    return mock.patch.object(shop_days, "asked", _days)


def forget():
    """Have everything worked out anew, as for a test that lets the work fail."""
    _known.clear()
    _planned.clear()
