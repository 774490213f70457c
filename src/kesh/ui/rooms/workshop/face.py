"""The Workshop as a place: list, head with the makers, four views, and the panel, joined."""

from functools import partial
from itertools import count
from pathlib import Path
from time import monotonic
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QStackedWidget

from kesh.advice.assess import Assessment, assess
from kesh.advice.design.search import Design, Solution
from kesh.advice.routes.beside import drip_tray, stand
from kesh.advice.routes.routes import routes
from kesh.base.errors import FieldError, KeshError
from kesh.base.progress import Progress
from kesh.base.writing import shown
from kesh.desk.ids import fresh_id
from kesh.desk.workshop import new_design, opened
from kesh.model import Pot
from kesh.science.making.clay import usual_or
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.workshop.empty import WordsPanel
from kesh.ui.rooms.workshop.made_view import MadeView
from kesh.ui.rooms.workshop.panel import WorkshopPanel
from kesh.ui.rooms.workshop.sheet import WorkshopSheet
from kesh.ui.rooms.workshop.turn_view import TurnView
from kesh.ui.rooms.workshop.views import PlanView, ProfileView

if TYPE_CHECKING:
    from kesh.formats.mesh_in import MeshQuestionError

TURN_EVERY_S = 0.12
MESHES = "Meshes (*.stl *.obj *.3mf *.glb)"
ASKED_UNITS, NO_POT = ("mm", "cm", "m", "inch"), "no pot"
REPLACE, BESIDE = "Replace them", "Keep them, write a new folder beside"
WORKSHOP_KEYS = "G takes a grip   arrows move it 1 mm   F5 asks the solver   Ctrl+Shift+W writes the files"


WORDS = (
    ("", "Its figures, its findings and the files for its maker stand here as soon as one is drawn."),
    ("For whom", "A potter's sheet with shrinkage, a mesh to print, a cutting list for a timber box, a tube to saw, or holes to drill in a pot that is there."),
    ("From what", "The tree in hand, its brief and its root mass say where the drawing begins. Without them it begins with a usual pot."),
)  # fmt: skip


class WorkshopFace(Face):
    """Keeps list, views and panel on one design and one maker."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        c = context
        self.desk, self.makers = (
            WorkshopSheet(c.session, c.gallery),
            WorkshopPanel(c.session, c.runner, str(c.settings.get("making"))),
        )
        self.sheet, self.panel = self.desk, QStackedWidget()
        self.words = WordsPanel(c.session, "No design yet", *WORDS)
        for panel in (self.makers, self.words):
            self.panel.addWidget(panel)
        self.pot_id, self._turned = "", 0.0
        self._answers: dict[str, tuple[object, Solution]] = {}
        s = self.desk
        s.list.chosen.connect(self.show_pot)
        for start in (s.list.add, s.draw):
            start.connect(self.draw_new)
        s.name.editingFinished.connect(self._rename)
        for key, made in s.routes.items():
            made.clicked.connect(lambda _=False, k=key: self.show_route(k))
        s.solver.asked.connect(lambda: c.do("solve"))
        s.solver.opened.connect(self.open_design)
        self.makers.kept.connect(lambda text: c.settings.put("making", text))
        self.makers.write.connect(lambda: c.do("make_files"))
        self.makers.reckoned.connect(self._propose)
        self.makers.beside.connect(self.draw_beside)
        self.search = s.list.search

    def keys(self) -> str:
        return WORKSHOP_KEYS

    def assessment(self) -> Assessment | None:
        """Of the design in hand under the tree it is for."""
        return self.makers.assessment()

    def px_mm(self) -> float:
        return 0.0

    def entered(self) -> None:
        self.refresh()
        self.desk.profile.setFocus()

    def refit(self) -> None:
        self.desk.refit()

    def file_changed(self) -> None:
        self._answers.clear()
        self.makers.job = None

    def views_of_design(self) -> tuple[ProfileView | MadeView | TurnView | PlanView, ...]:
        """The views the pointer is followed in."""
        return self.desk.views

    @property
    def tree_id(self) -> str:
        """The tree the design in hand is for."""
        pot = self.session.collection.pots.get(self.pot_id)
        return (pot.made_for if pot and pot.made_for else None) or self.session.tree_id

    def refresh(self) -> None:
        """Follow the session."""
        self.desk.list.refresh()
        if self.pot_id not in self.session.collection.pots:
            self.pot_id = self.desk.list.pot_id
        self._show()

    def drafted(self) -> None:
        """While something is dragged only views and figures follow."""
        self.desk.profile.update()
        self.desk.plan.update()
        # the shaded body costs as much as all the rest: it follows a few times a second
        if monotonic() - self._turned > TURN_EVERY_S:
            self._turned = monotonic()
            self.desk.turn.update()
        self.makers.refresh()

    def show_pot(self, pot_id: str) -> None:
        """Take a design in hand."""
        self.pot_id = pot_id
        self._show()

    def show_route(self, route: str) -> None:
        """Take another maker in hand; the drill looks at pots that are there."""
        self.desk.routes[route].setChecked(True)
        drill = route == "drill"
        self.makers.show_route(route)
        if drill != self.desk.list.drill:
            self.desk.list.drill = drill
            self.desk.list.refresh()
            self.show_pot(self.desk.list.pot_id)

    def _show(self) -> None:
        for view in self.desk.views:
            view.show_pot(self.pot_id)
            view.refit()
        self.makers.show_pot(self.pot_id)
        answer = self._answer()
        self.desk.solver.show_solution(answer)
        none = self.pot_id not in self.session.collection.pots
        self.desk.show_empty(none and answer is None)
        self.panel.setCurrentWidget(self.words if none else self.makers)  # type: ignore[attr-defined]
        self._tell()

    def _tell(self) -> None:
        s = self.session
        pot = s.collection.pots.get(self.pot_id)
        if not self.desk.name.hasFocus():
            self.desk.name.setText(pot.name if pot else "No design yet")
        self.desk.name.setEnabled(pot is not None)
        tree = s.collection.trees.get(self.tree_id)
        self.desk.told.setText(f"for {tree.name}" if pot and tree else "Draw a pot, or ask the solver with F5")

    def _propose(self) -> None:
        """Holes of the drill plan that the pot does not have yet, dashed in the plan."""
        job, pot = self.makers.job, self.session.collection.pots.get(self.pot_id)
        drill = job is not None and pot is not None and job.route == "drill"
        new = tuple(h for h in job.pot.holes if h not in pot.holes) if drill and job and pot else ()
        for view in (self.desk.plan, self.desk.profile, self.desk.turn):
            view.proposed = new
        trouble = self.makers.trouble.text().lstrip("⊘ ") if job is None and routes()[self.makers.route].built else ""
        self.desk.show_made(job, f"It cannot be made so: {trouble}" if trouble else "")
        self.desk.plan.update()
        self.desk.profile.update()

    def _rename(self) -> None:
        pot, name = self.session.collection.pots.get(self.pot_id), self.desk.name.text().strip()
        if pot is not None and name and name != pot.name:
            self.session.edit(f"Named {name}", [("pot", pot.id, pot.changed(name=name))])

    def draw_new(self) -> None:
        """A first design for the tree in hand."""
        s = self.session
        key = fresh_id(s.collection.pots, "design")
        pot = new_design(key, s.tree_id or None, s.case() if s.tree is not None else None)
        self._take(pot.id, "New design", pot)

    def draw_beside(self, what: str) -> None:
        """A drip tray or a stand for the design in hand, as a design of its own."""
        s = self.session
        pot = s.collection.pots.get(self.pot_id)
        if pot is None:
            return
        key = fresh_id(s.collection.pots, what)
        try:
            made = drip_tray(pot, key) if what == "tray" else stand(pot, key)
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        self._take(key, f"{made.name} drawn", made)

    def open_design(self, design: Design) -> None:
        """A point of the chart as a design of the collection."""
        s = self.session
        made = opened(design, fresh_id(s.collection.pots, "design"), self.tree_id)
        same = next((p for p in s.collection.pots.values() if p.state == "design" and p == made.changed(id=p.id)), None)
        if same is not None:
            self.desk.list.choose(same.id)
            return
        self._take(made.id, f"Design {made.name} opened", made)

    def _take(self, key: str, label: str, pot: object) -> None:
        self.desk.list.search.clear()
        if self.desk.list.drill:
            self.show_route("potter")
        if self.session.edit(label, [("pot", key, pot)]):
            self.desk.list.refresh()
            self.desk.list.choose(key)

    def _mark(self, tree: str) -> object:
        """What the solver's answer for a tree rests on: when any of it changes the answer is an old one."""
        c = self.session.collection
        return (
            self.session.path,
            c.trees.get(tree),
            c.briefs.get(tree),
            c.site,
            tuple(c.mixes.values()),
            c.species_rows,
            c.substrate_rows,
        )

    def _answer(self) -> Solution | None:
        """The solver's answer for the tree of the design in hand, while it still holds."""
        kept = self._answers.get(self.tree_id)
        if kept is None or self.session.dragging:
            return kept[1] if kept else None
        if kept[0] != self._mark(self.tree_id):
            del self._answers[self.tree_id]
            return None
        return kept[1]

    def show_solution(self, tree: str, solution: Solution, mark: object) -> None:
        """The solver's answer for a tree, for what it was asked with."""
        self._answers[tree] = (mark, solution)
        if tree == self.tree_id:
            self.desk.solver.show_solution(self._answer())
            self.desk.show_empty(False)

    # commands ----------------------------------------------------------------------------------------------------

    def solve(self) -> None:
        """Pots for the tree of the design in hand, or of the bench; long work."""
        # loaded late: a window opens without it
        from kesh.advice.design.aims import design_case
        from kesh.advice.design.search import solve
        from kesh.advice.design.space import Wishes

        c, s = self.context, self.session
        c.go("workshop")
        tree = self.tree_id
        if tree not in s.collection.trees:
            raise FieldError("tree", "there is no tree to design for; add one with Ctrl+N")
        pot, brought = self.makers.pot, self.makers.wishes
        wishes = Wishes()
        if pot is not None:
            wishes = Wishes(
                material=pot.material, finish=pot.finish, colour=pot.colour, room_mm=brought.kiln_mm, people=brought.people,
                shrinkage=usual_or(pot.material, brought.shrinkage_of(pot.material)),
            )  # fmt: skip
        case, name, mark = (
            design_case(s.collection, tree, today=s.today),
            s.collection.trees[tree].name,
            self._mark(tree),
        )
        c.runner.start_long(
            "solve", f"Trying pots for {name}", lambda progress: c.runner.apart(partial(solve, case, wishes), progress),
            lambda found: self._solved(tree, name, found, mark),
        )  # fmt: skip

    def _solved(self, tree: str, name: str, found: Solution, mark: object) -> None:
        self.show_solution(tree, found, mark)
        count = len(found.designs)
        if count:
            which = "design" if count == 1 else "designs"
            self.context.say("fits", f"{count} {which} for {name} that nothing beats; a click opens one")
        else:
            self.context.say("no", f"No pot obeys every limit for {name}; the chart says what would have to give")

    def write(self) -> None:
        """The files of the maker in hand, into a folder; long work that changes nothing before all of it is ready."""
        c = self.context
        c.go("workshop")
        job, s = self.makers.job, self.session
        if self.makers.pot is None:
            raise FieldError("design", "there is no design yet; draw a pot with Ctrl+D or ask the solver with F5")
        if job is None:
            raise FieldError(
                "files", self.makers.trouble.text().lstrip("⊘ ") or "the figures are still being reckoned; try again"
            )
        if not job.drawings and not job.solids:
            raise FieldError("files", dict(job.facts).get("To drill", "there is nothing to make"))
        root = c.asker.folder(c.desk.parent_widget(), "Where the maker's folder goes", c.folder)
        if root is None:
            return
        from kesh.formats.job_files import CONTENTS, in_use, job_bytes, run_folder, with_sheet, write_run

        case, today, whose = self.makers.case(), s.today, self._whose()
        a = assess(case, job.pot) if case is not None else None
        folder = run_folder(root, whose, job)
        there = in_use(folder, job, whose)
        if there:
            answer = c.asker.choose(
                c.desk.parent_widget(),
                "Files are there already",
                f"{folder.parent.name}/{folder.name} holds {len(there)} files of an earlier run",
                [REPLACE, BESIDE],
            )
            if answer is None:
                return
            if answer == BESIDE:
                folder = next(f for k in count(2) if not (f := folder.with_name(f"{job.route}-{k}")).exists())

        def work(progress: Progress) -> list[Path]:
            from kesh.ui.paper.makers import job_pdf

            files = job_bytes(job, whose, progress)
            progress.at(0.9, "Writing the sheet")
            files = with_sheet(files, job, whose, job_pdf(job, today, a))
            progress.finish()
            return write_run(folder, job, whose, files, today, force=True)

        c.runner.start_long(
            "files",
            "Drawing the files",
            work,
            lambda files: c.say(
                "fits", f"Written: {len(files)} files in {folder.parent.name}/{folder.name}, {CONTENTS} lists them"
            ),
        )

    def _whose(self) -> str:
        """The name of the tree the design is for, empty without one."""
        tree = self.session.collection.trees.get(self.tree_id)
        return tree.name if tree else ""

    def bring_mesh(self) -> None:
        """A pot as a mesh: measured and put on the shelf."""
        c = self.context
        path = c.asker.open_file(c.desk.parent_widget(), "Bring in a pot as a mesh", c.folder, MESHES)
        if path is None:
            return
        from kesh.formats.mesh_in import unit_of

        unit = unit_of(path) or c.asker.choose(
            c.desk.parent_widget(),
            "Unit of the mesh",
            f"{shown(path)} does not say its unit. Its figures are in",
            list(ASKED_UNITS),
        )
        if unit is None:
            return
        self._measure(path, unit, {})

    def _measure(self, path: Path, unit: str, answers: dict[str, str]) -> None:
        from kesh.formats.mesh_in import MeshQuestionError, pot_of_mesh

        c, key = self.context, fresh_id(self.session.collection.pots, "mesh")

        def work(_: Progress) -> tuple[Pot, str] | MeshQuestionError:
            try:
                found: tuple[Pot, str] = c.runner.apart(partial(pot_of_mesh, path, unit, key, answers))
            except MeshQuestionError as question:
                return question
            return found

        c.runner.start_long(
            "mesh", f"Measuring {shown(path)}", work, lambda found: self._measured(path, unit, answers, found)
        )

    def _measured(
        self, path: Path, unit: str, answers: dict[str, str], found: "tuple[Pot, str] | MeshQuestionError"
    ) -> None:
        from kesh.formats.mesh_in import MeshQuestionError

        if isinstance(found, MeshQuestionError):
            # asked once it is known: only its owner can say, and nothing is guessed
            answer = self.context.asker.choose(
                self.context.desk.parent_widget(), "About this mesh", found.question, list(found.options)
            )
            if answer is not None and answer != NO_POT:
                self._measure(path, unit, {**answers, found.key: answer})
            return
        pot, told = found
        if self.session.edit(f"{pot.name} brought in", [("pot", pot.id, pot)]):
            self.context.go("shelf", pot=pot.id)
            self.context.say("fits", told)
