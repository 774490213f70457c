"""What kinds of outline, wall and finish are called on screen. No Qt here."""

OUTLINES = {
    "rectangle": "rectangle",
    "oval": "oval",
    "round": "round",
    "polygon": "even-sided",
    "lobed": "lobed",
    "free": "free form",
}
PROFILES = {
    "straight": "straight, tapered",
    "tube": "upright",
    "bowed": "bowed",
    "lip": "lip",
    "table": "by table",
    "slab": "slab",
}
FINISHES = {
    "unglazed": "unglazed",
    "muted_glaze": "quiet glaze",
    "bright_glaze": "bright glaze",
    "painted": "painted",
    "as_made": "as made",
}
