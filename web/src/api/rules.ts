/** Rules of the core that the client names (nestline.document). Written by `./nest schema`. */
export const DEFAULTS = {
  "frame": {
    "padding": 0,
    "columns": 1,
    "gutter": 12,
    "balance": false,
    "setting": "level",
    "sit": "top",
    "lift": 0,
    "hang": "ascender",
    "hang_least": 0,
    "stand": "descender",
    "band": "letters",
    "give": [],
    "whole_pixels": false,
    "wrap_lines": true,
    "pushed": true,
    "least_slot": "by-copy",
    "arms": "across"
  },
  "leftover": {
    "ends": "past-the-edge",
    "mark": ""
  },
  "leaded": {
    "leading": "1.6em",
    "space": "1em"
  },
  "wrap": {
    "by": "none",
    "clearance": 0,
    "sides": "both",
    "inside": false
  },
  "anchor": {
    "place": "in-line",
    "shift": 0,
    "side": "left",
    "x": 0,
    "y": 0,
    "across": "frame",
    "down": "line"
  },
  "picture": {
    "alt": "",
    "x": 0,
    "y": 0,
    "scale": 1,
    "fit": "fill",
    "clip": "outline"
  },
  "contour": {
    "threshold": 0.5,
    "smoothness": 0,
    "holes": false
  },
  "fill": {
    "tint": 100,
    "opacity": 1
  },
  "stroke": {
    "color": "ink",
    "width": 1,
    "dash": [],
    "cap": "butt",
    "join": "miter",
    "position": "centred",
    "opacity": 1
  },
  "list": {
    "kind": "bullets",
    "indent": "1.6em"
  },
  "drop_cap": {
    "lines": 3,
    "letters": 1,
    "gap": "0.2em"
  },
  "keep": {
    "start": 2,
    "end": 2,
    "whole": false,
    "next": false
  },
  "hyphenate": {
    "before": 2,
    "least": 5,
    "ladder": 2,
    "capitals": false
  },
  "stretch": {
    "greatest": 3,
    "letter_space": 0.01,
    "letter_width": 0.01,
    "letters": 0
  }
} as const;
export const COLORS = {
  "ink": "#1a1a1a",
  "paper": "#ffffff"
} as const;
export const TIES = {
  "top": [
    "top",
    "bottom",
    "baseline"
  ],
  "right": [
    "right",
    "left"
  ],
  "bottom": [
    "top",
    "bottom",
    "baseline"
  ],
  "left": [
    "right",
    "left"
  ],
  "width": [
    "width"
  ],
  "baseline": [
    "top",
    "bottom",
    "baseline"
  ]
} as const;
export const CLEAR_BY_SIDE = [
  "none",
  "box",
  "below"
] as const;
export const TONGUES = [
  "en",
  "de",
  "fr",
  "fi",
  "el",
  "ar",
  "es"
] as const;
export const STRAIN = {
  "least": -50.0,
  "greatest": 200.0,
  "largestType": 100.0
} as const;
