"""The plan of the instrument turned to, step by step, as plain data. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ravden.app import costs, stock
from ravden.app.next_act import ready_text
from ravden.app.session import ShopSession
from ravden.core.method.steps import WORK_KINDS, Stage, left
from ravden.core.record import Coat, StepDone
from ravden.text import plan_words, words, written
from ravden.ui.places.methods.presenter import KIND

if TYPE_CHECKING:
    from ravden.core.ahead.fit import Fit
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import PlannedStep

COUNTED = ("count", "per_session", "between_h", "hours", "rest_h", "um")
TEXTS = ("label", "how", "inspect", "wrong")


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanRow:
    """A step of the plan: its place, kind, name, amount, when, and state: done, skipped, now or ahead; within: it is
    done between the coats of the step at that place."""

    index: int
    kind: str
    label: str
    amount: str
    when: str
    state: str
    within: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanShown:
    """The plan: its steps, whether it is the instrument's own, what its coats are to the film wanted, and why it goes
    no further."""

    title: str
    rows: tuple[PlanRow, ...]
    own: bool
    fit_words: str
    fit_stage: tuple[Stage, ...]
    modules: tuple[tuple[str, str, str], ...]
    stuck: str = ""


def show(
    session: ShopSession, found: Outlook, fit: Fit | None, others: Mapping[str, Outlook] | None = None
) -> PlanShown:
    """The plan as it stands at the outlook's moment. others: of the shop, who draw on the same cans."""
    rack = session.shop.on_rack(found.project.instrument.id)
    fits = fit is not None and fit.stage != found.method.stage
    return PlanShown(
        title=f"{found.method.label}, as planned for {found.project.instrument.name}",
        rows=_rows(session, found),
        own=bool(rack.plan),
        fit_words=" ".join(
            t
            for t in (
                "" if fit is None else _fit_words(session, fit, fits),
                _shelf(session, found, others or {}),
                _cost(session, found),
            )
            if t
        ),
        fit_stage=fit.stage if fit is not None and fits and not fit.refused else (),
        modules=tuple((m.id, m.label, f"{m.why} Against it: {m.against}") for m in session.catalogue.modules.values()),
        stuck=plan_words.stuck(session.units, found),
    )


def _shelf(session: ShopSession, found: Outlook, others: Mapping[str, Outlook]) -> str:
    """What runs short on it, or will be too old by then."""
    name = found.project.instrument.id
    return " ".join(f"{line}." for line in stock.on_plan(session, {**others, name: found}, name))


def _cost(session: ShopSession, found: Outlook) -> str:
    """What it costs, where anything of it has a price."""
    return " ".join(f"{line}." for line in costs.lines(session, found))


def _fit_words(session: ShopSession, fit: Fit, differs: bool) -> str:
    odds = f"{100 * min(fit.odds, 0.99):.0f} %"
    if fit.refused:
        return (
            f"Not even {words.plural(fit.coats, 'coat')} would bear the ladder for this sheen: a duller sheen "
            "or a gentler way, or a gauge on the zones that are not known."
        )
    held = f"{words.plural(fit.coats, 'coat')} would leave the least film everywhere with odds of {odds}"
    if fit.capped:
        said = f"{held}; the finish takes no more, so the sanding must take less."
        return f"{said} {_plan_has(fit)}" if differs else said
    return f"{held}. {_plan_has(fit)}" if differs else f"The film asks for no other number: {held}."


def _plan_has(fit: Fit) -> str:
    return f"The plan has {fit.before}."


def _rows(session: ShopSession, found: Outlook) -> tuple[PlanRow, ...]:
    open_steps = dict(left(found.method, found.progress))
    planned = {s.index: s for s in found.forward.steps}
    logged = {a.step: a for a in found.project.acts if isinstance(a, StepDone)}
    rows = []
    for i, stage in enumerate(found.method.stage):
        rows.append(_row(session, found, i, open_steps, planned.get(i), logged.get(stage.label)))
        rows += [_between_row(session, found, b) for b in found.forward.between if b.index == i]
    return tuple(rows)


def _between_row(session: ShopSession, found: Outlook, step: PlannedStep) -> PlanRow:
    """Light, or a scuff that a late coat needs: the method does not name it, the film asks for it."""
    rack = session.shop.on_rack(found.project.instrument.id)
    label, amount = plan_words.between(found, step)
    when = words.moment(session.local(rack.moment(step.from_h)), session.local(session.now))
    return PlanRow(index=step.index, kind="  with it", label=label, amount=amount, when=when, state="ahead",
                   within=True)  # fmt: skip


def _row(
    session: ShopSession, found: Outlook, index: int, open_steps: dict[int, Stage], planned: PlannedStep | None,
    logged: StepDone | None,
) -> PlanRow:  # fmt: skip
    stage = found.method.stage[index]
    rack = session.shop.on_rack(found.project.instrument.id)
    now = session.local(session.now)
    if index not in open_steps:
        state = "skipped" if logged is not None and logged.skipped else "done"
        when = "" if logged is None else words.day(session.local(rack.moment(logged.at_h)), now)
        if stage.kind == "coats" and stage.zones:
            last = [c for c in found.project.acts if isinstance(c, Coat) and c.finish == stage.finish]
            when = words.day(session.local(rack.moment(last[-1].at_h)), now) if last else when
    else:
        state = "now" if index == found.progress.index else "ahead"
        stuck = found.forward.stuck
        when = "not within sight" if stuck is None or index <= stuck else "after that"
        if index == stuck and found.forward.hindered is not None:
            when = "does not dry here"
        if index == stuck and found.forward.refused is not None:
            when = "not on this film"
        if planned is not None:
            begins, ends = (session.local(rack.moment(h)) for h in (planned.from_h, planned.to_h))
            when = words.day(begins, now)
            window = next((w for w in found.forward.windows if w.label == stage.label), None)
            if stage.kind == "wait":
                until = f"until {words.day(ends, now)}"
                when = until if window is None else ready_text(session, found.project.instrument.id, window)
            elif ends.date() != begins.date():
                when += f" – {words.day(ends, now)}"
        if stage.kind == "coats" and open_steps[index].count < stage.count:
            when = f"{stage.count - open_steps[index].count} laid; {when}"
    return PlanRow(index=index, kind=KIND[stage.kind], label=stage.label, amount=_amount(session, stage), when=when,
                   state=state)  # fmt: skip


def _amount(session: ShopSession, stage: Stage) -> str:
    if stage.kind == "coats":
        return f"{words.plural(stage.count, 'coat')}, {stage.per_session} a session"
    if stage.kind in WORK_KINDS:
        return f"{written.number(stage.hours, 'g')} h" + (
            f", {words.wait(stage.rest_h)} of rest" if stage.rest_h else ""
        )
    if stage.kind == "wait":
        return plan_words.habit(stage)
    if stage.um is not None:
        return session.units.film(stage.um)
    return ""


def step_to_insert(kind: str) -> Stage:
    """A new step of a kind, to be filled in."""
    if kind == "coats":
        return Stage(kind="coats", label="Coats", count=1, per_session=3, between_h=1.5, hours=0.35)
    if kind == "wait":
        return Stage(kind="wait", label="Wait", window="level")
    return Stage(kind=kind, label=f"{KIND[kind]}: new step", hours=1.0 if kind in WORK_KINDS else 0.0)


def left_out_words(stage: Stage) -> str:
    """What leaving a step out leads to."""
    if stage.wrong:
        return f"Without it: {stage.wrong[:1].lower()}{stage.wrong[1:]}"
    return {
        "coats": "Without these coats the film is that much thinner: see the odds in the Zones panel.",
        "wait": "Without the wait the next step is dated as if the film bore it; the windows still say when it does.",
        "scuff": "Without a scuff a layering coat has no key; a dissolving one needs none.",
        "level": "Without levelling the texture stays for the rub-out to take.",
    }.get(stage.kind, "Nothing in the plan depends on it.")
