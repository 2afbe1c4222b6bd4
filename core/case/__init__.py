"""`Case`: one transient computation, described completely, frozen and hashable.

Everything the solver uses is in here or is a default written out here. A case is one JSON file;
`Case.model_json_schema()` is its published schema. Names carry their unit. Cross-checks that need
more than one field (references, loops) are in `resolve`.
"""

from __future__ import annotations

from core.case.air import Air, AirLeak, CavityAir, RainLeak, StackAndWind, WindAndSun
from core.case.ends import (
    DrivenRain,
    End,
    GroundEnd,
    HeatFilm,
    HeatFlux,
    HeatSurface,
    IndoorEnd,
    IndoorProfile,
    MoistureFilm,
    MoistureFlux,
    MoistureSurface,
    OpenEnd,
    UnheatedEnd,
    WeatherEnd,
)
from core.case.layers import LEAST_LIQUID_CONTACT, Contact, Initial, Layer, Membrane, Source
from core.case.material import (
    Constants,
    Heat,
    Liquid,
    LiquidConductivityPolynomial,
    LiquidConductivityTable,
    LiquidDiffusivity,
    LiquidKuenzel,
    LiquidNone,
    Material,
    Retention,
    RetentionKuenzel,
    RetentionTable,
    RetentionVanGenuchten,
    VanGenuchtenTerm,
    Vapour,
)
from core.case.parts import RH_FLOOR, Celsius, NonNegative, Positive, Strict, describe_problems, not_as_written
from core.case.read import case_from_dict, read_case
from core.case.series import CLIMATE_COLUMNS, ClimateColumns, Series, SeriesRef, SeriesValue, ShippedClimate
from core.case.whole import Case, Output, Plane, Switches, TimeControl

__all__ = [
    "Air",
    "AirLeak",
    "CLIMATE_COLUMNS",
    "Case",
    "CavityAir",
    "Celsius",
    "ClimateColumns",
    "Constants",
    "Contact",
    "DrivenRain",
    "End",
    "GroundEnd",
    "Heat",
    "HeatFilm",
    "HeatFlux",
    "HeatSurface",
    "IndoorEnd",
    "IndoorProfile",
    "Initial",
    "LEAST_LIQUID_CONTACT",
    "Layer",
    "Liquid",
    "LiquidConductivityPolynomial",
    "LiquidConductivityTable",
    "LiquidDiffusivity",
    "LiquidKuenzel",
    "LiquidNone",
    "Material",
    "Membrane",
    "MoistureFilm",
    "MoistureFlux",
    "MoistureSurface",
    "NonNegative",
    "OpenEnd",
    "Output",
    "Plane",
    "Positive",
    "RH_FLOOR",
    "RainLeak",
    "Retention",
    "RetentionKuenzel",
    "RetentionTable",
    "RetentionVanGenuchten",
    "Series",
    "SeriesRef",
    "SeriesValue",
    "ShippedClimate",
    "Source",
    "StackAndWind",
    "Strict",
    "Switches",
    "TimeControl",
    "UnheatedEnd",
    "VanGenuchtenTerm",
    "Vapour",
    "WeatherEnd",
    "WindAndSun",
    "case_from_dict",
    "describe_problems",
    "not_as_written",
    "read_case",
]
