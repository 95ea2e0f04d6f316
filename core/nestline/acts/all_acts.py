"""Every act, by the module that holds it."""

from nestline.acts import giving

__all__ = ["giving"]
