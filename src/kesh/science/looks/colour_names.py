"""What a person would call a colour."""

import math

from kesh.science.looks.colour import lab_of

# hue angle of CIELAB in degrees, up to which a colour carries the name: (dull, vivid)
HUES = (
    (15.0, "plum", "crimson"), (56.0, "red-brown", "red"), (68.0, "brown", "orange"), (90.0, "buff", "ochre"),
    (112.0, "straw", "yellow"), (170.0, "grey-green", "green"), (225.0, "grey-green", "blue-green"), (295.0, "grey-blue", "blue"),
    (340.0, "mauve", "violet"), (360.0, "plum", "crimson"),
)  # fmt: skip
GREY_BELOW, VIVID_FROM, DARK_BELOW, PALE_FROM = 7.0, 38.0, 38.0, 72.0


def colour_words(colour: str) -> str:
    """A colour as a person would call it: 'pale buff', 'dark grey-blue'."""
    light, a, b = (float(v) for v in lab_of(colour))
    tone = "dark " if light < DARK_BELOW else "pale " if light > PALE_FROM else ""
    chroma, hue = math.hypot(a, b), math.degrees(math.atan2(b, a)) % 360
    if chroma < GREY_BELOW:
        return "black" if light < 18 else "white" if light > 93 else f"{tone}grey"
    dull, vivid = next((one, other) for end, one, other in HUES if hue <= end)
    return tone + (vivid if chroma >= VIVID_FROM else dull)
