"""Which cautions apply to a planned planting, gravest first."""

from kesh.advice.assess import Assessment
from kesh.reference.notes import Caution, cautions

LATEX = ("Ficus", "Trachelospermum", "Euphorbia", "Adenium")
POISON = (
    "Taxus",
    "Buxus",
    "Wisteria",
    "Nerium",
    "Adenium",
    "Cycas",
    "Ligustrum",
    "Rhododendron",
    "Laburnum",
    "Cotoneaster",
    "Hedera",
)
THORNS = ("Crataegus", "Pyracantha", "Bougainvillea", "Berberis", "Punica", "Prunus", "Chaenomeles", "Citrus")
GRAVITY = {"high": 0, "medium": 1, "low": 2}


def cautions_for(a: Assessment) -> tuple[Caution, ...]:
    """Cautions for this tree, pot and plan; absence of one does not mean that the work is harmless."""
    f, pot, species = a.figures, a.pot, a.case.species
    keys = ["dry_dust", "wire_ends"]
    mass = a.finding("lift_mass")
    if mass is not None and mass.status in ("watch", "no"):
        keys.append("heavy_lift")
    if any((x := a.finding(code)) is not None and x.status in ("watch", "no") for code in ("tipping", "wind")):
        keys.append("tall_tips")
    if f.roots is not None and float(f.roots.removed_feeder_share[0]) > 1e-6:
        keys.append("root_saw")
    if pot.profile.kind == "slab":
        keys.append("slab_weight")
    elif pot.holes_known and not f.has_drain[0]:
        keys.append("drill_pot")
    if float(f.undercut[0][0]) > 2.0 and a.case.site is not None and any(m.tmin_c < 0 for m in a.case.site.months):
        keys.append("frost_neck")
    if a.case.mix is not None and any(
        a.case.tables.substrate(part.substrate).kind == "organic" for part in a.case.mix.parts if (part.parts or 0) > 0
    ):
        keys.append("microbes")
    genus = species.botanical_name.split(" ")[0] if species else ""
    keys += [
        key for key, kinds in (("latex_sap", LATEX), ("poison_plant", POISON), ("thorns", THORNS)) if genus in kinds
    ]
    found = [cautions()[key] for key in keys]
    return tuple(sorted(found, key=lambda c: GRAVITY[c.severity]))
