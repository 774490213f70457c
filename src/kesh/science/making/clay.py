"""Clay from wet to fired: sizes by total linear shrinkage, masses by loss on ignition and water of plasticity."""

from dataclasses import dataclass

from kesh.base.errors import FieldError

LOSS_ON_IGNITION, WATER_SHARE = 0.07, 0.22
# usual total linear shrinkage by body; a bar of one's own clay comes before them
USUAL_SHRINKAGE = {"earthenware": 0.08, "stoneware": 0.12, "porcelain": 0.15}


def shrinkage_of(material: str) -> float:
    """Usual total shrinkage for a ceramic material's key. Raises FieldError for what is not fired."""
    for word, share in USUAL_SHRINKAGE.items():
        if material.startswith(word):
            return share
    if material.startswith(("terracotta", "raku")):
        return USUAL_SHRINKAGE["earthenware"]
    raise FieldError(
        "material", f"{material.replace('_', ' ')} is not fired clay; choose stoneware, earthenware or porcelain"
    )


def usual_or(material: str, own: float | None) -> float:
    """Shrinkage to reckon with: one's own test bar, else the usual one of a fired body, 0 for what is not fired."""
    if own is not None:
        return checked(own)
    try:
        return shrinkage_of(material)
    except FieldError:
        return 0.0


def checked(shrinkage: float) -> float:
    """A share that clay can shrink by. Raises FieldError outside 0 to 0.3."""
    if not 0 <= shrinkage <= 0.3:
        raise FieldError("shrinkage", f"{shrinkage:.0%} cannot be; clay shrinks by 0 to 30 % in length")
    return shrinkage


def joined_shrinkage(drying: float, firing: float) -> float:
    """Total shrinkage from wet length: (1 - s) = (1 - drying) (1 - firing), firing counted of the dry length."""
    return 1 - (1 - checked(drying)) * (1 - checked(firing))


def from_bar(wet_mm: float, fired_mm: float) -> float:
    """Shrinkage of a test bar marked wet and measured fired. Raises FieldError for marks that cannot be."""
    if wet_mm <= 0 or fired_mm <= 0 or fired_mm > wet_mm:
        raise FieldError("bar", f"a bar of {wet_mm:g} mm wet cannot be {fired_mm:g} mm fired; fired is the shorter one")
    return checked(1 - fired_mm / wet_mm)


@dataclass(frozen=True)
class SampleBar:
    """A bar of one's own clay: marked wet, measured bone dry if it was, and fired, mm. Raises FieldError when it grew."""

    wet_mm: float
    fired_mm: float
    dry_mm: float | None = None
    on: str = ""

    def __post_init__(self) -> None:
        from_bar(self.wet_mm, self.fired_mm)
        if self.dry_mm is not None:
            from_bar(self.wet_mm, self.dry_mm)
            from_bar(self.dry_mm, self.fired_mm)

    @property
    def drying(self) -> float | None:
        """Shrinkage from wet to dry, of the wet length; None when it was not measured dry."""
        return None if self.dry_mm is None else from_bar(self.wet_mm, self.dry_mm)

    @property
    def firing(self) -> float | None:
        """Shrinkage from dry to fired, of the dry length."""
        return None if self.dry_mm is None else from_bar(self.dry_mm, self.fired_mm)

    @property
    def total(self) -> float:
        """Shrinkage from wet to fired."""
        if self.drying is None or self.firing is None:
            return from_bar(self.wet_mm, self.fired_mm)
        return joined_shrinkage(self.drying, self.firing)


def wet_mm(fired_mm: float, shrinkage: float) -> float:
    """The length to build for a fired length."""
    return fired_mm / (1 - checked(shrinkage))


@dataclass(frozen=True)
class ClayMass:
    """What to wedge, what stands dry on the shelf, what comes out of the kiln, kg."""

    wet_kg: float
    dry_kg: float
    fired_kg: float


def clay_mass(fired_kg: float, loss: float = LOSS_ON_IGNITION, water: float = WATER_SHARE) -> ClayMass:
    """Masses from the fired one; `water` is kg per kg of dry clay."""
    dry = fired_kg / (1 - loss)
    return ClayMass(dry * (1 + water), dry, fired_kg)
