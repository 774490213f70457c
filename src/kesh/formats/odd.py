"""What came in and cannot be used as it is: each in a sentence that says what was understood and what would settle it."""

from collections import Counter
from collections.abc import Sequence

from kesh.geometry.columns import columns
from kesh.geometry.holes import drilled, misplaced
from kesh.geometry.sound import fault_of, faulty
from kesh.model import Collection, Pot
from kesh.reference.schools import schools
from kesh.reference.tables import Tables, known_material, materials, nearest_key, tables
from kesh.science.roots.fit import roots_fault


def odd_words(pots: Sequence[Pot]) -> list[tuple[str, ...]]:
    """For each pot what is odd in it: an unknown material, a shape that cannot be reckoned, holes beside the floor."""
    if not pots:
        return []
    cols = columns(tuple(pots))
    unsound, beside = faulty(cols), drilled(cols).beside
    found = []
    for i, pot in enumerate(pots):
        words = []
        if known_material(pot.material) is None:
            near = nearest_key(pot.material, materials())
            hint = f"; perhaps {materials()[near].name.lower()} ({near}) is meant" if near else ""
            words.append(f"material '{pot.material}' is not in the table, its mass stays unknown{hint}")
        if unsound[i]:
            words.append(f"{fault_of(pot)}; nothing is judged until that is mended")
        elif beside[i]:
            one = misplaced(pot)[0]
            words.append(f"the hole at {one.x_mm:g}, {one.y_mm:g} does not lie on the floor and does not count")
        found.append(tuple(words))
    return found


def what_is_odd(collection: Collection) -> tuple[str, ...]:
    """All of a collection that names what is not there, or cannot be reckoned."""
    rows = tables(collection.species_rows, collection.substrate_rows)
    pots = tuple(collection.pots.values())
    found = [f"pot {pot.name}: {word}" for pot, words in zip(pots, odd_words(pots), strict=True) for word in words]
    for tree in collection.trees.values():
        if tree.species and tree.species not in rows.species:
            found.append(f"tree {tree.name}: {_unknown('species', tree.species, rows)}")
        if tree.roots is not None and roots_fault(tree.roots):
            found.append(f"tree {tree.name}: its root mass cannot be reckoned, {roots_fault(tree.roots)}")
    for mix in collection.mixes.values():
        layer = (mix.drainage_layer.substrate,) if mix.drainage_layer else ()
        for key in (*(p.substrate for p in mix.parts), *layer):
            if key not in rows.substrates:
                found.append(f"mix {mix.name}: {_unknown('substrate', key, rows)}")
    now = [p for p in collection.plantings if p.ended is None and not p.planned]
    for p in now:
        for kind, key, known in (
            ("tree", p.tree, collection.trees),
            ("pot", p.pot, collection.pots),
            ("mix", p.mix, collection.mixes),
        ):
            if key is not None and key not in known:
                found.append(f"planting of {p.tree} in {p.pot}: there is no {kind} '{key}'")
    standing = {p.tree: collection.planting_of(p.tree) for p in now}
    for pot, count in Counter(p.pot for p in standing.values() if p is not None).items():
        if count > 1:
            names = ", ".join(t for t, p in standing.items() if p is not None and p.pot == pot)
            found.append(f"pot {pot}: {count} trees stand in it ({names})")
    lost = Counter(r.tree for r in collection.readings if r.tree not in collection.trees)
    found += [f"{count} readings of {tree}: there is no such tree" for tree, count in lost.items()]
    found += [
        f"brief of {b.id}: no school '{b.school}'" for b in collection.briefs.values() if b.school not in schools()
    ]
    return tuple(found)


def _unknown(what: str, key: str, rows: Tables) -> str:
    near = nearest_key(key, rows.species if what == "species" else rows.substrates)
    name = "" if not near else rows.species[near].common_name if what == "species" else rows.substrates[near].name
    return f"{what} '{key}' is not in the table" + (f"; perhaps {name} ({near}) is meant" if near else "")
