"""A pot that comes as a closed mesh: read with its unit, asked about where it leaves a doubt, measured."""

from kesh.formats.mesh_in.load import UNITS, MeshError, MeshQuestionError, unit_of
from kesh.formats.mesh_in.pot import pot_of_mesh

__all__ = ["UNITS", "MeshError", "MeshQuestionError", "pot_of_mesh", "unit_of"]
