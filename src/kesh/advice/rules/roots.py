"""Rules on the root mass: does it go in, what must come off, does it lift out again, where is the soil line."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words, at_most, flags, softened, unknown
from kesh.advice.roots.this_year import this_year
from kesh.advice.roots.views import roots_like_cuttings
from kesh.base.status import FITS, NO, WATCH
from kesh.base.units import Units
from kesh.geometry.outline import Floats
from kesh.science.roots.fit import SEASON_FACTOR, ball_ring, stages
from kesh.science.roots.time import CLAY, combing_minutes, minutes_words
from kesh.science.season.season import window_words

# what the comb takes in passing needs no saw and no plan [J]
COMBED_MM = 5.0
# what every repotting combs off is work and no fault while the tree bears it: shares of the depth, and of the narrower side [J]
ORDINARY_DEPTH, ORDINARY_SIDE = 0.5, 0.20
# what is more than that of the depth or of the narrower side leaves no tree to plant [J]
MOST_DEPTH, MOST_SIDE, MOST_REPOTTINGS = 0.75, 0.35, 3
# share of the old root mass that may go at once, by the species' word on bare roots [J]
BARE_SHARE = {"no": 0.5, "partial": 0.75}
SAFE_COVER_MM = (-30.0, 15.0)
# a lip that stands in further than this traps the mass for good [J]
TRAPPED_MM = 6.0
# share of feeders at the edge of a mass that is not cut and still goes in when it is pressed [J]
PRESSED_IN = 0.06
# amounts that are sawn flat where the species bears it; all others are combed
SAWN = ("saw", "half", "all")
NO_ROOTS = "Lift the tree or probe along the wall, and enter length, width and depth of the root mass."


def _unseen(f: Figures, text: str) -> Words:
    """Nothing is known of the roots, or what was entered cannot be."""
    doubt = f.case.doubt("root_mass")
    return Words(f"{text} {doubt.text}" if doubt else text, doubt.remedy if doubt else NO_ROOTS, "root mass unknown")


def repottings(f: Figures) -> Floats:
    """How many repottings each pot takes by itself (N,); without end where nothing may be cut."""
    assert f.roots is not None
    share, limit = f.roots.removed_feeder_share, f.case.limit_share or 0.0
    if limit <= 0:
        return np.where(share <= 1e-6, 1.0, np.inf)
    each = np.log(1 - min(limit, 0.999))
    return np.where(share <= limit + 1e-9, 1.0, np.ceil(np.log(np.maximum(1 - share, 1e-9)) / each - 1e-9))


def _borne(f: Figures) -> NDArray[np.bool_]:
    """Where the tree bears all that comes off at once, or in no more repottings than its root map asks for anyway.

    What the pot takes and what the map takes are of the same roots: R = 1 - (1 - R_pot)(1 - R_map).
    """
    most = f.case.bears_share
    if f.roots is None or most is None:
        return np.zeros(len(f.pots), bool)
    return np.asarray(f.roots.removed_feeder_share <= max(most, 1e-6) + 1e-9)


def _ordinary_mm(f: Figures) -> tuple[Floats, Floats]:
    """How much off the bottom and off a side is ordinary work, mm (N,)."""
    roots = f.case.roots
    assert roots is not None
    borne = _borne(f)
    side = ORDINARY_SIDE * min(roots.length_mm, roots.width_mm)
    return (
        np.where(borne, max(COMBED_MM, ORDINARY_DEPTH * roots.depth_mm), COMBED_MM),
        np.where(borne, max(COMBED_MM, side), COMBED_MM),
    )


def comb_minutes(f: Figures, i: int) -> float:
    """How long the combing of the next repotting takes; nought where nothing is worked."""
    roots, year = f.case.roots, this_year(f, i)
    if roots is None or year is None or year.nothing:
        return 0.0
    ring = ball_ring(roots)
    around = float(np.hypot(*(np.roll(ring, -1, axis=0) - ring).T).sum()) / 1000
    # what is sawn off below is not combed
    sawn = saw_allowed(f) and f.case.brief.root_views.amount in SAWN
    deep = roots.depth_mm - (year.bottom_mm if sawn else 0.0)
    clay = any(p.kind == "clay" for p in roots.pockets)
    rake = f.case.brief.root_views.tool == "rake"
    return float(combing_minutes(deep / 10, around, soil=CLAY if clay else 1.0, rake=rake))


def comb_time(f: Figures, i: int) -> str:
    """How long the combing takes, in words."""
    return minutes_words(comb_minutes(f, i))


def _removal_check(f: Figures) -> Result:
    if f.roots is None or f.case.limit_share is None:
        return unknown(f)
    share, limit = f.roots.removed_feeder_share, f.case.limit_share
    steps = repottings(f)
    status = np.where(_borne(f), FITS, np.where(steps <= MOST_REPOTTINGS, WATCH, NO))
    if limit <= 0:
        # a mass that is only a little too wide is pressed in as it is
        status = np.where(share <= (PRESSED_IN if f.case.brief.root_views.amount == "nothing" else 1e-6), FITS, NO)
    status = np.where(share >= 1 - 1e-9, NO, status)
    close = np.where(status == FITS, 1.0, np.clip(1 - 0.2 * np.minimum(steps, 5), 0, 0.75))
    return Result(share, None, limit, status.astype(np.int8), close)


def _removal_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.roots is None:
        return _unseen(f, "The root mass is not known yet.")
    if f.case.limit_share is None:
        doubt = f.case.doubt("species")
        if doubt is not None:
            return Words(f"The limit for root work is not known. {doubt.text}", doubt.remedy, "limit unknown")
        return Words(
            "The limit for root work is not known: the species is not named.",
            "Name the species in step 1.",
            "limit unknown",
        )
    share, limit = float(f.roots.removed_feeder_share[i]), f.case.limit_share
    species = f.case.species.common_name if f.case.species else "tree"
    roots = f.case.roots
    health = roots.health if roots else "normal"
    head = f"{share:.0%} of the feeder roots must come off; {limit:.0%} is suggested at most for a {health} {species} in the {f.case.season} season"
    if share >= 1 - 1e-9:
        base = float(np.broadcast_to(f.seat.floor_layer_mm, (len(f.pots),))[i])
        room = f.pots.inner_depth[i] + f.case.seat.raise_mm - base
        why = (
            f"no depth is left above the layer of {u.mm(base)}"
            if room <= 0
            else "the trunk's place leaves no room inside the clearance"
        )
        return Words(
            f"No room for the roots: {why}.",
            "Choose a larger pot or another place for the trunk.",
            "no room for the roots",
            "a larger pot",
        )
    if limit <= 0 and health != "sick":
        # the grower's own choice
        if share <= PRESSED_IN:
            return Words("Nothing comes off, as you chose: only the pot changes.", "", "no root work")
        return Words(
            f"You chose to cut nothing this time; {share:.0%} of the feeder roots would have to come off.",
            "Keep the present pot, or take one that holds the whole mass.",
            "nothing is cut this time",
            "a pot for the whole root mass",
        )
    if limit <= 0:
        if share <= 1e-6:
            return Words("Nothing comes off, and nothing should from a sick tree.", "", "no root work")
        return Words(
            "A sick tree keeps all its roots now.",
            "Do not cut; move it with its soil into a pot that takes the whole mass.",
            "do not cut now",
            "a pot for the whole root mass",
        )
    if r.status[i] == FITS:
        text = "Nothing comes off the roots." if share <= 1e-6 else f"{head}."
        if repottings(f)[i] > 1:
            count = f.case.map_alone[1]
            text = f"{share:.0%} of the feeder roots come off in the {count} repottings that its roots ask for anyway; {limit:.0%} is the most for one."
        return Words(text, "", "roots go in" if share <= 1e-6 else f"{share:.0%} of feeders off")
    plan = stages(share, limit, f.case.care.interval_years)
    if r.status[i] == WATCH:
        return Words(
            f"{head}.", f"Take it in {len(plan)} repottings of {plan[0].removed_feeder_share:.0%}, about {f.case.care.interval_years:g} years apart.",
            f"{share:.0%} of feeders off, {limit:.0%} at most", f"{len(plan)} repottings",
        )  # fmt: skip
    return Words(
        f"{head}; that would take {len(plan)} repottings.",
        "Look for a bigger pot.",
        f"{share:.0%} of feeders off",
        "a bigger pot for the roots",
    )


def _seat_check(f: Figures) -> Result:
    if f.roots is None:
        return unknown(f)
    off, spare, depth = f.roots.off_bottom_mm, f.roots.spare_depth_mm, f.case.roots.depth_mm  # type: ignore[union-attr]
    most = _ordinary_mm(f)[0]
    status = np.where(
        off > MOST_DEPTH * depth, NO, np.where(off > most, WATCH, np.where(spare > 0.6 * depth, WATCH, FITS))
    )
    close = np.clip(1 - off / depth, 0, 1) * np.where(spare > 0.6 * depth, 0.6, 1.0)
    return Result(off - spare, -0.6 * depth, most, status.astype(np.int8), close)


def _seat_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.roots is None:
        return _unseen(f, "Seat height is not known without the root mass.")
    off, spare = float(f.roots.off_bottom_mm[i]), float(f.roots.spare_depth_mm[i])
    depth = f.case.roots.depth_mm  # type: ignore[union-attr]
    if off > 0.5 and r.status[i] == FITS:
        how = "" if off <= COMBED_MM else f"; with the sides about {comb_time(f, i)} of work"
        return Words(f"{u.mm(off)} combed off the bottom seats the tree{how}.", "", f"{u.mm(off)} combed off below")
    if off > 0.5:
        return Words(
            f"The tree stands {u.mm(off)} too high: {u.mm(depth)} of root, room for {u.mm(depth - off)}.",
            f"Lower by {u.mm(off)}: off the bottom, or stand it that much above the rim.", f"{u.mm(off)} off the bottom", f"{u.mm(off)} deeper inside",
        )  # fmt: skip
    if spare > 0.6 * depth:
        return Words(
            f"The tree sits low: {u.mm(depth)} of root in room for {u.mm(depth + spare)}.",
            f"Raise by {u.mm(spare)} with mix under the roots.", f"{u.mm(spare)} of mix below the roots", f"{u.mm(spare)} shallower inside",
        )  # fmt: skip
    under = f" Raise it by {u.mm(spare)} of mix." if spare > 0.5 else ""
    return Words(f"{u.mm(depth)} of root goes in without a cut below.{under}", "", "root depth fits")


def _seat_words_or_estimate(f: Figures, r: Result, i: int, u: Units) -> Words:
    """An estimate says so, so that nobody saws by it."""
    words = _seat_words(f, r, i, u)
    if f.case.roots is None or not f.case.roots.estimated:
        return words
    assumed = " and ".join(name.removesuffix("_mm") for name in f.case.roots.assumed)
    if assumed:
        told = f"{words.text} {assumed.capitalize()} of the root mass {'is' if ' and ' not in assumed else 'are'} assumed from the rest: measure before you saw."
        return replace(words, text=told)
    return replace(words, text=f"{words.text} The root mass is estimated: correct it once the tree is lifted.")


def _sides_check(f: Figures) -> Result:
    if f.roots is None:
        return unknown(f)
    r = f.roots
    worst = np.maximum(np.maximum(r.off_left_mm, r.off_right_mm), np.maximum(r.off_front_mm, r.off_back_mm))
    span = min(f.case.roots.length_mm, f.case.roots.width_mm)  # type: ignore[union-attr]
    return at_most(worst, _ordinary_mm(f)[1], MOST_SIDE * span)


def _sides_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.roots is None:
        return _unseen(f, "Side room is not known without the root mass.")
    need = u.mm(f.case.seat.clearance_mm)
    cuts = {
        "left": float(f.roots.off_left_mm[i]),
        "right": float(f.roots.off_right_mm[i]),
        "front": float(f.roots.off_front_mm[i]),
        "back": float(f.roots.off_back_mm[i]),
    }
    listed = ", ".join(f"{u.mm(mm)} {side}" for side, mm in cuts.items() if mm > 0.5)
    if r.status[i] == FITS and listed:
        how = "" if max(cuts.values()) <= COMBED_MM else f"; about {comb_time(f, i)} of work"
        return Words(
            f"{need} of fresh mix fits all round once the sides are combed back: {listed}{how}.",
            "",
            f"{u.mm(max(cuts.values()))} combed off the sides",
        )
    if not listed:
        return Words(f"{need} of fresh mix fits all round without a cut.", "", "side room fits")
    worst = max(cuts.values())
    fix = (
        f"{u.mm(cuts['left'] + cuts['right'])} longer"
        if cuts["left"] + cuts["right"] >= cuts["front"] + cuts["back"]
        else f"{u.mm(cuts['front'] + cuts['back'])} wider"
    )
    return Words(
        f"For {need} of fresh mix all round, take off {listed}.",
        "Move the trunk toward the side with room, or comb that side back.",
        f"{u.mm(worst)} off at the side",
        fix,
    )


def _lift_check(f: Figures) -> Result:
    under, _ = f.undercut
    found = at_most(under, 0.05, TRAPPED_MM)
    # a mass behind a lip is cut round at the next repotting: known beforehand it refuses no pot
    return replace(found, status=softened(found.status))


def _lift_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    under, at = float(f.undercut[0][i]), float(f.undercut[1][i])
    if r.status[i] == FITS:
        return Words("The root mass lifts straight out.", "", "lifts out")
    return Words(
        f"The mouth stands {u.fine(round(under, 1))} inward of the wall at {u.mm(at)} above the floor, each side: the root mass does not lift out whole.",
        "Plan to cut round it at the next repotting, or choose a wall that opens upward.", f"lip traps {u.mm(under)} a side", "a wall without an undercut",
    )  # fmt: skip


def _graft_check(f: Figures) -> Result | None:
    graft = f.case.tree.measure.graft_height_mm
    if graft is None:
        return None
    return flags(np.full(len(f.pots), f.case.soil_over_base_mm > graft))


def _graft_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    graft = f.case.tree.measure.graft_height_mm or 0.0
    if r.status[i] == FITS:
        return Words(f"The graft, {u.mm(graft)} up, stays above the soil.", "", "graft above soil")
    return Words(
        f"Soil stands {u.mm(f.case.soil_over_base_mm)} over the root base and buries the graft at {u.mm(graft)}.",
        f"Raise the tree by {u.mm(f.case.soil_over_base_mm - graft)}, or lower the mound.", "graft buried", "a higher seat",
    )  # fmt: skip


def _line_check(f: Figures) -> Result:
    cover = np.full(len(f.pots), f.case.soil_over_base_mm)
    low, high = SAFE_COVER_MM
    status = np.where((cover >= low) & (cover <= high), FITS, WATCH).astype(np.int8)
    return Result(cover, low, high, status, np.where(status == FITS, 1.0, 0.5))


def _line_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    cover = f.case.soil_over_base_mm
    at = f"{u.mm(cover)} above" if cover >= 0 else f"{u.mm(-cover)} below"
    if r.status[i] == FITS:
        return Words(f"The soil line lies {at} the top of the root mass: the flare shows.", "", "soil line fits")
    if cover > 0:
        return Words(
            f"The soil line lies {at} the top of the roots: the flare is buried.",
            "Raise the tree or lower the mound.",
            "flare buried",
            "a higher seat",
        )
    return Words(
        f"The soil line lies {at} the top of the roots: roots dry out.",
        "Mound the soil, or seat the tree lower.",
        "roots stand bare",
        "a lower seat",
    )


def _season_check(f: Figures) -> Result:
    season = f.case.season
    if season is None:
        return unknown(f)
    status = {"best": FITS, "edge": WATCH, "wrong": NO}[season]
    return Result(
        None, None, None, np.full(len(f.pots), status, dtype=np.int8), np.full(len(f.pots), SEASON_FACTOR[season])
    )


def _season_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    doubt = f.case.doubt("species")
    if doubt is not None:
        return Words(f"The season for root work is not known. {doubt.text}", doubt.remedy, "season unknown")
    if f.case.season is None or f.case.species is None:
        return Words("The season for root work is not known: name the species.", "Name the species.", "season unknown")
    window = window_words(f.case.species, f.case.site, f.case.day, f.case.own)
    if f.case.season == "best" and f.case.window is not None and f.case.window.status != "best":
        text = f"Root work is meant for its window ({window}); wait for the sign on the tree."
        return Words(text, "", "planned in season")
    if f.case.season == "best":
        days = f.case.window.days_left if f.case.window else 0
        left = f", {days} day{'' if days == 1 else 's'} left" if days else ""
        return Words(f"In season for root work ({window}{left}); wait for the sign on the tree.", "", "in season")
    if f.case.season == "edge":
        return Words(
            f"At the edge of the season ({window}): the limit for root work drops to 70 %.",
            "Wait for the window, or cut less.",
            "edge of season",
        )
    return Words(
        f"Outside the season for root work ({window}): the limit drops to 30 %.",
        "Slip it into the pot without cutting, or wait.",
        "out of season",
    )


def saw_allowed(f: Figures) -> bool:
    """Whether the species bears a flat saw cut across the bottom; yes where its row is silent, or all goes as of a cutting."""
    if f.case.species is not None and f.case.brief.root_views.amount == "all" and roots_like_cuttings(f.case.species):
        return True
    return f.case.species is None or f.case.species.flat_bottom_saw_ok != "no"


def _saw_check(f: Figures) -> Result | None:
    if f.roots is None or f.case.species is None or not f.case.species.flat_bottom_saw_ok:
        return None
    return flags((f.roots.off_bottom_mm > _ordinary_mm(f)[0]) & (not saw_allowed(f)), WATCH)


def _saw_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    assert f.roots is not None
    assert f.case.species is not None
    off, name = float(f.roots.off_bottom_mm[i]), f.case.species.common_name
    if r.status[i] == FITS:
        if saw_allowed(f):
            return Words(f"{name} usually bears a flat saw cut.", "", "saw allowed")
        by_comb = " What comes off below is combed with a hook." if off > COMBED_MM else ""
        return Words(f"Nothing is sawn flat off the {name}.{by_comb}", "", "no saw needed")
    return Words(
        f"{name} does not usually bear a flat saw across the bottom; {u.mm(off)} should come off there.",
        f"{comb_words(f, i)}.",
        "no flat saw",
        f"{u.mm(off)} deeper inside",
    )


def comb_words(f: Figures, i: int) -> str:
    """Another way down for a tree that is not sawn: by comb, in repottings where one is not enough, or by sectors."""
    share = 0.0 if f.roots is None else float(f.roots.removed_feeder_share[i])
    plan = stages(share, f.case.limit_share or 0.0, f.case.care.interval_years)
    if len(plan) > 1:
        return (
            f"Comb from below with a hook in {len(plan)} repottings, or two opposite sectors now and two the next time"
        )
    return "Comb from below with a hook, root by root, or two opposite sectors now and two the next time"


def _bare_check(f: Figures) -> Result | None:
    species = f.case.species
    if f.roots is None or species is None or species.bare_root_ok not in ("no", "partial"):
        return None
    return flags(f.roots.removed_volume_share > BARE_SHARE[species.bare_root_ok], WATCH)


def _bare_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    assert f.roots is not None
    assert f.case.species is not None
    kept, name = 1 - float(f.roots.removed_volume_share[i]), f.case.species.common_name
    how = "is not bare-rooted" if f.case.species.bare_root_ok == "no" else "is only partly bare-rooted"
    if r.status[i] == FITS:
        return Words(f"{name} {how}: {kept:.0%} of the old root mass stays.", "", "old soil stays")
    return Words(
        f"{name} {how}; here only {kept:.0%} of the old root mass would stay.",
        "Leave half of it untouched, in two opposite sectors, and do the rest at the next repotting.",
        "too much old soil off",
        "a pot that takes more of the root mass",
    )


RULES = (
    Rule("root_removal", "root_fit", "share", "species table", _removal_check, _removal_words, weight=2),
    Rule("root_depth", "root_fit", "mm", "root mass", _seat_check, _seat_words_or_estimate),
    Rule("root_sides", "root_fit", "mm", "root mass", _sides_check, _sides_words),
    Rule("lift_out", "root_fit", "mm", "geometry", _lift_check, _lift_words),
    Rule("flat_saw", "root_fit", "", "species table", _saw_check, _saw_words, weight=0.3),
    Rule("bare_root", "root_fit", "", "species table", _bare_check, _bare_words, weight=0.3),
    Rule("graft", "root_fit", "", "measure", _graft_check, _graft_words),
    Rule("soil_line", "root_fit", "mm", "placement", _line_check, _line_words, weight=0.3),
    Rule("season", "root_fit", "", "species table", _season_check, _season_words, weight=0.0),
)
