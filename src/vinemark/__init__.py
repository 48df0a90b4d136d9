"""Vine Mark: from the grading part of a syllabus to the registrar's receipt."""
