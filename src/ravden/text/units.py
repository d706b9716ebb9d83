"""Inside: um, h, C, cm2, ml. Shown: metric or US, as the user chose. About ten conversions, so no units package."""

from msgspec import Struct

from ravden.text import written

UM_PER_MIL = 25.4  # [S] one mil is a thousandth of an inch
CM2_PER_IN2 = 6.4516  # [S]
MM_PER_IN = 25.4  # [S]


class Units(Struct, frozen=True, kw_only=True):
    """How quantities are written for the user: ``system`` is ``metric`` or ``us``."""

    system: str = "metric"

    @property
    def us(self) -> bool:
        return self.system == "us"

    @property
    def film_unit(self) -> str:
        return "mil" if self.us else "µm"

    def film_value(self, um: float) -> float:
        """Film in the shown unit."""
        return um / UM_PER_MIL if self.us else um

    def film_to_um(self, shown: float) -> float:
        """What a user typed, in um."""
        return shown * UM_PER_MIL if self.us else shown

    def film_number(self, um: float) -> str:
        """The number alone, with the digits the unit deserves: 92, or 3.6.

        >>> Units().film_number(91.7), Units(system="us").film_number(91.7)
        ('92', '3.6')
        """
        if self.us:
            value = um / UM_PER_MIL
            if abs(value) < 0.005:
                return "0"
            return written.number(value, ".2f" if abs(value) < 0.5 else ".1f")
        return written.signed(f"{um:.1f}".removesuffix(".0")) if 0.05 <= abs(um) < 9.95 else f"{um:.0f}"

    def film(self, um: float) -> str:
        """Film with its unit, e.g. ``92 µm``."""
        return f"{self.film_number(um)} {self.film_unit}"

    def film_range(self, low_um: float, high_um: float) -> str:
        """An interval with its unit, e.g. ``81–104 µm``."""
        low, high = self.film_number(max(low_um, 0.0)), self.film_number(high_um)
        return f"{low if low == high else f'{low}–{high}'} {self.film_unit}"

    def temperature(self, temp_C: float) -> str:
        return f"{temp_C * 1.8 + 32:.0f} °F" if self.us else f"{temp_C:.0f} °C"

    @property
    def temperature_unit(self) -> str:
        return "°F" if self.us else "°C"

    def temperature_value(self, temp_C: float) -> float:
        return temp_C * 1.8 + 32 if self.us else temp_C

    def temperature_to_C(self, shown: float) -> float:
        return (shown - 32) / 1.8 if self.us else shown

    @property
    def length_unit(self) -> str:
        return "in" if self.us else "mm"

    def length_value(self, mm: float) -> float:
        return mm / MM_PER_IN if self.us else mm

    def length_to_mm(self, shown: float) -> float:
        return shown * MM_PER_IN if self.us else shown

    @property
    def area_unit(self) -> str:
        return "in²" if self.us else "cm²"

    def area_value(self, cm2: float) -> float:
        return cm2 / CM2_PER_IN2 if self.us else cm2

    def area_large(self, cm2: float) -> str:
        """An area of a whole instrument: 0.62 m², or 6.7 ft²."""
        return (
            f"{written.number(cm2 / CM2_PER_IN2 / 144, '.1f')} ft²"
            if self.us
            else f"{written.number(cm2 / 1e4, '.2f')} m²"
        )

    def area(self, cm2: float) -> str:
        return f"{cm2 / CM2_PER_IN2:.0f} in²" if self.us else f"{cm2:.0f} cm²"
