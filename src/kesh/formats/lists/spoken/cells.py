"""Holes by count, money in any sign, outline, finish and colour in free words."""

import re
from dataclasses import dataclass, field
from functools import cache, lru_cache

from kesh.base.units import MM
from kesh.formats.lists.spoken.figures import MOST_LETTERS, value
from kesh.formats.lists.spoken.vocabulary import KEPT, bare, colour_name, meanings, nearly, quoted, said, ways
from kesh.model.pot import LEAST_DRAIN_MM
from kesh.science.looks.colour_names import colour_words

# a hole narrower than this is for a wire [J]
WIRE_MM = 10.0
MOST_HOLES = 60
PLACED = re.compile(r"-?[\d.]+ -?[\d.]+ (?P<across>\d+(?:\.\d+)?)(?: (?P<use>drain|tie))?")
HEX = re.compile(r"#[0-9A-Fa-f]{6}(?![0-9A-Fa-f])")
# words that turn the word behind them round
NOT = r"(?<![a-z])(?:non|not|no|un|sin|sem|nao|nicht|ohne|sans|senza)"


@dataclass
class Holes:
    """Counts of drain and wire holes, None where nothing is said; the width across of the drain holes where it is said."""

    drain: int | None = None
    ties: int | None = None
    across_mm: float | None = None
    tie_mm: float | None = None
    doubts: list[str] = field(default_factory=list)


@lru_cache(maxsize=KEPT)
def _counted(text: str) -> str:
    """Counts in words put as figures."""
    numbers = meanings("number")
    return ways("number").sub(lambda m: numbers[m.group()], text)


# words that join counts and say nothing of their own
JOINING = frozenset(
    [
        "and",
        "und",
        "et",
        "e",
        "y",
        "mm",
        "cm",
        "of",
        "with",
        "mit",
        "de",
        "da",
        "di",
        "per",
        "each",
        "je",
        "plus",
        "for",
        "fur",
        "pour",
        "para",
    ]
)


def hole_word(word: str) -> bool:
    """Whether a word is one that counts or names holes."""
    plain = bare(word)
    return plain in meanings("hole") or plain in meanings("number") or plain in JOINING


def holes_of(text: str) -> Holes:
    """'2 x 20, 4 wire', '2+4', '2 drain 4 tie', 'three', '6 x 15', '1 big', 'none'; or each by its place, as Kesh writes them."""
    found = Holes()
    places = [m for part in text.split(";") if part.strip() for m in (PLACED.fullmatch(part.strip()),)]
    if places and all(places):
        wide = [m["use"] == "drain" if m["use"] else float(m["across"]) >= LEAST_DRAIN_MM for m in places if m]
        return Holes(drain=sum(wide), ties=len(wide) - sum(wide))
    # '2 à 20 mm' and '2 Ø 20' are two of twenty
    plain = _counted(re.sub(r"(?<=\d)\s*(?:ø|\ba\b|@)\s*(?=\d)", " x ", bare(text[:MOST_LETTERS])))
    kinds = meanings("hole")
    parts = re.findall(r"\d+(?:[.,]\d+)?\s*(?:x\s*(?:ø\s*)?\d+(?:[.,]\d+)?)?\s*(?:mm|cm)?[^\d+,;/&]*", plain)
    last: str | None = None
    for n, part in enumerate(parts):
        m = re.match(r"(\d+)\s*(?:x\s*(?:ø\s*)?(\d+(?:[.,]\d+)?))?\s*(mm|cm)?", part)
        if m is None:
            continue
        words = [kinds[w] for w in re.findall(r"[a-z]+", part[m.end() :]) if w in kinds]
        if m[3] and m[2] is None and last is not None:
            # a figure with a unit is how wide, not how many: '1 of 30 mm'
            setattr(found, "across_mm" if last == "drain" else "tie_mm", value(m[1]) * MM[m[3]])
            continue
        count, across = int(m[1]), value(m[2]) * MM[m[3] or "mm"] if m[2] else None
        # a bare figure after a count is how wide those holes are: '2 drain 20, 4 tie'
        if across is None and not words and last is not None and n > 0 and re.search(rf"[a-z]\s+{m[1]}", plain):
            setattr(found, "across_mm" if last == "drain" else "tie_mm", float(count))
            continue
        kind = "tie" if "tie" in words else "drain" if words else None
        if kind is None:
            kind = "tie" if found.drain is not None or (across is not None and across < WIRE_MM) else "drain"
        if kind == "tie":
            found.ties = (found.ties or 0) + count
            found.tie_mm = across or found.tie_mm
        else:
            found.drain = (found.drain or 0) + count
            found.across_mm = across or found.across_mm
        last = kind
    if any(n is not None and n > MOST_HOLES for n in (found.drain, found.ties)):
        return Holes(doubts=[f"holes {quoted(text)}: so many cannot be"])
    if text.strip() and found.drain is None and found.ties is None and not re.fullmatch(r"[-?\s]*|unknown|n/?a", plain):
        found.doubts.append(f"holes {quoted(text)} are not understood: they stay unknown")
    return found


@cache
def _money() -> re.Pattern[str]:
    words = sorted(meanings("currency"), key=len, reverse=True)
    edged = (
        rf"{'(?<![a-z])' if w[0].isalpha() else ''}{re.escape(w)}{'(?![a-z])' if w[-1].isalpha() else ''}"
        for w in words
    )
    return re.compile("|".join(edged))


def price_of(text: str) -> tuple[float | None, str | None, str]:
    """(amount, ISO code, doubt): '45,- €', '$85', '1,250 yen', '1.250,50 EUR', 'CHF 250', '50'."""
    plain = bare(text[:MOST_LETTERS])
    if not re.search(r"\d", plain):
        doubt = "" if re.fullmatch(r"[-?\s]*|n/?a|gift|geschenk|cadeau|regalo|free|gratis|unknown", plain) else f"price {quoted(text)} is not understood"  # fmt: skip
        return None, None, doubt
    signs = _money().search(plain)
    code = meanings("currency")[signs.group()] if signs is not None else None
    figure = re.search(r"\d[\d.,' ]*", plain)
    assert figure is not None
    amount = figure.group().replace("'", "").replace(" ", "").rstrip(".,")
    if "," in amount and "." in amount:
        amount = amount.replace("." if amount.rfind(",") > amount.rfind(".") else ",", "")
    elif re.fullmatch(r"\d{1,3}([.,]\d{3})+", amount):
        # three figures behind a sign are thousands: money has two places at most
        amount = re.sub(r"[.,]", "", amount)
    more = re.search(r"\d", plain[figure.end() :])
    doubt = f"price {quoted(text)} has two figures: the first is taken" if more else ""
    return float(amount.replace(",", ".")), code, doubt


@dataclass
class Look:
    """Outline, finish and colour as far as words tell them."""

    outline: str | None = None
    finish: str | None = None
    colour: str | None = None
    colour_is: str | None = None
    doubts: list[str] = field(default_factory=list)


def look_of(*texts: str, slips: tuple[str, ...] = ()) -> Look:
    """What words tell of a pot's look; the first text that tells something counts. In `slips` misspelt words are read too, with a doubt."""
    found = _plainly(tuple(text[:MOST_LETTERS] for text in texts))
    for text in (text[:MOST_LETTERS] for text in slips):
        known = {w for kind in ("outline", "finish", "colour", "tone") for w, _ in said(text, kind)}
        for kind, name in (("outline", "outline"), ("finish", "finish"), ("colour", "colour_is")):
            if getattr(found, name) is not None:
                continue
            for word, means in nearly(text, kind):
                if any(word in w.split() for w in known):
                    continue
                if kind == "finish" and re.search(rf"{NOT}\s+{re.escape(word)}", bare(text)):
                    means = "unglazed"
                setattr(found, "colour" if kind == "colour" else kind, means)
                if kind == "colour":
                    found.colour_is = colour_name(means)
                found.doubts.append(f"'{word}' is taken for {found.colour_is if kind == 'colour' else means}")
                break
    return found


def _plainly(texts: tuple[str, ...]) -> Look:
    found = Look()
    figures = next((m for text in texts if (m := HEX.search(text))), None)
    if figures is not None:
        # a colour in figures is meant before any word
        found.colour, found.colour_is = figures.group(), colour_words(figures.group())
    for text in texts:
        if not text.strip():
            continue
        outlines, finishes, colours = (said(text, kind) for kind in ("outline", "finish", "colour"))
        # the word that tells most of an outline counts: 'round oval' is an oval, 'square' beside 'hexagon' a hexagon
        if found.outline is None and outlines:
            found.outline = outlines[0][1]
        if found.finish is None and finishes:
            kinds = {kind for _, kind in finishes}
            found.finish = "unglazed" if "unglazed" in kinds else "glazed"
        if found.colour is None:
            glued = [] if colours else _glued(text)
            for word, colour in [*colours, *glued][:1]:
                tone = _tone(text, word)
                found.colour = _toned(colour, tone)
                found.colour_is = f"{tone} {colour_name(colour)}".strip()
    return found


def _glued(text: str) -> list[tuple[str, str]]:
    """Colours that stand at the end of a longer word: 'dunkelgrün', 'himmelblau'."""
    table = meanings("colour")
    found = []
    for token in re.findall(r"[a-z]+", bare(text)):
        ends = [w for w in table if len(w) >= 3 and token.endswith(w) and token != w]
        if ends:
            best = max(ends, key=len)
            found.append((best, table[best]))
    return found


def _tone(text: str, colour: str) -> str:
    plain, tones = bare(text), meanings("tone")
    near = re.search(rf"(?:([a-z]+)[\s-]*)?{re.escape(colour)}(?:\s+([a-z]+))?", plain)
    for word in () if near is None else (near[1] or "", near[2] or ""):
        for tone, means in tones.items():
            if word == tone:
                return means
    return ""


def _toned(colour: str, tone: str) -> str:
    if not tone:
        return colour
    part = [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
    toward, share = (0, 0.38) if tone == "dark" else (255, 0.45)
    return "#" + "".join(f"{round(v + (toward - v) * share):02X}" for v in part)
