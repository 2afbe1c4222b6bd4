"""Eighty-five more constructions with what practice says of them: walls, roofs, floors, cellars, wet rooms and cold ones, in all climates.

Chosen from what handbooks, guidance of heritage bodies and case studies agree on; where they do not, the row is *divided* and says so.
"""

from __future__ import annotations

from core.buildup.model import Place
from core.cases.practice import (
    BOARD,
    BRICK,
    CELLULOSE,
    CLAD,
    FILL,
    FRAME,
    LOGS,
    OSB,
    RETARDER,
    STONE,
    TIGHT,
    UNDER,
    VARIABLE,
    Practice,
    Rows,
    wall,
)

SARK = ("boards", "sarking_boards", 22)
STRONG = ("sheet", "membrane_variable_strong")
RENDER = ("render", "lime_render", 15)
THIN = ("render", "silicone_render", 8)
BED = ("bed", "lime_adhesive", 8)
MINERAL = ("slab", "facade_slab_036", 140)
GREY = ("foam", "eps_grey_031", 120)
FIBRE = ("fibre", "wood_fibre_board", 120)
CAVITY: Rows = (
    ("outer", "brick_ordinary", 102),
    ("cavity", "air_unventilated", 60),
    ("inner", "brick_ordinary", 102),
    ("plaster", "gypsum_plaster", 13),
)
FILLED: Rows = (CAVITY[0], ("cavity", "mineral_fibre_035", 60), *CAVITY[2:])
OLD_CAVITY: Rows = (
    ("outer", "brick_old", 102),
    ("cavity", "air_unventilated", 60),
    ("inner", "brick_old", 102),
    ("plaster", "lime_plaster", 15),
)
COB: Rows = (("cob", "cob", 550), ("in", "clay_plaster", 20))
TIMBERED: Rows = (("infill", "brick_old", 140, 0.25), ("plaster", "lime_plaster", 15))
PANEL: Rows = (("panel", "concrete_precast", 180),)
CONCRETE: Rows = (("wall", "concrete", 250),)
BLOCK: Rows = (("block", "block_hollow_clay", 300), ("plaster", "lime_plaster", 15))
TILED: Rows = (("tiles", "clay_tiles", 15), ("gap", "air_ventilated", 50))
RAFTERS: Rows = (("deck", "sarking_boards", 22), ("rafters", "air_unventilated", 180, 0.1), BOARD)
FELTED: Rows = (
    ("bitumen", "bitumen_sheet"),
    ("deck", "sarking_boards", 24),
    ("joists", "air_unventilated", 200, 0.1),
    BOARD,
)
BARE: Rows = (("clad", "weatherboards", 20), ("fill", "air_unventilated", 100, 0.15), BOARD)
LEAF: Rows = (("leaf", "brick_ordinary", 100), ("gap", "air_vented", 40), ("felt", "building_paper"), SARK)
FLOOR: Rows = (("floor", "oak_floor", 22),)
EARTH = ("earth", "earth", 300)


def roof(climate: str, slope: float = 40.0, facing: float = 0.0, **more: object) -> Place:
    return Place(kind="roof", slope_deg=slope, facing_deg=facing, climate=climate, **more)


def void(climate: str, **more: object) -> Place:
    return Place(kind="floor", adjoining="unheated", factor_b=0.8, slope_deg=0, climate=climate, **more)


def slab(climate: str, **more: object) -> Place:
    return Place(kind="floor", adjoining="ground", factor_b=0.5, slope_deg=0, climate=climate, **more)


def cellar(climate: str, **more: object) -> Place:
    return Place(adjoining="ground", factor_b=0.6, climate=climate, **more)


SOUND: tuple[Practice, ...] = (
    Practice("alpine brick, wood fibre outside behind boards", True, "open outward, kept dry", wall("karrental", 270, "moderate"), BRICK, (*UNDER, FIBRE, *BRICK)),
    Practice("alpine rubble, sheltered, 40 insulating lime plaster", True, "thin and open", wall("karrental"), STONE, (STONE[0], ("warm", "insulating_lime_plaster", 40), ("fin", "lime_plaster", 5))),
    Practice("alpine logs, 160 wood fibre outside", True, "warm logs", wall("karrental"), LOGS, (*UNDER, ("fibre", "wood_fibre_board", 160), *LOGS)),
    Practice("alpine roof, fibre over and between", True, "usual", roof("karrental"), (*TILED, *RAFTERS), (*TILED, ("open", "membrane_open"), ("over", "wood_fibre_board", 80), ("rafters", "wood_fibre_batt", 180, 0.1), VARIABLE, BOARD)),
    Practice("alpine flat roof, foam over the deck", True, "warm deck", roof("karrental", 2.0), FELTED, (("bitumen", "bitumen_sheet"), ("foam", "pir_fleece", 180), ("vcl", "self_adhered_tight"), *FELTED[1:])),
    Practice("alpine frame, cellulose, variable membrane", True, "usual", wall("karrental"), (*UNDER, SARK, *FRAME), (*UNDER, SARK, CELLULOSE, VARIABLE, BOARD)),
    Practice("warm dry brick, mineral slabs and render outside", True, "usual", wall("sollera", 180), BRICK, (THIN, MINERAL, BED, *BRICK)),
    Practice("warm dry rubble, lime render", True, "as found, cared for", wall("sollera", 270), STONE, (RENDER, *STONE)),
    Practice("warm dry tiled roof, mineral fibre between, retarder", True, "usual", roof("sollera", 30.0, 180.0), (*TILED, ("under", "membrane_open"), *RAFTERS), (*TILED, ("under", "membrane_open"), SARK, ("rafters", "mineral_fibre_035", 180, 0.1), RETARDER, BOARD)),
    Practice("warm dry frame, mineral fibre, no sheet inside", True, "mild winters ask for none", wall("sollera", 180), (*UNDER, SARK, *FRAME), (*UNDER, SARK, FILL, BOARD)),
    Practice("warm dry concrete, foam and render outside", True, "usual", wall("sollera", 180), CONCRETE, (THIN, GREY, BED, *CONCRETE)),
    Practice("humid summers, brick with mineral slabs outside", True, "usual", wall("millrace", 180, "moderate"), BRICK, (THIN, MINERAL, BED, *BRICK)),
    Practice("humid summers, frame, batts, variable membrane, vented boards", True, "opens in summer", wall("millrace", 180), (*UNDER, SARK, *FRAME), (*UNDER, SARK, FILL, VARIABLE, BOARD)),
    Practice("cooled house, foam outside the boards, batts, no sheet inside", True, "dries inward", wall("millrace", 180, occupancy="cooled"), (*UNDER, SARK, *FRAME), (*CLAD, ("foam", "pir_foil", 60), SARK, FILL, BOARD)),
    Practice("humid summers, tiled roof, foam above the deck", True, "warm deck", roof("millrace", 35.0, 180.0), (*TILED, *RAFTERS), (*TILED, ("foam", "pir_foil", 140), ("vcl", "self_adhered_tight"), *RAFTERS)),
    Practice("hollow blocks, mineral slabs outside", True, "usual", wall("ostmoor", 270, "moderate"), BLOCK, (THIN, MINERAL, BED, *BLOCK)),
    Practice("hollow blocks, foam outside", True, "usual", wall("ostmoor", 270, "moderate"), BLOCK, (THIN, GREY, BED, *BLOCK)),
    Practice("cavity filled on a sheltered face, cold", True, "usual where rain does not drive", wall("ostmoor"), CAVITY, FILLED),
    Practice("cavity filled on a sheltered face, humid summers", True, "usual where rain does not drive", wall("millrace", 45), CAVITY, FILLED),
    Practice("cavity filled on a sheltered face, maritime", True, "usual where rain does not drive", wall("corrie", 60), CAVITY, FILLED),
    Practice("cavity filled and clad on a rain face", True, "rain kept off", wall("corrie", 270, "exposed"), CAVITY, (*UNDER, *FILLED)),
    Practice("straw between lime render and clay, cold", True, "open both ways", wall("ostmoor"), (("render", "lime_render", 30), ("straw", "straw_bale", 400), ("clay", "clay_plaster", 30)), (("paint", "silicate_paint"), ("render", "lime_render", 30), ("straw", "straw_bale", 400), ("clay", "clay_plaster", 30))),
    Practice("straw behind vented boards, very cold", True, "rain kept off", wall("tarn"), (("render", "clay_plaster", 30), ("straw", "straw_bale", 400), ("clay", "clay_plaster", 30)), (*CLAD, ("render", "clay_plaster", 30), ("straw", "straw_bale", 400), ("clay", "clay_plaster", 30))),
    Practice("hemp-lime on brick inside, sheltered", True, "divided: thin and open", wall("ostmoor"), BRICK, (*BRICK, ("hemp", "hemp_lime", 80), ("fin", "lime_plaster", 10))),
    Practice("cob, wood fibre and lime render outside", True, "open", wall("corrie", 60), COB, (("paint", "silicate_paint"), RENDER, ("fibre", "wood_fibre_board", 80), BED, *COB)),
    Practice("cob limewashed", True, "as found, cared for", wall("corrie", 60), COB, (("wash", "limewash"), *COB)),
    Practice("half-timber in a lane, insulating lime plaster inside", True, "sheltered, thin", wall("ostmoor"), TIMBERED, (TIMBERED[0], ("warm", "insulating_lime_plaster", 40), ("fin", "lime_plaster", 5))),
    Practice("half-timber in a lane, 40 wood fibre in clay", True, "sheltered, thin", wall("karrental"), TIMBERED, (*TIMBERED, ("bed", "clay_plaster", 8), ("fibre", "wood_fibre_board", 40), ("fin", "clay_plaster", 10))),
    Practice("large panels, mineral slabs outside", True, "usual", wall("ostmoor", 270, "moderate"), PANEL, (THIN, MINERAL, BED, *PANEL)),
    Practice("large panels, foam outside", True, "usual", wall("ostmoor", 270, "moderate"), PANEL, (THIN, GREY, BED, *PANEL)),
    Practice("no-fines concrete, mineral slabs outside", True, "rain kept off", wall("corrie", 270, "moderate"), (("rough", "roughcast", 18), ("wall", "concrete_no_fines", 250), ("plaster", "gypsum_plaster", 13)), (THIN, MINERAL, BED, ("rough", "roughcast", 18), ("wall", "concrete_no_fines", 250), ("plaster", "gypsum_plaster", 13))),
    Practice("very cold frame, 100 foam outside the sheathing, batt, variable membrane", True, "sheathing warm", wall("tarn"), (*CLAD, OSB, *FRAME), (*CLAD, ("foam", "xps_034", 120), OSB, FILL, VARIABLE, BOARD)),
    Practice("very cold flat roof, foam over the deck", True, "warm deck", roof("tarn", 2.0), FELTED, (("bitumen", "bitumen_sheet"), ("foam", "pir_fleece", 220), ("vcl", "self_adhered_tight"), *FELTED[1:])),
    Practice("very cold attic, cellulose over plastic, vented", True, "usual", roof("tarn"), (("slate", "slate", 8), ("under", "felt"), SARK, ("attic", "air_ventilated", 300), ("ceiling", "gypsum_board", 12.5)), (("slate", "slate", 8), ("under", "felt"), SARK, ("attic", "air_ventilated", 300), ("fill", "cellulose_loose", 400), ("vcl", "polyethylene"), ("ceiling", "gypsum_board", 12.5))),
    Practice("very cold slab on foam", True, "usual", slab("tarn"), (EARTH, ("slab", "concrete", 100)), (EARTH, ("foam", "xps_034", 150), ("vcl", "polyethylene"), ("slab", "concrete", 100))),
    Practice("slab on foam-glass gravel", True, "drained, broken from the soil", slab("corrie"), (EARTH, ("slab", "concrete", 100)), (EARTH, ("gravel", "foam_glass_gravel", 300), ("vcl", "polyethylene"), ("slab", "concrete", 100))),
    Practice("alpine slab: sheet, foam, screed", True, "usual", slab("karrental"), (EARTH, ("slab", "concrete", 100)), (EARTH, ("slab", "concrete", 100), ("vcl", "polyethylene"), ("foam", "xps_034", 100), ("screed", "screed", 60))),
    Practice("alpine cellar wall, foam outside", True, "warm wall", cellar("karrental"), CONCRETE, (("foam", "xps_034", 120), ("tank", "liquid_waterproof"), *CONCRETE)),
    Practice("very cold cellar wall, foam outside", True, "warm wall", cellar("tarn"), CONCRETE, (("foam", "xps_034", 150), ("tank", "liquid_waterproof"), *CONCRETE)),
    Practice("dry cellar wall, tight foam bonded inside", True, "divided: only on a dry wall", cellar("millrace"), (("tank", "liquid_waterproof"), *CONCRETE), (("tank", "liquid_waterproof"), *CONCRETE, ("foam", "xps_034", 80), BOARD)),
    Practice("floor over a void, batts between boards, variable membrane", True, "airtight above, open below", void("corrie"), FLOOR, (("net", "wood_fibre_sheathing", 35), ("batt", "wood_fibre_batt", 170, 0.13), ("sheet", "membrane_variable_weak"), *FLOOR)),
    Practice("alpine floor over a void, mineral fibre, board below", True, "usual", void("karrental"), FLOOR, (("net", "wood_fibre_sheathing", 35), ("batt", "mineral_fibre_035", 170, 0.13), ("sheet", "membrane_variable_weak"), *FLOOR)),
    Practice("cold floor over a void, wool in an open net", True, "usual with an airtight layer above", void("ostmoor"), FLOOR, (("net", "membrane_open"), ("batt", "sheep_wool", 150, 0.12), ("sheet", "membrane_variable_weak"), *FLOOR)),
    Practice("zinc on vented boards over rafters, fibre below, variable membrane", True, "vented under the metal", roof("corrie", 30.0), (("zinc", "zinc_seamed", 1), ("deck", "sarking_boards", 24), ("rafters", "air_unventilated", 180, 0.1), BOARD), (("zinc", "zinc_seamed", 1), ("boards", "sarking_boards", 24), ("vent", "air_ventilated", 60), ("open", "wood_fibre_sheathing", 35), ("rafters", "wood_fibre_batt", 160, 0.1), STRONG, BOARD)),
    Practice("profiled steel on spacers over the old deck, mineral fibre", True, "vented skin", roof("ostmoor", 20.0), (("felt", "bitumen_sheet"), ("deck", "sarking_boards", 24), ("joists", "air_unventilated", 180, 0.1), BOARD), (("steel", "profiled_sheet", 1), ("gap", "air_ventilated", 50), ("open", "membrane_open"), ("slab", "facade_slab_036", 200), ("felt", "bitumen_sheet"), ("deck", "sarking_boards", 24), ("joists", "air_unventilated", 180, 0.1), BOARD)),
    Practice("very cold rafters, vent under the deck, cellulose, variable membrane", True, "usual", roof("tarn"), (("slate", "slate", 8), ("under", "membrane_open"), *RAFTERS), (("slate", "slate", 8), ("under", "membrane_open"), SARK, ("vent", "air_ventilated", 50), ("open", "wood_fibre_sheathing", 22), ("rafters", "cellulose_dense", 300, 0.08), STRONG, BOARD)),
    Practice("planted concrete roof, foam under the sheet", True, "warm, tight, on concrete", roof("ostmoor", 2.0), (("bitumen", "bitumen_sheet"), ("deck", "concrete", 180)), (("soil", "earth", 100), ("drain", "dimpled_sheet"), ("bitumen", "bitumen_sheet"), ("foam", "pir_fleece", 160), ("vcl", "self_adhered_tight"), ("deck", "concrete", 180))),
    Practice("planted concrete roof in a warm dry place", True, "warm, tight, on concrete", roof("sollera", 2.0), (("bitumen", "bitumen_sheet"), ("deck", "concrete", 180)), (("soil", "earth", 100), ("drain", "dimpled_sheet"), ("bitumen", "bitumen_sheet"), ("foam", "pir_fleece", 120), ("vcl", "self_adhered_tight"), ("deck", "concrete", 180))),
    Practice("inverted roof on concrete", True, "sheet warm and protected", roof("karrental", 2.0), (("bitumen", "bitumen_sheet"), ("deck", "concrete", 200)), (("gravel", "gravel", 60), ("foam", "xps_034", 180), ("bitumen", "bitumen_sheet"), ("deck", "concrete", 200))),
    Practice("brick leaf with a vented gap, felt, frame, variable membrane, cold", True, "usual", wall("ostmoor", 270, "moderate"), (*LEAF, *FRAME), (*LEAF, FILL, VARIABLE, BOARD)),
    Practice("brick leaf with a vented gap, felt, frame, variable membrane, maritime", True, "usual where rain drives", wall("corrie", 270, "moderate"), (*LEAF, *FRAME), (*LEAF, FILL, VARIABLE, BOARD)),
    Practice("brick on a dry face, mineral foam board inside", True, "capillary-active, moderate", wall("ostmoor"), BRICK, (*BRICK, BED, ("foam", "mineral_foam_board", 80), ("fin", "lime_plaster", 6))),
    Practice("alpine brick, 60 insulating lime plaster inside", True, "thin and open", wall("karrental"), BRICK, (BRICK[0], ("warm", "insulating_lime_plaster", 60), ("fin", "lime_plaster", 5))),
    Practice("bath with brick insulated outside", True, "warm wall in a wet room", wall("ostmoor", occupancy="bath"), BRICK, (THIN, GREY, BED, *BRICK, ("tiles", "ceramic_tiles", 8))),
    Practice("kitchen with mineral slabs outside", True, "warm wall in a wet room", wall("karrental", occupancy="kitchen"), BRICK, (THIN, MINERAL, BED, *BRICK)),
    Practice("pool hall, foam outside of concrete, foil inside", True, "warm, tight inward", wall("ostmoor", occupancy="iso13788_5"), CONCRETE, (THIN, ("foam", "eps_grey_031", 180), BED, *CONCRETE, ("epoxy", "epoxy_coating"))),
    Practice("tile-hung brick with mineral fibre", True, "rain kept off", wall("corrie", 270, "exposed"), BRICK, (("tiles", "clay_tiles", 15), ("gap", "air_ventilated", 40), ("open", "membrane_open"), ("slab", "facade_slab_036", 100), *BRICK)),
    Practice("aerated blocks rendered, as found", True, "usual there", wall("ostmoor", 180), (("block", "block_aerated", 300), ("plaster", "gypsum_plaster", 10)), (("render", "lime_cement_render", 15), ("block", "block_aerated", 300), ("plaster", "gypsum_plaster", 10))),
    Practice("granite in lime, 30 insulating plaster, sheltered", True, "thin and open", wall("corrie", 60), (("stone", "granite", 500), ("plaster", "lime_plaster", 20)), (("stone", "granite", 500), ("warm", "insulating_lime_plaster", 30), ("fin", "lime_plaster", 5))),
    Practice("knee wall, batts and board toward the cold side", True, "usual", Place(adjoining="unheated", factor_b=0.8, climate="ostmoor"), (("bay", "air_unventilated", 100, 0.15), ("lath", "lath_plaster", 22)), (("open", "wood_fibre_sheathing", 35), ("bay", "wood_fibre_batt", 100, 0.15), VARIABLE, ("lath", "lath_plaster", 22))),
)  # fmt: skip
UNSOUND: tuple[Practice, ...] = (
    Practice("very cold frame, OSB outside, batts, no sheet, humid rooms", False, "cold sheet takes the room's vapour", wall("tarn", occupancy="high"), (*CLAD, OSB, *FRAME), (*CLAD, OSB, FILL, BOARD)),
    Practice("alpine flat roof: felt, boards, batts, plastic", False, "a trap", roof("karrental", 2.0), FELTED, (*FELTED[:2], ("joists", "mineral_fibre_035", 200, 0.1), TIGHT, BOARD)),
    Practice("cold flat roof: felt, boards, batts, nothing inside", False, "condensate under the felt", roof("ostmoor", 2.0), FELTED, (*FELTED[:2], ("joists", "mineral_fibre_035", 200, 0.1), BOARD)),
    Practice("rain-soaked rubble, 100 fibre, no membrane", False, "wet from both sides", wall("corrie", 290, "severe"), STONE, (*STONE, ("wool", "mineral_fibre_035", 100, 0.08), BOARD)),
    Practice("cavity of soft brick filled in severe rain", False, "the fill carries the rain across", wall("corrie", 290, "severe"), OLD_CAVITY, (OLD_CAVITY[0], ("cavity", "mineral_fibre_035", 60), *OLD_CAVITY[2:])),
    Practice("cooled house, brick, 90 fibre, vinyl", False, "summer vapour stops at the vinyl", wall("millrace", 180, "exposed", occupancy="cooled"), BRICK, (*BRICK, ("wool", "mineral_fibre_035", 90, 0.1), BOARD, ("vinyl", "vinyl_wallcovering"))),
    Practice("cooled house, soft brick leaf tight on sheathing, plastic", False, "sun drives rain inward", wall("millrace", 180, "exposed", occupancy="cooled"), (("leaf", "brick_old", 100), OSB, *FRAME), (("leaf", "brick_old", 100), OSB, FILL, TIGHT, BOARD)),
    Practice("wet cellar, batts and plastic", False, "wet wall behind plastic", cellar("corrie", ground="wet"), (("stone", "sandstone_rubble", 500), ("plaster", "lime_plaster", 20)), (("stone", "sandstone_rubble", 500), ("plaster", "lime_plaster", 20), ("wool", "mineral_fibre_035", 90, 0.1), TIGHT, BOARD)),
    Practice("wet cellar, batts and a variable membrane", False, "wet wall behind fibre", cellar("ostmoor", ground="wet"), CONCRETE, (*CONCRETE, ("wool", "mineral_fibre_035", 90, 0.1), VARIABLE, BOARD)),
    Practice("wood floor on a wet slab", False, "soil water reaches the wood", slab("corrie", ground="wet"), (EARTH, ("slab", "concrete", 80)), (EARTH, ("slab", "concrete", 80), ("chip", "chipboard", 22))),
    Practice("half-timber in the rain, 100 fibre and plastic", False, "joints leak, nothing dries", wall("corrie", 270, "exposed"), TIMBERED, (*TIMBERED, ("wool", "mineral_fibre_035", 100, 0.08), TIGHT, BOARD)),
    Practice("half-timber in the rain, 140 fibre and a variable membrane", False, "too cold and too wet", wall("corrie", 270, "severe"), TIMBERED, (*TIMBERED, ("wool", "mineral_fibre_035", 140, 0.08), VARIABLE, BOARD)),
    Practice("steel skin tight on batts, no vapour line", False, "condensate on the steel", wall("ostmoor"), (("steel", "profiled_sheet", 1), ("fill", "air_unventilated", 120, 0.1), BOARD), (("steel", "profiled_sheet", 1), ("fill", "mineral_fibre_035", 120, 0.1), BOARD)),
    Practice("very cold tin roof, batts, no vapour line", False, "condensate under the tin", roof("tarn", 30.0), (("tin", "steel_sheet", 1), ("rafters", "air_unventilated", 150, 0.1), BOARD), (("tin", "steel_sheet", 1), ("rafters", "mineral_fibre_035", 150, 0.1), BOARD)),
    Practice("weatherboards on studs, batts against them, rain face", False, "rain gets to the batt", wall("corrie", 290, "severe"), BARE, (("clad", "weatherboards", 20), ("fill", "mineral_fibre_035", 100, 0.15), TIGHT, BOARD)),
    Practice("weatherboards under old oil paint, cellulose against them", False, "held behind the paint", wall("corrie", 290, "exposed"), (("paint", "oil_paint"), *BARE), (("paint", "oil_paint"), ("clad", "weatherboards", 20), ("fill", "cellulose_dense", 100, 0.15), BOARD)),
    Practice("mineral slabs left open to the rain", False, "nothing covers them", wall("corrie", 270, "moderate"), STONE, (("slab", "facade_slab_036", 100), *STONE)),
    Practice("plasterboard outside", False, "not made for weather", wall("ostmoor", 180), (*CLAD, SARK, *FRAME), (("gb", "gypsum_board", 12.5), SARK, FILL, VARIABLE, BOARD)),
    Practice("laundry in a brick house, 100 fibre and no membrane", False, "nothing holds its vapour back", wall("ostmoor", occupancy="iso13788_5"), BRICK, (*BRICK, ("wool", "mineral_fibre_035", 100, 0.08), BOARD)),
    Practice("very cold logs, 150 fibre inside, no sheet, humid rooms", False, "cold face takes the room's vapour", wall("tarn", occupancy="high"), LOGS, (*LOGS, ("wool", "mineral_fibre_035", 150, 0.08), ("lining", "wood_panelling", 15))),
    Practice("oil-painted brick in the rain, calcium silicate inside", False, "rain held behind the paint", wall("corrie", 290, "severe"), (("paint", "oil_paint"), *BRICK), (("paint", "oil_paint"), *BRICK, BED, ("casi", "calcium_silicate", 50), ("vinyl", "vinyl_wallcovering"))),
    Practice("large panels, 120 fibre inside, no membrane, humid rooms", False, "cold concrete takes the room's vapour", wall("ostmoor", occupancy="high"), PANEL, (*PANEL, ("wool", "mineral_fibre_035", 120, 0.08), BOARD)),
    Practice("zinc tight on boards, fibre and plastic", False, "a trap", roof("corrie", 30.0), (("zinc", "zinc_seamed", 1), ("deck", "sarking_boards", 24), ("rafters", "air_unventilated", 180, 0.1), BOARD), (("zinc", "zinc_seamed", 1), ("deck", "sarking_boards", 24), ("rafters", "mineral_fibre_035", 180, 0.1), TIGHT, BOARD)),
    Practice("planted wooden deck, fibre below, plastic", False, "soil and sheet above, plastic below", roof("ostmoor", 2.0), FELTED, (("soil", "earth", 100), ("drain", "dimpled_sheet"), *FELTED[:2], ("joists", "mineral_fibre_035", 200, 0.1), TIGHT, BOARD)),
    Practice("foam under slates on open boards, maritime rain", False, "leaks stay in the boards", roof("corrie", 35.0, 270.0), (("slate", "slate", 8), *RAFTERS), (("slate", "slate", 8), SARK, ("rafters", "spray_foam_closed", 120, 0.1), BOARD)),
)  # fmt: skip
MORE = (*SOUND, *UNSOUND)
