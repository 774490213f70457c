"""Lists of pots as people with other habits would write them, and what truly stands in each row."""

from dataclasses import dataclass
from random import Random

MM = {"mm": 1.0, "cm": 10.0, "in": 25.4}
UNIT_WORDS = {
    "mm": ("mm", " mm", " millimetres"),
    "cm": ("cm", " cm", " Zentimeter"),
    "in": ('"', " in", " inches", " Zoll"),
}
OUTLINES = {
    "oval": ("oval", "Oval", "ovale", "ovalado"), "rectangle": ("rectangle", "rechteckig", "rectangulaire", "rettangolare", "rectangular"),
    "round": ("round", "rund", "ronde", "redonda", "rotondo"), "hexagon": ("hexagon", "sechseckig", "esagonale"),
}  # fmt: skip
FINISHES = {
    "glazed": ("glazed", "glasiert", "émaillé", "smaltato", "esmaltado"), "unglazed": ("unglazed", "unglasiert", "non émaillé", "non smaltato", "sin esmaltar"),
}  # fmt: skip
COLOURS = {
    "blue": ("blue", "blau", "bleu", "blu", "azul"), "brown": ("brown", "braun", "brun", "marrone"), "green": ("green", "grün", "vert", "verde"),
    "grey": ("grey", "gray", "grau", "gris", "grigio"), "cream": ("cream", "creme", "crème", "crema"),
}  # fmt: skip
HEADS = {
    "name": ("Name", "pot", "Bezeichnung", "Nom", "nome"), "size": ("Größe", "size", "Dimensions", "Maße", "misure"),
    "length": ("L", "Länge", "length", "longueur", "lunghezza"), "width": ("W", "Breite", "width", "largeur", "larghezza"),
    "height": ("H", "Höhe", "height", "hauteur", "altezza"), "look": ("shape / glaze", "Farbe / Glasur", "forme", "colour"),
    "holes": ("holes", "Löcher", "trous", "fori"), "price": ("price", "Preis", "prix", "prezzo", "paid"), "notes": ("notes", "Bemerkung", "remarques"),
}  # fmt: skip


@dataclass
class Truth:
    """What stands in a row."""

    name: str
    length_mm: float
    width_mm: float
    height_mm: float
    outline: str
    finish: str
    colour: str
    drain: int
    ties: int
    price: float
    currency: str


@dataclass
class Habit:
    """How one person writes: the list as text, its unit of bare figures, and the truth of every row."""

    text: str
    unit: str
    rows: list[Truth]


def _figure(rng: Random, mm: float, unit: str, comma: bool) -> tuple[str, float]:
    """(figure as written, mm that it means)."""
    if unit == "in":
        quarters = max(4, round(mm / 25.4 * 4))
        whole, part = divmod(quarters, 4)
        text = (
            f"{whole}"
            if part == 0
            else f"{whole} {('', '1/4', '1/2', '3/4')[part]}"
            if rng.random() < 0.5
            else f"{quarters / 4:g}"
        )
        return text, quarters / 4 * 25.4
    value = round(mm / MM[unit], 0 if unit == "mm" else 1)
    text = f"{value:g}"
    return text.replace(".", ",") if comma else text, value * MM[unit]


def _holes(rng: Random, drain: int, ties: int) -> str:
    words = {1: "one", 2: "two", 3: "drei", 4: "quattro", 6: "six"}
    many = rng.choice((str(drain), words[drain]))
    if ties == 0:
        return rng.choice((many, f"{drain} x 20", f"{many} drain"))
    return rng.choice(
        (
            f"{drain} x 20, {ties} wire",
            f"{drain}+{ties}",
            f"{many} drain {ties} tie",
            f"{drain} large, {ties} small",
            f"{drain} x 18 + {ties} Draht",
        )
    )


def _price(rng: Random, price: float, currency: str, parting: str) -> str:
    sign = {"EUR": ("€", "EUR", "Euro"), "USD": ("$", "USD"), "GBP": ("£", "GBP"), "CHF": ("CHF", "Fr.")}[currency]
    figure = f"{price:.2f}" if rng.random() < 0.4 else f"{price:g}"
    if rng.random() < 0.3 and parting != ",":
        figure = figure.replace(".", ",")
    return rng.choice((f"{rng.choice(sign)} {figure}", f"{figure} {rng.choice(sign)}"))


def _slip(rng: Random, word: str) -> str:
    """A long word with one letter left out, doubled, or two changed round."""
    if len(word) < 6:
        return word
    i = rng.randrange(1, len(word) - 2)
    how = rng.random()
    if how < 0.4:
        return word[:i] + word[i + 1 :]
    return word[:i] + word[i] + word[i:] if how < 0.7 else word[:i] + word[i + 1] + word[i] + word[i + 2 :]


def a_list(seed: int, slips: bool = False) -> Habit:
    """One person's list; with `slips` also a word here and there is misspelt."""
    rng = Random(seed)
    unit = rng.choice(("mm", "cm", "cm", "in"))
    parting = rng.choice((",", ";", "\t", "|"))
    comma = parting != "," and unit != "in" and rng.random() < 0.5
    one_column, bare = rng.random() < 0.6, rng.random() < 0.5
    cross = rng.choice(("x", " x ", "×", " × ", "*", " by "))
    language = {k: rng.choice(v) for k, v in HEADS.items()}
    order = ["name", *(["size"] if one_column else ["length", "width", "height"]), "look", "holes", "price", "notes"]
    rest = order[1:]
    rng.shuffle(rest)
    order = ["name", *rest]
    if not one_column:
        at = [order.index(k) for k in ("length", "width", "height")]
        for k, i in zip(("length", "width", "height"), sorted(at), strict=True):
            order[i] = k
    lines = [""] * rng.choice((0, 0, 1))
    if rng.random() < 0.3:
        lines.append("My pots" + parting * (len(order) - 1))
    in_head = bare and unit != "in" and rng.random() < 0.5
    lines.append(
        parting.join(
            language[k] + (f" ({unit})" if in_head and k in ("size", "length", "width", "height") else "")
            for k in order
        )
    )
    rows = []
    for n in range(rng.randint(2, 9)):
        outline = rng.choice(tuple(OUTLINES))
        sides = sorted((rng.uniform(120, 640), rng.uniform(110, 600)), reverse=True)
        if outline == "round":
            sides = [sides[0], sides[0]]
        figures = [_figure(rng, mm, unit, comma) for mm in (*sides, rng.uniform(40, 210))]
        behind = "" if bare else rng.choice(UNIT_WORDS[unit])
        behind = behind.replace('"', " in") if parting == "," else behind
        if one_column:
            each = rng.random() < 0.3 and behind != ""
            size = cross.join(f + (behind if each else "") for f, _ in figures) + ("" if each else behind)
            if outline == "round" and rng.random() < 0.5:
                size = f"Ø {figures[0][0]}{behind if each else ''}{cross}{figures[2][0]}{behind}"
            told = {"size": size}
        else:
            told = dict(zip(("length", "width", "height"), (f + behind for f, _ in figures), strict=True))
        finish, colour = rng.choice(tuple(FINISHES)), rng.choice(tuple(COLOURS))
        look = [rng.choice(OUTLINES[outline]), rng.choice(FINISHES[finish]), rng.choice(COLOURS[colour])]
        rng.shuffle(look)
        if slips and rng.random() < 0.3:
            i = rng.randrange(3)
            look[i] = " ".join(_slip(rng, w) for w in look[i].split())
        drain, ties = rng.choice((1, 2, 3, 4, 6)), rng.choice((0, 0, 2, 4))
        price, currency = round(rng.uniform(8, 400)) + rng.choice((0, 0, 0.5)), rng.choice(("EUR", "USD", "GBP", "CHF"))
        holes = _holes(rng, drain, ties)
        told |= {
            "name": f"Nr {chr(65 + n)}", "look": " ".join(look), "holes": f'"{holes}"' if parting in holes else holes,
            "price": _price(rng, price, currency, parting), "notes": rng.choice(("", "", "old", "Regal", "good")),
        }  # fmt: skip
        lines.append(parting.join(told[k] for k in order))
        if rng.random() < 0.1:
            lines.append(parting * (len(order) - 1))
        (_, length), (_, width), (_, height) = figures
        rows.append(Truth(told["name"], length, width, height, outline, finish, colour, drain, ties, price, currency))
    return Habit("\n".join(lines) + "\n", unit, rows)
