"""Larkmoor College, a made-up place: the demo's people, sections and scores, the same every time."""

from vinemark.demo.build import COLLEGE, DAY, KNOWN_THERE, prepare

__all__ = ["COLLEGE", "DAY", "KNOWN_THERE", "prepare"]
