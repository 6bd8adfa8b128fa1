"""Delgrun: vertical profiles for rural roads, designed live over the surveyed ground."""

__version__ = "0.1.0"
