"""Every tolerance of the core, named once. Metres unless the name says otherwise."""

#: Chainages closer than this are one section.
CHAINAGE_MERGE = 1e-3
#: What ends this close to an end of the alignment, or of what comes next, ends there: figures of tables and files are rounded.
NEAR_END = 5e-3
#: A length or level difference that counts as none in exact geometry.
COINCIDENT = 1e-9
#: Survey points closer in plan than this are one point.
DUPLICATE_PLAN = 1e-3
#: Levels of one point measured twice may differ by this much.
DUPLICATE_LEVEL = 5e-3
#: Breaklines that cross with levels no further apart than this are only warned of.
CROSSING_LEVEL = 5e-3
#: A survey line that ends this close to a section line meets it (survey files are rounded).
LINE_END = 0.02
#: So does a line that is computed, which no file has rounded.
COMPUTED_END = 1e-6
#: Least twice-area of a triangle, m2, below which points count as being on one line.
FLAT_TRIANGLE = 1e-9
#: Depth may fall short of the cover by this much before it is a problem.
SHORT_COVER = 1e-6
#: Old and new pavement edges closer than this are one edge (a survey is no better).
SAME_EDGE = 0.02
#: Strips of new construction narrower than this do not exist (files are written to six decimals).
SLIVER = 1e-5
#: A layer that is nowhere wider than this on a section is pointed out: it cannot be laid.
NARROW_LAYER = 0.10
#: Layers thinner than this do not count.
THIN_LAYER = 1e-4
#: Hinge levels either side of a change of treatment may differ by this much before it is a step.
LEVEL_STEP = 0.002
#: Milling beyond what is built is pointed out from this much of a section on, m2.
OPEN_MILLING = 1e-3
