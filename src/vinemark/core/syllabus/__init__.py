"""A syllabus read into facts, each with its place in the text."""

from vinemark.core.syllabus.facts import Clause, Reading, SaidCategory, SaidRounding, SaidRow, Unread
from vinemark.core.syllabus.read.read import read_syllabus

__all__ = ["Clause", "Reading", "SaidCategory", "SaidRounding", "SaidRow", "Unread", "read_syllabus"]
