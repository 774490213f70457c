"""Mixes without a window: grades of one material, parts as typed, what changed between two versions, and mixes tried beside one another."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from kesh.advice.case import Case
from kesh.advice.figures import figures_for
from kesh.advice.water.year import FINER
from kesh.base.errors import FieldError
from kesh.model import Mix, MixVersion, Part, Pot
from kesh.reference.tables import Substrate

SIZES = re.compile(r"_\d+(?:_\d+)?$")
FIGURES = re.compile(r"^[\d.,\s]+(?:[:/x+;]\s*[\d.,\s?]+)*$")
MOST_VERSIONS = 40
COARSE = 1.35
TYPED = "write parts such as 2:1:1, or words, which stay a note until they have numbers"


def family(key: str) -> str:
    """The material without its grade."""
    return SIZES.sub("", key)


def grades(key: str, rows: Mapping[str, Substrate]) -> dict[str, str]:
    """Every grade of a material: key and its sizes."""
    own = family(key)
    found = {k: r for k, r in rows.items() if family(k) == own}
    return {
        k: f"{r.size_low_mm:g}–{r.size_high_mm:g} mm" for k, r in sorted(found.items(), key=lambda i: i[1].size_high_mm)
    }


def plain_name(row: Substrate) -> str:
    """The material's name without its grade."""
    return re.split(r"[,(]| \d", row.name)[0].strip() or row.name


def parts_words(mix: Mix) -> str:
    """2 : 1 : 1, with a ? where nobody has told how much."""
    return " : ".join("?" if p.parts is None else f"{p.parts:g}" for p in mix.parts)


def typed(text: str, mix: Mix, today: date) -> Mix:
    """The mix with parts as typed; words that are no parts become a note. Raises FieldError where the figures do not belong to its parts."""
    told = text.strip()
    if not told:
        raise FieldError("parts", TYPED)
    if not FIGURES.match(told):
        return mix.changed(notes=f"{mix.notes}\n{today:%-d %b %Y}: {told}".strip())
    figures = [None if t == "?" else _figure(t) for t in (p.strip() for p in re.split(r"[:/x+;\s]+", told)) if t]
    if len(figures) != len(mix.parts):
        raise FieldError(
            "parts",
            f"{len(figures)} figures for {len(mix.parts)} materials; write one for each, a ? for what is not known",
        )
    return mix.changed(parts=tuple(p.changed(parts=v) for p, v in zip(mix.parts, figures, strict=True)))


def _figure(text: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError as err:
        raise FieldError("parts", f"'{text}' is no figure; {TYPED}") from err


def changed_words(old: Sequence[Part], new: Sequence[Part], rows: Mapping[str, Substrate]) -> str:
    """What became of a recipe, material by material: 'pumice 1 → 2, no bark any more'."""

    def told(key: str) -> str:
        return plain_name(rows[key]) if key in rows else key

    before, after = ({family(p.substrate): p for p in parts} for parts in (old, new))
    said = []
    for key in dict.fromkeys((*before, *after)):
        a, b = before.get(key), after.get(key)
        if a is None and b is not None:
            said.append(f"{told(b.substrate)} new, {'?' if b.parts is None else f'{b.parts:g}'}")
        elif b is None and a is not None:
            said.append(f"no {told(a.substrate)} any more")
        elif a is not None and b is not None:
            if a.parts != b.parts:
                said.append(
                    f"{told(b.substrate)} {'?' if a.parts is None else f'{a.parts:g}'} → {'?' if b.parts is None else f'{b.parts:g}'}"
                )
            if a.substrate != b.substrate and b.substrate in rows:
                r = rows[b.substrate]
                said.append(f"{told(b.substrate)} in {r.size_low_mm:g}–{r.size_high_mm:g} mm")
    return ", ".join(said) or "nothing"


def next_version(mix: Mix, changed: Mix, today: date, rows: Mapping[str, Substrate]) -> Mix:
    """The changed recipe, the one before it kept among its versions with what changed."""
    if (mix.parts, mix.drainage_layer) == (changed.parts, changed.drainage_layer):
        return changed
    note = changed_words(mix.parts, changed.parts, rows)
    if mix.drainage_layer != changed.drainage_layer:
        layer = changed.drainage_layer
        note += "; layer " + ("taken away" if layer is None else f"of {layer.thickness_mm:g} mm")
    kept = MixVersion(until=today, parts=mix.parts, drainage_layer=mix.drainage_layer, note=note)
    return changed.changed(versions=(*mix.versions, kept)[-MOST_VERSIONS:])


@dataclass(frozen=True)
class Tried:
    """One mix in the pot in hand: hours of a wet foot, days it lasts at the peak; and what would be asked for to have it."""

    mix: Mix
    words: str
    factor: float
    foot_h: float
    days: float
    now: bool


def tried(case: Case, pot: Pot, mixes: Sequence[Mix]) -> tuple[Tried, ...]:
    """Recipes at hand in their own grains, finer and coarser, in one pot: the curve of wet foot against days. Others are left out."""
    found = []
    for mix in mixes:
        for factor, words in ((FINER, "finer"), (1.0, ""), (COARSE, "coarser")):
            try:
                sized = scaled(mix, factor, case)
                f = figures_for(replace(case, mix=sized), [pot])
                hours, use = f.wet_foot_h, f.use
            except FieldError:
                continue
            if hours is None or use is None:
                continue
            days = float(use.days_between[0])
            if hours[0] < 1e4 and days < 400:
                now = mix == case.mix and factor == 1.0
                found.append(
                    Tried(sized, f"{mix.name}, {words}" if words else mix.name, factor, float(hours[0]), days, now)
                )
    return tuple(sorted(found, key=lambda t: t.days))


def scaled(mix: Mix, factor: float, case: Case) -> Mix:
    """A recipe sieved finer or coarser. Raises FieldError for a material nobody knows."""
    if factor == 1.0:
        return mix
    parts = []
    for p in mix.parts:
        row = case.tables.substrate(p.substrate)
        low, high = p.size_low_mm or row.size_low_mm, p.size_high_mm or row.size_high_mm
        parts.append(p.changed(size_low_mm=round(low * factor, 2), size_high_mm=round(high * factor, 2)))
    return mix.changed(parts=tuple(parts))
