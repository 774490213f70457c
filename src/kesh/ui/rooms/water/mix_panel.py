"""The panel of one watering: the mix with its grains, what it does in this pot, tilt, mound and layer, and what others would do."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel, QLineEdit, QSlider, QWidget

from kesh.advice.water.watering import Depths, check_words, grain_size_words
from kesh.base.errors import FieldError, KeshError
from kesh.desk.mixes import TYPED, Tried, parts_words, typed
from kesh.desk.watering import MOST_TILT, Watering, detail_words, stats, tilt_told
from kesh.model import DrainageLayer, Mix, Part
from kesh.reference.notes import water_notes
from kesh.science.water.drainage import BREAKTHROUGH_BAND, wet_over_mm
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.rooms.water.mix_bar import MixBar, MixCurve, MixRow
from kesh.ui.rooms.water.old_soil_box import OldSoilBox
from kesh.ui.rooms.water.views_box import WaterViewsBox
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.folded import Folded


class Stats(QWidget):
    """Figures in two columns, each with its mark and what is asked."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows: tuple[tuple[str, str, str, str], ...] = ()

    def show_rows(self, rows: tuple[tuple[str, str, str, str], ...]) -> None:
        """Show other figures."""
        self.rows = rows
        self.setFixedHeight(fonts.scaled(42) * ((len(rows) + 1) // 2) + 4)
        self.setAccessibleName("; ".join(f"{a}: {b}, {c}" for a, b, c, _ in rows))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        wide, high = self.width() / 2, fonts.scaled(42)
        for n, (what, figure, asked, status) in enumerate(self.rows):
            x, y = (n % 2) * (wide + 6), (n // 2) * high
            right = x + wide - 6
            words(painter, t, what, x, y + fonts.scaled(14), "quiet", font=fonts.text(12))
            left = x
            if status:
                status_mark(painter, t, status, x + 6, y + fonts.scaled(27), 10)
                left += 17
            words(painter, t, figure, left, y + fonts.scaled(32), font=fonts.text(14, bold=True))
            words(painter, t, asked, right, y + fonts.scaled(32), "quiet", font=fonts.text(11), align="right")
            painter.fillRect(QRectF(x, y + high - 3, wide - 6, 1), t.color("rule"))


class MixPanel(Panel):
    """Writes nothing itself: what is tried goes to the face as `trying`, and Keep asks for it to be kept."""

    trying = pyqtSignal(object, bool)
    tilted = pyqtSignal(float)
    mounded = pyqtSignal(float, bool)
    keeping = pyqtSignal()
    recipe = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.mix: Mix | None = None
        self.head, self.note, self.bar = title("Mix"), quiet(""), MixBar(session)
        self.recipes = Choice({}, "Recipe")
        self.recipes.chosen.connect(self.recipe)
        self.rows: list[MixRow] = []
        self._slots = QWidget()
        self._slot = _column(self._slots)
        self.more = Choice({}, "Add a material")
        self.more.chosen.connect(self._add)
        self.text = QLineEdit()
        self.text.setToolTip(TYPED)
        self.text.setFixedWidth(fonts.scaled(150))
        self.text.editingFinished.connect(self._typed)
        self.stats, self.detail = Stats(session), quiet("")
        self.tilt_head, self.tilt, self.tilt_told = (
            SectionHead(session, "Tilt after watering"),
            self._slider(MOST_TILT, "Tilt"),
            quiet(""),
        )
        self.tilt.valueChanged.connect(lambda v: self.tilted.emit(float(v)))
        self.mound = self._slider(60, "Mound")
        self.mound.valueChanged.connect(lambda v: self.mounded.emit(float(v), not self.mound.isSliderDown()))
        self.mound.sliderReleased.connect(lambda: self.mounded.emit(float(self.mound.value()), True))
        self.mound_row = row(
            "Mound", self.mound, tip="Soil above the soil line in the middle; the pot keeps its headspace."
        )
        self.layer, self.layer_mm = Choice({}, "Layer of"), QLineEdit()
        self.layer_mm.setFixedWidth(fonts.scaled(52))
        self.layer_mm.setAccessibleName("Thickness of the layer, mm")
        self.layer_mm.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.layer.chosen.connect(lambda _: self._layered())
        self.layer_mm.editingFinished.connect(self._layered)
        self.layer_told = quiet("")
        self.check, self.usual_size = quiet(""), quiet("")
        self.curve = MixCurve(session, self._take)
        self.old, self.views = OldSoilBox(session), WaterViewsBox(session)
        self.versions, self.past = Folded("Earlier versions"), quiet("")
        self.versions.add(self.past)
        self.versions.add(button("Try the last one again", self._last, link=True))
        self.lime = Folded("Lime, acid and salts", "What is known of water, and how well")
        for note in water_notes():
            self.lime.add(quiet(f"{note.title}. {note.text} ({note.evidence[:1].upper()}{note.evidence[1:]}.)"))
        self.lime.show_needed(False)
        self.versions.show_needed(False)
        for made in (
            self.head, self.recipes, self.note, self.bar, self._slots, row("One more", self.more),
            row("As parts", self.text, tip=TYPED), self.stats, self.detail, self.tilt_head, self.tilt, self.tilt_told, self.mound_row,
            SectionHead(session, "Layer below"), row("Of", self.layer, self.layer_mm, quiet("mm")), self.layer_told,
            SectionHead(session, "When to water"), self.check, SectionHead(session, "Other mixes here", "a curve, no verdict"), self.curve, self.usual_size,
            self.views, self.old, self.lime, self.versions,
        ):  # fmt: skip
            self.column.addWidget(made)
        self.main = button("Keep this mix", self.keeping.emit, main=True)
        self.foot.addWidget(self.main)

    def _slider(self, most: int, name: str) -> QSlider:
        made = QSlider(Qt.Orientation.Horizontal)
        made.setRange(0, most)
        made.setAccessibleName(name)
        made.setFixedHeight(fonts.scaled(22))
        return made

    def show_watering(self, w: Watering | None, mix: Mix | None, kept: Mix | None, depths: Depths | None) -> None:
        """Show a mix in the pot in hand; `kept` is the recipe it comes from."""
        s = self.session
        self.mix = mix
        tree = s.tree
        self.setEnabled(tree is not None)
        self.head.setText(w.first.pot.name if w is not None else "Mix")
        mixes = {"": "none"} | {key: m.name for key, m in s.collection.mixes.items()}
        _refill(self.recipes, mixes, kept.id if kept else "")
        changed = (
            mix is not None
            and kept is not None
            and (mix.parts, mix.drainage_layer) != (kept.parts, kept.drainage_layer)
        )
        _say(self.note, self._note(mix, kept, changed=changed))
        self.bar.show_mix(mix)
        self._show_parts(mix)
        if not self.text.hasFocus():
            self.text.setText(parts_words(mix) if mix else "")
        self.stats.show_rows(stats(w, s.units) if w else ())
        _say(self.detail, (detail_words(depths, w.first) or w.first.why) if w else "")
        for slider, value in (
            (self.tilt, w.tilt_deg if w else 0.0),
            (self.mound, w.first.f.case.mound_mm if w else 0.0),
        ):
            slider.blockSignals(True)
            slider.setValue(round(value))
            slider.blockSignals(False)
        self.tilt_head.set_note(f"{w.tilt_deg:.0f}° for a minute" if w and w.tilt_deg else "")
        self.tilt_told.setText(tilt_told(w, s.units) if w else "")
        self.mound_row.setVisible(w is not None and w.first.f.case.planting is not None)
        self._show_layer(mix, w)
        self.views.show_stand(w.first.f.case if w else None, w.first.pot if w else None)
        self.check.setText(check_words(w.first.f) if w and w.first.plantable else "")
        self.usual_size.setText(grain_size_words(w.first.f) if w and w.first.plantable else "")
        versions = kept.versions if kept else ()
        self.versions.setVisible(bool(versions))
        self.past.setText(
            "\n".join(f"until {v.until:%-d %b %Y}: then {v.note}" if v.until else v.note for v in versions[::-1][:8])
        )
        self.main.setText(f"Keep this mix for {tree.name}" if tree else "Keep this mix")
        self.main.setEnabled(mix is not None and tree is not None)

    def _note(self, mix: Mix | None, kept: Mix | None, *, changed: bool) -> str:
        """What is to be known of the mix before its figures."""
        if mix is None:
            return "No mix yet: choose a recipe."
        if changed:
            return "Changed, not kept yet."
        held, planting = self.session.collection.mixes, self.session.planting
        now = held.get(planting.mix) if planting is not None and planting.mix else None
        if kept is not None and now is not None and now.id != kept.id:
            return f"Meant for it; it stands in {now.name} now."
        return (mix.notes.splitlines() or [""])[-1]

    def _show_parts(self, mix: Mix | None) -> None:
        parts = mix.parts if mix else ()
        same = len(parts) == len(self.rows) and all(r.belongs(p) for r, p in zip(self.rows, parts, strict=True))
        if same:
            for one, p in zip(self.rows, parts, strict=True):
                one.show_part(p)
        else:
            for old in self.rows:
                # a row may be gone by its own slider: it lives on until the event is over
                old.hide()
                old.deleteLater()
            self.rows = []
            for n, p in enumerate(parts):
                made = MixRow(self.session, p)
                made.written.connect(lambda part, live, n=n: self._part(n, part, live))
                self.rows.append(made)
                self._slot.addWidget(made)
        rest = {"": "add a material"} | {
            k: r.name for k, r in sorted(self.session.tables.substrates.items(), key=lambda i: i[1].name)
        }
        _refill(self.more, rest, "")
        self.more.setEnabled(mix is not None)

    def _show_layer(self, mix: Mix | None, w: Watering | None) -> None:
        layer = mix.drainage_layer if mix else None
        coarse = {"": "no layer"} | {
            k: r.name for k, r in self.session.tables.substrates.items() if r.size_low_mm >= 2.5 and r.kind == "mineral"
        }
        if layer is not None and layer.substrate not in coarse:
            coarse[layer.substrate] = layer.substrate
        _refill(self.layer, coarse, layer.substrate if layer else "")
        if not self.layer_mm.hasFocus():
            self.layer_mm.setText(f"{layer.thickness_mm:g}" if layer else "")
        self.layer_mm.setEnabled(layer is not None)
        _say(self.layer_told, _layer_words(w, self.session) if layer is not None and w is not None else "")

    def _part(self, n: int, part: Part, live: bool) -> None:
        if self.mix is not None and n < len(self.mix.parts):
            parts = [*self.mix.parts]
            parts[n] = part
            self._try(lambda mix: mix.changed(parts=tuple(parts)), live)

    def _add(self, key: str) -> None:
        if key:
            self._try(lambda mix: mix.changed(parts=(*mix.parts, Part(substrate=key, parts=1.0))))

    def _typed(self) -> None:
        text = self.text.text().strip()
        if self.mix is None or text == parts_words(self.mix):
            return
        before = self.mix.notes
        self._try(lambda mix: typed(text, mix, self.session.today))
        if self.mix.notes != before:
            self.session.said.emit("watch", "Kept as a note: it has no number, so nothing is reckoned with it")

    def _last(self) -> None:
        """The recipe as it was before the last change, to be tried."""
        if self.mix is not None and self.mix.versions:
            before = self.mix.versions[-1]
            self._try(lambda mix: mix.changed(parts=before.parts, drainage_layer=before.drainage_layer))

    def _layered(self) -> None:
        def changed(mix: Mix) -> Mix:
            key, text = str(self.layer.currentData() or ""), self.layer_mm.text().strip().replace(",", ".")
            if not key:
                return mix.changed(drainage_layer=None)
            try:
                thick = float(text) if text else 12.0
            except ValueError as err:
                raise FieldError("layer", f"'{text}' is no figure; write millimetres, such as 12") from err
            return mix.changed(drainage_layer=DrainageLayer.made(substrate=key, thickness_mm=thick))

        self._try(changed)

    def _take(self, one: Tried) -> None:
        self.recipe.emit(one.mix.id)
        self.trying.emit(one.mix, False)

    def _try(self, make: Callable[[Mix], Mix], live: bool = False) -> None:
        if self.mix is None:
            return
        try:
            made = make(self.mix)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if made != self.mix:
            self.mix = made
            self.trying.emit(made, live)


def _column(widget: QWidget) -> Any:
    from PyQt6.QtWidgets import QVBoxLayout

    made = QVBoxLayout(widget)
    made.setContentsMargins(0, 0, 0, 0)
    made.setSpacing(0)
    return made


def _refill(choice: Choice, options: dict[str, str], now: str) -> None:
    """Other things to choose from, only where they are others."""
    have = [(str(choice.itemData(i) or ""), choice.itemText(i)) for i in range(choice.count())]
    if have != list(options.items()):
        choice.clear()
        for key, text in options.items():
            choice.addItem(text, key)
    choice.show_key(now)


def _say(label: QLabel, text: str) -> None:
    """A line that takes no room while it says nothing."""
    label.setText(text)
    label.setVisible(bool(text))


def _layer_words(w: Watering, session: Session) -> str:
    """Both sides of the layer: what it lifts and what it costs."""
    f, u = w.first.f, session.units
    layer, blend = f.case.layer, f.case.blend
    if layer is None or blend is None or not w.first.plantable:
        return ""
    mass = float(f.layer_l[0]) * layer[0].dry_density_kg_l
    low, high = (u.mm(layer[1] + wet_over_mm(blend, layer, k)) for k in BREAKTHROUGH_BAND[::-1])
    ends = f"at {low}" if low == high else f"between {low} and {high}"
    return (
        f"It takes {u.litres(float(f.layer_l[0]))} of the roots' room and weighs {u.kg(mass)} low down. Over it the wet zone ends {ends} "
        f"over the floor, without it at {u.mm(wet_over_mm(blend, None))}. Some lay one to keep fines in and air at the holes, others never."
    )
