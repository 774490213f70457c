"""Place Season: when, what next, this weekend, who gets which pot."""

from kesh.ui.rooms import signs
from kesh.ui.rooms.room import Command, Room

SEASON = Room(
    "season", "place", "Season", "When, what next, this weekend", "kesh.ui.rooms.season.face:SeasonFace",
    views=(("year", "Year"), ("quarter", "Quarter"), ("weeks", "Six weeks"), ("pots", "Who gets which pot")),
    sign=signs.season,
    commands=(
        Command("calendar_file", "Write the calendar file", "Ctrl+Alt+K", "Season", "write_calendar", also="ics ical diary reminders export dates"),
        Command("tasks_list", "Write all tasks as a list", "Ctrl+Alt+T", "Season", "write_tasks", also="csv export due work"),
        Command("order_list", "Write the order list", "Ctrl+Alt+O", "Season", "write_orders", also="shopping buy stock soil wire missing csv"),
        Command("print_week", "Print this week, to tick", "Ctrl+Alt+D", "Season", "print_week", also="paper pdf list todo"),
        Command("print_month", "Print this month as a calendar", "Ctrl+Alt+J", "Season", "print_month", also="paper pdf calendar"),
        Command("plan_pots", "Plan who gets which pot anew", "Ctrl+Alt+G", "Season", "plan_pots", also="assign chain moves spring plan"),
        Command("new_task", "Add a task for the tree in hand", "Ctrl+Alt+N", "Season", "add_task", also="reminder todo prune wire look"),
    ),
    sheet_keys=(("G T", "season: next task, today"),),
    also="calendar weekend windows tasks due aftercare year quarter week stock order away frost reminders schedule",
)  # fmt: skip
