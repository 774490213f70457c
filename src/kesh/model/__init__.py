"""What things are: frozen, validated records. Lengths in mm, volumes in l, masses in kg, angles in degrees."""

from kesh.model.answer import Answer, CalendarEntry
from kesh.model.base import Record
from kesh.model.brief import Brief, Limits, MassWeights, Purpose
from kesh.model.character import FEATURES, TRAITS, Feature, FeatureKind, Trait, TraitKind
from kesh.model.collection import AnyRecord, Collection
from kesh.model.correction import Correction
from kesh.model.events import EVENT_KINDS, Event, EventKind, Lineup, Override, Rejection, Trial
from kesh.model.group import GroupTree, HillMound, Way
from kesh.model.habits import Away, Habits
from kesh.model.keeping import Keeping
from kesh.model.kinds import KINDS, Kind
from kesh.model.mix import DrainageLayer, Mix, MixVersion, Part
from kesh.model.order import Order
from kesh.model.photo import BrushStroke, ColourSpot, TreePhoto
from kesh.model.planting import BranchGuy, Planting, Stone, Tie
from kesh.model.planting_views import PlantingViews
from kesh.model.pot import Band, Hole, Outline, Pot, Profile, Reservation
from kesh.model.reading import READING_KINDS, STICK, Reading
from kesh.model.root_map import ROOT_KINDS, MapRoot, PlanStep, Pocket, Sector
from kesh.model.root_views import RootViews
from kesh.model.roots import RootMass
from kesh.model.season_views import SeasonViews
from kesh.model.signs import FILL_SIGNS, SIGNS, Sign
from kesh.model.site import WALLS, WINTER_PLACES, Day, Month, OwnWindow, Site
from kesh.model.special import (
    PLANTING_KINDS,
    Aerial,
    Companion,
    Cutting,
    Desert,
    Graft,
    Layer,
    PlantingKind,
    Rock,
    RockLoop,
    RockRoot,
    Slab,
    Thing,
    Tub,
    Tube,
)
from kesh.model.stock import Stock
from kesh.model.task import Task
from kesh.model.tree import Measure, Tree
from kesh.model.work import Work

__all__ = [
    "EVENT_KINDS",
    "FEATURES",
    "FILL_SIGNS",
    "KINDS",
    "PLANTING_KINDS",
    "READING_KINDS",
    "ROOT_KINDS",
    "SIGNS",
    "STICK",
    "TRAITS",
    "WALLS",
    "WINTER_PLACES",
    "Aerial",
    "Answer",
    "AnyRecord",
    "Away",
    "Band",
    "BranchGuy",
    "Brief",
    "BrushStroke",
    "CalendarEntry",
    "Collection",
    "ColourSpot",
    "Companion",
    "Correction",
    "Cutting",
    "Day",
    "Desert",
    "DrainageLayer",
    "Event",
    "EventKind",
    "Feature",
    "FeatureKind",
    "Graft",
    "GroupTree",
    "Habits",
    "HillMound",
    "Hole",
    "Keeping",
    "Kind",
    "Layer",
    "Limits",
    "Lineup",
    "MapRoot",
    "MassWeights",
    "Measure",
    "Mix",
    "MixVersion",
    "Month",
    "Order",
    "Outline",
    "Override",
    "OwnWindow",
    "Part",
    "PlanStep",
    "Planting",
    "PlantingKind",
    "PlantingViews",
    "Pocket",
    "Pot",
    "Profile",
    "Purpose",
    "Reading",
    "Record",
    "Rejection",
    "Reservation",
    "Rock",
    "RockLoop",
    "RockRoot",
    "RootMass",
    "RootViews",
    "SeasonViews",
    "Sector",
    "Sign",
    "Site",
    "Slab",
    "Stock",
    "Stone",
    "Task",
    "Thing",
    "Tie",
    "Trait",
    "TraitKind",
    "Tree",
    "TreePhoto",
    "Trial",
    "Tub",
    "Tube",
    "Way",
    "Work",
]
