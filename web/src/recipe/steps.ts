/** The steps of the bench: generated from the server's list (npm run client). */
export const STEPS = {
  "bench": [
    {
      "name": "receive",
      "label": "Receive"
    },
    {
      "name": "place",
      "label": "Place"
    },
    {
      "name": "fit",
      "label": "Fit"
    },
    {
      "name": "work",
      "label": "Work"
    },
    {
      "name": "bind",
      "label": "Bind"
    },
    {
      "name": "follow",
      "label": "Follow"
    },
    {
      "name": "clear",
      "label": "Clear"
    },
    {
      "name": "drape",
      "label": "Drape"
    },
    {
      "name": "finish",
      "label": "Finish"
    }
  ],
  "kinds": [
    {
      "kind": "receive",
      "bench": "receive",
      "repeats": false,
      "defaults": {
        "kind": "receive",
        "unit": "auto",
        "up": "auto",
        "hand": "auto",
        "facing": "auto"
      }
    },
    {
      "kind": "place",
      "bench": "place",
      "repeats": false,
      "defaults": {
        "kind": "place",
        "move": [
          0.0,
          0.0,
          0.0
        ],
        "turn": [
          0.0,
          0.0,
          0.0
        ],
        "scale": 1.0,
        "stretch": [
          1.0,
          1.0,
          1.0
        ],
        "mirror": false
      }
    },
    {
      "kind": "fit",
      "bench": "fit",
      "repeats": false,
      "defaults": {
        "kind": "fit",
        "ease": 0.009,
        "keep": 0.9,
        "align": true,
        "ride": true,
        "pins": {},
        "paint": [],
        "over": [],
        "stiff": "auto",
        "rigid": [],
        "cloth": []
      }
    },
    {
      "kind": "stroke",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "stroke",
        "radius": 0.06,
        "strength": 1.0,
        "mirror": false,
        "elastic": false,
        "offset": 0.004
      }
    },
    {
      "kind": "lattice",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "lattice",
        "cells": [
          2,
          2,
          2
        ],
        "knots": []
      }
    },
    {
      "kind": "adjust",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "adjust",
        "values": {},
        "clear": true,
        "ease": 0.004
      }
    },
    {
      "kind": "trim",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "trim",
        "hem": 0.0,
        "thick": 0.0015
      }
    },
    {
      "kind": "drop",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "drop"
      }
    },
    {
      "kind": "thicken",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "thicken",
        "thick": 0.002
      }
    },
    {
      "kind": "refine",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "refine",
        "where": "joints",
        "longest": 0.012
      }
    },
    {
      "kind": "smooth",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "smooth",
        "amount": 0.5
      }
    },
    {
      "kind": "steam",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "steam",
        "radius": 0.06,
        "crease": 0.04,
        "amount": 0.8
      },
      "words": {
        "name": "Steam",
        "crease": "Creases under",
        "busy": "Drag over them\u2026",
        "hint": "Drag over the creases; the brush's radius says how wide. Wider folds stay."
      }
    },
    {
      "kind": "mirror",
      "bench": "work",
      "repeats": true,
      "defaults": {
        "kind": "mirror",
        "keep": "left"
      }
    },
    {
      "kind": "bind",
      "bench": "bind",
      "repeats": false,
      "defaults": {
        "kind": "bind",
        "reach": 0.1,
        "angle": 0.61,
        "source": "body",
        "how": "solve",
        "most": 4,
        "over": [],
        "legs": "auto",
        "width": 0.1,
        "worn_as": "auto",
        "even": true,
        "rigid": [],
        "cloth": [],
        "alone": false,
        "joint": ""
      }
    },
    {
      "kind": "weigh",
      "bench": "bind",
      "repeats": true,
      "defaults": {
        "kind": "weigh",
        "other": "",
        "radius": 0.05,
        "strength": 0.3,
        "mirror": false,
        "locks": [],
        "region": "",
        "dabs": []
      }
    },
    {
      "kind": "mend",
      "bench": "bind",
      "repeats": true,
      "defaults": {
        "kind": "mend",
        "rows": []
      }
    },
    {
      "kind": "follow",
      "bench": "follow",
      "repeats": false,
      "defaults": {
        "kind": "follow",
        "own": true,
        "clear": true,
        "pairs": true,
        "ease": 0.002,
        "over": []
      }
    },
    {
      "kind": "clear",
      "bench": "clear",
      "repeats": true,
      "defaults": {
        "kind": "clear",
        "ease": 0.004,
        "keep": "rest",
        "way": "out",
        "loose": "falls",
        "over": [],
        "outer": []
      }
    },
    {
      "kind": "fix",
      "bench": "clear",
      "repeats": true,
      "defaults": {
        "kind": "fix",
        "strokes": [],
        "values": {}
      }
    },
    {
      "kind": "hide",
      "bench": "clear",
      "repeats": true,
      "defaults": {
        "kind": "hide",
        "of": "skin",
        "cells": [],
        "rings": 2,
        "faces": [],
        "by_hand": false,
        "count": 0,
        "over": [],
        "outer": []
      }
    },
    {
      "kind": "drape",
      "bench": "drape",
      "repeats": true,
      "defaults": {
        "kind": "drape",
        "fabric": {
          "name": "linen",
          "weight": 0.19,
          "warp": 20000.0,
          "weft": 14000.0,
          "shear": 70.0,
          "bend_warp": 2.4e-05,
          "bend_weft": 1.7e-05,
          "thickness": 0.00045,
          "damping": 1.0,
          "friction": 0.4
        },
        "held": 0.04,
        "tacks": [],
        "gathers": [],
        "straps": [],
        "stiff": [],
        "pressure": 0.0,
        "pulls": [],
        "cell": {
          "shape": {},
          "pose": "rest"
        },
        "motion": "",
        "settle": 24,
        "move": 24,
        "hang": 24,
        "substeps": 20,
        "finer": true,
        "wind": [
          0.0,
          0.0,
          0.0
        ],
        "gust": 0.0,
        "over": [],
        "along": [],
        "past_hidden": false,
        "keep": "pose"
      }
    }
  ]
} as const;
