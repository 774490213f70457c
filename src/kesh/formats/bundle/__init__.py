"""kesh-bundle JSON, version 1: a collection or a part of one, in and out."""

from kesh.formats.bundle.read import Brought, bring, bring_bundle, load_bundle, read_bundle
from kesh.formats.bundle.shapes import FORMAT, VERSION
from kesh.formats.bundle.write import bundle_of, schema

__all__ = ["FORMAT", "VERSION", "Brought", "bring", "bring_bundle", "bundle_of", "load_bundle", "read_bundle", "schema"]
