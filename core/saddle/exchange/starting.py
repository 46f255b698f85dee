"""What the library begins with, of every kind that libraries hold."""

from saddle.documents_base import Document
from saddle.drawings.starting import STYLES
from saddle.quantities.reports.starting import REPORTS
from saddle.template import starter, starter_medians
from saddle.template.starter import MAKE_UPS, MATERIALS

#: By kind and key.
LIBRARY: dict[tuple[str, str], Document] = {
    **{("material", key): spec for key, spec in MATERIALS.items()},
    **{("kerb", key): spec for key, spec in (starter.KERBS | starter_medians.KERBS).items()},
    **{("make_up", key): spec for key, spec in MAKE_UPS.items()},
    **{
        ("template", key): spec
        for key, spec in (starter.TEMPLATES | starter_medians.CARRIAGEWAYS | starter_medians.SHAPES).items()
    },
    **{("median", key): spec for key, spec in starter_medians.MEDIANS.items()},
    **{("report", key): spec for key, spec in REPORTS.items()},
    **{("drawing_style", key): spec for key, spec in STYLES.items()},
}
