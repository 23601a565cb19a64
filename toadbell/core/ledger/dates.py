"""Days of the calendar."""

import datetime


def add_months(day: datetime.date, months: int) -> datetime.date:
    """The same day so many months on, or the month's last.

    >>> add_months(datetime.date(2026, 1, 31), 1)
    datetime.date(2026, 2, 28)
    """
    year, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    last = (datetime.date(year + month // 11, (month + 1) % 12 + 1, 1) - datetime.timedelta(days=1)).day
    return datetime.date(year, month + 1, min(day.day, last))
