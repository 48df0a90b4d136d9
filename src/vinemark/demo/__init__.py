"""Larkmoor College, a made-up place: the demo's people, sections and scores, the same every time."""

from vinemark.demo.build import DAY, prepare

__all__ = ["DAY", "prepare"]
