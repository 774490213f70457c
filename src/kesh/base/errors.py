"""The one family of errors that Kesh shows to people; anything else is a bug."""

from typing import TYPE_CHECKING

from pydantic import ValidationError

if TYPE_CHECKING:
    from pydantic_core import ErrorDetails


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


# what a value has to be, in words, by the kind of fault
SAID = {
    "greater_than": "has to be above {gt}", "greater_than_equal": "has to be at least {ge}", "less_than": "has to be below {lt}",
    "less_than_equal": "may be at most {le}", "string_too_long": "is longer than {max_length} letters", "string_too_short": "is empty",
    "too_long": "has more than {max_length} rows", "too_short": "has fewer than {min_length} rows", "literal_error": "is none of {expected}",
    "enum": "is none of {expected}", "finite_number": "is no finite number", "missing": "is missing", "extra_forbidden": "is not known here",
    "string_type": "is no text", "list_type": "is no list", "tuple_type": "is no list", "dict_type": "is no group of fields",
    "model_type": "is no group of fields", "model_attributes_type": "is no group of fields", "date_from_datetime_inexact": "is no day",
    "int_from_float": "is no whole number", "recursion_loop": "holds itself",
}  # fmt: skip
KINDS = (
    ("float", "is no number"), ("int", "is no whole number"), ("bool", "is neither true nor false"), ("datetime", "is no time, as 2026-03-10T07:00"),
    ("date", "is no day, as 2026-03-10"), ("none", "has to be empty"), ("is_instance", "is not of the kind that is wanted"),
)  # fmt: skip
PATTERNS = {"^#[0-9A-Fa-f]{6}$": "is no colour, as #7B5A48"}
SHOWN = 60


def _said(fault: "ErrorDetails") -> str:
    """What is wrong with a value, in plain words."""
    kind, limits = fault["type"], {k: _short(v) for k, v in fault.get("ctx", {}).items()}
    if kind == "string_pattern_mismatch":
        return PATTERNS.get(str(fault.get("ctx", {}).get("pattern")), "is not written as it has to be")
    if kind in ("value_error", "assertion_error"):
        return fault["msg"].split(", ", 1)[-1]
    if kind in SAID:
        return SAID[kind].format(**limits)
    return next((words for begins, words in KINDS if kind.startswith(begins)), "cannot be read")


def _short(value: object) -> str:
    """A value as it is shown in a sentence: whole numbers plain, long texts cut."""
    if isinstance(value, float):
        return f"{value:g}"
    text = str(value)
    return text if len(text) <= SHOWN else f"{text[:SHOWN]}… of {len(text):,} letters".replace(",", "\u202f")


def plain_reason(error: ValidationError, what: str) -> str:
    """The first fault of a record as one sentence: where, what arrived, what is allowed."""
    fault = error.errors(include_url=False)[0]
    where = ".".join(str(part) for part in fault["loc"])
    arrived = fault.get("input")
    quoted = f"'{_short(arrived)}'" if isinstance(arrived, str) else _short(arrived)
    shown = "" if isinstance(arrived, dict | list | tuple) or fault["type"] == "missing" else f" (got {quoted})"
    more = len(error.errors()) - 1
    tail = f"; {more} more fault{'s' if more > 1 else ''} in the same place" if more else ""
    return f"{what}: {where or 'value'}: {_said(fault)}{shown}{tail}"
