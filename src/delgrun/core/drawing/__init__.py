"""Drawings as data: sections on screen, sheets on paper. No interface code and no file format."""
