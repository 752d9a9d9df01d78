"""The demo wearers of The Reedmarsh Night Post: adults of the night mail, as shape settings."""

CAST: dict[str, dict[str, float]] = {
    "Ibbet": {"stature": -0.15, "girth": -0.10, "bust": 0.15, "hip": 0.25, "waist": -0.20, "muscle": 0.10},
    "Corvane": {"stature": 0.55, "muscle": 0.55, "shoulder": 0.60, "bust": -0.90, "hip": -0.35, "leg_length": 0.20},
    "Old Moss": {"stature": -0.45, "girth": 0.60, "belly": 0.70, "bust": -0.20, "shoulder": -0.20, "seat": -0.30, "leg_length": -0.25},
}
