"""What all documents share: strict, small, typed. Reading one that does not fit names the field."""

import hashlib
from functools import cached_property
from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field

#: A finite number. NaN and infinities are refused at the door.
Number = Annotated[float, Field(allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0, allow_inf_nan=False)]
Name = Annotated[str, Field(min_length=1, max_length=80)]
#: The key of another document of the project.
Key = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[A-Za-z0-9_-]+$")]


class Document(BaseModel):
    """Base of every document and of its parts."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)

    @cached_property
    def digest(self) -> str:
        """A hash of the content, found once: documents are never changed in place."""
        return hashlib.blake2b(type(self).__name__.encode() + self.model_dump_json().encode(), digest_size=16).hexdigest()

    def changed(self, **fields: Any) -> Self:
        """A checked copy with some fields replaced."""
        return type(self).model_validate({**self.model_dump(), **fields})
