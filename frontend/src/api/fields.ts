// Made by `python -m delgrun.web.document` from what the core declares; do not edit.

export const DIMENSIONS = {
  "length": {
    "unit": "m",
    "scale": 1.0,
    "digits": 2,
    "signed": false,
    "typed": "length",
    "us": {
      "unit": "ft",
      "scale": 1.0,
      "feet": 1,
      "digits": 2,
      "most": 4
    }
  },
  "size": {
    "unit": "m",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "length",
    "us": {
      "unit": "ft",
      "scale": 1.0,
      "feet": 1,
      "digits": null,
      "most": 4
    }
  },
  "about": {
    "unit": "m",
    "scale": 1.0,
    "digits": 0,
    "signed": false,
    "typed": "length",
    "us": {
      "unit": "ft",
      "scale": 1.0,
      "feet": 1,
      "digits": 0,
      "most": 4
    }
  },
  "plan": {
    "unit": "m",
    "scale": 1.0,
    "digits": 3,
    "signed": false,
    "typed": "length",
    "us": {
      "unit": "ft",
      "scale": 1.0,
      "feet": 1,
      "digits": 3,
      "most": 4
    }
  },
  "level": {
    "unit": "m",
    "scale": 1.0,
    "digits": 3,
    "signed": false,
    "typed": "length",
    "us": {
      "unit": "ft",
      "scale": 1.0,
      "feet": 1,
      "digits": 2,
      "most": 4
    }
  },
  "chainage": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "chainage",
    "us": null
  },
  "station": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "chainage",
    "us": null
  },
  "grade": {
    "unit": "%",
    "scale": 100.0,
    "digits": 2,
    "signed": true,
    "typed": "grade",
    "us": null
  },
  "exact_grade": {
    "unit": "%",
    "scale": 100.0,
    "digits": 3,
    "signed": true,
    "typed": "grade",
    "us": null
  },
  "bend": {
    "unit": "1/m",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "1/ft",
      "scale": 1.0,
      "feet": -1,
      "digits": null,
      "most": 4
    }
  },
  "fall": {
    "unit": "%",
    "scale": 100.0,
    "digits": null,
    "signed": false,
    "typed": "grade",
    "us": null
  },
  "percent": {
    "unit": "%",
    "scale": 100.0,
    "digits": 2,
    "signed": false,
    "typed": "grade",
    "us": null
  },
  "batter": {
    "unit": "V : H",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": ": 1, H : V",
      "scale": 1.0,
      "feet": 0,
      "digits": null,
      "most": 4
    }
  },
  "steepness": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": ": 1",
      "scale": 1.0,
      "feet": 0,
      "digits": null,
      "most": 4
    }
  },
  "k": {
    "unit": "m/%",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "ft/%",
      "scale": 1.0,
      "feet": 1,
      "digits": null,
      "most": 2
    }
  },
  "speed": {
    "unit": "km/h",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "mph",
      "scale": 0.621371192237334,
      "feet": 0,
      "digits": null,
      "most": 2
    }
  },
  "time": {
    "unit": "s",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": null
  },
  "acceleration": {
    "unit": "m/s²",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "ft/s²",
      "scale": 1.0,
      "feet": 1,
      "digits": null,
      "most": 2
    }
  },
  "mass": {
    "unit": "kg",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "lb",
      "scale": 2.2046226218487757,
      "feet": 0,
      "digits": null,
      "most": 0
    }
  },
  "mass_to_power": {
    "unit": "kg/kW",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "lb/hp",
      "scale": 1.6439868025116913,
      "feet": 0,
      "digits": null,
      "most": 1
    }
  },
  "angle": {
    "unit": "°",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": null
  },
  "bare_k": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "",
      "scale": 1.0,
      "feet": 1,
      "digits": null,
      "most": 2
    }
  },
  "about_speed": {
    "unit": "km/h",
    "scale": 1.0,
    "digits": 0,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "mph",
      "scale": 0.621371192237334,
      "feet": 0,
      "digits": 0,
      "most": 4
    }
  },
  "jerk": {
    "unit": "m/s³",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "ft/s³",
      "scale": 1.0,
      "feet": 1,
      "digits": null,
      "most": 4
    }
  },
  "area": {
    "unit": "m²",
    "scale": 1.0,
    "digits": 0,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "ft²",
      "scale": 1.0,
      "feet": 2,
      "digits": 0,
      "most": 4
    }
  },
  "section_area": {
    "unit": "m²",
    "scale": 1.0,
    "digits": 2,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "ft²",
      "scale": 1.0,
      "feet": 2,
      "digits": 1,
      "most": 4
    }
  },
  "land": {
    "unit": "ha",
    "scale": 0.0001,
    "digits": 3,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "ac",
      "scale": 0.00002295684113865932,
      "feet": 2,
      "digits": 3,
      "most": 4
    }
  },
  "volume": {
    "unit": "m³",
    "scale": 1.0,
    "digits": 0,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "yd³",
      "scale": 0.037037037037037035,
      "feet": 3,
      "digits": 0,
      "most": 4
    }
  },
  "haul": {
    "unit": "m³⋅km",
    "scale": 0.001,
    "digits": 0,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "station-yd³",
      "scale": 0.00037037037037037035,
      "feet": 4,
      "digits": 0,
      "most": 4
    }
  },
  "distance": {
    "unit": "km",
    "scale": 0.001,
    "digits": 1,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "mi",
      "scale": 0.0001893939393939394,
      "feet": 1,
      "digits": 1,
      "most": 4
    }
  },
  "price_m3": {
    "unit": "/ m³",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "/ yd³",
      "scale": 27,
      "feet": -3,
      "digits": null,
      "most": 4
    }
  },
  "price_m2": {
    "unit": "/ m²",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "/ ft²",
      "scale": 1.0,
      "feet": -2,
      "digits": null,
      "most": 4
    }
  },
  "price_haul": {
    "unit": "/ (m³⋅m)",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": {
      "unit": "/ station-yd³",
      "scale": 2700,
      "feet": -4,
      "digits": null,
      "most": 4
    }
  },
  "factor": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": null
  },
  "currency": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "text",
    "us": null
  },
  "name": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "text",
    "us": null
  },
  "text": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "text",
    "us": null
  },
  "line": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "text",
    "us": null
  },
  "record": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "text",
    "us": null
  },
  "word": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "text",
    "us": null
  },
  "digest": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "text",
    "us": null
  },
  "count": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": null
  },
  "flag": {
    "unit": "",
    "scale": 1.0,
    "digits": null,
    "signed": false,
    "typed": "number",
    "us": null
  }
} as const;

export const FOOT_M = {
  "us": 0.3048,
  "us_survey": 0.3048006096012192
} as const;

export const WORDS_IN_FEET = {
  "a level": "an elevation",
  "chainage": "station",
  "chainages": "stations",
  "level": "elevation",
  "levels": "elevations",
  "crossfall": "cross slope",
  "batter 1 :": "batter",
  "m³ and m": "station-yd³",
  "m³": "yd³",
  "m²": "ft²"
} as const;

export const INPUTS = {
  "survey": [
    {
      "name": "file_name",
      "dimension": "text",
      "label": "file",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "file_sha256",
      "dimension": "digest",
      "label": "checksum of the file",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "point_count",
      "dimension": "count",
      "label": "points",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "breakline_count",
      "dimension": "count",
      "label": "breaklines",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "left_out",
      "dimension": "count",
      "label": "lines left out",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "longest_edge_m",
      "dimension": "size",
      "label": "longest outer edge",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 10000,
      "choices": [],
      "group": ""
    },
    {
      "name": "read_as",
      "dimension": "record",
      "label": "read as",
      "aside": "",
      "says": "how its columns or parts were read, for the next file",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "joins",
      "dimension": "word",
      "label": "joins",
      "aside": "",
      "says": "how it stands to the surveys before it",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "alone",
        "adds",
        "replaces"
      ],
      "group": ""
    },
    {
      "name": "upload_id",
      "dimension": "count",
      "label": "upload",
      "aside": "",
      "says": "the file as it came",
      "optional": true,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "within_m",
      "dimension": "size",
      "label": "within",
      "aside": "",
      "says": "only what lay this far from the centreline at most was read",
      "optional": true,
      "low": 0,
      "high": 100000,
      "choices": [],
      "group": ""
    },
    {
      "name": "thinned_m",
      "dimension": "size",
      "label": "thinned within",
      "aside": "",
      "says": "points whose level the surface of the others gives this well were left out",
      "optional": true,
      "low": 0,
      "high": 100,
      "choices": [],
      "group": ""
    },
    {
      "name": "on_grid",
      "dimension": "flag",
      "label": "grid, not ground",
      "aside": "",
      "says": "its coordinates were brought from the grid to the ground",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "of_points",
      "dimension": "count",
      "label": "points in the file",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": null,
      "choices": [],
      "group": ""
    }
  ],
  "centreline": [
    {
      "name": "name",
      "dimension": "name",
      "label": "name",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "start_meets",
      "dimension": "line",
      "label": "start meets",
      "aside": "",
      "says": "a grade line of another road",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "end_meets",
      "dimension": "line",
      "label": "end meets",
      "aside": "",
      "says": "a grade line of another road",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "start_takes_grade",
      "dimension": "flag",
      "label": "start takes the grade",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "end_takes_grade",
      "dimension": "flag",
      "label": "end takes the grade",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "start_chainage_m",
      "dimension": "chainage",
      "label": "starts at",
      "aside": "",
      "says": "",
      "optional": false,
      "low": -100000000.0,
      "high": 100000000.0,
      "choices": [],
      "group": ""
    }
  ],
  "limits": [
    {
      "name": "design_speed_kmh",
      "dimension": "speed",
      "label": "design speed",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 20,
      "high": 130,
      "choices": [],
      "group": "Design speed"
    },
    {
      "name": "max_grade",
      "dimension": "fall",
      "label": "steepest grade",
      "aside": "",
      "says": "up or down, of tangents",
      "optional": false,
      "low": 0,
      "high": 0.5,
      "choices": [],
      "group": "Usual limits"
    },
    {
      "name": "min_grade",
      "dimension": "fall",
      "label": "flattest grade",
      "aside": "of tangents",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 0.1,
      "choices": [],
      "group": "Usual limits"
    },
    {
      "name": "max_fall",
      "dimension": "fall",
      "label": "steepest fall",
      "aside": "",
      "says": "downhill in the direction of chainage; free: as steep as up",
      "optional": true,
      "low": 0,
      "high": 0.5,
      "choices": [],
      "group": "More of grades"
    },
    {
      "name": "min_cut_grade",
      "dimension": "fall",
      "label": "flattest in cut",
      "aside": "",
      "says": "of tangents where they lie in a cut",
      "optional": true,
      "low": 0,
      "high": 0.1,
      "choices": [],
      "group": "More of grades"
    },
    {
      "name": "min_kerb_grade",
      "dimension": "fall",
      "label": "flattest at kerbs",
      "aside": "",
      "says": "of tangents with kerbs beside them; usual in ranges",
      "optional": true,
      "low": 0,
      "high": 0.1,
      "choices": [],
      "group": "More of grades"
    },
    {
      "name": "steep_grade",
      "dimension": "fall",
      "label": "long grades over",
      "aside": "",
      "says": "from here on a grade counts as steep, and may not go on for longer than below",
      "optional": true,
      "low": 0,
      "high": 0.5,
      "choices": [],
      "group": "More of grades"
    },
    {
      "name": "longest_steep_m",
      "dimension": "size",
      "label": "steep stretches last",
      "aside": "at most",
      "says": "stretches steeper than that",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of grades"
    },
    {
      "name": "min_crest_k_m_per_pct",
      "dimension": "k",
      "label": "K of crests",
      "aside": "at least",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "Usual limits"
    },
    {
      "name": "min_sag_k_m_per_pct",
      "dimension": "k",
      "label": "K of sags",
      "aside": "at least",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "Usual limits"
    },
    {
      "name": "min_curve_length_m",
      "dimension": "size",
      "label": "shortest curve",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "Usual limits"
    },
    {
      "name": "min_ip_spacing_m",
      "dimension": "size",
      "label": "IP spacing",
      "aside": "at least",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "Usual limits"
    },
    {
      "name": "crest_k_intermediate",
      "dimension": "k",
      "label": "K of crests, intermediate",
      "aside": "",
      "says": "",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "crest_k_passing",
      "dimension": "k",
      "label": "K of crests, passing",
      "aside": "",
      "says": "",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "crest_k_appearance",
      "dimension": "k",
      "label": "K of crests, appearance",
      "aside": "",
      "says": "",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "sag_k_comfort",
      "dimension": "k",
      "label": "K of sags, comfort",
      "aside": "",
      "says": "",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "sag_k_appearance",
      "dimension": "k",
      "label": "K of sags, appearance",
      "aside": "",
      "says": "",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "most_drained_k_m_per_pct",
      "dimension": "k",
      "label": "K where drained",
      "aside": "at most",
      "says": "of curves with a high or low point, which are nearly level about it; usual beside kerbs",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "most_kink",
      "dimension": "percent",
      "label": "change without curve",
      "aside": "at most",
      "says": "so small a change of grade needs no vertical curve; free: every one does",
      "optional": true,
      "low": 0,
      "high": 0.1,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "min_tangent_m",
      "dimension": "size",
      "label": "shortest tangent",
      "aside": "",
      "says": "between curves that do not touch",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "longest_tangent_m",
      "dimension": "size",
      "label": "longest tangent",
      "aside": "advice",
      "says": "",
      "optional": true,
      "low": 0,
      "high": 1000000.0,
      "choices": [],
      "group": "More of curves and tangents"
    },
    {
      "name": "most_cut_m",
      "dimension": "size",
      "label": "deepest cut",
      "aside": "",
      "says": "at the centreline",
      "optional": true,
      "low": 0,
      "high": 1000.0,
      "choices": [],
      "group": "Depths"
    },
    {
      "name": "most_fill_m",
      "dimension": "size",
      "label": "highest fill",
      "aside": "",
      "says": "at the centreline",
      "optional": true,
      "low": 0,
      "high": 1000.0,
      "choices": [],
      "group": "Depths"
    },
    {
      "name": "bend_speed",
      "dimension": "word",
      "label": "speed of bends",
      "aside": "",
      "says": "whether a bend that allows less than the design speed is a failure",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "fails",
        "advice",
        "off"
      ],
      "group": "Bends"
    },
    {
      "name": "bend_transition",
      "dimension": "word",
      "label": "transitions of bends",
      "aside": "",
      "says": "whether a bend without usual transitions is a failure",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "fails",
        "advice",
        "off"
      ],
      "group": "Bends"
    },
    {
      "name": "bend_width",
      "dimension": "word",
      "label": "width in bends",
      "aside": "",
      "says": "whether a bend that needs more width is a failure; sections are not widened yet",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "fails",
        "advice",
        "off"
      ],
      "group": "Bends"
    },
    {
      "name": "stopping_form",
      "dimension": "word",
      "label": "form of stopping",
      "aside": "",
      "says": "metric: 0.278 V t + V²/(254 (a/9.81 + G)); US customary: 1.47 V t + V²/(30 (a/32.2 + G)) in mph and feet; friction: V t/3.6 + V²/(254 (d + G))",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "metric",
        "US customary",
        "friction"
      ],
      "group": "Sight along the line"
    },
    {
      "name": "reaction_s",
      "dimension": "time",
      "label": "reaction",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0.5,
      "high": 10,
      "choices": [],
      "group": "Sight along the line"
    },
    {
      "name": "deceleration_m_s2",
      "dimension": "acceleration",
      "label": "deceleration",
      "aside": "",
      "says": "of the brakes, on the level",
      "optional": false,
      "low": 0.5,
      "high": 10,
      "choices": [],
      "group": "Sight along the line"
    },
    {
      "name": "eye_m",
      "dimension": "size",
      "label": "eye",
      "aside": "above road",
      "says": "",
      "optional": false,
      "low": 0.3,
      "high": 4,
      "choices": [],
      "group": "Sight along the line"
    },
    {
      "name": "object_m",
      "dimension": "size",
      "label": "object",
      "aside": "above road",
      "says": "what must be seen in time to stop",
      "optional": false,
      "low": 0,
      "high": 4,
      "choices": [],
      "group": "Sight along the line"
    },
    {
      "name": "stopping_sight",
      "dimension": "word",
      "label": "stopping sight",
      "aside": "",
      "says": "whether too little of it along the line, grades and both directions looked at, is a failure",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "fails",
        "advice",
        "off"
      ],
      "group": "Sight along the line"
    },
    {
      "name": "intermediate_sight",
      "dimension": "word",
      "label": "intermediate sight",
      "aside": "",
      "says": "whether two vehicles that meet on one lane must see each other in time for both to stop",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "fails",
        "advice",
        "off"
      ],
      "group": "Sight along the line"
    },
    {
      "name": "headlight_sight",
      "dimension": "word",
      "label": "headlight sight",
      "aside": "",
      "says": "whether headlights must reach as far as stopping needs",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "fails",
        "advice",
        "off"
      ],
      "group": "Sight along the line"
    },
    {
      "name": "headlight_m",
      "dimension": "size",
      "label": "headlights",
      "aside": "above road",
      "says": "",
      "optional": false,
      "low": 0.1,
      "high": 3,
      "choices": [],
      "group": "Sight along the line"
    },
    {
      "name": "headlight_deg",
      "dimension": "angle",
      "label": "beam",
      "aside": "upwards",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 10,
      "choices": [],
      "group": "Sight along the line"
    },
    {
      "name": "drive_on",
      "dimension": "word",
      "label": "drive on the",
      "aside": "",
      "says": "in which lane sight past bends is looked at",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "right",
        "left"
      ],
      "group": "Sight along the line"
    },
    {
      "name": "passing_sight_m",
      "dimension": "size",
      "label": "passing sight",
      "aside": "",
      "says": "needed to pass; free: what the table has for the design speed",
      "optional": true,
      "low": 0,
      "high": 100000.0,
      "choices": [],
      "group": "Passing and markings"
    },
    {
      "name": "shortest_passing_m",
      "dimension": "size",
      "label": "shortest passing",
      "aside": "",
      "says": "a stretch that is shorter is marked as no passing",
      "optional": false,
      "low": 0,
      "high": 100000.0,
      "choices": [],
      "group": "Passing and markings"
    },
    {
      "name": "least_passing_share",
      "dimension": "percent",
      "label": "passing possible",
      "aside": "of the length, at least",
      "says": "",
      "optional": true,
      "low": 0,
      "high": 1,
      "choices": [],
      "group": "Passing and markings"
    },
    {
      "name": "start_level_m",
      "dimension": "level",
      "label": "start level",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -100000000.0,
      "high": 100000000.0,
      "choices": [],
      "group": "Tie-ins"
    },
    {
      "name": "start_grade",
      "dimension": "exact_grade",
      "label": "start grade",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -2,
      "high": 2,
      "choices": [],
      "group": "Tie-ins"
    },
    {
      "name": "end_level_m",
      "dimension": "level",
      "label": "end level",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -100000000.0,
      "high": 100000000.0,
      "choices": [],
      "group": "Tie-ins"
    },
    {
      "name": "end_grade",
      "dimension": "exact_grade",
      "label": "end grade",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -2,
      "high": 2,
      "choices": [],
      "group": "Tie-ins"
    }
  ],
  "section": [
    {
      "name": "name",
      "dimension": "name",
      "label": "section",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    }
  ],
  "works": [
    {
      "name": "section",
      "dimension": "word",
      "label": "typical section",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "interval_m",
      "dimension": "size",
      "label": "sections each",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 1,
      "high": 100,
      "choices": [],
      "group": ""
    },
    {
      "name": "reported_m",
      "dimension": "size",
      "label": "reported each",
      "aside": "",
      "says": "free, as they are worked out",
      "optional": true,
      "low": 1,
      "high": 1000,
      "choices": [],
      "group": ""
    },
    {
      "name": "in_curves_m",
      "dimension": "size",
      "label": "in curves each",
      "aside": "",
      "says": "in bends, transitions and vertical curves; free, as elsewhere",
      "optional": true,
      "low": 0.5,
      "high": 1000,
      "choices": [],
      "group": ""
    },
    {
      "name": "reach_m",
      "dimension": "size",
      "label": "ground to each side",
      "aside": "",
      "says": "that sections are cut to, and further where batters need it",
      "optional": false,
      "low": 5,
      "high": 300.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "topsoil_depth_m",
      "dimension": "size",
      "label": "topsoil strip",
      "aside": "deep",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 2,
      "choices": [],
      "group": ""
    },
    {
      "name": "topsoil_back_m",
      "dimension": "size",
      "label": "topsoil back",
      "aside": "on batters",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 2,
      "choices": [],
      "group": ""
    },
    {
      "name": "batters_to",
      "dimension": "word",
      "label": "batters run to",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "ground",
        "stripped ground",
        "a survey"
      ],
      "group": ""
    },
    {
      "name": "survey",
      "dimension": "line",
      "label": "surface",
      "aside": "",
      "says": "the survey whose surface batters run to",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    }
  ],
  "strata": [
    {
      "name": "top_may_be_fill",
      "dimension": "flag",
      "label": "soil may be fill",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    }
  ],
  "reserve": [
    {
      "name": "least_cut_h_over_v",
      "dimension": "batter",
      "label": "steepest in cut 1 :",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0.05,
      "high": 20,
      "choices": [],
      "group": ""
    },
    {
      "name": "least_fill_h_over_v",
      "dimension": "batter",
      "label": "steepest in fill 1 :",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0.05,
      "high": 20,
      "choices": [],
      "group": ""
    }
  ],
  "along": [],
  "superelevation": [
    {
      "name": "built",
      "dimension": "flag",
      "label": "sections lean in bends",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "about",
      "dimension": "word",
      "label": "turned about",
      "aside": "",
      "says": "edge of the lanes, which keeps its level",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "centreline",
        "inner edge",
        "outer edge"
      ],
      "group": ""
    },
    {
      "name": "on_tangent",
      "dimension": "factor",
      "label": "run-off on the tangent",
      "aside": "",
      "says": "of bends without a transition",
      "optional": false,
      "low": 0,
      "high": 1,
      "choices": [],
      "group": ""
    },
    {
      "name": "shoulder_difference",
      "dimension": "fall",
      "label": "lane against shoulder",
      "aside": "at most",
      "says": "difference of their falls",
      "optional": false,
      "low": 0,
      "high": 0.3,
      "choices": [],
      "group": ""
    },
    {
      "name": "least_slope",
      "dimension": "fall",
      "label": "slope that drains",
      "aside": "at least",
      "says": "of fall and grade together",
      "optional": false,
      "low": 0,
      "high": 0.1,
      "choices": [],
      "group": ""
    },
    {
      "name": "crown_kept_m",
      "dimension": "size",
      "label": "crown kept from",
      "aside": "",
      "says": "radius from which a bend is not turned; free, every bend is",
      "optional": true,
      "low": 10,
      "high": 100000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "widened",
      "dimension": "flag",
      "label": "sections widen in bends",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "widened_on",
      "dimension": "word",
      "label": "widened",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "inside",
        "both sides alike"
      ],
      "group": ""
    },
    {
      "name": "least_widening_m",
      "dimension": "size",
      "label": "widening",
      "aside": "at least",
      "says": "less is not built",
      "optional": false,
      "low": 0,
      "high": 5,
      "choices": [],
      "group": ""
    }
  ],
  "cost": [
    {
      "name": "currency",
      "dimension": "currency",
      "label": "currency",
      "aside": "",
      "says": "code of three letters",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "cut_per_m3",
      "dimension": "price_m3",
      "label": "cut",
      "aside": "",
      "says": "of soil, per bank m³",
      "optional": false,
      "low": 0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "fill_per_m3",
      "dimension": "price_m3",
      "label": "fill",
      "aside": "",
      "says": "per compacted m³",
      "optional": false,
      "low": 0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "haul_per_m3_m",
      "dimension": "price_haul",
      "label": "haul",
      "aside": "",
      "says": "per compacted m³ and m",
      "optional": false,
      "low": 0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "borrow_per_m3",
      "dimension": "price_m3",
      "label": "borrow",
      "aside": "",
      "says": "per compacted m³",
      "optional": false,
      "low": 0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "spoil_per_m3",
      "dimension": "price_m3",
      "label": "spoil",
      "aside": "",
      "says": "per compacted m³",
      "optional": false,
      "low": 0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "compacted_per_bank",
      "dimension": "factor",
      "label": "compaction",
      "aside": "m³ per bank m³",
      "says": "of soil",
      "optional": false,
      "low": 0.1,
      "high": 3,
      "choices": [],
      "group": ""
    },
    {
      "name": "wall_per_m2",
      "dimension": "price_m2",
      "label": "walls",
      "aside": "",
      "says": "per m² of face",
      "optional": false,
      "low": 0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    }
  ],
  "line": [
    {
      "name": "name",
      "dimension": "name",
      "label": "name",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "colour",
      "dimension": "count",
      "label": "colour",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 99,
      "choices": [],
      "group": ""
    },
    {
      "name": "road",
      "dimension": "word",
      "label": "centreline",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "status",
      "dimension": "word",
      "label": "status",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "draft",
        "checking",
        "final"
      ],
      "group": ""
    }
  ],
  "notes": [],
  "ground": [
    {
      "name": "author",
      "dimension": "line",
      "label": "who",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "made_at",
      "dimension": "line",
      "label": "when",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "note",
      "dimension": "line",
      "label": "why",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    }
  ],
  "codes": [],
  "outline": [
    {
      "name": "longest_edge_m",
      "dimension": "size",
      "label": "longest outer edge",
      "aside": "",
      "says": "outer triangles with a longer edge are left away; free: as the surveys say",
      "optional": true,
      "low": 0,
      "high": 10000,
      "choices": [],
      "group": ""
    }
  ],
  "coordinates": [
    {
      "name": "crs",
      "dimension": "line",
      "label": "grid",
      "aside": "",
      "says": "a projected coordinate system by its code, as EPSG:25832",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "vertical",
      "dimension": "line",
      "label": "levels",
      "aside": "",
      "says": "the datum that levels are above",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "scale_factor",
      "dimension": "factor",
      "label": "scale factor",
      "aside": "",
      "says": "a length on the grid over the same on the ground, height above the sea included",
      "optional": false,
      "low": 0.9,
      "high": 1.1,
      "choices": [],
      "group": ""
    },
    {
      "name": "about_easting_m",
      "dimension": "plan",
      "label": "fixed easting",
      "aside": "",
      "says": "",
      "optional": false,
      "low": -100000000.0,
      "high": 100000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "about_northing_m",
      "dimension": "plan",
      "label": "fixed northing",
      "aside": "",
      "says": "",
      "optional": false,
      "low": -100000000.0,
      "high": 100000000.0,
      "choices": [],
      "group": ""
    }
  ],
  "backdrop": [
    {
      "name": "address",
      "dimension": "line",
      "label": "address",
      "aside": "",
      "says": "of a Web Map Service (WMS), or the picture that ships",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "layers",
      "dimension": "line",
      "label": "layers",
      "aside": "",
      "says": "names of its layers, with commas",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "opacity",
      "dimension": "factor",
      "label": "strength",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0.1,
      "high": 1.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "picture",
      "dimension": "count",
      "label": "own picture",
      "aside": "",
      "says": "",
      "optional": true,
      "low": 0,
      "high": 2147483647,
      "choices": [],
      "group": ""
    },
    {
      "name": "picture_name",
      "dimension": "line",
      "label": "its file",
      "aside": "",
      "says": "",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [],
      "group": ""
    },
    {
      "name": "west_m",
      "dimension": "plan",
      "label": "west edge",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -1000000000.0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "south_m",
      "dimension": "plan",
      "label": "south edge",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -1000000000.0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "east_m",
      "dimension": "plan",
      "label": "east edge",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -1000000000.0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "north_m",
      "dimension": "plan",
      "label": "north edge",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -1000000000.0,
      "high": 1000000000.0,
      "choices": [],
      "group": ""
    },
    {
      "name": "finest",
      "dimension": "count",
      "label": "finest zoom",
      "aside": "",
      "says": "",
      "optional": true,
      "low": -8,
      "high": 8,
      "choices": [],
      "group": ""
    }
  ],
  "bends": [
    {
      "name": "max_superelevation",
      "dimension": "fall",
      "label": "steepest superelevation",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 0.15,
      "choices": [],
      "group": ""
    },
    {
      "name": "divides",
      "dimension": "word",
      "label": "gentler bends",
      "aside": "",
      "says": "shared: with side friction, both as the curvature; or one of them as far as it goes before the other",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "shared",
        "superelevation first",
        "friction first"
      ],
      "group": ""
    },
    {
      "name": "lateral_jerk",
      "dimension": "jerk",
      "label": "lateral jerk",
      "aside": "at most",
      "says": "on transitions; from memory",
      "optional": false,
      "low": 0.1,
      "high": 3,
      "choices": [],
      "group": ""
    },
    {
      "name": "least_shift_m",
      "dimension": "size",
      "label": "shift of the arc",
      "aside": "at least",
      "says": "by a transition; from memory",
      "optional": false,
      "low": 0,
      "high": 2,
      "choices": [],
      "group": ""
    },
    {
      "name": "lanes",
      "dimension": "count",
      "label": "lanes",
      "aside": "both ways together",
      "says": "that are widened; 1: a single lane",
      "optional": false,
      "low": 1,
      "high": 6,
      "choices": [],
      "group": ""
    },
    {
      "name": "vehicle",
      "dimension": "word",
      "label": "longest vehicle",
      "aside": "",
      "says": "that bends are widened for; its wheelbases are from memory",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "as typed",
        "car",
        "truck",
        "bus",
        "semitrailer",
        "long semitrailer"
      ],
      "group": ""
    },
    {
      "name": "wheelbase_m",
      "dimension": "size",
      "label": "wheelbase",
      "aside": "",
      "says": "for widening, where it is typed",
      "optional": false,
      "low": 1,
      "high": 20,
      "choices": [],
      "group": ""
    },
    {
      "name": "fastest_kmh",
      "dimension": "speed",
      "label": "speed on straights",
      "aside": "",
      "says": "bends are not driven faster; from memory",
      "optional": false,
      "low": 20,
      "high": 200,
      "choices": [],
      "group": ""
    },
    {
      "name": "most_slower_kmh",
      "dimension": "speed",
      "label": "slower than a neighbour",
      "aside": "at most",
      "says": "",
      "optional": false,
      "low": 1,
      "high": 100,
      "choices": [],
      "group": ""
    },
    {
      "name": "form",
      "dimension": "word",
      "label": "form",
      "aside": "",
      "says": "least radius; metric: V²/(127 (e + f)); US customary: V²/(15 (e + f)) in mph and feet",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "metric",
        "US customary"
      ],
      "group": ""
    }
  ],
  "equations": [],
  "practice": [
    {
      "name": "system",
      "dimension": "word",
      "label": "units",
      "aside": "",
      "says": "metric; us: feet of 0.3048 m; us_survey: feet of 1200/3937 m",
      "optional": false,
      "low": null,
      "high": null,
      "choices": [
        "metric",
        "us",
        "us_survey"
      ],
      "group": ""
    }
  ],
  "truck": [
    {
      "name": "kg_per_kw",
      "dimension": "mass_to_power",
      "label": "mass to power",
      "aside": "",
      "says": "of the truck the grades are judged by",
      "optional": false,
      "low": 10,
      "high": 600,
      "choices": [],
      "group": ""
    },
    {
      "name": "mass_kg",
      "dimension": "mass",
      "label": "mass",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 1000,
      "high": 200000,
      "choices": [],
      "group": ""
    },
    {
      "name": "efficiency",
      "dimension": "factor",
      "label": "power at wheels",
      "aside": "of the engine's",
      "says": "",
      "optional": false,
      "low": 0.3,
      "high": 1,
      "choices": [],
      "group": ""
    },
    {
      "name": "rolling",
      "dimension": "factor",
      "label": "rolling",
      "aside": "of its weight",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 0.1,
      "choices": [],
      "group": ""
    },
    {
      "name": "drag_area_m2",
      "dimension": "section_area",
      "label": "drag area",
      "aside": "",
      "says": "",
      "optional": false,
      "low": 0,
      "high": 30,
      "choices": [],
      "group": ""
    },
    {
      "name": "fastest_kmh",
      "dimension": "speed",
      "label": "entry speed",
      "aside": "",
      "says": "what it drives on flat road before this one; free: the design speed, as far as trucks go that fast",
      "optional": true,
      "low": 10,
      "high": 150,
      "choices": [],
      "group": ""
    },
    {
      "name": "most_slower_kmh",
      "dimension": "speed",
      "label": "allowed speed loss",
      "aside": "at most",
      "says": "",
      "optional": false,
      "low": 1,
      "high": 100,
      "choices": [],
      "group": ""
    }
  ],
  "ranges": [],
  "controls": [],
  "utilities": [],
  "spots": []
} as const;

export const ROWS = {
  "centreline": {
    "kind": "centreline",
    "name": "ips",
    "fields": [
      {
        "name": "easting_m",
        "dimension": "plan",
        "label": "easting",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "northing_m",
        "dimension": "plan",
        "label": "northing",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "radius_m",
        "dimension": "length",
        "label": "radius",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "transition_in_m",
        "dimension": "length",
        "label": "transition in",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 10000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "transition_out_m",
        "dimension": "length",
        "label": "transition out",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 10000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "joins",
        "dimension": "flag",
        "label": "joins",
        "aside": "",
        "says": "its transition in begins at the arc before: its radius is what touches that",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "superelevation",
        "dimension": "fall",
        "label": "superelevation",
        "aside": "",
        "says": "of the bend; empty: as the rules say",
        "optional": true,
        "low": 0,
        "high": 0.15,
        "choices": [],
        "group": ""
      }
    ]
  },
  "limits": {
    "kind": "limits",
    "name": "sources",
    "fields": [
      {
        "name": "name",
        "dimension": "text",
        "label": "limit",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "value",
        "dimension": "factor",
        "label": "value",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -1000000000.0,
        "high": 1000000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "formula",
        "dimension": "line",
        "label": "formula",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "source",
        "dimension": "line",
        "label": "source",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "edition",
        "dimension": "line",
        "label": "edition",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "from_memory",
        "dimension": "flag",
        "label": "from memory",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "reason",
        "dimension": "line",
        "label": "reason",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "section": {
    "kind": "section",
    "name": "elements",
    "fields": [
      {
        "name": "side",
        "dimension": "word",
        "label": "side",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "left",
          "right"
        ],
        "group": ""
      },
      {
        "name": "kind",
        "dimension": "word",
        "label": "element",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "lane",
          "shoulder",
          "verge",
          "kerb",
          "drain",
          "berm",
          "wall",
          "piece"
        ],
        "group": ""
      },
      {
        "name": "name",
        "dimension": "name",
        "label": "outer point",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "width_m",
        "dimension": "size",
        "label": "width",
        "aside": "",
        "says": "level width; of a drain, of its bottom",
        "optional": false,
        "low": 0,
        "high": 200,
        "choices": [],
        "group": ""
      },
      {
        "name": "fall",
        "dimension": "fall",
        "label": "fall",
        "aside": "",
        "says": "down and outwards; rising below 0",
        "optional": false,
        "low": -5,
        "high": 5,
        "choices": [],
        "group": ""
      },
      {
        "name": "drop_m",
        "dimension": "size",
        "label": "drop",
        "aside": "",
        "says": "for a fall; height of a kerb or wall",
        "optional": true,
        "low": -100,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "front_h_over_v",
        "dimension": "batter",
        "label": "front slope",
        "aside": "",
        "says": "of a drain, 1 :",
        "optional": false,
        "low": 0,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "back_h_over_v",
        "dimension": "batter",
        "label": "back slope",
        "aside": "",
        "says": "of a drain, 1 : ; free, the batter begins at its bottom",
        "optional": true,
        "low": 0,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "depth_m",
        "dimension": "size",
        "label": "depth",
        "aside": "",
        "says": "of a drain below its inner edge",
        "optional": false,
        "low": 0,
        "high": 50,
        "choices": [],
        "group": ""
      },
      {
        "name": "built",
        "dimension": "word",
        "label": "built",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "always",
          "in cut",
          "in fill"
        ],
        "group": ""
      },
      {
        "name": "exceeds_m",
        "dimension": "size",
        "label": "deeper than",
        "aside": "",
        "says": "cut or fill beside the road",
        "optional": false,
        "low": 0,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "written",
        "dimension": "flag",
        "label": "written",
        "aside": "",
        "says": "its level and name in the section",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "section.layers": {
    "kind": "section",
    "name": "layers",
    "fields": [
      {
        "name": "side",
        "dimension": "word",
        "label": "side",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "left",
          "right"
        ],
        "group": ""
      },
      {
        "name": "name",
        "dimension": "name",
        "label": "material",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "thickness_m",
        "dimension": "size",
        "label": "thickness",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 10,
        "choices": [],
        "group": ""
      },
      {
        "name": "first",
        "dimension": "line",
        "label": "from behind",
        "aside": "",
        "says": "an outer point; free, from the centreline",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "last",
        "dimension": "line",
        "label": "as far as",
        "aside": "",
        "says": "an outer point; free, the last before a drain",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "ends",
        "dimension": "word",
        "label": "ends at",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "own edge",
          "drain front",
          "batter"
        ],
        "group": ""
      },
      {
        "name": "extend_m",
        "dimension": "size",
        "label": "extends",
        "aside": "",
        "says": "beyond its elements",
        "optional": false,
        "low": 0,
        "high": 50,
        "choices": [],
        "group": ""
      },
      {
        "name": "extend_fall",
        "dimension": "fall",
        "label": "at a fall of",
        "aside": "",
        "says": "free, as the last element falls",
        "optional": true,
        "low": -1,
        "high": 1,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_ground",
        "dimension": "flag",
        "label": "down to the ground",
        "aside": "",
        "says": "its thickness is the least",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "price_per_m3",
        "dimension": "price_m3",
        "label": "price",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000000000.0,
        "choices": [],
        "group": ""
      }
    ]
  },
  "section.batters": {
    "kind": "section",
    "name": "batters",
    "fields": [
      {
        "name": "side",
        "dimension": "word",
        "label": "side",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "left",
          "right"
        ],
        "group": ""
      },
      {
        "name": "kind",
        "dimension": "word",
        "label": "batter in",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "cut",
          "fill"
        ],
        "group": ""
      },
      {
        "name": "up_to_m",
        "dimension": "size",
        "label": "up to in all",
        "aside": "",
        "says": "the whole slope holds up to this height; free, to any",
        "optional": true,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "h_over_v",
        "dimension": "batter",
        "label": "slope",
        "aside": "",
        "says": "1 :",
        "optional": false,
        "low": 0.05,
        "high": 20,
        "choices": [],
        "group": ""
      },
      {
        "name": "height_m",
        "dimension": "size",
        "label": "band's height",
        "aside": "",
        "says": "free, to the ground",
        "optional": true,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "bench_m",
        "dimension": "size",
        "label": "bench behind",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "bench_fall",
        "dimension": "fall",
        "label": "bench's fall",
        "aside": "",
        "says": "outwards",
        "optional": false,
        "low": -0.5,
        "high": 0.5,
        "choices": [],
        "group": ""
      }
    ]
  },
  "works": {
    "kind": "works",
    "name": "rows",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "depth_m",
        "dimension": "size",
        "label": "topsoil strip",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 2,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "works.intervals": {
    "kind": "works",
    "name": "intervals",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "interval_m",
        "dimension": "size",
        "label": "sections each",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0.5,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "works.singles": {
    "kind": "works",
    "name": "singles",
    "fields": [
      {
        "name": "at_m",
        "dimension": "chainage",
        "label": "chainage",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "words",
        "dimension": "line",
        "label": "what is there",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "strata": {
    "kind": "strata",
    "name": "materials",
    "fields": [
      {
        "name": "name",
        "dimension": "name",
        "label": "material",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "batter_h_over_v",
        "dimension": "batter",
        "label": "batter in it",
        "aside": "",
        "says": "1 : ; free, as the section's",
        "optional": true,
        "low": 0.05,
        "high": 20,
        "choices": [],
        "group": ""
      },
      {
        "name": "cut_per_m3",
        "dimension": "price_m3",
        "label": "cut",
        "aside": "",
        "says": "per bank m³",
        "optional": false,
        "low": 0,
        "high": 1000000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "compacted_per_bank",
        "dimension": "factor",
        "label": "bulking",
        "aside": "",
        "says": "compacted m³ per bank m³",
        "optional": false,
        "low": 0.1,
        "high": 3,
        "choices": [],
        "group": ""
      },
      {
        "name": "may_be_fill",
        "dimension": "flag",
        "label": "may be fill",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "strata.rows": {
    "kind": "strata",
    "name": "rows",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "material",
        "dimension": "name",
        "label": "material",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "depth_m",
        "dimension": "size",
        "label": "depth",
        "aside": "",
        "says": "of its top below the ground",
        "optional": false,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "reserve": {
    "kind": "reserve",
    "name": "rows",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "side",
        "dimension": "word",
        "label": "side",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "left",
          "right"
        ],
        "group": ""
      },
      {
        "name": "offset_m",
        "dimension": "size",
        "label": "offset",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "reserve.corners": {
    "kind": "reserve",
    "name": "corners",
    "fields": [
      {
        "name": "name",
        "dimension": "name",
        "label": "boundary",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "easting_m",
        "dimension": "plan",
        "label": "easting",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "northing_m",
        "dimension": "plan",
        "label": "northing",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      }
    ]
  },
  "along": {
    "kind": "along",
    "name": "ranges",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "taper_in_m",
        "dimension": "size",
        "label": "taper in",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "taper_out_m",
        "dimension": "size",
        "label": "taper out",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "section",
        "dimension": "word",
        "label": "typical section",
        "aside": "",
        "says": "or none: nothing is built there",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "along.changes": {
    "kind": "along",
    "name": "changes",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "taper_in_m",
        "dimension": "size",
        "label": "taper in",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "taper_out_m",
        "dimension": "size",
        "label": "taper out",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "side",
        "dimension": "word",
        "label": "side",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "left",
          "right"
        ],
        "group": ""
      },
      {
        "name": "point",
        "dimension": "line",
        "label": "outer point",
        "aside": "",
        "says": "of the element; free, the side's batters",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "width_m",
        "dimension": "size",
        "label": "width",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 200,
        "choices": [],
        "group": ""
      },
      {
        "name": "fall",
        "dimension": "fall",
        "label": "fall",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -5,
        "high": 5,
        "choices": [],
        "group": ""
      },
      {
        "name": "drop_m",
        "dimension": "size",
        "label": "drop",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -100,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "depth_m",
        "dimension": "size",
        "label": "depth",
        "aside": "",
        "says": "of a drain",
        "optional": true,
        "low": 0,
        "high": 50,
        "choices": [],
        "group": ""
      },
      {
        "name": "cut_h_over_v",
        "dimension": "batter",
        "label": "cut 1 :",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0.05,
        "high": 20,
        "choices": [],
        "group": ""
      },
      {
        "name": "fill_h_over_v",
        "dimension": "batter",
        "label": "fill 1 :",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0.05,
        "high": 20,
        "choices": [],
        "group": ""
      },
      {
        "name": "led_by",
        "dimension": "line",
        "label": "led by",
        "aside": "",
        "says": "a line that the outer point lies on",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "reason",
        "dimension": "line",
        "label": "reason",
        "aside": "",
        "says": "of an exception",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "along.lanes": {
    "kind": "along",
    "name": "lanes",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "taper_in_m",
        "dimension": "size",
        "label": "taper in",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "taper_out_m",
        "dimension": "size",
        "label": "taper out",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000,
        "choices": [],
        "group": ""
      },
      {
        "name": "side",
        "dimension": "word",
        "label": "side",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "left",
          "right"
        ],
        "group": ""
      },
      {
        "name": "name",
        "dimension": "name",
        "label": "outer point",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "width_m",
        "dimension": "size",
        "label": "width",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 20,
        "choices": [],
        "group": ""
      },
      {
        "name": "reason",
        "dimension": "line",
        "label": "reason",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "along.corners": {
    "kind": "along",
    "name": "corners",
    "fields": [
      {
        "name": "name",
        "dimension": "name",
        "label": "line",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "easting_m",
        "dimension": "plan",
        "label": "easting",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "northing_m",
        "dimension": "plan",
        "label": "northing",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      }
    ]
  },
  "superelevation": {
    "kind": "superelevation",
    "name": "rows",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "left_from",
        "dimension": "fall",
        "label": "left, from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -0.2,
        "high": 0.2,
        "choices": [],
        "group": ""
      },
      {
        "name": "left_to",
        "dimension": "fall",
        "label": "left, to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -0.2,
        "high": 0.2,
        "choices": [],
        "group": ""
      },
      {
        "name": "right_from",
        "dimension": "fall",
        "label": "right, from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -0.2,
        "high": 0.2,
        "choices": [],
        "group": ""
      },
      {
        "name": "right_to",
        "dimension": "fall",
        "label": "right, to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -0.2,
        "high": 0.2,
        "choices": [],
        "group": ""
      },
      {
        "name": "reason",
        "dimension": "line",
        "label": "reason",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "line": {
    "kind": "line",
    "name": "ips",
    "fields": [
      {
        "name": "curve_length_m",
        "dimension": "length",
        "label": "curve length",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "held_k_m_per_pct",
        "dimension": "k",
        "label": "held K",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "shape",
        "dimension": "word",
        "label": "shape",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "parabola",
          "circle"
        ],
        "group": ""
      },
      {
        "name": "in_share",
        "dimension": "factor",
        "label": "share before the IP",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1,
        "choices": [],
        "group": ""
      },
      {
        "name": "held",
        "dimension": "word",
        "label": "keeps",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "length",
          "radius",
          "start",
          "end",
          "through",
          "sight",
          "longest",
          "limits",
          "stopping",
          "intermediate",
          "passing",
          "headlight"
        ],
        "group": ""
      },
      {
        "name": "held_m",
        "dimension": "plan",
        "label": "kept",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "held_level_m",
        "dimension": "level",
        "label": "level of its point",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "step_m",
        "dimension": "size",
        "label": "rounded to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 1000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "chainage_m",
        "dimension": "chainage",
        "label": "chainage",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "level_m",
        "dimension": "level",
        "label": "level",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "locked_chainage_m",
        "dimension": "chainage",
        "label": "locked chainage",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "locked_level_m",
        "dimension": "level",
        "label": "locked level",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "locked_grade",
        "dimension": "exact_grade",
        "label": "locked grade out",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -2,
        "high": 2,
        "choices": [],
        "group": ""
      },
      {
        "name": "held_eye_m",
        "dimension": "size",
        "label": "eye",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0.3,
        "high": 4,
        "choices": [],
        "group": ""
      },
      {
        "name": "held_object_m",
        "dimension": "size",
        "label": "object",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 4,
        "choices": [],
        "group": ""
      },
      {
        "name": "held_headlight_m",
        "dimension": "size",
        "label": "headlights",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0.1,
        "high": 3,
        "choices": [],
        "group": ""
      },
      {
        "name": "held_headlight_deg",
        "dimension": "angle",
        "label": "beam",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 10,
        "choices": [],
        "group": ""
      }
    ]
  },
  "notes": {
    "kind": "notes",
    "name": "rows",
    "fields": [
      {
        "name": "chainage_m",
        "dimension": "chainage",
        "label": "chainage",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "words",
        "dimension": "line",
        "label": "words",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "label",
        "dimension": "word",
        "label": "label",
        "aside": "",
        "says": "words only, or chainage and level of the line or of the ground",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "words",
          "line",
          "ground"
        ],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "ground": {
    "kind": "ground",
    "name": "rows",
    "fields": [
      {
        "name": "what",
        "dimension": "word",
        "label": "what",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "exclude",
          "keep",
          "level",
          "edge",
          "breakline",
          "drop"
        ],
        "group": ""
      },
      {
        "name": "easting_m",
        "dimension": "plan",
        "label": "easting",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "northing_m",
        "dimension": "plan",
        "label": "northing",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "level_m",
        "dimension": "level",
        "label": "level",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -12000,
        "high": 12000,
        "choices": [],
        "group": ""
      },
      {
        "name": "new_level_m",
        "dimension": "level",
        "label": "level instead",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -12000,
        "high": 12000,
        "choices": [],
        "group": ""
      }
    ]
  },
  "codes": {
    "kind": "codes",
    "name": "rows",
    "fields": [
      {
        "name": "code",
        "dimension": "name",
        "label": "code",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "means",
        "dimension": "word",
        "label": "means",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "ground",
          "string",
          "not_ground"
        ],
        "group": ""
      }
    ]
  },
  "outline": {
    "kind": "outline",
    "name": "rows",
    "fields": [
      {
        "name": "ring",
        "dimension": "count",
        "label": "ring",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 1,
        "high": 10000,
        "choices": [],
        "group": ""
      },
      {
        "name": "what",
        "dimension": "word",
        "label": "what",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "outer",
          "hole",
          "island"
        ],
        "group": ""
      },
      {
        "name": "easting_m",
        "dimension": "plan",
        "label": "easting",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "northing_m",
        "dimension": "plan",
        "label": "northing",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      }
    ]
  },
  "bends": {
    "kind": "bends",
    "name": "rows",
    "fields": [
      {
        "name": "speed_kmh",
        "dimension": "speed",
        "label": "speed",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 5,
        "high": 200,
        "choices": [],
        "group": ""
      },
      {
        "name": "side_friction",
        "dimension": "factor",
        "label": "side friction",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0.01,
        "high": 0.6,
        "choices": [],
        "group": ""
      },
      {
        "name": "relative_grade",
        "dimension": "fall",
        "label": "edge against axis",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0.001,
        "high": 0.05,
        "choices": [],
        "group": ""
      },
      {
        "name": "source",
        "dimension": "line",
        "label": "source",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "equations": {
    "kind": "equations",
    "name": "rows",
    "fields": [
      {
        "name": "at_m",
        "dimension": "chainage",
        "label": "at",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "ahead_m",
        "dimension": "station",
        "label": "ahead",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "ranges": {
    "kind": "ranges",
    "name": "rows",
    "fields": [
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "words",
        "dimension": "line",
        "label": "what it is",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "design_speed_kmh",
        "dimension": "speed",
        "label": "design speed",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 20,
        "high": 130,
        "choices": [],
        "group": ""
      },
      {
        "name": "max_grade",
        "dimension": "fall",
        "label": "steepest grade",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 0.5,
        "choices": [],
        "group": ""
      },
      {
        "name": "min_grade",
        "dimension": "fall",
        "label": "flattest grade",
        "aside": "of tangents",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 0.1,
        "choices": [],
        "group": ""
      },
      {
        "name": "max_fall",
        "dimension": "fall",
        "label": "steepest fall",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 0.5,
        "choices": [],
        "group": ""
      },
      {
        "name": "min_cut_grade",
        "dimension": "fall",
        "label": "flattest in cut",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 0.1,
        "choices": [],
        "group": ""
      },
      {
        "name": "min_kerb_grade",
        "dimension": "fall",
        "label": "flattest at kerbs",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 0.1,
        "choices": [],
        "group": ""
      },
      {
        "name": "steep_grade",
        "dimension": "fall",
        "label": "long grades over",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 0.5,
        "choices": [],
        "group": ""
      },
      {
        "name": "longest_steep_m",
        "dimension": "size",
        "label": "steep stretches last",
        "aside": "at most",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "min_crest_k_m_per_pct",
        "dimension": "k",
        "label": "K of crests",
        "aside": "at least",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "min_sag_k_m_per_pct",
        "dimension": "k",
        "label": "K of sags",
        "aside": "at least",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "min_curve_length_m",
        "dimension": "size",
        "label": "shortest curve",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "min_ip_spacing_m",
        "dimension": "size",
        "label": "IP spacing",
        "aside": "at least",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "crest_k_intermediate",
        "dimension": "k",
        "label": "K of crests, intermediate",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "crest_k_passing",
        "dimension": "k",
        "label": "K of crests, passing",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "crest_k_appearance",
        "dimension": "k",
        "label": "K of crests, appearance",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "sag_k_comfort",
        "dimension": "k",
        "label": "K of sags, comfort",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "sag_k_appearance",
        "dimension": "k",
        "label": "K of sags, appearance",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "most_drained_k_m_per_pct",
        "dimension": "k",
        "label": "K where drained",
        "aside": "at most",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "most_kink",
        "dimension": "percent",
        "label": "change without curve",
        "aside": "at most",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 0.1,
        "choices": [],
        "group": ""
      },
      {
        "name": "min_tangent_m",
        "dimension": "size",
        "label": "shortest tangent",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "longest_tangent_m",
        "dimension": "size",
        "label": "longest tangent",
        "aside": "advice",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "most_cut_m",
        "dimension": "size",
        "label": "deepest cut",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "most_fill_m",
        "dimension": "size",
        "label": "highest fill",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 1000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "passing_sight_m",
        "dimension": "size",
        "label": "passing sight",
        "aside": "",
        "says": "",
        "optional": true,
        "low": 0,
        "high": 100000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "controls": {
    "kind": "controls",
    "name": "rows",
    "fields": [
      {
        "name": "words",
        "dimension": "line",
        "label": "what it is",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "reason",
        "dimension": "line",
        "label": "reason",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "from_m",
        "dimension": "chainage",
        "label": "from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "to_m",
        "dimension": "chainage",
        "label": "to",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "bound",
        "dimension": "word",
        "label": "the line is",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "at",
          "above",
          "below",
          "between"
        ],
        "group": ""
      },
      {
        "name": "measured_from",
        "dimension": "word",
        "label": "measured from",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "level",
          "ground",
          "line"
        ],
        "group": ""
      },
      {
        "name": "level_m",
        "dimension": "level",
        "label": "level",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "level_to_m",
        "dimension": "level",
        "label": "upper level",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "height_m",
        "dimension": "length",
        "label": "height over it",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -1000.0,
        "high": 1000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "height_to_m",
        "dimension": "length",
        "label": "upper height",
        "aside": "",
        "says": "",
        "optional": true,
        "low": -1000.0,
        "high": 1000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "old_line",
        "dimension": "word",
        "label": "old road",
        "aside": "",
        "says": "",
        "optional": true,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "clearance_m",
        "dimension": "length",
        "label": "clearance",
        "aside": "",
        "says": "",
        "optional": false,
        "low": 0,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "offset_m",
        "dimension": "length",
        "label": "offset",
        "aside": "",
        "says": "to the right of the centreline",
        "optional": false,
        "low": -60,
        "high": 60,
        "choices": [],
        "group": ""
      },
      {
        "name": "road",
        "dimension": "word",
        "label": "centreline",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      }
    ]
  },
  "utilities": {
    "kind": "utilities",
    "name": "rows",
    "fields": [
      {
        "name": "name",
        "dimension": "name",
        "label": "utility",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [],
        "group": ""
      },
      {
        "name": "what",
        "dimension": "word",
        "label": "kind",
        "aside": "",
        "says": "",
        "optional": false,
        "low": null,
        "high": null,
        "choices": [
          "buried",
          "overhead"
        ],
        "group": ""
      },
      {
        "name": "least_m",
        "dimension": "length",
        "label": "least room",
        "aside": "",
        "says": "cover over it, or clearance under it",
        "optional": false,
        "low": 0,
        "high": 100,
        "choices": [],
        "group": ""
      },
      {
        "name": "easting_m",
        "dimension": "plan",
        "label": "easting",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "northing_m",
        "dimension": "plan",
        "label": "northing",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "level_m",
        "dimension": "level",
        "label": "level",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      }
    ]
  },
  "spots": {
    "kind": "spots",
    "name": "rows",
    "fields": [
      {
        "name": "easting_m",
        "dimension": "plan",
        "label": "easting",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      },
      {
        "name": "northing_m",
        "dimension": "plan",
        "label": "northing",
        "aside": "",
        "says": "",
        "optional": false,
        "low": -100000000.0,
        "high": 100000000.0,
        "choices": [],
        "group": ""
      }
    ]
  }
} as const;

export const CHECKS = [
  {
    "id": "steepest_grade",
    "name": "Steepest grade",
    "row": "grade",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "flattest_grade",
    "name": "Flattest grade",
    "row": "grade",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "flattest_in_cut",
    "name": "Flattest in cut",
    "row": "grade",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "flattest_at_kerbs",
    "name": "Flattest at kerbs",
    "row": "grade",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "long_grade",
    "name": "Long grade",
    "row": "grade",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "crest_k",
    "name": "Crest K",
    "row": "K",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "sag_k",
    "name": "Sag K",
    "row": "K",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "crest_k_intermediate",
    "name": "Crest K, intermediate",
    "row": "K",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "crest_k_passing",
    "name": "Crest K, passing",
    "row": "K",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "crest_k_appearance",
    "name": "Crest K, appearance",
    "row": "K",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "sag_k_comfort",
    "name": "Sag K, comfort",
    "row": "K",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "sag_k_appearance",
    "name": "Sag K, appearance",
    "row": "K",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "curve_length",
    "name": "Shortest curve",
    "row": "curve",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "ip_spacing",
    "name": "Spacing of IPs",
    "row": "spacing",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "shortest_tangent",
    "name": "Shortest tangent",
    "row": "tangent",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "longest_tangent",
    "name": "Longest tangent",
    "row": "tangent",
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "tie_in_level",
    "name": "Tie-in level",
    "row": null,
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "tie_in_grade",
    "name": "Tie-in grade",
    "row": null,
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "level_control",
    "name": "Level control",
    "row": "level",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "utility",
    "name": "Cover or headroom",
    "row": "level",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "control_unmeasured",
    "name": "Control without a level",
    "row": null,
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "drained_k",
    "name": "K at a high or low point",
    "row": "K",
    "place": "ip",
    "advice": false,
    "group": ""
  },
  {
    "id": "cut_depth",
    "name": "Deepest cut",
    "row": "depth",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "fill_height",
    "name": "Highest fill",
    "row": "depth",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "stopping_sight",
    "name": "Stopping sight",
    "row": "sight",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "stopping_sight_advice",
    "name": "Stopping sight",
    "row": "sight",
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "headlight_sight",
    "name": "Headlight sight",
    "row": "sight",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "headlight_sight_advice",
    "name": "Headlight sight",
    "row": "sight",
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "intermediate_sight",
    "name": "Intermediate sight",
    "row": "sight",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "intermediate_sight_advice",
    "name": "Intermediate sight",
    "row": "sight",
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "sight_under",
    "name": "Sight under a structure",
    "row": "sight",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "sight_under_advice",
    "name": "Sight under a structure",
    "row": "sight",
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "passing_share",
    "name": "Passing possible",
    "row": null,
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "slow_truck",
    "name": "Slow truck",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "undrained_sag",
    "name": "Undrained sag",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "no_ground",
    "name": "No ground",
    "row": null,
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "no_catch_left",
    "name": "No ground left",
    "row": null,
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "no_catch_right",
    "name": "No ground right",
    "row": null,
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "not_reached",
    "name": "No grade line",
    "row": null,
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "reserve_wall",
    "name": "Wall at the reserve",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "bend_speed",
    "name": "Speed of a bend",
    "row": "bends",
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "bend_speed_advice",
    "name": "Speed of a bend",
    "row": "bends",
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "bend_transition",
    "name": "Transitions of a bend",
    "row": null,
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "bend_transition_advice",
    "name": "Transitions of a bend",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "bend_width",
    "name": "Width in a bend",
    "row": null,
    "place": "stretch",
    "advice": false,
    "group": ""
  },
  {
    "id": "bend_width_advice",
    "name": "Width in a bend",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "lean_quick",
    "name": "Turned too quickly",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "lean_steep",
    "name": "Leans too much",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "lean_adverse",
    "name": "Leans the wrong way",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "lean_level",
    "name": "Too level to drain",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": ""
  },
  {
    "id": "curve_partly_in_bend",
    "name": "Curve partly in a bend",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": "coordination"
  },
  {
    "id": "out_of_phase",
    "name": "Out of phase",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": "coordination"
  },
  {
    "id": "bend_beyond_crest",
    "name": "Bend beyond a crest",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": "coordination"
  },
  {
    "id": "bend_at_foot",
    "name": "Sharp bend at the foot",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": "coordination"
  },
  {
    "id": "broken_back_bends",
    "name": "Broken-back bends",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": "coordination"
  },
  {
    "id": "broken_back_curves",
    "name": "Broken-back curves",
    "row": null,
    "place": "stretch",
    "advice": true,
    "group": "coordination"
  }
] as const;

export const PRODUCTS = [
  {
    "name": "ground",
    "when": "STILL",
    "at": ""
  },
  {
    "name": "land",
    "when": "STILL",
    "at": ""
  },
  {
    "name": "codes",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "areas",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "plan",
    "when": "STILL",
    "at": ""
  },
  {
    "name": "strip",
    "when": "STILL",
    "at": ""
  },
  {
    "name": "lean",
    "when": "STILL",
    "at": ""
  },
  {
    "name": "utilities",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "line",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "ledger",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "uses",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "works",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "mass",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "sight",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "headlight",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "intermediate",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "passing",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "speeds",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "controls",
    "when": "LIVE",
    "at": ""
  },
  {
    "name": "section",
    "when": "LIVE",
    "at": "one"
  },
  {
    "name": "sections",
    "when": "LIVE",
    "at": "many"
  },
  {
    "name": "remedies",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "space",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "clashes",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "site",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "stations",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "solid",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "shift",
    "when": "AFTER",
    "at": ""
  },
  {
    "name": "level",
    "when": "AFTER",
    "at": ""
  }
] as const;

export const READERS = [
  {
    "name": "text columns",
    "makes": "survey",
    "suffixes": [
      ".csv",
      ".txt",
      ".xyz",
      ".asc",
      ".pts",
      ".dat"
    ],
    "says": "One point a line: easting, northing and level in any order, perhaps number, code and breakline."
  },
  {
    "name": "ESRI ASCII grid",
    "makes": "survey",
    "suffixes": [
      ".asc",
      ".grd"
    ],
    "says": "A level for each cell, rows from the north; the points are the middles of the cells."
  },
  {
    "name": "GeoTIFF",
    "makes": "survey",
    "suffixes": [
      ".tif",
      ".tiff"
    ],
    "says": "A level for each cell in the first band, on a projected grid."
  },
  {
    "name": "point cloud (LAS, LAZ)",
    "makes": "survey",
    "suffixes": [
      ".las",
      ".laz"
    ],
    "says": "Points by class: the ground's, or others as chosen."
  },
  {
    "name": "centreline as a text table",
    "makes": "centreline",
    "suffixes": [
      ".csv",
      ".txt"
    ],
    "says": "One IP a line: easting, northing and radius (empty at the ends)."
  },
  {
    "name": "line as a text table",
    "makes": "polyline",
    "suffixes": [
      ".csv",
      ".txt"
    ],
    "says": "One vertex a line: easting and northing."
  },
  {
    "name": "utilities as a text table",
    "makes": "utility",
    "suffixes": [
      ".csv",
      ".txt"
    ],
    "says": "One vertex a line: easting, northing and level, and the name of its utility."
  },
  {
    "name": "profile as a text table",
    "makes": "profile",
    "suffixes": [
      ".csv",
      ".txt"
    ],
    "says": "One row a point: chainage and level, perhaps the length of a vertical curve."
  },
  {
    "name": "picture from the air",
    "makes": "picture",
    "suffixes": [
      ".tif",
      ".tiff",
      ".jpg",
      ".jpeg",
      ".png"
    ],
    "says": "A GeoTIFF north up, or a JPEG, PNG or TIFF with its world file (.jgw, .pgw, .tfw, .wld)."
  },
  {
    "name": "DXF",
    "makes": "survey",
    "suffixes": [
      ".dxf"
    ],
    "says": "Points, lines and polylines (as breaklines) and 3D faces, layer by layer."
  },
  {
    "name": "line of DXF",
    "makes": "polyline",
    "suffixes": [
      ".dxf"
    ],
    "says": "Polylines, lines, arcs and splines, by layer."
  },
  {
    "name": "utilities of DXF",
    "makes": "utility",
    "suffixes": [
      ".dxf"
    ],
    "says": "Lines and polylines in space, by layer."
  },
  {
    "name": "profile of DXF",
    "makes": "profile",
    "suffixes": [
      ".dxf"
    ],
    "says": "Polylines in profile (chainage, level) or in space."
  },
  {
    "name": "LandXML",
    "makes": "survey",
    "suffixes": [
      ".xml",
      ".landxml"
    ],
    "says": "Points, breaklines and surfaces."
  },
  {
    "name": "alignments of LandXML",
    "makes": "centreline",
    "suffixes": [
      ".xml",
      ".landxml"
    ],
    "says": "Lines, curves and clothoids of each alignment."
  },
  {
    "name": "line of LandXML",
    "makes": "polyline",
    "suffixes": [
      ".xml",
      ".landxml"
    ],
    "says": "Vertices of irregular lines, alignments and plan features."
  },
  {
    "name": "profile of LandXML",
    "makes": "profile",
    "suffixes": [
      ".xml",
      ".landxml"
    ],
    "says": "Designed profiles with their curves, and profiles of the ground."
  },
  {
    "name": "line of GeoJSON",
    "makes": "polyline",
    "suffixes": [
      ".geojson",
      ".json"
    ],
    "says": "Line strings on a projected grid."
  },
  {
    "name": "utilities of GeoJSON",
    "makes": "utility",
    "suffixes": [
      ".geojson",
      ".json"
    ],
    "says": "Line strings with levels on a projected grid."
  },
  {
    "name": "text columns, in a workbook",
    "makes": "survey",
    "suffixes": [
      ".xlsx"
    ],
    "says": "One point a line: easting, northing and level in any order, perhaps number, code and breakline. The first sheet with numbers is read."
  },
  {
    "name": "centreline as a text table, in a workbook",
    "makes": "centreline",
    "suffixes": [
      ".xlsx"
    ],
    "says": "One IP a line: easting, northing and radius (empty at the ends). The first sheet with numbers is read."
  },
  {
    "name": "line as a text table, in a workbook",
    "makes": "polyline",
    "suffixes": [
      ".xlsx"
    ],
    "says": "One vertex a line: easting and northing. The first sheet with numbers is read."
  },
  {
    "name": "utilities as a text table, in a workbook",
    "makes": "utility",
    "suffixes": [
      ".xlsx"
    ],
    "says": "One vertex a line: easting, northing and level, and the name of its utility. The first sheet with numbers is read."
  },
  {
    "name": "profile as a text table, in a workbook",
    "makes": "profile",
    "suffixes": [
      ".xlsx"
    ],
    "says": "One row a point: chainage and level, perhaps the length of a vertical curve. The first sheet with numbers is read."
  }
] as const;

export const PAPERS = [
  "A4",
  "A3",
  "A2",
  "A1",
  "A0"
] as const;

export const SHEETS = [
  {
    "name": "long-section",
    "title": "Long section",
    "scale": 1000.0,
    "exaggerated": true
  },
  {
    "name": "sections",
    "title": "Cross-sections",
    "scale": 200.0,
    "exaggerated": false
  }
] as const;

export const TABLES = [
  {
    "name": "elements",
    "title": "Elements",
    "options": []
  },
  {
    "name": "points",
    "title": "Points",
    "options": []
  },
  {
    "name": "setting-out",
    "title": "Setting out",
    "options": [
      "interval",
      "critical",
      "offsets",
      "line"
    ]
  },
  {
    "name": "levels",
    "title": "Levels",
    "options": [
      "interval",
      "critical",
      "line"
    ]
  },
  {
    "name": "curves",
    "title": "Curves",
    "options": [
      "line"
    ]
  },
  {
    "name": "markings",
    "title": "Markings",
    "options": [
      "line"
    ]
  },
  {
    "name": "water",
    "title": "High and low points, flat stretches",
    "options": [
      "line"
    ]
  },
  {
    "name": "checks",
    "title": "Checks",
    "options": [
      "line"
    ]
  },
  {
    "name": "named-points",
    "title": "Named points of sections",
    "options": [
      "interval",
      "critical",
      "line"
    ]
  },
  {
    "name": "section-takes",
    "title": "What each section takes",
    "options": [
      "interval",
      "critical",
      "line"
    ]
  },
  {
    "name": "superelevation",
    "title": "Superelevation and widening",
    "options": []
  },
  {
    "name": "exceptions",
    "title": "Exceptions",
    "options": []
  }
] as const;

export const WRITERS = [
  {
    "name": "centrelines",
    "title": "Centrelines and grade lines (LandXML)",
    "says": "All centrelines with their elements and chainage equations, their grade lines as profiles."
  },
  {
    "name": "ground",
    "title": "Ground (LandXML)",
    "says": "The ground as it is worked with, with changes by hand and boundaries: points and triangles."
  }
] as const;

export type DimensionName = keyof typeof DIMENSIONS;
export type System = 'metric' | 'us' | 'us_survey';
export type CheckId = (typeof CHECKS)[number]['id'];
export type SheetName = (typeof SHEETS)[number]['name'];
export type TableName = (typeof TABLES)[number]['name'];
export type WriterName = (typeof WRITERS)[number]['name'];
export type ProductName = (typeof PRODUCTS)[number]['name'];
