"""Every act, by the module that holds it."""

from nestline.acts import (
    arranging,
    bringing,
    copying,
    following,
    following_recipes,
    giving,
    grouping,
    outlining,
    styling,
    versions,
)

__all__ = [
    "arranging",
    "bringing",
    "copying",
    "following",
    "following_recipes",
    "giving",
    "grouping",
    "outlining",
    "styling",
    "versions",
]
