"""Every act, by the module that holds it."""

from nestline.acts import arranging, giving, outlining

__all__ = ["arranging", "giving", "outlining"]
