"""What one road may be at most: stated where it is refused, before anything is reserved for it."""

#: Length of an alignment, m.
LONGEST_ROAD = 200_000.0
#: Sections of a road.
MOST_SECTIONS = 20_000
#: Places where all sections of a surface meet its triangles.
MOST_VERTICES = 12_000_000
