"""The demo production, The Reedmarsh Night Post, and the code that makes it."""

THERE = "there already"
"""What is said where it need not be loaded."""
