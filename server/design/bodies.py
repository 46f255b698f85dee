"""Documents as the API speaks them: one union over the core's own models, so that a field is written once."""

from functools import reduce
from operator import or_
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field, create_model

from saddle.documents import KINDS


def _bodies(suffix: str, based: bool = False, **fields: Any) -> Any:
    members: list[Any] = []
    for kind, found in KINDS.items():
        spec = found.model
        tag: Any = Literal[kind]
        base: Any = {"base": (spec | None, None)} if based else {}
        members.append(
            create_model(f"{spec.__name__}{suffix}", __base__=Schema, kind=(tag, ...), spec=(spec, ...), **fields, **base)
        )
    return Annotated[reduce(or_, members), Field(discriminator="kind")]


#: What is sent: kind, spec, and the version it was made on; with base, the spec of that version, it is put together with what
#: somebody else changed meanwhile where the two do not touch.
DocumentIn = _bodies("In", based=True, version=(int, Field(ge=0)))
#: The same with its key, for several at once.
KeyedIn = _bodies("Keyed", key=(str, Field(max_length=80)), version=(int, Field(ge=0)))
#: What comes back.
DocumentOut = _bodies("Out", key=(str, ...), version=(int, ...), merged=(bool, False))
