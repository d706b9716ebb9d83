"""Gloss comes back: the film polished rung by rung, or with one left out."""

from __future__ import annotations

from collections.abc import Callable

from ravden.app import gloss_back
from ravden.app.session import ShopSession
from ravden.text.say import grade_name
from ravden.ui.places.rubout.trainer.gloss_view import GlossView

Colour = tuple[float, float, float]


class Gloss:
    """How far the film has come. done: it was followed to its end, and the next exercise is asked for."""

    def __init__(
        self, session: ShopSession, view: GlossView, base: Callable[[], Colour], done: Callable[[], None]
    ) -> None:
        """base: the colour of what is polished."""
        self._session, self._view, self._base, self._done = session, view, base, done
        self._rungs: tuple[int, ...] = (0,)

    def begin(self) -> None:
        """From the first rung."""
        self._rungs = (0,)
        self._show()

    def act(self, name: str) -> None:
        """The next rung, one left out, or all over again."""
        last = len(gloss_back.RUNGS) - 1
        if name == "over":
            self._rungs = (0,)
        elif self._rungs[-1] == last:
            if name == "next":
                self._done()
            return
        else:
            self._rungs = (*self._rungs, min(self._rungs[-1] + (2 if name == "skip" else 1), last))
        self._show()

    def _show(self) -> None:
        catalogue, base, units = self._session.catalogue, self._base(), self._session.units
        shown = gloss_back.shown(catalogue, self._rungs, base)
        names = [grade_name(r.abrasive.name) for r in gloss_back.rungs(catalogue)]
        way: list[tuple[str, gloss_back.Shown | None]] = []
        for i, name in enumerate(names[: self._rungs[-1] + 1]):
            so_far = self._rungs[: self._rungs.index(i) + 1] if i in self._rungs else None
            way.append((name, None if so_far is None else gloss_back.shown(catalogue, so_far, base)))
        words = shown.words[:1].upper() + shown.words[1:]
        if shown.left_um:
            words += f" Scratches from before are still in it ({units.film(shown.left_um)} deep): one was left out."
        elif shown.last:
            words += " That is the whole way back: nothing was lost when it went dull."
        self._view.show_rung(shown, way, words)
