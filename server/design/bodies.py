"""Documents as the API speaks them: one union over the core's own models, so that a field is written once."""

from functools import reduce
from operator import or_
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field, create_model

from saddle.documents import KINDS


def _bodies(suffix: str, **fields: Any) -> Any:
    members: list[Any] = []
    for kind, found in KINDS.items():
        spec = found.model
        tag: Any = Literal[kind]
        members.append(create_model(f"{spec.__name__}{suffix}", __base__=Schema, kind=(tag, ...), spec=(spec, ...), **fields))
    return Annotated[reduce(or_, members), Field(discriminator="kind")]


#: What is sent: kind, spec and the version it was made on.
DocumentIn = _bodies("In", version=(int, Field(ge=0)))
#: The same with its key, for several at once.
KeyedIn = _bodies("Keyed", key=(str, Field(max_length=80)), version=(int, Field(ge=0)))
#: What comes back.
DocumentOut = _bodies("Out", key=(str, ...), version=(int, ...))
