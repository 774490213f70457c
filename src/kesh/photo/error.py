"""What is wrong with a picture; known without the libraries that read pictures."""

from kesh.base.errors import KeshError


class PhotoError(KeshError):
    """A picture cannot be used; the sentence says why and how to go on."""
