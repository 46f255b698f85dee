"""What the treatments API speaks of besides the documents."""

from ninja import Schema

from saddle.documents_base import Number
from saddle.road.spec import Variant, VariantPlan

Chainage = Number


class VariantsIn(Schema):
    """Variants to compare over a range."""

    plan: VariantPlan
    from_chainage: Chainage
    to_chainage: Chainage


class VariantTreatmentsIn(Schema):
    """A variant to take over a range."""

    variant: Variant
    from_chainage: Chainage
    to_chainage: Chainage
