"""The base of all records and the number ranges they share."""

from datetime import datetime
from typing import Annotated, Any, ClassVar, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError

from kesh.base.errors import FieldError, plain_reason

LengthMm = Annotated[float, Field(gt=0, le=20_000)]
OptionalLengthMm = Annotated[float, Field(gt=0, le=20_000)] | None
ReachMm = Annotated[float, Field(ge=0, le=20_000)]
SignedMm = Annotated[float, Field(ge=-20_000, le=20_000)]
Share = Annotated[float, Field(ge=0, le=1)]
Key = Annotated[str, Field(min_length=1, max_length=200)]
# as many letters as a record's notes hold
MOST_NOTE = 4000
Text = Annotated[str, Field(max_length=MOST_NOTE)]
# the clock of the place: a zone that came along is dropped, so that all can be compared
LocalTime = Annotated[datetime, AfterValidator(lambda value: value.replace(tzinfo=None))]


def plain_from(data: Any) -> Any:
    """Fields with `from_`, which in files is "from": no name in this language."""
    return (
        {("from" if k == "from_" else k): v for k, v in data.items()}
        if isinstance(data, dict) and "from_" in data
        else data
    )


class Record(BaseModel):
    """A frozen record. Building one checks every range; editing makes a new one."""

    # fields as others call them in bundles
    other_words: ClassVar[dict[str, str]] = {}

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def changed(self, **changes: Any) -> Self:
        """A new record with some fields replaced, all checks run again.

        Raises FieldError naming the field, the value and the allowed range.
        """
        return type(self).made(**({name: getattr(self, name) for name in type(self).model_fields} | changes))

    @classmethod
    def made(cls, **fields: Any) -> Self:
        """A record of fields that were worked out, which may come out too large or too small for one.

        Raises FieldError naming the field, the value and the allowed range.
        """
        try:
            return cls(**fields)
        except ValidationError as err:
            name = ".".join(str(part) for part in err.errors()[0]["loc"])
            raise FieldError(name, plain_reason(err, cls.__name__).split(": ", 2)[-1]) from err
