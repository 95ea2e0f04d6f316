"""Every act, by the module that holds it."""

from nestline.acts import (
    anchoring,
    arranging,
    bringing,
    chaining,
    contouring,
    copying,
    following,
    following_recipes,
    giving,
    grouping,
    outlining,
    paging,
    pictures,
    styling,
    tying,
    versions,
)

__all__ = [
    "anchoring",
    "arranging",
    "bringing",
    "chaining",
    "contouring",
    "copying",
    "following",
    "following_recipes",
    "giving",
    "grouping",
    "outlining",
    "paging",
    "pictures",
    "styling",
    "tying",
    "versions",
]
