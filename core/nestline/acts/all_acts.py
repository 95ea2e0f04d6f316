"""Every act, by the module that holds it."""

from nestline.acts import arranging, bringing, copying, following, giving, grouping, outlining, styling

__all__ = ["arranging", "bringing", "copying", "following", "giving", "grouping", "outlining", "styling"]
