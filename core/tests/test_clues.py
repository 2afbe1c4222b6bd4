"""Every clue of the table fired by a written case: what is seen, where, and what the survey says around it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any
from unittest import TestCase

from core.measure.wood_moisture import MeterReading
from core.readiness.reason import Pin, PinPlace, Readings, Surroundings, facts_of, proposals
from core.readiness.rules import FACTS, POSSIBLE, Clue, Facts, rules


@dataclass(frozen=True)
class Seen:
    """A pin with its surroundings, and the clue that it must fire."""

    mechanism: str
    because: str
    pin: Pin
    around: Surroundings


def seen(mechanism: str, because: str, kind: str, x: float, z: float, around: Surroundings, **more: Any) -> Seen:
    """wood: shown by the meter, mass-%; surface_rh: read at the surface."""
    wood, surface = more.pop("wood", None), more.pop("surface_rh", None)
    readings = Readings(wood=MeterReading(shown_percent=wood) if wood else None, surface_rh=surface)
    place = PinPlace(view="elevation", body="main", face="a", x_m=x, y_m=z)
    return Seen(mechanism, because, Pin(kind=kind, place=place, readings=readings, **more), around)  # type: ignore[arg-type]


def around(**said: Any) -> Surroundings:
    """A face 8 m wide and 5 m high, unless it says otherwise."""
    return Surroundings(**{"eaves_m": 5.0, "face_width_m": 8.0, **said})


SILL = ((2.5, 1.0, 1.0, 1.2),)

# fmt: off
CASES = [
    # driven rain
    seen("rain", "stains, salts and lost paint on a wall come first from rain",
         "efflorescence", 3.0, 2.5, around(rain_face=True)),
    seen("rain", "it comes after rain",
         "stain", 3.0, 2.5, around(), comes="after_rain"),
    seen("rain", "an exposed leading corner takes most of the driven rain",
         "stain", 0.3, 2.5, around(rain_face=True)),
    seen("rain", "spalling needs wet masonry in frost, and rain wets it most",
         "spalling", 3.0, 2.5, around(), side="outside"),
    seen("rain", "the face is a cladding that soaks and holds water",
         "stain", 3.0, 2.5, around(reservoir=True)),
    seen("rain", "deep eaves keep this height dry",
         "stain", 3.0, 4.7, around(overhang_m=0.6)),
    seen("rain", "it stands on a face that rain seldom reaches",
         "stain", 3.0, 2.5, around()),
    seen("rain", "inside the building, away from outer walls, rain does not reach",
         "stain", 3.0, 2.5, around(element="floor")),
    seen("rain", "a roof that lets rain in stains the boards and ceiling below",
         "stain", 3.0, 2.5, around(element="roof"), comes="after_rain"),
    seen("rain", "salts inside an outer wall are carried there by water from outside",
         "efflorescence", 3.0, 2.5, around(rain_face=True), side="inside"),
    # run-off and splash
    seen('runoff', "streaks below a sill or at a window's corner show water running off it",
         "stain", 3.0, 0.6, around(openings=SILL)),
    seen("runoff", "the gutter above leaks, is blocked or is missing",
         "stain", 3.0, 4.6, around(gutters_faulty=True)),
    seen("runoff", "just below a faulty gutter is where it overflows",
         "stain", 3.0, 4.6, around(gutters_faulty=True)),
    seen("runoff", "damage at the foot of the wall beside hard ground comes from splash",
         "stain", 3.0, 0.3, around(splash=True)),
    seen("runoff", "it comes after rain",
         "stain", 3.0, 2.5, around(), comes="after_rain"),
    seen("runoff", "a swollen or greyed sheet below a window lets its water in",
         "swollen_sheet", 3.0, 0.6, around(openings=SILL)),
    seen("runoff", "a swollen or greyed outer sheet has been wetted from outside",
         "swollen_sheet", 3.0, 2.5, around(), side="outside"),
    seen("runoff", "soft timber at a sill or plate lies where run-off collects",
         "soft_timber", 3.0, 0.6, around(openings=SILL)),
    seen("runoff", "a narrow streak follows running water",
         "stain", 3.0, 2.5, around(), side="outside", extent="spot"),
    # ground water and capillary rise
    seen("ground", "a tide mark shows how high the wall draws water",
         "tide_mark", 3.0, 0.3, around()),
    seen("ground", "salts in a band low on the wall are left where ground water dries",
         "efflorescence", 3.0, 0.3, around(), extent="band"),
    seen("ground", "damage at the foot of the wall, inside as outside",
         "efflorescence", 3.0, 0.3, around()),
    seen("ground", "it lies against the ground",
         "efflorescence", 3.0, 2.5, around(adjoining="ground"), comes="not_known"),
    seen("ground", "a damp floor over earth or a void draws from the ground",
         "damp_smell", 3.0, 2.5, around(element="floor"), comes="not_known"),
    seen("ground", "it is there all year",
         "stain", 3.0, 0.3, around(), comes="always"),
    seen("ground", "posts and plates rot first at the foot, in end grain that drinks",
         "soft_timber", 3.0, 0.3, around()),
    seen("ground", "capillary rise seldom passes a metre or so above the ground",
         "stain", 3.0, 2.5, around()),
    seen("ground", "a tide mark nearby",
         "stain", 3.0, 0.3, around(neighbours=("tide_mark",))),
    # air-carried vapour
    seen("air", "a local patch at a gap, socket or hatch",
         "mould", 3.0, 2.5, around(leak_near=True), side="inside", extent="spot"),
    seen("air", "it comes in cold spells",
         "condensation", 3.0, 2.5, around(), comes="cold_spells"),
    seen("air", "rusty fixings under a roof are the first cold thing that leaking air meets",
         "rust", 3.0, 2.5, around(element="roof")),
    # vapour diffusion
    seen('diffusion', "an even dampness over the whole bay on the cold side is diffusion's picture",
         "condensation", 3.0, 2.5, around(), extent="whole", comes="cold_spells"),
    seen("diffusion", "behind an inner plastic sheet in humid heat with the rooms cooled",
         "condensation", 3.0, 2.5, around(inner_sheet=True), comes="humid_heat"),
    seen("diffusion", "a vapour-tight inner finish or sheet holds what comes from outside",
         "mould", 3.0, 2.5, around(inner_sheet=True)),
    seen("diffusion", "paint that blisters over the whole face pushes vapour off a damp wall",
         "peeling_paint", 3.0, 2.5, around(), extent="whole"),
    seen("diffusion", "dampness on the cold side late in winter",
         "stain", 3.0, 2.5, around(), side="outside", extent="whole", seen_on=date(2026, 1, 15)),
    # cold surface
    seen("cold_surface", "mould or drops on an inner face come from cooled room air",
         "mould", 3.0, 2.5, around(), side="inside", comes="not_known"),
    seen("cold_surface", "corners are the coldest part of a wall",
         "mould", 0.3, 2.5, around(), side="inside"),
    seen("cold_surface", "reveals and window edges are bridges",
         "mould", 2.1, 1.5, around(openings=SILL), side="inside"),
    seen("cold_surface", "behind skirtings and furniture the wall stays cold",
         "mould", 3.0, 2.5, around(adjoining="outside", floors_m=(2.3,)), side="inside"),
    seen("cold_surface", "it comes in cold spells",
         "mould", 3.0, 2.5, around(), side="inside", comes="cold_spells"),
    seen('cold_surface', "the surface's own humidity was read at 80 % or more",
         "stain", 3.0, 2.5, around(), side="inside", surface_rh=0.9),
    seen("cold_surface", "paint that peels in a cold inner corner is wetted by the room",
         "peeling_paint", 0.3, 2.5, around(), side="inside"),
    seen('cold_surface', "drops on glass are the room's own vapour",
         "condensation", 3.0, 2.5, around(element="window")),
    seen("cold_surface", "wood read above 20 % is wetter than a cold surface alone makes it",
         "soft_timber", 3.0, 2.5, around(), wood=28),
    seen("cold_surface", "outside faces are not wetted by room air",
         "stain", 3.0, 2.5, around(), side="outside"),
    # built-in moisture
    seen("built_in", "wet work is less than two years old",
         "stain", 3.0, 2.5, around(), wet_work=True),
    seen("built_in", "damp everywhere, and drying out month by month",
         "stain", 3.0, 2.5, around(), extent="whole", wet_work=True),
    # plumbing and sprinklers
    seen("plumbing", "pipes, a tray or a tank are near",
         "stain", 3.0, 2.5, around(), pipes_near=True),
    seen("plumbing", "it comes with use, in any season",
         "stain", 3.0, 2.5, around(), comes="after_use"),
    seen("plumbing", "local, and the same in all weathers",
         "stain", 3.0, 2.5, around(), extent="spot", comes="always", pipes_near=True),
    seen("plumbing", "sprinklers reach this place",
         "stain", 3.0, 0.3, around(sprinklers=True), side="outside"),
    # driven rain
    seen("rain", "joist ends rot where the wall that holds them is wetted by rain",
         "soft_timber", 3.0, 2.5, around(rain_face=True)),
    # ground water and capillary rise
    seen("ground", "timber over a damp void takes up its moisture",
         "soft_timber", 3.0, 2.5, around(element="floor", adjoining="unheated")),
    # driven rain
    seen("rain", "wood read above 20 % at a place that rain reaches",
         "stain", 3.0, 2.5, around(rain_face=True), wood=28),
    # run-off and splash
    seen("runoff", "spalling at the foot with splash or gutters at fault",
         "spalling", 3.0, 0.3, around(gutters_faulty=True)),
    # air-carried vapour
    seen("air", "a damp smell from under the roof",
         "damp_smell", 3.0, 2.5, around(element="roof")),
    # cold surface
    seen("cold_surface", "a damp smell and no wet place yet: look behind furniture first",
         "damp_smell", 3.0, 2.5, around(), side="inside"),
    # driven rain
    seen("rain", "swollen sheets on a rain face let the rain in",
         "swollen_sheet", 3.0, 2.5, around(rain_face=True), side="outside"),
    seen("rain", "rusty fixings in an outer wall show that rain reaches them",
         "rust", 3.0, 2.5, around(rain_face=True)),
    # air-carried vapour
    seen("air", "frost on nails or boards is room air that froze there",
         "frost", 3.0, 2.5, around()),
    seen("air", "a leak was found here by the blower door",
         "condensation", 3.0, 2.5, around(leak_near=True)),
    seen("air", "wet or mouldy boards under the roof are where leaking air cools",
         "mould", 3.0, 2.5, around(element="roof"), comes="cold_spells"),
    seen("air", "a wet spot round a socket or pipe in cold spells is room air coming through, leak on record or not",
         "mould", 3.0, 2.5, around(), side="inside", comes="cold_spells", part="socket or pipe"),
    seen("air", "nobody warms or wets the air of this space",
         "stain", 3.0, 2.5, around(heated=False)),
    # cold surface
    seen('cold_surface', "frost on glass is the room's vapour on a cold pane",
         "frost", 3.0, 2.5, around(element="window")),
    seen("cold_surface", "it comes in humid heat, when surfaces are warm",
         "stain", 3.0, 2.5, around(), comes="humid_heat"),
    seen("cold_surface", "nobody warms the air of this space",
         "stain", 3.0, 2.5, around(heated=False)),
    # salts
    seen("salts", "animals have left nitrates in this masonry",
         "efflorescence", 3.0, 2.5, around(), salt_source="byre"),
    seen("salts", "soot has left salts in this flue, and they draw damp from the air",
         "efflorescence", 3.0, 2.5, around(), salt_source="flue"),
    seen("salts", "salt from the road reaches this place",
         "efflorescence", 3.0, 2.5, around(), salt_source="road"),
    seen("salts", "gypsum against lime or brick brings sulphates",
         "efflorescence", 3.0, 2.5, around(), salt_source="gypsum"),
    seen("salts", "salts rise here with ground water",
         "efflorescence", 3.0, 2.5, around(), salt_source="ground"),
    seen("salts", "stone that flakes inside has no frost to break it",
         "spalling", 3.0, 2.5, around(), side="inside"),
    seen('salts', "patches that come and go with the air's humidity are salts that draw it",
         "stain", 3.0, 2.5, around(), comes="damp_weather"),
    seen("salts", "powder and flakes in dry weather are salts that crystallise",
         "efflorescence", 3.0, 2.5, around(), comes="dry_weather"),
    seen("salts", "salts are to be seen",
         "efflorescence", 3.0, 2.5, around(), comes="damp_weather"),
    # driven rain
    seen("rain", "it comes with damp air, not with rain",
         "stain", 3.0, 2.5, around(), comes="damp_weather"),
    seen("rain", "it shows in dry weather",
         "stain", 3.0, 2.5, around(), comes="dry_weather"),
    # ground water and capillary rise
    seen("ground", "it comes and goes with the air, not with the ground",
         "stain", 3.0, 2.5, around(), comes="damp_weather"),
    # summer condensation of outside air
    seen("summer", "it comes in humid weeks: outside air condenses on a cool surface",
         "condensation", 3.0, 2.5, around(element="floor"), comes="humid_heat"),
    seen("summer", "what lies on the ground stays cool into summer",
         "condensation", 3.0, 2.5, around(adjoining="ground"), seen_on=date(2026, 7, 15)),
    seen("summer", "it lies against the ground, cool when the air is warm and humid",
         "condensation", 3.0, 2.5, around(adjoining="ground"), comes="humid_heat"),
    seen("summer", "air let into a void over cool earth condenses there in humid weeks",
         "condensation", 3.0, 2.5, around(element="floor", adjoining="unheated"), comes="humid_heat"),
    seen("summer", "a vapour-tight sheet inside with the rooms cooled is another story",
         "stain", 3.0, 2.5, around(inner_sheet=True), comes="humid_heat"),
    # night-sky cooling
    seen("night_sky", "drops after clear nights: the covering radiates to the sky and cools below the air",
         "condensation", 3.0, 2.5, around(element="roof"), comes="clear_nights"),
    seen("night_sky", "a thin metal covering stores nothing and cools fastest",
         "condensation", 3.0, 2.5, around(element="roof", made="metal")),
    seen("night_sky", "the space is not heated: the vapour is that of outside air",
         "condensation", 3.0, 2.5, around(element="roof", heated=False)),
    # animals and insects
    seen("entry", "droppings, nests or gnawing",
         "animals", 3.0, 2.5, around()),
    seen("entry", "flight holes, frass or ants",
         "insects", 3.0, 2.5, around()),
    # run-off and splash
    seen("runoff", "insects in a sill or below a door follow wet wood: the sill and its flashing come first",
         "insects", 3.0, 0.6, around(openings=SILL)),
    # driven rain
    seen("rain", "insects in the wood of a face that takes the rain follow its water",
         "insects", 3.0, 2.5, around(rain_face=True)),
    # ground water and capillary rise
    seen("ground", "insects in wood near the ground follow its damp",
         "insects", 3.0, 0.3, around()),
    # run-off and splash
    seen('runoff', "insects in the roof's edge follow leaking gutters",
         "insects", 3.0, 2.5, around(gutters_faulty=True)),
    # driven rain
    seen("rain", "the joist end sits in a wall that takes the rain",
         "soft_timber", 3.0, 2.5, around(joist_wall_rained=True)),
    # ground water and capillary rise
    seen('ground', "the joist end sits in a wall that takes the rain, above the ground's reach",
         "stain", 3.0, 2.5, around(joist_wall_rained=True)),
    # driven rain
    seen("rain", "a leaf that soaks, without a gap behind it, drives its water into what lies there",
         "swollen_sheet", 3.0, 2.5, around(made="frame", cladding="leaf", gap="none")),
    seen("rain", "boards lap and crack: rain gets behind them, with no gap to let it out",
         "swollen_sheet", 3.0, 2.5, around(made="frame", cladding="boards", gap="none")),
    seen("rain", "joints and checks of logs that face the sky take rain in",
         "soft_timber", 3.0, 2.5, around(rain_face=True, made="log")),
    seen("rain", "algae and moss grow where a face stays wet from rain",
         "algae", 3.0, 2.5, around(rain_face=True)),
    # ground water and capillary rise
    seen("ground", "algae and moss at the foot show a wet foot",
         "algae", 3.0, 0.3, around()),
    # run-off and splash
    seen("runoff", "algae or moss in a streak follow water that runs there",
         "algae", 3.0, 2.5, around(), extent="spot"),
    seen("runoff", "plants root where water stands: in gutters, ledges and open joints",
         "vegetation", 3.0, 2.5, around()),
    # driven rain
    seen("rain", "cracks let driven rain in",
         "cracks", 3.0, 2.5, around(rain_face=True)),
    seen("rain", "cracks open a face",
         "cracks", 3.0, 2.5, around()),
    seen("rain", "a lifted covering lets rain under it",
         "lifted", 3.0, 2.5, around(element="roof")),
    # ground water and capillary rise
    seen("ground", "water that stands after rain has no way off",
         "standing_water", 3.0, 2.5, around(element="floor"), comes="after_rain"),
    # plumbing and sprinklers
    seen("plumbing", "standing water indoors may be a leak",
         "standing_water", 3.0, 2.5, around(), comes="always"),
    # driven rain
    seen("rain", "plaster that sounds hollow has let go of a wet wall",
         "hollow", 3.0, 2.5, around(rain_face=True), side="inside"),
    # salts
    seen("salts", "plaster that bulges is often lifted by salts behind it",
         "hollow", 3.0, 2.5, around(), side="inside"),
    # ground water and capillary rise
    seen("ground", "plaster that lets go low down has stood wet",
         "hollow", 3.0, 0.3, around()),
    # plumbing and sprinklers
    seen("plumbing", "damp without a season may be a pipe",
         "damp", 3.0, 2.5, around(), comes="always"),
    # cold surface
    seen("cold_surface", "a damp inner face in cold spells may be cooled room air",
         "damp", 3.0, 2.5, around(), side="inside", comes="cold_spells"),
    # built-in moisture
    seen("built_in", "damp plaster or screed may be new",
         "damp", 3.0, 2.5, around(), wet_work=True),
]
# fmt: on


def clues_of(case: Seen) -> list[Clue]:
    return [clue for clue in rules().clues if (clue.mechanism, clue.because) == (case.mechanism, case.because)]


class EveryClue(TestCase):
    def test_every_clue_has_its_case(self) -> None:
        written = {(case.mechanism, case.because) for case in CASES}
        table = {(clue.mechanism, clue.because) for clue in rules().clues}
        self.assertEqual(table - written, set(), "clues without a case")
        self.assertEqual(written - table, set(), "cases of clues that are gone")

    def test_each_case_fires_its_clue(self) -> None:
        for case in CASES:
            with self.subTest(mechanism=case.mechanism, because=case.because):
                facts = facts_of(case.pin, case.around)
                fired = [clue for clue in clues_of(case) if clue.fits(facts)]
                self.assertTrue(fired, facts)
                score = sum(c.weight for c in rules().clues if c.mechanism == case.mechanism and c.fits(facts))
                told = next((p for p in proposals(facts) if p.mechanism == case.mechanism), None)
                self.assertEqual(told is not None, score >= POSSIBLE)
                if told is not None:
                    self.assertTrue(any(case.because in reason for reason in told.reasons), told.reasons)

    def test_each_condition_is_needed(self) -> None:
        """With any one condition of the clue turned to a value it does not name, it no longer fires."""
        turned = 0
        for case in CASES:
            facts = facts_of(case.pin, case.around)
            for clue in (clue for clue in clues_of(case) if clue.fits(facts)):
                for fact, values in clue.when.items():
                    others = [value for value in FACTS[fact][1] if value not in values]
                    if not others and FACTS[fact][1]:
                        continue  # it names every value there is
                    other: Facts = {**facts, fact: others[:1]}
                    with self.subTest(because=case.because, fact=fact):
                        self.assertFalse(clue.fits(other))
                    turned += 1
        self.assertGreater(turned, len(CASES))

    def test_what_speaks_against_says_so(self) -> None:
        against = [clue for clue in rules().clues if clue.weight < 0]
        self.assertGreater(len(against), 5)
        for case in CASES:
            facts = facts_of(case.pin, case.around)
            for told in proposals(facts):
                for clue in against:
                    if clue.mechanism == told.mechanism and clue.fits(facts):
                        self.assertIn(f"against it: {clue.because}", told.reasons)

    def test_the_weight_of_a_clue_is_what_it_adds(self) -> None:
        """Taking the clue out of a table lowers the score of its mechanism by its weight, and no other score."""
        for case in CASES:
            facts = facts_of(case.pin, case.around)
            before = {p.mechanism: p.score for p in proposals(facts)}
            for clue in (clue for clue in clues_of(case) if clue.fits(facts)):
                rest = [c for c in rules().clues if c is not clue and c.fits(facts)]
                for mechanism, score in before.items():
                    without = sum(c.weight for c in rest if c.mechanism == mechanism)
                    with self.subTest(because=case.because, mechanism=mechanism):
                        self.assertEqual(score - without, clue.weight if mechanism == clue.mechanism else 0)
