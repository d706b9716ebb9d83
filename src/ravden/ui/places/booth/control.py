"""Wires the Booth: every act is an entry of the journal at the moment it happens; the clock does the rest."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta

from PyQt6.QtCore import QThreadPool, QTimer, pyqtSignal

from ravden.app.mixing import ready
from ravden.app.session import ShopSession
from ravden.core.ahead.one_more import OneMore, one_more
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.journal.counting import last_to_undo
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.session import MixMade, SessionEnded, SessionPaused
from ravden.text.say import fault
from ravden.text.tables import Table
from ravden.ui.places.booth import acts, after, before, chimes, presenter, turns
from ravden.ui.places.booth.beside import LiveAir
from ravden.ui.places.booth.choosing import Choosing
from ravden.ui.places.booth.sounds import Sounds
from ravden.ui.places.booth.view import BoothView
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.place import Place

TICK_MS = 250
SAID_FOR = timedelta(seconds=8)
SMALL_CUP_ML = 50.0  # [A] mixed, where nothing says how much this session still takes
GUARD = timedelta(seconds=2)
DOUBLE = timedelta(seconds=0.4)  # two presses closer than this are one, bounced by a glove or a switch


class BoothControl(Place):
    """Shows the session on the instrument turned to. outlooks: what is known of every instrument by now."""

    told = pyqtSignal(str)
    bold_asked = pyqtSignal()
    sound_turned = pyqtSignal(str)
    session_turned = pyqtSignal(bool)  # a session is going on, or over

    def __init__(
        self, session: ShopSession, view: BoothView, outlooks: Callable[[], dict[str, Outlook]], pool: QThreadPool
    ) -> None:
        super().__init__(session, view, view)
        self._outlooks = outlooks
        self._hygrometer: Callable[[], tuple[float, float, datetime, bool] | None] = lambda: None
        self.sounds = Sounds(self)
        self._guard = DOUBLE
        self._going_on = False
        self.sounds.told.connect(self._tell)
        self._found: Outlook | None = None
        self._more: tuple[tuple[str, int], OneMore] | None = None
        self._worked: tuple[int, int, tuple[after.Worked, ...]] | None = None
        self._read = 0  # the session whose last page has been read
        self._acted: datetime | None = None
        self._said: tuple[str, datetime] | None = None
        self._heard: datetime | None = None
        self._more_job, self._after_job = LatestJob(self, pool), LatestJob(self, pool)
        self._more_job.done.connect(self._more_ready)
        self._after_job.done.connect(self._after_ready)
        self.tick = QTimer(self)
        self.tick.setInterval(TICK_MS)
        self.tick.timeout.connect(self._ticked)
        view.act_asked.connect(self._act)
        view.back_asked.connect(self._back)
        view.key_asked.connect(self._key)
        view.mishap_asked.connect(self._see_defects)
        view.mishap_logged.connect(self._mishap)
        view.instrument_picked.connect(lambda i: self.session.select(i, "booth"))
        self.choosing = Choosing(session, view, self._known, self)
        self.choosing.changed.connect(self.show)
        self.choosing.told.connect(self._tell)

    def take_up(self, *, sound: str, guard: bool, left_hand: bool, large: bool) -> None:
        """What was chosen for the Booth."""
        self.sounds.level, self._guard = sound, GUARD if guard else DOUBLE
        self.view.run.large = large
        self.view.run.lay_for(left_hand=left_hand)

    @property
    def busy(self) -> bool:
        return self._more_job.busy or self._after_job.busy

    def stop(self) -> None:
        super().stop()
        self.tick.stop()

    def listen_to(self, hygrometer: Callable[[], tuple[float, float, datetime, bool] | None]) -> None:
        """Take the air from a sensor: C, humidity, when it was heard, whether it is still there."""
        self._hygrometer = hygrometer

    def live_air(self) -> LiveAir | None:
        """What the sensor says; None where there is none."""
        heard = self._hygrometer()
        return None if heard is None else LiveAir(temp_C=heard[0], rh=heard[1], at=heard[2], connected=heard[3])

    def turned_to(self) -> None:
        """The place is turned to, maybe from another instrument: hands are on one of the session."""
        names = turns.in_rotation(self.session)
        if names and self.session.selected not in names:
            self.resume()

    def resume(self) -> bool:
        """Turn to the instrument hands were on, or were to turn to, when the session was cut off; False: none of its
        instruments is on the rack any more."""
        names = turns.in_rotation(self.session)
        going_on = turns.going_on(self.session)
        begun = going_on.entry if going_on is not None else 0
        acted = [e for e in self.session.entries if e.instrument in names and e.id > begun]
        if acted:
            self.session.select(acted[-1].instrument, "booth")
            if acted[-1].corrects is None and not isinstance(acted[-1].body, MishapLogged):
                self.session.select(turns.next_in_rotation(self.session, self._known()), "booth")
        elif names:
            self.session.select(names[0], "booth")
        return bool(names)

    def take(self, found: Outlook) -> None:
        """The outlook of the instrument turned to."""
        self._found = found
        self.show()

    def _ticked(self) -> None:
        now = self.session.now
        if self._heard is not None:
            for sound in chimes.between(self.session, self._known(), self._heard, now):
                self.sounds.play(sound)
        self._heard = now
        self.show()

    def show(self) -> None:
        """Draw the place, if it is the one looked at. The clock runs then, and as long as a session is going on."""
        known = self.session.rack is not None
        looked_at = not self.view.isHidden() and known
        going_on = known and turns.going_on(self.session) is not None
        running = looked_at or going_on
        if looked_at and going_on != self._going_on:
            self._going_on = going_on
            self.session_turned.emit(going_on)
        if running != self.tick.isActive():
            self._heard = self.session.now if running else None
            (self.tick.start if running else self.tick.stop)()
        if not looked_at:
            return
        page = self._page()
        self.view.turn_to(page)
        if page == "before":
            self.choosing.show(self.live_air())
        elif page == "run":
            self._show_run()
        else:
            self._show_after()

    def _page(self) -> str:
        """The page the journal is on: a session going on, one just ended, or none."""
        if turns.in_rotation(self.session):
            return "run"
        over = self.session.shop.session
        recent = over is not None and over.ended is not None and self.session.now - over.ended < turns.RECENT
        return "after" if recent and over is not None and over.entry != self._read else "before"

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.booth.tables import tables

        running = self.session.rack is not None and self._page() == "run"
        shown = presenter.show(self.session, self._known(), self._mine(), self.live_air()) if running else None
        return tables(shown, self.session.units)

    def _show_run(self) -> None:
        zones = self.session.shop.on_rack(self.session.selected).project.zones
        kinds, paper = self.session.catalogue.repairs.kinds, self._at_paper()
        first = tuple(k.id for k in kinds.values() if (k.met == "gun") != paper)
        self.view.defects.offer(self.session.catalogue.defects, tuple((z.name, z.label) for z in zones), first)
        shown = presenter.show(self.session, self._known(), self._mine(), self.live_air(), self._more_now())
        if self._said is not None and timedelta(0) <= self.session.now - self._said[1] < SAID_FOR:
            shown = replace(shown, told=(self._said[0], "warn"))
        self.view.run.show_run(shown)
        self.view.run.small["sound"].setText(f"V: sound {self.sounds.level}")

    def _at_paper(self) -> bool:
        """Whether hands have paper on it now, and not a coat."""
        found = self._mine()
        return turns.to_sand(turns.turn_of(self.session, self.session.selected, found), found)

    def _see_defects(self) -> None:
        """What can go wrong, as it looks over this instrument's wood."""
        from ravden.app import seen

        base = seen.colour_of(self.session.catalogue, self.session.shop.on_rack(self.session.selected).project)
        self.view.defects.see(seen.looks_of(self.session.catalogue, self.session.catalogue.defects, base))

    def _known(self) -> dict[str, Outlook]:
        """Every outlook at hand, the one turned to among them."""
        mine = self._mine()
        return self._outlooks() if mine is None else {**self._outlooks(), self.session.selected: mine}

    def _mine(self) -> Outlook | None:
        found = self._found
        return found if found is not None and found.project.instrument.id == self.session.selected else None

    def _more_now(self) -> OneMore | None:
        """What one more coat would cost, asked for once it is the question."""
        mine = self._mine()
        if mine is None or turns.turn_of(self.session, self.session.selected, mine).kind != "stop":
            return None
        key = (self.session.selected, len(self.session.entries))
        if self._more is not None and self._more[0] == key:
            return self._more[1]
        if not self._more_job.busy:
            self._more_job.submit(lambda: (key, one_more(mine, mine.project.material.coat_dry_um)))
        return None

    def _more_ready(self, outcome: Outcome) -> None:
        self._came(outcome, "_more")

    def _came(self, outcome: Outcome, kept_as: str) -> None:
        """Work off the GUI thread is done: keep and show what came of it, unless the window was closed meanwhile."""
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        else:
            setattr(self, kept_as, outcome.value)
            self.show()
        self.settled.emit()

    def _show_after(self) -> None:
        over = self.session.shop.session
        assert over is not None
        key = (over.entry, len(self.session.entries))
        if self._worked is not None and self._worked[:2] == key:
            self.view.after.show_after(after.show(self.session, over, self._worked[2]))
            return
        self.view.after.show_after(after.show(self.session, over, ()))
        if not self._after_job.busy:
            run = after.work(self.session, over)
            self._after_job.submit(lambda: (*key, run()))

    def _after_ready(self, outcome: Outcome) -> None:
        self._came(outcome, "_worked")

    def _tell(self, sentence: str) -> None:
        """A sentence at the foot: of the run, in its own large type; elsewhere, in the window's."""
        if self.view.page == "run" and not self.view.isHidden():
            self._said = (f"{sentence[:1].upper()}{sentence[1:].rstrip('.')}.", self.session.now)
            self.show()
        else:
            self.told.emit(sentence)

    def _try(self, act: Callable[[], object]) -> None:
        self._said = None
        try:
            act()
        except InputError as error:
            self._tell(fault(error, self.session.units))
        self.show()

    def _act(self) -> None:
        """The large key: begin, log and move on, or leave the last page."""
        page = self.view.page
        now = self.session.now
        if page == "run" and self._acted is not None and timedelta(0) <= now - self._acted < self._guard:
            self._tell("two presses at once: one is logged. Press again if two were meant")
            return
        self._try({"before": self.choosing.begin, "run": self._log, "after": self._leave}[page])

    def _log(self) -> None:
        session = self.session
        rack = session.shop.racked.get(session.selected)
        if rack is None:
            raise InputError("", "this instrument is no longer on the rack")
        if session.selected not in turns.in_rotation(session):
            raise InputError(
                "", f"{rack.instrument.name} is not in this session: turn to one that is with an arrow key"
            )
        open_session = turns.going_on(session)
        if open_session is not None and open_session.paused is not None:
            session.log(SessionPaused(on=False), origin="booth")
        body = acts.act(session, self._mine())
        session.log(body, instrument=session.selected, at=acts.moment_of(session, session.selected), origin="booth")
        self._acted = session.now
        session.select(turns.next_in_rotation(session, self._known()), "booth")

    def _leave(self) -> None:
        over = self.session.shop.session
        self._read = over.entry if over is not None else 0

    def _back(self) -> None:
        """Take back the newest entry, where it is one of the Booth's, and turn to the instrument it was about."""

        def back() -> None:
            last = acts.own_last(self.session, last_to_undo(self.session.entries))
            self.session.undo("booth")
            self._acted = None
            if last.instrument:
                self.session.select(last.instrument, "booth")

        self._try(back)

    def _key(self, key: str) -> None:
        if key == "bold":
            self.bold_asked.emit()
        elif key == "sound":
            self.sound_turned.emit(self.sounds.turn())
            self.sounds.play("ready")
            self.show()
        else:
            self._try({"pause": self._pause, "mix": self._mix, "end": self._end}[key])

    def _pause(self) -> None:
        open_session = turns.going_on(self.session)
        self.session.log(SessionPaused(on=open_session is None or open_session.paused is None), origin="booth")

    def _end(self) -> None:
        self.session.log(SessionEnded(), origin="booth")

    def _mix(self) -> None:
        material = presenter.pot_material(self.session)
        if not material:
            raise InputError("", "nothing of this session has a pot life")
        names = turns.in_rotation(self.session)
        rows = [(n, turns.turn_of(self.session, n, self._known().get(n))) for n in names]
        needs = [mix.total_ml for (name, _), mix in before.mix_for(self.session, rows).items() if name == material]
        made = ready(self.session.catalogue.material(material), sum(needs) or SMALL_CUP_ML)
        parts = {p.what: p.amount for p in made.parts}
        body = MixMade(material=material, ml=made.ml, supplied_ml=parts["base"], thinner_ml=parts.get("thinner", 0.0))
        self.session.log(body, origin="booth")

    def _mishap(self, what: str, zone: str) -> None:
        def log() -> None:
            session = self.session
            at = acts.moment_of(session, session.selected)
            body = acts.mishap(session, self._mine(), what, zone)
            session.log(body, instrument=session.selected, at=at, origin="booth")

        self._try(log)
