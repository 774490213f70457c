"""What a collection knows of one tree's seasons beyond the climate: its buds, those of its kind, flowers, shelter, the view taken."""

from collections.abc import Mapping

from kesh.model import Brief, Collection, Tree
from kesh.science.season.season import Own, swelling, year_at


def own_seasons(
    c: Collection, tree: Tree, brief: Brief, kin: Mapping[str, tuple[tuple[str, int, float], ...]] | None = None
) -> Own:
    """All of it. `kin` is `kin_signs` of the collection where many trees are asked, so that it is found once."""
    seen = (kin if kin is not None else kin_signs(c)).get(tree.species or "", ())
    return Own(
        signs=tree.signs,
        kin=tuple((year, by) for other, year, by in seen if other != tree.id),
        flowered=tuple(e.date for e in c.events_of(tree.id) if e.kind == "flowered"),
        late=brief.season_views.timing == "late",
        shelter=brief.keeping.shelter,
        indoors_below_c=brief.keeping.indoors_below_c,
    )


def kin_signs(c: Collection) -> dict[str, tuple[tuple[str, int, float], ...]]:
    """By species: (tree, year, days later than usual) of buds that were seen to swell."""
    found: dict[str, list[tuple[str, int, float]]] = {}
    for tree in c.trees.values():
        buds = [s for s in tree.signs if s.sign == "buds" and s.value == "swelling" and s.date is not None]
        if not buds or not tree.species:
            continue
        brief = c.briefs.get(tree.id)
        housed = ("", None) if brief is None else (brief.keeping.shelter, brief.keeping.indoors_below_c)
        year = year_at(c.site, *housed)
        if year is None or year.swell is None:
            continue
        for at in {s.date.year for s in buds if s.date is not None}:
            usual = year.date_in(year.swell, at)
            by = swelling(usual, max(s.date for s in buds if s.date is not None), buds)
            if by is not None:
                found.setdefault(tree.species, []).append((tree.id, usual.year, float(by)))
    return {key: tuple(rows) for key, rows in found.items()}
