"""The one family of errors that Kesh shows to people; anything else is a bug."""

from pydantic import ValidationError


class KeshError(Exception):
    """Something the user can mend; the message is one plain sentence that says how."""


class FieldError(KeshError, ValueError):
    """A value cannot be used. Carries the field's name and the reason."""

    def __init__(self, field: str, reason: str) -> None:
        super().__init__(f"{field}: {reason}")
        self.field = field
        self.reason = reason

    def __reduce__(self) -> "tuple[type[FieldError], tuple[str, str]]":
        """What it was made from, for its way between processes."""
        return type(self), (self.field, self.reason)


class BundleError(KeshError, ValueError):
    """A bundle, table or record from outside cannot be understood."""


class CollectionFileError(KeshError):
    """A collection file cannot be opened or written."""


def plain_reason(error: ValidationError, what: str) -> str:
    """The first fault of a record as one sentence: where, what arrived, what is allowed."""
    fault = error.errors(include_url=False)[0]
    where = ".".join(str(part) for part in fault["loc"])
    arrived = fault.get("input")
    shown = "" if isinstance(arrived, dict | list) else f" (got {arrived!r})"
    more = len(error.errors()) - 1
    tail = f"; {more} more fault{'s' if more > 1 else ''} in the same place" if more else ""
    message = fault["msg"][0].lower() + fault["msg"][1:]
    return f"{what}: {where or 'value'}: {message}{shown}{tail}"
