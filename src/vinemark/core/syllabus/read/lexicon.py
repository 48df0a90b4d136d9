"""Words of the trade: what can be graded, and what is never part of a name."""

from vinemark.core.base.names import singular


def _words(text: str) -> frozenset[str]:
    return frozenset(text.split())


WORK = _words(
    """
    quiz exam examination test final midterm paper essay homework hw lab laboratory project report presentation
    participation attendance assignment exercise worksheet workbook notebook journal log portfolio practical practicum
    lecture discussion recitation critique review reflection response post posting memo brief case study problem set
    sheet drill checkpoint check entry sketch drawing performance recital speech talk debate poster proposal draft
    abstract outline annotation bibliography reading activity quest challenge task survey interview fieldwork fieldnote
    fieldnotes fieldtrip trip observation demonstration competency skill skills checkoff studio jury clinic clinical
    professionalism conduct engagement preparation preparedness peer evaluation assessment seminar workshop module unit
    exhibit exhibition film video podcast blog website program programming code coding simulation model design build
    capstone thesis dissertation orals oral viva map commentary translation dictation composition story poem poetry
    collection letters dossier notes note logbook diary scrapbook book item kit plan analysis experiment
    prelab postlab pre-lab post-lab warm-up warmup warmups warm-ups inclass in-class take-home contribution
    citizenship leadership service volunteering hours teamwork group team mock hearing trial role simulation field
    ethnography forum wiki glossary vocabulary summary precis synopsis timeline chart graph diagram budget audit
    inspection safety cleanup shop bench rig procedure certification license licensure module lesson teaching
    tutorial tutoring mentoring consultation conference colloquium symposium showcase
    shadowing internship placement rotation rounds checklist rubric submission deliverable milestone sprint demo pitch
    iteration prototype poster booklet brochure pamphlet leaflet newsletter article column feature broadcast reel
    score playlist rehearsal concert show production monologue scene audition tasting menu recipe crop sale harvest
    specimen herbarium collection identification id dissection slide slides autopsy examen mid-term midterms finals
    mini-project miniproject coursework classwork groupwork seatwork homeworks opener openers ticket tickets exit
    bellringer kata puzzle riddle
    """
)
"""Singular nouns that name graded work; a text may name work by other words too."""

STOP = _words(
    """
    the a an this that these those each every both all any some no none another other others such same own
    i you we they it he she them him her us me my your our their his its one's everyone everybody anyone nobody
    and or but nor so yet if when while because since although though unless until than as like
    of in on at by for from to with within without into onto over under above below between among during through
    throughout after before about around near per via against toward towards upon out off up down
    is are was were be been being am has have had having do does did done can could may might must shall should
    will would won't don't doesn't isn't aren't cannot not never
    worth count counts counted counting make makes made making carry carries carried bring brings brought give gives
    given giving earn earns earned get gets got contribute contributes contributing add adds added adding take takes
    taken taking come comes came coming go goes went gone going account accounts accounting weigh weighs weighed
    weighted weighting form forms represent represents determine determines decide decides rest rests depend depends
    provide provides supply supplies yield yields constitute constitutes equal equals total totals totaling totalling
    totaled split divided shared sum sums comprise comprises consist consists include includes including receive
    receives complete
    completes keep keeps kept hold holds stand stands remain remains remaining left leave leaves become becomes
    write writes submit submits turn turns hand hands due assigned graded marked scored judged based decided
    covers cover held begins begin starts start ends end meets meet closes close opens finishes
    only just also too even still already again together altogether combined apiece overall roughly about approximately
    nearly almost exactly simply always usually often sometimes then there here where which who whom whose what how why
    percent per-cent cent percentage percentages point points pts pt mark marks grade grades score scores average
    averages course semester term weight weights value values share portion part fraction
    half third quarter fourth fifth sixth seventh eighth ninth tenth twelfth twentieth
    most more less least much many few several lot bulk majority biggest largest smallest
    best better worst lowest highest top bottom first second last next previous
    week weeks day days minute minutes hour hour's month months year years time times page pages word words
    student students instructor professor class's everybody's people person question questions
    thing things component components element elements category categories
    monday tuesday wednesday thursday friday saturday sunday mondays tuesdays wednesdays thursdays fridays saturdays
    number numbers two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen
    seventeen eighteen nineteen twenty thirty forty fifty sixty seventy eighty ninety hundred dozen one zero
    yes no q etc e.g i.e vs x
    """
) - {"final"}
"""Words that end a name."""

OPENERS = _words("final midterm first second weekly daily oral written class group unit last")


def is_work(word: str) -> bool:
    """Whether a word in small letters names graded work."""
    plain = word.removesuffix("'s").removesuffix("'")
    if plain in WORK or singular(plain) in WORK:
        return True
    last = plain.rsplit("-", 1)[-1]
    return last != plain and (last in WORK or singular(last) in WORK)


def is_stop(word: str) -> bool:
    """Whether a word in small letters cannot be part of a name."""
    return word in STOP or (word.endswith("ly") and word not in {"weekly", "daily", "monthly", "assembly", "family"})
