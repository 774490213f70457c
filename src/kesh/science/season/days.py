"""Days before and after a day, within what a calendar holds: a date typed as the year 9999 must not end a whole list."""

from datetime import date, timedelta


def later(day: date, days: int) -> date:
    """So many days after a day, or before it where negative; the first or last day of the calendar where there is none."""
    try:
        return day + timedelta(days=days)
    except OverflowError:
        return date.max if days > 0 else date.min
