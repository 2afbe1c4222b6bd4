"""A simulated supplier's list: made up, and says so. The same CSV that a real one would send."""

from __future__ import annotations

import csv
import io

from server.library.suppliers import Article

LIST = """\
name,material,thicknesses_mm,width_mm,length_mm,pack,price_m2,currency,lead_weeks
mineral slab L35,mineral_fibre_035,60 80 100 120 140,600,1000,6,11.40,EUR,1
mineral slab L32,mineral_fibre_032,60 80 100 120,600,1000,5,15.80,EUR,3
mineral batt L38,mineral_fibre_038,100 140 180 200,570,1200,8,8.90,EUR,1
glass quilt L44,glass_fibre_044,100 150 200,1200,6000,1,4.70,EUR,1
facade slab L36,facade_slab_036,80 100 120 140 160,600,1000,4,19.50,EUR,2
wood-fibre board C43,wood_fibre_board,40 60 80 100 120,600,1250,4,24.00,EUR,4
wood-fibre batt B38,wood_fibre_batt,60 80 100 120 160,575,1220,5,13.20,EUR,2
wood-fibre sheathing S47,wood_fibre_sheathing,25 35 60,580,2500,44,21.00,EUR,6
hemp batt,hemp_batt,60 80 100 120,580,1200,6,12.70,EUR,5
sheep wool mat,sheep_wool,60 100 140,600,6000,1,17.90,EUR,8
cellulose in bags,cellulose_dense,100 140 180 220,0,0,1,9.60,EUR,1
calcium silicate board,calcium_silicate,25 30 50,1000,1250,20,46.00,EUR,5
mineral foam board,mineral_foam_board,60 80 100 120,390,600,6,27.00,EUR,3
perlite board,perlite_board,60 80 100,625,416,6,39.00,EUR,9
cork board,cork_board,40 60 80 100,500,1000,8,33.00,EUR,7
expanded foam E35,eps_035,60 80 100 120 140,500,1000,4,7.80,EUR,1
grey foam E31,eps_grey_031,60 80 100 120 140,500,1000,4,9.90,EUR,1
extruded foam X34,xps_034,50 60 80 100 120,600,1250,5,16.40,EUR,2
foil-faced board P23,pir_foil,40 60 80 100 120,600,2400,6,21.50,EUR,2
fleece-faced board P26,pir_fleece,60 80 100 120 140,600,1200,5,19.20,EUR,2
phenolic board,phenolic,40 60 80,600,1200,6,28.00,EUR,10
variable sheet M,membrane_variable_medium,,1500,50000,1,2.60,EUR,1
variable sheet S,membrane_variable_strong,,1500,40000,1,3.90,EUR,2
variable sheet W,membrane_variable_weak,,1500,50000,1,2.10,EUR,1
retarder sheet 5,membrane_retarder,,1500,50000,1,1.40,EUR,1
polyethylene 0.2,polyethylene,,4000,25000,1,0.45,EUR,1
open underlay,membrane_open,,1500,50000,1,1.70,EUR,1
gypsum board 12.5,gypsum_board,12.5,1250,2500,60,3.90,EUR,1
gypsum fibre 12.5,gypsum_fibre_board,12.5,1000,1500,60,7.20,EUR,1
larch boards,larch_boards,22 26,145,4000,1,48.00,EUR,6
weatherboards,weatherboards,20,145,4000,1,29.00,EUR,3
"""


def articles() -> list[Article]:
    """The list as it would be read from the supplier's file."""
    found = []
    for row in csv.DictReader(io.StringIO(LIST)):
        found.append(
            Article(
                name=row["name"],
                material=row["material"],
                thicknesses_mm=tuple(float(mm) for mm in row["thicknesses_mm"].split()),
                width_mm=float(row["width_mm"]),
                length_mm=float(row["length_mm"]),
                pack=int(row["pack"]),
                price_m2=float(row["price_m2"]),
                currency=row["currency"],
                lead_weeks=float(row["lead_weeks"]),
            )
        )
    return found
