"""The demo wearers of The Reedmarsh Night Post: adults of the night mail, as shape settings."""

CAST: dict[str, dict[str, float]] = {
    "Ibbet": {
        "stature": -0.15, "girth": -0.10, "bust": 0.15, "hip": 0.25, "waist": -0.20, "muscle": 0.10,
        "cheekbone": 0.5, "eye_size": 0.35, "lips": 0.4, "jaw": -0.4, "brow": -0.3, "nose_bridge": -0.3,
    },
    "Corvane": {
        "stature": 0.55, "muscle": 0.55, "shoulder": 0.60, "bust": -0.90, "hip": -0.35, "leg_length": 0.20,
        "jaw": 0.6, "brow": 0.5, "chin": 0.5, "nose_bridge": 0.6, "nose_length": 0.4, "cheek": -0.3, "hand_size": 0.2,
    },
    "Old Moss": {
        "stature": -0.45, "girth": 0.60, "belly": 0.70, "bust": -0.20, "shoulder": -0.20, "seat": -0.30, "leg_length": -0.25,
        "age": 0.8, "stoop": 0.25, "nose_width": 0.6, "nose_length": 0.5, "ear_size": 0.6, "cheek": 0.4, "forehead": 0.3,
    },
}
