"""How data sheets state a value, read as SI: one typed text a value, with the unit it stands in.

A number, a word of a closed list, nothing else reaches the conversion. Factors are exact or of the unit's definition;
permeances become sd by the permeability of still air (core.physics.moist_air) at the temperature of the test.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from core.errors import OutOfRange
from core.physics.constants import STANDARD_PRESSURE, ZERO_CELSIUS
from core.physics.moist_air import air_permeability_terms, saturation_pressure
from core.quantities import parse_length

Property = Literal[
    "thickness", "conductivity", "density", "specific_heat", "vapour", "water_80", "free_water", "uptake", "emissivity"
]
LONGEST = 60
TEST_TEMPERATURE_C = 23.0  # ISO 12572
_NUMBER = r"([+-]?\d{1,9}(?:[.,]\d{1,9})?(?:[eE][+-]?\d{1,2})?)"
_LEADING = re.compile(rf"^{_NUMBER}\s*(.*)$")
US_PERM = 5.72135e-11  # kg/(Pa s m²), of the grain by definition
PERM_INCH = US_PERM * 0.0254
BTU_IN = 0.1442279  # Btu in/(h ft² °F) in W/(m K)
R_US = 0.1761102  # h ft² °F/Btu in m² K/W
R_US_INCH = R_US / 0.0254
POUND_FT3 = 16.01846
BTU_LB = 4186.8


@dataclass(frozen=True)
class Read:
    """One value in SI. of: what it is of (λ of the material or R of the product; μ, or sd of the product; a share of the dry
    mass); second: wet cup, where two stood there; words: how it was understood."""

    value: float
    of: Literal["material", "product", "dry mass"]
    words: str
    second: float | None = None


def read_stated(what: Property, text: str) -> Read:
    """A typed value of a property. Raises OutOfRange with what may be typed."""
    shown = text.strip()
    if len(shown) > LONGEST:
        raise OutOfRange(f"{what.replace('_', ' ')}: “{shown[:20]}…” is too long for a value")
    return _READERS[what](" ".join(shown.split()))


def _still_air(kelvin: float) -> float:
    """δ of still air [kg/(m s Pa)], by the formula a run takes for μ, so that a permeance comes out of it as it was stated."""
    factor, power = air_permeability_terms("kuenzel1994", STANDARD_PRESSURE)
    return factor * kelvin**power


def _number(text: str) -> float:
    value = float(text.replace(",", "."))
    if not math.isfinite(value):
        raise OutOfRange(f"“{text}” is no number")
    return value


def _split(text: str) -> tuple[float, str]:
    """The number a text begins with, and the unit after it, lower case and without blanks, dots and signs of powers."""
    match = _LEADING.match(text)
    if match is None:
        raise OutOfRange(f"“{text}” does not begin with a number")
    return _number(match.group(1)), _plain(match.group(2))


def _plain(unit: str) -> str:
    swap = {"²": "2", "³": "3", "·": "", " ": "", "(": "", ")": "", "°": "", "√": "sqrt", "½": "0.5", "^": "", "μ": "µ"}
    return "".join(swap.get(sign, sign) for sign in unit.lower())


def _times(factors: dict[str, float], usual: str, what: str) -> Callable[[str], Read]:
    """A reader of numbers with one of these units; usual: the unit of a bare number."""
    known = {_plain(unit): (unit, factor) for unit, factor in factors.items()}

    def read(text: str) -> Read:
        value, unit = _split(text)
        if unit and unit not in known:
            raise OutOfRange(f"{what}: “{unit}” is not a unit of it; use {', '.join(factors)}")
        name, factor = known[unit or _plain(usual)]
        return Read(value * factor, "material", f"{value:g} {name}")

    return read


def _conductivity(text: str) -> Read:
    """λ, k in inches, R per inch, or R of the product: “0.038”, “0.26 Btu in”, “R3.7/in”, “R13”, “2.2 m²K/W”."""
    plain = _plain(text)
    match = re.match(rf"^(?:r|rsi)\s*-?{_NUMBER}(/in|perin|perinch|/inch)?(m2k/w)?$", plain)
    if match is not None:
        value = _number(match.group(1))
        _above_nothing(value, "R")
        if match.group(2):
            return Read(1.0 / (value * R_US_INCH), "material", f"R {value:g} an inch")
        if match.group(3) or plain.startswith("rsi"):
            return Read(value, "product", f"R {value:g} m²K/W of the thickness as sold")
        return Read(value * R_US, "product", f"R {value:g} h·ft²·°F/Btu of the thickness as sold")
    if plain.startswith(("λ", "k")):
        text = text.strip()[1:].lstrip(" =:")
    value, unit = _split(text)
    _above_nothing(value, "conductivity")
    if unit in ("", "w/mk", "wm-1k-1"):
        return Read(value, "material", f"λ {value:g} W/(m K)")
    if unit in ("mw/mk",):
        return Read(value / 1000.0, "material", f"λ {value:g} mW/(m K)")
    if unit in ("btuin/hft2f", "btuin", "btu-in/hft2f", "btu/hft2f/in"):
        return Read(value * BTU_IN, "material", f"k {value:g} Btu in/(h ft² °F)")
    if unit in ("btu/hftf",):
        return Read(value * BTU_IN * 12.0, "material", f"k {value:g} Btu/(h ft °F)")
    if unit in ("m2k/w",):
        return Read(value, "product", f"R {value:g} m²K/W of the thickness as sold")
    if unit in ("hft2f/btu",):
        return Read(value * R_US, "product", f"R {value:g} h·ft²·°F/Btu of the thickness as sold")
    raise OutOfRange(f"conductivity: “{unit}” is not a unit of it; use W/mK, Btu in, R13, R3.7/in or m²K/W")


def _above_nothing(value: float, what: str) -> None:
    if value <= 0.0:
        raise OutOfRange(f"{what} {value:g} must be above 0")


_RATE = re.compile(rf"^(?:wvtr)?{_NUMBER}g/m2/?(d|day|24h)(?:at)?{_NUMBER}(c|f),?{_NUMBER}%?/{_NUMBER}%?(?:rh)?$")


def _vapour(text: str) -> Read:
    """μ (dry, or dry/wet cup), sd, a permeance or resistance of the product, a permeability, or a transmission rate with its test."""
    plain = _plain(text)
    match = re.match(rf"^(?:µ|mu|my)?[=:]?{_NUMBER}(?:/{_NUMBER})?$", plain)
    if match is not None:
        dry, wet = _number(match.group(1)), match.group(2)
        second = _number(wet) if wet else None
        if dry < 1.0 or (second is not None and not 1.0 <= second <= dry):
            raise OutOfRange(f"μ {text}: at least 1, and the wet cup not above the dry one")
        return Read(dry, "material", f"μ {dry:g}" + (f", wet cup {second:g}" if second else ""), second)
    rate = _RATE.match(plain)
    if rate is not None:
        return _transmission(*rate.groups())
    for prefix in ("sd", "z", "permeance"):
        plain = plain.removeprefix(prefix).lstrip("=:")
    match = _LEADING.match(plain)
    if match is None:
        raise OutOfRange(
            f"vapour: “{text}” is not understood; type μ 5, sd 2 m, 1 perm, 15 MNs/g or 20 g/m²d at 23 °C, 85/0 %"
        )
    value, unit = _number(match.group(1)), match.group(2)
    _above_nothing(value, "vapour resistance or permeance")
    air = _still_air(TEST_TEMPERATURE_C + ZERO_CELSIUS)
    unit = unit.removesuffix("drycup").removesuffix("wetcup").removesuffix("dry").removesuffix("wet")
    sds: dict[str, Callable[[float], float]] = {
        "m": lambda x: x,
        "mm": lambda x: x / 1000.0,
        "cm": lambda x: x / 100.0,
        "ft": lambda x: x * 0.3048,
        "perm": lambda x: air / (x * US_PERM),
        "perms": lambda x: air / (x * US_PERM),
        "usperm": lambda x: air / (x * US_PERM),
        "metricperm": lambda x: air / (x * US_PERM / 0.659045),
        "ng": lambda x: air / (x * 1e-12),
        "ng/pasm2": lambda x: air / (x * 1e-12),
        "ng/sm2pa": lambda x: air / (x * 1e-12),
        "mns/g": lambda x: air * x * 1e9,
        "gns/kg": lambda x: air * x * 1e9,
    }
    if unit in sds:
        return Read(sds[unit](value), "product", f"{text}: sd {sds[unit](value):.3g} m")
    permeability = {"permin": PERM_INCH, "perminch": PERM_INCH, "perm-in": PERM_INCH, "ng/pasm": 1e-12, "kg/pasm": 1.0}
    if unit in permeability:
        mu = air / (value * permeability[unit])
        if mu < 1.0:
            raise OutOfRange(f"vapour: {text} is more open than still air (μ {mu:.2g}); check the unit")
        return Read(mu, "material", f"{text}: μ {mu:.3g}")
    raise OutOfRange(
        f"vapour: “{unit}” is not a unit of it; use μ, m (sd), perm, ng, MNs/g, perm in, or g/m²d with the test"
    )


def _transmission(value: str, _: str, temperature: str, scale: str, wet: str, dry: str) -> Read:
    """Water vapour transmission [g/(m² d)] by its test: temperature and the two humidities."""
    flow, degrees, high, low = _number(value), _number(temperature), _number(wet), _number(dry)
    celsius = (degrees - 32.0) / 1.8 if scale == "f" else degrees
    if not (0.0 < celsius < 60.0 and 0.0 <= low < high <= 100.0):
        raise OutOfRange("vapour: the test's temperature lies within 0 to 60 °C, its humidities fall from wet to dry")
    _above_nothing(flow, "vapour transmission")
    kelvin = celsius + ZERO_CELSIUS
    drop = float(saturation_pressure(kelvin)) * (high - low) / 100.0
    permeance = flow / 1000.0 / 86400.0 / drop
    sd = _still_air(kelvin) / permeance
    return Read(sd, "product", f"{flow:g} g/m²d at {celsius:.0f} °C, {high:g}/{low:g} %: sd {sd:.3g} m")


def _water(text: str) -> Read:
    """Water content: kg/m³, vol-%, or mass-% (which needs the density)."""
    value, unit = _split(text)
    if value < 0.0:
        raise OutOfRange(f"water {value:g} must not be below 0")
    if unit in ("", "kg/m3"):
        return Read(value, "material", f"{value:g} kg/m³")
    if unit in ("%", "mass-%", "mass%", "m-%", "wt%", "%bymass"):
        return Read(value / 100.0, "dry mass", f"{value:g} % of the dry mass")
    if unit in ("vol-%", "vol%", "v-%", "%byvolume"):
        return Read(value * 10.0, "material", f"{value:g} % of the volume")
    raise OutOfRange(f"water: “{unit}” is not a unit of it; use kg/m³, mass-% or vol-%")


def _uptake(text: str) -> Read:
    """A-value; “0” or “none” for what draws nothing. A rate of absorption is of the first minute."""
    if text.lower() in ("none", "no", "not capillary"):
        return Read(0.0, "material", "draws no water")
    value, unit = _split(text)
    if value < 0.0:
        raise OutOfRange(f"uptake {value:g} must not be below 0")
    hours = {"", "kg/m2h0.5", "kg/m2sqrth", "kg/m2h", "kg/m2h1/2"}
    seconds = {"kg/m2s0.5", "kg/m2sqrts", "kg/m2s1/2"}
    if unit in hours:
        return Read(value / 60.0, "material", f"{value:g} kg/(m²√h)")
    if unit in seconds:
        return Read(value, "material", f"{value:g} kg/(m²√s)")
    if unit in ("kg/m2min", "kg/m2/min"):
        return Read(value / math.sqrt(60.0), "material", f"{value:g} kg/(m² min), of the first minute")
    if unit in ("g/30in2/min", "g/30in2min", "ira"):
        return Read(
            value / 1000.0 / (30.0 * 0.0254**2) / math.sqrt(60.0), "material", f"{value:g} g a minute of 30 in²"
        )
    raise OutOfRange(f"uptake: “{unit}” is not a unit of it; use kg/m²√h, kg/m²√s or kg/m²min")


def _thickness(text: str) -> Read:
    metres = parse_length(text)
    return Read(metres, "product", f"{metres * 1000:g} mm")


def _emissivity(text: str) -> Read:
    value, unit = _split(text)
    if unit or not 0.01 <= value <= 1.0:
        raise OutOfRange(f"emissivity “{text}”: a number from 0.01 to 1")
    return Read(value, "product", f"ε {value:g}")


_READERS: dict[Property, Callable[[str], Read]] = {
    "thickness": _thickness,
    "conductivity": _conductivity,
    "density": _times({"kg/m³": 1.0, "lb/ft³": POUND_FT3, "pcf": POUND_FT3}, "kg/m³", "density"),
    "specific_heat": _times({"J/kgK": 1.0, "kJ/kgK": 1000.0, "Btu/lbF": BTU_LB}, "J/kgK", "specific heat"),
    "vapour": _vapour,
    "water_80": _water,
    "free_water": _water,
    "uptake": _uptake,
    "emissivity": _emissivity,
}
