"""What the library begins with, of every kind that libraries hold."""

from saddle.documents_base import Document
from saddle.drawings.starting import STYLES
from saddle.quantities.reports.starting import REPORTS
from saddle.template.starter import KERBS, MAKE_UPS, MATERIALS, TEMPLATES

#: By kind and key.
LIBRARY: dict[tuple[str, str], Document] = {
    **{("material", key): spec for key, spec in MATERIALS.items()},
    **{("kerb", key): spec for key, spec in KERBS.items()},
    **{("make_up", key): spec for key, spec in MAKE_UPS.items()},
    **{("template", key): spec for key, spec in TEMPLATES.items()},
    **{("report", key): spec for key, spec in REPORTS.items()},
    **{("drawing_style", key): spec for key, spec in STYLES.items()},
}
