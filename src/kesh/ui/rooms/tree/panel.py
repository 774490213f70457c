"""The Tree step's panel: who the tree is, its measures, its root mass, and what they say of the present pot."""

from collections.abc import Sequence

from PyQt6.QtWidgets import QLineEdit

from kesh.base.errors import KeshError
from kesh.desk.bench import estimated_roots, with_roots
from kesh.desk.brief import character_words
from kesh.model.tree import STAGES, STYLES
from kesh.reference.tables import tables
from kesh.ui.rooms.tree.trait_strip import TraitStrip
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.fields import MassEdit, MeasureEdit
from kesh.ui.widgets.finding_list import FindingList
from kesh.ui.widgets.folded import Folded

MEASURES = (
    ("height_mm", "Height", "From the soil to the apex."),
    (
        "trunk_diameter_mm",
        "Trunk above flare",
        "Across the trunk just above the root flare; the depth rule rests on it.",
    ),
    ("trunk_at_soil_mm", "Trunk at soil", "Across the trunk at the soil."),
    ("trunk_mid_mm", "Trunk at middle", "Across the trunk half way up."),
    ("flare_width_mm", "Root flare", "Across the surface roots, seen from the front."),
    ("canopy_left_mm", "Reach left", "From the trunk's foot to the leftmost leaf."),
    ("canopy_right_mm", "Reach right", "From the trunk's foot to the rightmost leaf."),
    ("canopy_front_mm", "Reach front", "Toward the viewer."),
    ("canopy_back_mm", "Reach back", "Away from the viewer."),
    ("crown_base_mm", "Crown base", "From the soil to the lowest leaves."),
    ("apex_offset_mm", "Apex off foot", "Right of the foot is positive, left negative."),
    ("drop_mm", "Drop below soil", "For hanging trees: the lowest point below the soil."),
    ("graft_height_mm", "Graft height", "From the soil to the graft; it must stay above soil."),
)
# what the first advice rests on; the others are folded until one of them is known
FIRST = ("height_mm", "trunk_diameter_mm", "canopy_left_mm", "canopy_right_mm")
ROOTS = (
    ("length", "Root mass length"),
    ("width", "Root mass width"),
    ("depth", "Root mass depth"),
    ("offset_x", "Centre, right of trunk"),
)
TAPE = "tape, front view"
FEEDERS = {"even": "even", "near_trunk": "near the trunk", "outside_bottom": "out and below"}
CANOPY = {"full": "as it grows", "thinned": "freshly thinned"}
HEALTH = {"strong": "strong", "normal": "normal", "weak": "weak", "sick": "sick"}


def plain(key: str) -> str:
    """A key as words."""
    return key.replace("_", " ")


class TreePanel(Panel):
    """Fields beside the drawing; each edit is written at once."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.head, self.note = title(""), quiet("")
        self.column.addWidget(self.head)
        self.column.addWidget(self.note)
        self.findings = FindingList(session)
        self.column.addWidget(self.findings)
        self.gap()
        self.measures_head = SectionHead(session, "Measures", TAPE)
        self.column.addWidget(self.measures_head)
        self.fields: dict[str, MeasureEdit] = {}
        self.more = Folded(
            f"{len(MEASURES) - len(FIRST) + 1} more measures", "They can wait; what is missing is said where it matters"
        )
        for name, label, tip in sorted(MEASURES, key=lambda m: m[0] not in FIRST):
            field = MeasureEdit(session, label)
            field.entered.connect(lambda value, n=name, w=label: session.change_measure(f"{w} changed", **{n: value}))
            self.fields[name] = field
            made = row(label, field, tip=tip)
            if name in FIRST:
                self.column.addWidget(made)
            else:
                self.more.add(made)
        self.canopy = Choice(CANOPY, "Canopy")
        self.canopy.chosen.connect(lambda key: session.change_measure("Canopy changed", thinned=key == "thinned"))
        self.column.addWidget(
            row(
                "Canopy", self.canopy, tip="A canopy just thinned fills in by up to a third: the pot is asked for both."
            )
        )
        self.column.addWidget(self.more)
        self.mass = MassEdit(session, "Mass weighed")
        self.mass.entered.connect(lambda kg: session.change_measure("Mass weighed", mass_kg=kg or None))
        self.more.add(
            row("Tree weighed, no pot", self.mass, tip="Without it the mass is reckoned from trunk and crown.")
        )
        self.gap()
        self.root_head = SectionHead(session, "Root mass", "lifted or probed")
        self.column.addWidget(self.root_head)
        self.root_rows = Folded("Type what was lifted or probed")
        self.column.addWidget(self.root_rows)
        self.root_fields: dict[str, MeasureEdit] = {}
        for name, label in ROOTS:
            field = MeasureEdit(session, label, optional=False)
            field.entered.connect(lambda value, n=name, w=label: self._root(w, f"{n}_mm", value))
            self.root_fields[name] = field
            self.root_rows.add(row(label, field))
        self.feeders, self.health = Choice(FEEDERS, "Feeder roots"), Choice(HEALTH, "Health")
        self.feeders.chosen.connect(lambda key: self._root("Feeder roots", "feeders", key))
        self.health.chosen.connect(lambda key: self._root("Health", "health", key))
        self.root_rows.add(row("Feeder roots", self.feeders))
        self.root_rows.add(row("Health", self.health))
        self.estimate = button("Estimate it from the present pot", self._estimate, link=True)
        self.column.addWidget(self.estimate)
        self.gap()
        self.column.addWidget(SectionHead(session, "Tree card"))
        self.name = QLineEdit()
        self.name.setFixedWidth(150)
        self.name.editingFinished.connect(self._rename)
        self.column.addWidget(row("Name", self.name))
        listed = tables(session.collection.species_rows, session.collection.substrate_rows).species
        options = {"": "not named"} | {
            key: sp.common_name or key for key, sp in sorted(listed.items(), key=lambda kv: kv[1].common_name)
        }
        self.species = Choice(options, "Species")
        self.style_, self.stage = (
            Choice({s: plain(s) for s in STYLES}, "Style"),
            Choice({s: plain(s) for s in STAGES}, "Stage"),
        )
        self.flow = Choice({"left": "to the left", "right": "to the right", "none": "none"}, "Flow")
        for choice, name, label in (
            (self.species, "species", "Species"), (self.style_, "style", "Style"), (self.stage, "stage", "Stage"), (self.flow, "flow", "Flow"),
        ):  # fmt: skip
            choice.chosen.connect(lambda key, n=name, w=label: session.change_tree(f"{w} changed", **{n: key or None}))
            self.column.addWidget(row(label, choice))
        self.origin = quiet("")
        self.column.addWidget(self.origin)
        self.traits = TraitStrip(session)
        self.traits.changed.connect(lambda traits: session.change_tree("Character changed", traits=traits))
        self.character = quiet("")
        self.gap()
        self.column.addWidget(SectionHead(session, "Character", "drives shape and finish"))
        self.column.addWidget(self.traits)
        self.column.addWidget(self.character)
        self.gap()
        self.log_head = SectionHead(session, "Log")
        self.column.addWidget(self.log_head)
        self.log = quiet("")
        self.column.addWidget(self.log)
        self.brief = button("Write the brief", lambda: None, main=True)
        self.foot.addWidget(self.brief)

    def _root(self, label: str, name: str, value: object) -> None:
        tree = self.session.tree
        if tree is None or value is None:
            return
        try:
            changed = with_roots(tree, **{name: value})
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        self.session.edit(f"{label} changed", [("tree", tree.id, changed)])

    def _estimate(self) -> None:
        tree, pot = self.session.tree, self.session.pot
        if tree is None or pot is None:
            return
        try:
            roots = estimated_roots(pot, self.session.planting)
            changed = tree.changed(root_masses=(*tree.root_masses[: -1 if tree.roots else None], roots))
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if self.session.edit("Root mass estimated", [("tree", tree.id, changed)]):
            self.session.said.emit("watch", "Estimated from the present pot; correct it once the tree is lifted")

    def _rename(self) -> None:
        tree, name = self.session.tree, self.name.text().strip()
        if tree is not None and name and name != tree.name:
            self.session.change_tree("Name changed", name=name)

    def refresh(self) -> None:
        """Show the tree in hand."""
        tree = self.session.tree
        self.setEnabled(tree is not None)
        if tree is None:
            self.head.setText("No tree yet")
            self.note.setText("Add one with Ctrl+N.")
            return
        a = self.session.assessment()
        pot = self.session.pot
        self.head.setText(f"{tree.name} in {pot.name}" if pot else f"{tree.name}, no pot yet")
        taken = tree.measure.taken.strftime("%-d %B %Y") if tree.measure.taken else "undated"
        self.note.setText(f"Measured by {tree.measure.how} {taken}. Starting points; your tree and climate decide.")
        self.findings.show_findings(a.findings if a else ())
        self.findings.setVisible(a is not None)
        self.measures_head.set_note("reach assumed, ± a quarter" if tree.measure.assumed else TAPE)
        for name, field in self.fields.items():
            field.show_mm(getattr(tree.measure, name))
        self.canopy.show_key("thinned" if tree.measure.thinned else "full")
        self.mass.show_kg(tree.measure.mass_kg)
        roots = tree.roots
        for name, field in self.root_fields.items():
            field.show_mm(getattr(roots, f"{name}_mm") if roots else None)
        m = tree.measure
        self.more.show_needed(
            m.mass_kg is not None or any(getattr(m, n) is not None for n, _, _ in MEASURES if n not in FIRST)
        )
        self.root_rows.show_needed(roots is not None)
        unseen = roots is None or roots.estimated
        self.estimate.setVisible(unseen and pot is not None)
        self.root_head.set_note(
            "not seen yet"
            if roots is None
            else assumed_words(roots.assumed)
            if roots.assumed
            else "estimated"
            if roots.estimated
            else "lifted or probed"
        )
        self.feeders.show_key(roots.feeders if roots else "even")
        self.health.show_key(roots.health if roots else "normal")
        if not self.name.hasFocus():
            self.name.setText(tree.name)
        self.species.show_key(tree.species or "")
        self.style_.show_key(tree.style)
        self.stage.show_key(tree.stage)
        self.flow.show_key(tree.flow)
        self.traits.show_traits(tree.traits)
        self.character.setText(character_words(self.session.case()))
        since = f", here since {tree.acquired.year}" if tree.acquired else ""
        self.origin.setText(
            f"{tree.origin.capitalize()}{since}. {len(tree.measures)} sets of measures kept." if tree.origin else ""
        )
        events = sorted(
            (e for e in self.session.collection.events if e.tree == tree.id), key=lambda e: e.date, reverse=True
        )
        self.log_head.set_note(f"{len(events)} {'entry' if len(events) == 1 else 'entries'}")
        self.log.setText(
            "\n".join(f"{e.date:%-d %b %Y}  {e.text or plain(e.kind)}" for e in events) or "Nothing written yet."
        )


def assumed_words(assumed: Sequence[str]) -> str:
    """Which sizes of the root mass nobody gave."""
    return f"{' and '.join(name.removesuffix('_mm') for name in assumed)} assumed"
