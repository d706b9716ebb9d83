"""Everything an open shop shows, as text by place: what one shop shows another that was told the same must show too."""

from ravden.app import stock
from ravden.app.learnt_here import figures
from ravden.app.shop_plan import planned, snapshot
from ravden.app.was_right import asked
from ravden.core.errors import InputError
from ravden.journal.counting import last_to_redo, last_to_undo

PARTS = (
    "name",
    "rates",
    "lamp_mW_cm2",
    "crew",
    "kept",
    "learning",
    "drawer",
    "per_hour",
    "prices",
    "stock",
    "session",
    "hours",
)
OF_RACK = ("zero", "added", "instrument", "masked", "finishes", "cabinets", "rate_ln", "plan", "lamp_mW_cm2", "away",
           "pins", "weight", "firm", "mending", "old_can_ln", "acts")  # fmt: skip


def shown(session, *, whole=True):
    """By place, what is shown there. whole: with what takes long, the plans and what was foretold."""
    shop = session.shop
    out = {f"shop {part}": repr(getattr(shop, part)) for part in PARTS}
    out["own methods"] = repr(
        {i: m.stage for i, m in shop.catalogue.methods.items() if i not in session.shipped.methods}
    )
    out["rack"] = repr(tuple(shop.racked))
    out["book"] = repr(
        [(b.id, b.name, b.method, b.added, b.handed, b.person, b.note, b.checks) for b in shop.book.values()]
    )
    out["people"] = repr(sorted(session.people.items()))
    out["aside"] = repr(sorted(session.aside.items()))
    for name, rack in shop.racked.items():
        out |= {f"{name} {of}": repr(getattr(rack, of)) for of in OF_RACK}
        project = rack.project_at(session.now)
        out[f"{name} air"] = repr((project.air, project.air_gaps))
        mine = [e for e in session.entries if e.instrument == name]
        out[f"{name} log"] = "\n".join(f"{e.id} {e.corrects} {session.describe(e)}" for e in mine)
    out |= _next(session)
    out["forecast"] = repr(shop.air.forecast)
    if not whole:
        return out
    learnt = session.kept.teaching().beliefs()
    out["figures"] = "\n".join(repr(f) for f in figures(session, learnt, session.kept.applicators().run()))
    outlooks = {name: _outlook(session, name) for name in shop.racked}
    for name, found in outlooks.items():
        out |= {f"{name} {of}": told for of, told in _told(found).items()}
    known = {n: f for n, f in outlooks.items() if not isinstance(f, InputError)}
    out["stock"] = _tried(lambda: _stock(stock.shelved(session, stock.wanted(session, known))))
    out["plan"] = _tried(lambda: sorted(planned(snapshot(shop, session.now, known, {})).steps.items()))
    for name in (*shop.book, *shop.racked):
        out[f"{name} right"] = _tried(lambda name=name: asked(session, name).run())
    return out


def _next(session):
    undo, redo = last_to_undo(session.entries), last_to_redo(session.entries)
    return {"undo": repr(undo and undo.id), "redo": repr(redo and redo.id)}


def _stock(found):
    """What is shown of the shelf: what each can had drawn by the way is not."""
    return found.products, found.missing, found.brings


def _outlook(session, name):
    try:
        return session.request(name, advise=True).run()
    except InputError as error:
        return error


def _told(found):
    if isinstance(found, InputError):
        return {"outlook": str(found)}
    ahead, ladder = found.forward, found.rub_out.ladder
    return {
        "films": repr(found.ledger.films()),
        "steps": repr([(s.index, s.from_h, s.to_h) for s in ahead.steps]),
        "windows": repr(ahead.windows), "ready": repr((ahead.ready_h, ahead.finished_h, ahead.stuck, ahead.refused)),
        "progress": repr(found.progress),
        "ladder": repr(None if ladder is None else [s.rung.abrasive.id for s in ladder.steps]),
        "counsel": repr(found.counsel),
    }  # fmt: skip


def _tried(work):
    try:
        return repr(work())
    except InputError as error:
        return f"refused: {error}"


def differences(one, other):
    """Places that do not show the same, with both."""
    places = sorted({*one, *other})
    return {p: (one.get(p, "-"), other.get(p, "-")) for p in places if one.get(p) != other.get(p)}
