//! What the trade says of a reading.

/// A check, what was read, and what the trade says of it.
pub const OF_THE_TRADE: [(&str, &str, &str); 32] = [
    (
        "wall-thickness",
        "wall_mm=0.45,0.46,0.44,0.45 set_width_mm=0.45",
        "on-target",
    ),
    (
        "wall-thickness",
        "wall_mm=0.52,0.53,0.52,0.51 set_width_mm=0.45",
        "thick",
    ),
    (
        "wall-thickness",
        "wall_mm=0.38,0.37,0.38,0.38 set_width_mm=0.45",
        "thin",
    ),
    (
        "wall-thickness",
        "wall_mm=0.38,0.52,0.41,0.55 set_width_mm=0.45",
        "scattered",
    ),
    ("extruder-steps-free", "remaining_mm=20", "right"),
    ("extruder-steps-free", "remaining_mm=27", "short"),
    ("extruder-steps-hot", "remaining_mm=14", "long"),
    (
        "probe-repeat",
        "cool_mm=0.101,0.104,0.099,0.102,0.100 warm_mm=0.110,0.112,0.108,0.111,0.109",
        "repeats",
    ),
    (
        "probe-repeat",
        "cool_mm=0.10,0.17,0.05,0.14,0.08 warm_mm=0.11,0.18,0.04,0.15,0.07",
        "scatters",
    ),
    (
        "probe-repeat",
        "cool_mm=0.101,0.104,0.099,0.102,0.100 warm_mm=0.250,0.253,0.249,0.252,0.251",
        "drifts-warm",
    ),
    (
        "measure-filament",
        "diameter_mm=1.75,1.74,1.76,1.75,1.75,1.74",
        "even-right",
    ),
    (
        "measure-filament",
        "diameter_mm=1.62,1.80,1.70,1.85,1.66,1.78",
        "uneven",
    ),
    (
        "measure-filament",
        "diameter_mm=2.85,2.84,2.85,2.86,2.85,2.85",
        "wrong-diameter",
    ),
    (
        "ripple-two-speeds",
        "slow_mm_s=40 slow_spacing_mm=1.0 fast_mm_s=80 fast_spacing_mm=2.05",
        "grows-with-speed",
    ),
    (
        "ripple-two-speeds",
        "slow_mm_s=40 slow_spacing_mm=2.0 fast_mm_s=80 fast_spacing_mm=2.05",
        "fixed-spacing",
    ),
    (
        "chamber-watts",
        "with_w=410 without_w=120 rating_w=300",
        "as-rated",
    ),
    (
        "chamber-watts",
        "with_w=300 without_w=120 rating_w=300",
        "low",
    ),
    ("z-travel", "travelled_mm=50.05", "right"),
    ("z-travel", "travelled_mm=48.6", "short"),
    // Far beyond every outcome the outer one still holds.
    ("z-travel", "travelled_mm=52.6", "long"),
    ("z-travel", "travelled_mm=25", "short"),
    ("extruder-steps-hot", "remaining_mm=-10", "long"),
    (
        "wall-thickness",
        "wall_mm=0.60,0.61,0.60,0.61 set_width_mm=0.45",
        "thick",
    ),
    ("shift-size", "step_mm=2.4", "whole-cycles"),
    (
        "second-thermometer",
        "shown_c=230 other_c=205,206,204",
        "machine-shows-too-much",
    ),
    ("belt-pluck", "tone_hz=60,61,60 span_mm=250", "right"),
    (
        "diagonals",
        "d1_mm=141.4,141.4 d2_mm=140.2,140.3",
        "unequal",
    ),
    (
        "round-four-ways",
        "d0_mm=30.0,30.0 d90_mm=29.6,29.6",
        "oval-along-axes",
    ),
    (
        "band-spacing",
        "span_mm=80 bands=10 lead_mm=8",
        "screw-lead",
    ),
    ("axis-motor-heat", "case_c=58", "ordinary"),
    ("feeder-heat", "case_c=92", "too-hot"),
    ("driver-heat", "case_c=130", "too-hot"),
];
