"""The recipes that ship: what designers set by hand most often, said once. The figures are common practice."""

from __future__ import annotations

from typing import Any

SHIPPED: dict[str, dict[str, Any]] = {
    "Caption": {
        "frame": {"give": ["bottom"], "padding": ["0.5em", 0, 0, 0]},
        "fill": None,
        "stroke": None,
        "text": {"size": 8.5, "leading": 11, "slope": "italic"},
    },
    "Jump line": {
        "frame": {"give": ["left"], "wrap_lines": False, "hang": "cap", "stand": "baseline"},
        "fill": None,
        "stroke": None,
        "text": {"size": 8.5, "leading": 11, "align": "end", "slope": "italic"},
    },
    "Picture credit": {
        "frame": {"give": ["right"], "wrap_lines": False, "padding": [2, 4, 2, 4]},
        "fill": {"color": "#ffffff", "opacity": 0.8},
        "stroke": None,
        "text": {"size": 6.5, "leading": 8, "color": "#1a1a1a", "tracking": "0.02em"},
    },
    "Sidebar": {
        "frame": {"give": ["bottom"], "padding": "1em"},
        "fill": {"color": "#f1e7d3"},
        "stroke": None,
        "wrap": {"by": "box", "clearance": 12},
        "text": {"size": 9.5, "leading": 13, "hyphenate": True},
    },
    "Button": {
        "frame": {
            "give": ["right"],
            "wrap_lines": False,
            "padding": ["0.7em", "1.4em", "0.7em", "1.4em"],
            "sit": "middle",
            "hang": "cap",
            "stand": "baseline",
            "whole_pixels": True,
        },
        "fill": {"color": "#1d3a33"},
        "stroke": None,
        "text": {"weight": 700, "align": "center", "color": "#ffffff", "font": "Lato", "size": 12, "leading": 15},
    },
    "Badge": {
        "frame": {"give": ["in-proportion"], "padding": "1em", "sit": "middle", "hang": "cap", "stand": "baseline"},
        "stroke": None,
        "text": {"align": "center", "weight": 700, "breaking": "balanced"},
    },
    "Pull quote": {
        "frame": {
            "give": ["bottom"],
            "padding": ["0.6em", 0, "0.6em", 0],
            "sit": "middle",
            "hang": "ex",
            "stand": "baseline",
        },
        "fill": None,
        "stroke": None,
        "wrap": {"by": "box", "clearance": 14},
        "text": {"size": 18, "leading": 23, "align": "center", "breaking": "balanced", "slope": "italic"},
    },
}
