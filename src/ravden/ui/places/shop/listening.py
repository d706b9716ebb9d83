"""Listens to the shop's sensors: shows them live, and logs the air when it has changed or has long been the same."""

from __future__ import annotations

from datetime import datetime, timedelta

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app.changes import Changes
from ravden.app.session import ShopSession
from ravden.core.climate.gather import Gathering
from ravden.core.errors import InputError
from ravden.devices.protocol import AirReading, MassReading
from ravden.devices.server import socket_path
from ravden.journal.kinds.air import SENSOR, AirSeries
from ravden.journal.kinds.reading import ReadingLogged
from ravden.text import written
from ravden.text.say import whole_fault
from ravden.ui.places.shop.sensor import Sensor
from ravden.ui.places.shop.view import ShopView

CLOCKS_AGREE = timedelta(minutes=10)
CARD_CM2 = 100.0


class Listening(QObject):
    """One hygrometer and one scale."""

    failed = pyqtSignal(str)

    def __init__(self, session: ShopSession, view: ShopView) -> None:
        super().__init__(view)
        self._session, self._view = session, view
        self._gathered = Gathering()
        self._grams: float | None = None
        self._heard: tuple[AirReading, datetime] | None = None
        self.sensors = {kind: Sensor(str(socket_path(kind)), self) for kind in ("hygrometer", "scale")}
        for kind, sensor in self.sensors.items():
            sensor.told.connect(lambda text, k=kind: view.tell_sensor(k, text))
        self.sensors["hygrometer"].reading.connect(self._air)
        self.sensors["scale"].reading.connect(self._mass)
        view.sensor_turned.connect(self._turn)
        view.weight_taken.connect(self._weigh)
        session.listen(self._changed)

    def live(self) -> tuple[float, float, datetime, bool] | None:
        """What the hygrometer said last: C, humidity, when it was heard, whether it is still there; None: nothing since
        it was turned on."""
        if self._heard is None:
            return None
        line, at = self._heard
        return line.temp_C, line.rh, at, self.sensors["hygrometer"].connected

    def _changed(self, changes: Changes) -> None:
        if changes.file:
            self._gathered = Gathering()  # what was kept is in the file that was open

    @property
    def grams(self) -> float | None:
        """What lies on the scale now; None: it is not there, or has said nothing yet."""
        return self._grams if self.sensors["scale"].connected else None

    def stop(self) -> None:
        """Let go of every sensor."""
        for sensor in self.sensors.values():
            sensor.stop()

    def _turn(self, kind: str, on: bool) -> None:
        sensor = self.sensors[kind]
        if on:
            sensor.start()
        else:
            sensor.stop()
            self._heard = None if kind == "hygrometer" else self._heard
            self._view.show_value(kind, "–")

    def _air(self, line: object) -> None:
        if not isinstance(line, AirReading):
            return
        now, units = self._session.now, self._session.units
        self._heard = (line, now)
        self._view.show_value("hygrometer", f"{units.temperature(line.temp_C)}, {100 * line.rh:.0f} %")
        if self._session.journal is None or self._session.journal.read_only:
            return
        # A sensor whose clock stands wrong still says what the air is now.
        kept = self._gathered.heard(line.at if abs(line.at - now) < CLOCKS_AGREE else now, line.temp_C, line.rh)
        if kept is None:
            return
        at, temp_C, rh = kept
        body = AirSeries(source="log", hours=(0.0,), temp_C=(temp_C,), rh=(rh,), name=SENSOR)
        try:
            self._session.log(body, at=min(at, now), origin="sensor")
        except InputError as error:
            self.failed.emit(whole_fault(error, self._session.units))

    def _mass(self, line: object) -> None:
        if isinstance(line, MassReading):
            self._grams = line.grams
            self._view.show_value("scale", f"{written.number(line.grams, '.3f')} g")

    def _weigh(self) -> None:
        """What lies on the scale, as the chosen instrument's witness card."""
        rack = self._session.rack
        try:
            if rack is None or self._grams is None:
                raise InputError("", "choose an instrument on the Rack, and let the scale speak, first")
            if self._grams <= 0:
                raise InputError(
                    "", "a card gains weight as it is coated: set the scale to nought with the bare card on it"
                )
            density = self._session.catalogue.material(rack.instrument.material).dry_density_g_ml
            um = self._grams / density / CARD_CM2 * 1e4
            body = ReadingLogged(what="card", um=um, how=f"{self._grams:.3f} g")
            self._session.log(body, instrument=self._session.selected, origin="scale")
        except InputError as error:
            self.failed.emit(whole_fault(error, self._session.units))
