"""How the syllabus reader does on what it was built on, on what it is judged on, and on the samples, apart.

Believe the second: the first has been looked at. Prints what is amiss by structure, and how long a long text takes.
"""

import time
from collections import defaultdict

from tests.syllabus.documents import documents
from tests.syllabus.gold import Score, scored, summed
from tests.syllabus.made.course import Half, made
from vinemark.core.syllabus import read_syllabus
from vinemark.exchange.syllabus_file import read_text

DOCUMENTS = 300


def half_line(half: Half, by_structure: bool) -> None:
    """The figures of one half, and of the judged one by structure and by kind of fact."""
    scores: dict[str, list[Score]] = defaultdict(list)
    for seed in range(DOCUMENTS):
        document = made(seed, half)
        scores[document.structure].append(scored(read_syllabus(read_text(document.name, document.data)), document.gold))
    every = [one for found in scores.values() for one in found]
    _line(f"syllabuses, {half}", every)
    if by_structure:
        for structure, found in sorted(scores.items()):
            _line(f"    {structure}", found)
        amiss: dict[str, int] = defaultdict(int)
        for place in summed(every).amiss:
            amiss[f"{place.split()[0]} {place.split()[-1]}"] += 1
        print("    amiss: " + ", ".join(f"{n} {what}" for what, n in sorted(amiss.items(), key=lambda a: -a[1])[:12]))


def _line(name: str, scores: list[Score]) -> None:
    total = summed(scores)
    perfect = sum(not one.amiss for one in scores)
    figures = f"precision {total.precision:.4f} recall {total.recall:.4f}"
    print(f"{name:34} {figures} on {len(scores)} documents, {perfect} perfect")


def whole_documents(name: str, folder: str) -> None:
    """Whole documents with their golds: the samples that come with the format, and those written by hand."""
    _line(f"syllabuses, {name}", [document.score() for document in documents(folder)])


def long_text() -> None:
    """Seconds of CPU for 200,000 signs, beside those for a tenth of them."""
    words = "\n\n".join(made(n, "seen").data.decode() for n in range(8)) + "\n\n"
    words += "We read, look and talk. Bring your notes and a pencil to each of our meetings in the old hall. " * 120
    text = words * (1 + 200_000 // len(words))
    seconds = []
    for length in (20_000, 200_000):
        begun = time.process_time()
        read_syllabus(text[:length])
        seconds.append(time.process_time() - begun)
    print(f"syllabus of 200,000 signs          {seconds[1] / seconds[0]:.1f} times one of 20,000 ({seconds[1]:.1f} s)")


if __name__ == "__main__":
    half_line("seen", False)
    half_line("unseen", True)
    whole_documents("samples", "syllabus")
    whole_documents("by hand", "syllabus_by_hand")
    long_text()
