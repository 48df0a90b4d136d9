"""Syllabuses made from a seed: structure, layout and wording drawn apart, in two halves that share no wording."""
