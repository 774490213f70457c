"""Commands of the Workshop: ask the solver, draw a pot, write a maker's files, bring a mesh in."""

from pathlib import Path
from typing import TYPE_CHECKING

from kesh.advice.assess import assess
from kesh.advice.design.aims import design_case
from kesh.errors import FieldError
from kesh.model import Pot
from kesh.progress import Progress
from kesh.science.making.clay import usual_or
from kesh.ui.asker import Asker
from kesh.ui.photo_deeds import fresh_id
from kesh.ui.widgets.frame import Place

if TYPE_CHECKING:
    from kesh.advice.making.job import Job
    from kesh.ui.window import MainWindow

MESHES = "Meshes (*.stl *.obj *.3mf *.glb)"


class MakingDeeds:
    """Carries out what is asked of the Workshop in one window."""

    def __init__(self, window: "MainWindow", asker: Asker) -> None:
        self._w, self._ask = window, asker

    def solve(self) -> None:
        """Pots for the tree of the design in hand, or of the bench; long work."""
        # loaded late: a window opens without it
        from kesh.advice.design.search import solve
        from kesh.advice.design.space import Wishes

        w = self._w
        w.show_place(Place.WORKSHOP)
        s, tree = w.session, w.workshop.tree_id
        if tree not in s.collection.trees:
            raise FieldError("tree", "there is no tree to design for; add one with Ctrl+N")
        pot, panel = w.workshop.panel.pot, w.workshop.panel
        wishes = Wishes()
        if pot is not None:
            wishes = Wishes(
                material=pot.material, finish=pot.finish, colour=pot.colour, room_mm=panel.wishes.kiln_mm, people=panel.wishes.people,
                shrinkage=usual_or(pot.material, panel.wishes.shrinkage_of(pot.material)),
            )  # fmt: skip
        case, name = design_case(s.collection, tree, today=s.today), s.collection.trees[tree].name
        w.runner.start_long(
            "solve", f"Trying pots for {name}", lambda progress: solve(case, wishes, progress),
            lambda found: self._solved(tree, name, found),
        )  # fmt: skip

    def _solved(self, tree: str, name: str, found: object) -> None:
        from kesh.advice.design.search import Solution

        assert isinstance(found, Solution)
        self._w.workshop.show_solution(tree, found)
        count = len(found.designs)
        if count:
            self._w.session.said.emit("fits", f"{count} designs for {name} that nothing beats; a click opens one")
        else:
            self._w.session.said.emit(
                "no", f"No pot obeys every limit for {name}; the chart says what would have to give"
            )

    def draw(self) -> None:
        """A new design."""
        self._w.show_place(Place.WORKSHOP)
        self._w.workshop.draw_new()

    def write(self) -> None:
        """The files of the maker in hand, into a folder; long work."""
        w = self._w
        if w.place != Place.WORKSHOP:
            w.show_place(Place.WORKSHOP)
        job, s = w.workshop.panel.job, w.session
        if w.workshop.panel.pot is None:
            raise FieldError("design", "there is no design yet; draw a pot with Ctrl+D or ask the solver with F5")
        if job is None:
            raise FieldError(
                "files",
                w.workshop.panel.trouble.text().lstrip("⊘ ") or "the figures are still being reckoned; try again",
            )
        suggested = s.path.parent / f"{job.title.replace(':', ',').replace('/', '-')}.pdf"
        path = self._ask.save_file(w, "Write the maker's files beside this sheet", suggested, "PDF (*.pdf)")
        if path is not None:
            w.runner.start_long(
                "files", "Writing the files", lambda progress: self._files(job, path, progress), self._written
            )

    def _files(self, job: "Job", path: Path, progress: Progress) -> tuple[list[Path], "Job", Path]:
        from kesh.formats.job_files import write_job

        progress.at(0.1, "Writing drawings and solids")
        return write_job(job, path.with_suffix("")), job, path

    def _written(self, found: tuple[list[Path], "Job", Path]) -> None:
        """Paper is painted in the window's thread, last: when it stands, everything does."""
        from kesh.ui.making_pdf import print_job

        files, job, path = found
        s = self._w.session
        case = self._w.workshop.panel.case()
        a = assess(case, job.pot) if case is not None and job.route in ("potter", "print") else None
        print_job(job, path, s.today, a)
        s.said.emit("fits", f"Written: {path.name}, and {len(files)} files in {path.stem}")

    def bring_mesh(self) -> None:
        """A pot as a mesh: measured and put on the shelf."""
        w = self._w
        path = self._ask.open_file(w, "Bring in a pot as a mesh", w.session.path.parent, MESHES)
        if path is None:
            return
        from kesh.formats.mesh_in import UNITS, pot_of_mesh, unit_of

        unit = unit_of(path) or self._ask.choose(
            w, "Unit of the mesh", f"{path.name} does not say its unit. Its figures are in", list(UNITS)
        )
        if unit is None:
            return
        key = fresh_id(w.session.collection.pots, "mesh")
        w.runner.start_long("mesh", f"Measuring {path.name}", lambda _: pot_of_mesh(path, unit, key), self._measured)

    def _measured(self, found: tuple[Pot, str]) -> None:
        pot, told = found
        w = self._w
        if w.session.edit(f"{pot.name} brought in", [("pot", pot.id, pot)]):
            w.show_place(Place.SHELF)
            w.shelf.choose(pot.id)
            w.session.said.emit("fits", told)
