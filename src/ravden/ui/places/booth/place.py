"""The Booth among the places."""

from datetime import datetime
from typing import Any

from ravden.ui.places.booth.control import BoothControl
from ravden.ui.places.booth.view import BoothView
from ravden.ui.shell.around import Around


def build(around: Around) -> BoothControl:
    """The Booth, with its sounds and its large type as they were left."""
    view, shell = BoothView(), around.shell
    remembered = shell.remembered
    made = BoothControl(around.session, view, lambda: dict(around.outlooks()), around.pool)
    made.told.connect(shell.say)
    made.bold_asked.connect(around.looks.turn_contrast)
    made.take_up(
        sound=remembered.sound, guard=remembered.guard, left_hand=remembered.left_hand, large=remembered.contrast
    )
    made.session_turned.connect(lambda on: around.looks.full_for_booth(on))
    made.sound_turned.connect(lambda level: setattr(remembered, "sound", level))
    made.listen_to(lambda: _heard(shell.places.all.get("shop")))
    view.after.reading_asked.connect(lambda: shell.guarded(lambda: around.anywhere.ask("reading")))
    return made


def _heard(shop: Any) -> tuple[float, float, datetime, bool] | None:
    """What the Shop's hygrometer says, once the Shop is there to listen to it."""
    return None if shop is None else shop.listening.live()
