"""What is taken in on site: the shape of the building, its exposure, its openings, and the drawings made from them."""
