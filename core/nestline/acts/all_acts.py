"""Every act, by the module that holds it."""

from nestline.acts import arranging, bringing, giving, outlining

__all__ = ["arranging", "bringing", "giving", "outlining"]
