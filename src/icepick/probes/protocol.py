"""What probes say, byte by byte: the Environmental Sensing profile of the Bluetooth SIG, and its battery level.

[published: Bluetooth SIG, GATT Specification Supplement and Environmental Sensing Service 1.0; from memory] All numbers
are little-endian. Temperature: 16 bits, signed, hundredths of °C; 0x8000 is not known. Humidity: 16 bits, hundredths of a
percent; 0xFFFF is not known. Pressure: 32 bits, tenths of a pascal; the number is unsigned, so that what a probe on a
refrigerant line says is taken for absolute: below the air's pressure a gauge's number could not be told. Battery level:
one byte, percent.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from icepick.core.properties.quantities import Kind, from_si, to_si

Measured = Literal["temperature", "pressure", "relative_humidity", "battery"]
ENVIRONMENTAL_SENSING, BATTERY_SERVICE = 0x181A, 0x180F
"""The services' numbers."""
_BASE = "-0000-1000-8000-00805f9b34fb"
"""Behind each number of the SIG's own, in its long form."""


class BytesError(ValueError):
    """What came is not what the characteristic holds; the message says what is wrong."""


@dataclass(frozen=True, slots=True)
class Characteristic:
    """One thing a probe says: its number, what it measures, how many bytes hold it, one step of it in ``unit``, the number
    that stands for not known, and between what it lies."""

    number: int
    measures: Measured
    kind: Kind
    size: int
    signed: bool
    step: float
    unit: str
    unknown: int | None
    least: float
    most: float

    @property
    def uuid(self) -> str:
        """Its long form."""
        return long_form(self.number)


CHARACTERISTICS = (
    Characteristic(0x2A6E, "temperature", Kind.TEMPERATURE, 2, True, 0.01, "degC", -0x8000, -273.15, 327.67),
    Characteristic(0x2A6D, "pressure", Kind.PRESSURE, 4, False, 1e-4, "kPa_abs", None, 0, 429_496.7295),
    Characteristic(
        0x2A6F, "relative_humidity", Kind.RELATIVE_HUMIDITY, 2, False, 0.01, "percent", 0xFFFF, 0, 100
    ),
    Characteristic(0x2A19, "battery", Kind.SHARE, 1, False, 1, "percent", None, 0, 100),
)
BY_NUMBER = {one.number: one for one in CHARACTERISTICS}
BY_MEASURED = {one.measures: one for one in CHARACTERISTICS}


def long_form(number: int) -> str:
    """The 128-bit form of a number of the SIG's own."""
    return f"{number:08x}{_BASE}"


def short_form(uuid: str) -> int | None:
    """The number of a long form, or None where it is nobody's of the SIG.

    Parameters
    ----------
    uuid : str
        128 bits as text, in either case.

    Returns
    -------
    int or None
        16 or 32 bits.
    """
    low = uuid.lower()
    if len(low) != 36 or not low.endswith(_BASE):
        return None
    try:
        return int(low[:8], 16)
    except ValueError:
        return None


def decode(characteristic: Characteristic, data: bytes) -> float | None:
    """What a probe says.

    Parameters
    ----------
    characteristic : Characteristic
        Which of its things.
    data : bytes
        Its value as it came.

    Returns
    -------
    float or None
        SI: K, Pa absolute, or a ratio; None where the probe says that it doesn't know.

    Raises
    ------
    BytesError
        Too few or too many bytes, or a number the characteristic does not allow.
    """
    if len(data) != characteristic.size:
        raise BytesError(
            f"{characteristic.measures} takes {characteristic.size} bytes, and {len(data)} came."
        )
    raw = int.from_bytes(data, "little", signed=characteristic.signed)
    if raw == characteristic.unknown:
        return None
    value = raw * characteristic.step
    if not characteristic.least <= round(value, 6) <= characteristic.most:
        raise BytesError(
            f"{characteristic.measures} lies between {characteristic.least:g} and {characteristic.most:g} "
            f"{characteristic.unit}, and {value:g} came."
        )
    return to_si(value, characteristic.unit, characteristic.kind)


def encode(characteristic: Characteristic, value: float | None) -> bytes:
    """What a probe would send: the inverse of :func:`decode`.

    Parameters
    ----------
    characteristic : Characteristic
        Which of its things.
    value : float or None
        SI; held to what the characteristic can say. None is not known.

    Returns
    -------
    bytes
        As long as the characteristic is.

    Raises
    ------
    ValueError
        It can't say that it doesn't know.
    """
    if value is None:
        if characteristic.unknown is None:
            raise ValueError(f"{characteristic.measures} has no number for not known")
        return characteristic.unknown.to_bytes(characteristic.size, "little", signed=characteristic.signed)
    number = from_si(value, characteristic.unit, characteristic.kind)
    held = min(max(number, characteristic.least), characteristic.most)
    return round(held / characteristic.step).to_bytes(
        characteristic.size, "little", signed=characteristic.signed
    )
