"""How a fact may be said. SEEN is what the reader was built on, UNSEEN is what it is judged with: nothing is in both.

What was once judged with and then looked at is no longer unseen: FIRST to FOURTH are SEEN now.

{name} a category, {Name} at the start of a sentence, {one} one of its items, {n} how many, {w} its weight,
{e} the weight of each, {p} points of each, {t} points of all, {k} how many are dropped or kept.
"""

from collections.abc import Mapping, Sequence

Wordings = Mapping[str, Sequence[str]]

FIRST: Wordings = {
    "weight": (
        "{Name} is worth {w} of your grade.",
        "{Name} counts {w}.",
        "{Name} makes up {w} of the course grade.",
        "{w} of the grade comes from {name}.",
        "{Name}, which we discuss in class, accounts for {w}.",
        "The {name} carries {w} of the final grade.",
        "I give {w} for {name}.",
        "{Name} contributes {w} to the final mark.",
    ),
    "weights": (
        "There are {n} {name}, and together they make up {w} of the grade.",
        "The {n} {name} are worth {w} in all.",
        "Each of the {n} {name} counts {e}.",
        "You will complete {n} {name}, worth {e} each.",
        "{w} of the grade is for the {n} {name}.",
    ),
    "remaining": (
        "The remaining {w} is for {name}.",
        "{Name} makes up the last {w}.",
        "The other {w} comes from {name}.",
    ),
    "points": (
        "{Name} is worth {t} points.",
        "The {name} brings {t} points.",
        "{t} points come from {name}.",
        "You can earn {t} points with the {name}.",
    ),
    "points_each": (
        "There are {n} {name} at {p} points each.",
        "Each of the {n} {name} is worth {p} points.",
        "The {n} {name} are worth {p} points apiece, {t} in all.",
        "You will hand in {n} {name} of {p} points each.",
    ),
    "drop": (
        "The {k} lowest {name} are dropped.",
        "I drop your {k} lowest {name}.",
        "Your {k} worst scores among the {name} do not count.",
        "When I average the {name}, the {k} lowest scores are left out.",
    ),
    "drop_one": (
        "The lowest of the {name} is dropped.",
        "I throw out your worst score on the {name}.",
        "One of the {name} is dropped, the lowest.",
    ),
    "best": (
        "Only your best {k} {name} count.",
        "I keep the best {k} of the {n} {name}.",
        "Your best {k} {name} are averaged.",
    ),
    "extra": (
        "Extra credit: up to {w} can be added to your final grade for attending colloquia.",
        "You can earn up to {w} of extra credit on the final average by visiting the archive.",
        "Bonus work may add at most {w} on top of the course grade.",
    ),
    "extra_points": (
        "Up to {t} extra credit points are available for attending colloquia.",
        "You may earn at most {t} bonus points by visiting the archive.",
    ),
    "rounded": (
        ("Final percentages are rounded to the nearest whole number.", 0),
        ("Final averages are rounded to one decimal place.", 1),
        ("Course grades are not rounded.", None),
        ("I do not round final grades.", None),
        ("Your final average is rounded to the nearest percent.", 0),
    ),  # type: ignore[dict-item]
    "blanks": (
        "Missed work counts as zero.",
        "Work that is not handed in receives a zero.",
        "Anything you do not submit earns a 0.",
        "An exam you miss without notice is scored as zero.",
    ),
    "noise": (
        "Late work loses 10% per day.",
        "You should attend at least 80% of the meetings.",
        "About 40% of the class time is spent in groups.",
        "The library is open 12 hours a day; 3 copies of the book are on reserve.",
        "A paper that is copied fails the course.",
        "Each essay is judged on argument (50%), evidence (30%) and style (20%).",
        "Expect to spend 6 hours a week outside class.",
        "Quizzes take 15 minutes and have ten questions.",
    ),
}

SECOND: Wordings = {
    "weight": (
        "Count on {name} for {w} of what you get.",
        "What you earn in {name} supplies {w} of the final average.",
        "{w} of your mark rides on {name}.",
        "We weight {name} at {w}.",
        "Your work on {name} determines {w} of the overall grade.",
        "{Name} has a weight of {w}.",
        "For {name} the share is {w}.",
        "{Name} (done on your own, in your own time) stands for {w} of the total.",
        "A further {w} is set aside for {name}.",
        "{Name} weighs in at {w}.",
        "Another {w} is earned through {name}.",
        "{Name}: this is where {w} of the grade is decided.",
    ),
    "weights": (
        "Over the term I collect {n} {name}; as a group they are {w} of the grade.",
        "{w} in total goes to {name}, of which there will be {n}.",
        "We will have {n} {name}. Taken together, these amount to {w} of the course average.",
        "Every one of the {n} {name} is good for {e} of the final grade.",
        "{Name}: {n} of them, {e} apiece.",
        "Expect {n} {name} ({e} per {one}).",
        "{Name} ({n} in all) bring {w}.",
        "For your {n} {name} you receive {w} of the grade altogether.",
    ),
    "remaining": (
        "What is left, {w}, belongs to {name}.",
        "That leaves {w} for {name}.",
        "The final {w} depends on {name}.",
        "{Name} supplies the missing {w}.",
        "The balance of {w} comes from {name}.",
    ),
    "points": (
        "For {name} I award {t} points.",
        "{Name} adds {t} points to the pile.",
        "A total of {t} points is at stake in {name}.",
        "{Name} can bring you {t} points.",
        "{Name}, {t} points.",
    ),
    "points_each": (
        "Altogether {n} {name} are assigned, every one out of {p} points.",
        "{Name}: {n} of them, {p} points per {one}.",
        "I grade each of the {n} {name} on a {p}-point scale.",
        "{n} {name}, {p} points for each, add up to {t} points.",
        "Your {n} {name} are scored out of {p} points each, for a total of {t} points.",
    ),
    "drop": (
        "At the end of the term the {k} weakest {name} disappear from the record.",
        "Nobody is at their best every week, so {k} of the {name}, the lowest ones, will be forgiven.",
        "The {k} poorest results on {name} are taken out before I compute the average.",
        "I disregard the {k} smallest scores in {name}.",
        "{Name}: bottom {k} excluded.",
        "For {name}, your {k} lowest marks go away.",
    ),
    "drop_one": (
        "For {name}, the weakest score vanishes.",
        "Your poorest result on the {name} is forgiven.",
        "The single lowest score in {name} will not be part of the average.",
        "With the {name}, everybody gets to strike their lowest.",
    ),
    "best": (
        "Of the {n} {name}, the top {k} enter the average.",
        "For {name}, the {k} highest scores are what I use.",
        "I compute {name} from the {k} best scores.",
        "{Name}: best {k} of {n}.",
    ),
    "extra": (
        "Beyond this, taking part in the science fair adds up to {w} to your final percentage as extra credit.",
        "There is one chance for extra credit: a poster, worth as much as {w} of the course grade.",
        "If you tutor a fellow student, a bonus of at most {w} is put on top of your final average.",
    ),
    "extra_points": (
        "Extra credit of no more than {t} points can be had by tutoring a fellow student.",
        "A poster at the science fair brings as many as {t} bonus points.",
    ),
    "rounded": (
        ("Any final average is taken to the nearest integer before a letter is given.", 0),
        ("There will be no rounding of course averages.", None),
        ("I round the course average half up to a whole percent.", 0),
        ("Course averages are kept to two decimals and rounded there.", 2),
        ("A final average of 89.99 stays below 90; grades are never rounded up.", None),
        ("Final scores ending in .5 or more are rounded up to the next whole number.", 0),
    ),  # type: ignore[dict-item]
    "blanks": (
        "If I have nothing from you, the score for it is 0.",
        "A missing assignment is entered as a zero.",
        "Whatever has not been turned in by the last day of class earns no credit.",
        "No submission means zero points.",
        "Blank entries in the gradebook become zeros once the term is over.",
        "Skipped work gets a score of zero.",
    ),
    "noise": (
        "For every day an assignment is overdue, 5 points are subtracted.",
        "Students who show up for fewer than 70% of the sessions seldom pass.",
        "Three quarters of the readings are online.",
        "The shop holds 24 people, and 2 benches are kept free for repairs.",
        "In a typical year, some 15% of those enrolled withdraw by week 6.",
        "Reports are marked for method (4 points), results (4 points) and prose (2 points).",
        "Plan on 2 hours of reading for each hour in the room.",
        "Tests have 40 questions, a quarter of them on the lab.",
        "Phones off. Each ring costs the owner a plate of cookies for 20 people.",
        "A plagiarized report gets an F and a letter to the dean.",
        "My replies to email come within 2 days, 95% of the time.",
        "Extensions of up to 3 days are given once, no reason needed.",
    ),
}

THIRD: Wordings = {
    "weight": (
        "How well you do in {name} settles {w} of your grade.",
        "Out of every hundred points of the grade, {name} holds {w}.",
        "I set {w} aside for {name}.",
        "With {w}, {name} matters more than you may think.",
        "{Name} - {w} of the grade - happens in the last month.",
        "{Name} is where {w} of the grade is made.",
        "By far the most enjoyable part, {name}, carries {w} of the course grade.",
        "{w} is reserved for {name}.",
        "You will be graded on {name} ({w}).",
        "{Name} gives you {w} of the final grade, no more and no less.",
        "The share of {name} in the final grade is {w}.",
    ),
    "weights": (
        "{Name} come {n} times in the term and add up to {w} of the grade.",
        "All {n} {name} combined make {w} of the course grade.",
        "I ask for {n} {name}; each one earns {e} of the grade.",
        "{w} of the final grade rests on {n} {name}.",
        "Between them, the {n} {name} decide {w} of your grade.",
        "There will be {n} {name}. Each is {e} of the grade.",
        "{n} {name} at {e} each round out the work.",
        "{Name}, {n} in number, have a combined weight of {w}.",
    ),
    "remaining": (
        "{Name} takes care of the rest, {w}.",
        "Everything else, that is {w}, hangs on {name}.",
        "{w}, the part still missing, is {name}.",
        "The last piece of the grade is {name} with {w}.",
    ),
    "points": (
        "{Name}: worth {t} points.",
        "{t} points ride on {name}.",
        "Do {name} well and {t} points are yours.",
        "{Name} is scored out of {t} points.",
        "There are {t} points in {name}.",
    ),
    "points_each": (
        "{n} {name} with {p} points apiece give {t} points.",
        "For every one of your {n} {name} you can get {p} points.",
        "{Name} ({n} x {p} points = {t} points).",
        "There will be {n} {name}, {p} points each.",
        "Each {one} is worth {p} points, and there are {n} {name}.",
    ),
    "drop": (
        "Bad days happen: the {k} lowest {name} will not count against you.",
        "I cross out your {k} lowest {name} before averaging.",
        "The average for {name} is computed without the {k} lowest scores.",
        "You get {k} free misses on the {name}.",
        "Your {k} lowest {name} simply fall off.",
    ),
    "drop_one": (
        "The lowest score on the {name} is set aside.",
        "I leave your worst of the {name} out of the average.",
        "One of the {name}, your lowest, drops out of the calculation.",
        "Everybody's lowest result in the {name} is erased.",
    ),
    "best": (
        "I take the {k} best of your {n} {name}.",
        "Your grade for {name} is the average of the top {k} scores.",
        "{k} of the {n} {name} count.",
        "Just the {k} highest {name} enter the grade.",
    ),
    "extra": (
        "Attending two museum talks earns extra credit: {w} more on the final percentage.",
        "Extra credit is possible: I add up to {w} to the course grade for a book review.",
        "A book review can raise your final average by up to {w} (extra credit).",
    ),
    "extra_points": (
        "A book review earns up to {t} points of extra credit.",
        "For extra credit, write a book review (up to {t} points).",
    ),
    "rounded": (
        ("At the very end I round your course percentage to a whole number.", 0),
        ("Nothing is rounded: a final average of 79.99 is a C.", None),
        ("Your course percentage, rounded to the nearest tenth, is looked up in this scale.", 1),
        ("Do I round final grades? No.", None),
        ("Rounding: final averages go to the nearest whole percent.", 0),
        ("I will round final averages of x.5 up.", 0),
    ),  # type: ignore[dict-item]
    "blanks": (
        "Work never handed in is a zero.",
        "You get a zero for whatever you skip.",
        "Not turning something in costs you all of it: the score is 0.",
        "Assignments that were not submitted are graded as zeros.",
        "At the end, every empty box in the gradebook is a zero.",
    ),
    "noise": (
        "Each day a paper is late takes 3% off.",
        "Missing more than 15% of the meetings is reason for a talk.",
        "Of the 30 seats, 4 are held for transfer students.",
        "One third of the texts are poems.",
        "In my experience, those who read the 20 pages before each meeting gain about half a letter.",
        "The film lasts 90 minutes; plan on 3 evenings.",
        "The proposal counts 20% of the paper, the draft 30%, the final text 50%.",
        "There are 10 problems on a sheet, 4 of them marked with a star.",
        "The quiz bank has 200 questions; I draw 8.",
        "Cell phones cost you 2 points of good will.",
        "Tutors are in on 3 afternoons a week, from 2 to 5.",
    ),
}

FOURTH: Wordings = {
    "weight": (
        "{Name} is good for {w} of the final mark.",
        "Your {name} will be {w} of the course total.",
        "When I add everything up, {name} gets {w}.",
        "{w} of the evaluation concerns {name}.",
        "{Name} (the part people remember) is a {w} component.",
        "Students earn {w} of their grade by way of {name}.",
        "Please take {name} seriously, since {w} of the grade hinges on it.",
        "The weight of {name}: {w}.",
        "{Name} constitutes {w} of the overall evaluation.",
        "A share of {w} falls to {name}.",
    ),
    "weights": (
        "{n} {name} are planned; together they count for {w}.",
        "The average of {n} {name} is worth {w} of the grade.",
        "We do {n} {name}, and each of those is {e} of the final grade.",
        "{Name} ({n}), {w}.",
        "The grade includes {n} {name} at {e} per {one}.",
        "Your {n} {name} are a package worth {w}.",
        "{w} is split evenly among {n} {name}.",
    ),
    "remaining": (
        "And then there is {name}, for the {w} that remain.",
        "{Name} fills the gap of {w}.",
        "With {name} you earn the last {w}.",
    ),
    "points": (
        "{Name} has a maximum of {t} points.",
        "I can give you {t} points for {name}.",
        "Another {t} points belong to {name}.",
        "{Name} = {t} points.",
        "Points for {name}: {t}.",
    ),
    "points_each": (
        "{Name}: {n} at {p} points = {t} points.",
        "Each of your {n} {name} receives between 0 and {p} points.",
        "You do {n} {name}; a perfect one gets {p} points.",
        "{n} {name} are graded, each out of {p} points ({t} points total).",
    ),
    "drop": (
        "The {k} lowest grades for {name} are ignored.",
        "I will not use your {k} worst {name}.",
        "Of your {name}, I forget the {k} that went worst.",
        "{k} {name} with the lowest scores are discarded.",
        "Before the average of the {name} is taken, I strike the {k} lowest.",
    ),
    "drop_one": (
        "Your lowest mark on {name} gets tossed.",
        "We leave aside the worst of your {name}.",
        "The weakest of the {name} does not enter the grade.",
        "There is one free pass among the {name}: the lowest one is dropped.",
    ),
    "best": (
        "For the {name} grade I look only at your {k} best.",
        "{k} of {n} {name}, the highest ones, determine this part.",
        "Count on your {k} strongest {name} being averaged.",
        "Only {k} {name}, your best, count.",
    ),
    "extra": (
        "Extra credit (at most {w} of the course grade) goes to those who lead a walk.",
        "You may add {w} to your course grade with an extra-credit walk.",
        "As a bonus, leading a walk is rewarded with up to {w} on the final average.",
    ),
    "extra_points": (
        "Leading a walk gives {t} extra points.",
        "Extra-credit walks are worth up to {t} points altogether.",
    ),
    "rounded": (
        ("Final averages will be rounded half up to the nearest integer.", 0),
        ("I keep one decimal in the final average: it is rounded to the nearest tenth.", 1),
        ("Your final percentage stands as it is, without rounding.", None),
        ("There is no rounding up at the end of the term, not even from 89.9.", None),
        ("A course average of 79.5 counts as 80, because I round to whole percents.", 0),
    ),  # type: ignore[dict-item]
    "blanks": (
        "If something is not submitted, it scores zero.",
        "Missing pieces are worth 0 points.",
        "A skipped test is a zero.",
        "No credit is given for work that never arrives: its score is a zero.",
    ),
    "noise": (
        "After the deadline a report drops by 10 points a day.",
        "Our class fills 60% of the hall.",
        "Talking accounts for about half of what happens in a seminar.",
        "The essay itself is scored: thesis 10 points, sources 10 points, form 5 points.",
        "Attend at least 12 of the 15 sessions.",
        "Half of the exam is multiple choice, half is short answers.",
        "You need a 70% on the safety test before you may use the saw.",
        "The lab fee is 45 dollars, of which 20% is refunded.",
        "Two absences are free; after that, come and see me.",
        "Each group has 4 members and 2 weeks.",
    ),
}


SEEN: Wordings = {kind: (*FIRST[kind], *SECOND[kind], *THIRD[kind], *FOURTH[kind]) for kind in FIRST}

UNSEEN: Wordings = {
    "weight": (
        "{Name} decides {w} of the course grade.",
        "In the final reckoning {name} amounts to {w}.",
        "Roughly speaking you learn most from {name}, and it is worth {w} of the grade.",
        "{w} for {name}.",
        "I value {name} at {w} of the final grade.",
        "A good {name} earns you the full {w}.",
        "Of your grade, {w} depends on {name}.",
        "{Name} takes up {w} of the grade.",
    ),
    "weights": (
        "Over fifteen weeks there are {n} {name}, worth {w} as a whole.",
        "{n} {name} ({e} each) keep you on your toes.",
        "The {n} {name} share {w} of the grade equally.",
        "Each one of the {n} {name} adds {e} to the grade.",
        "{w} come from the {n} {name} that you write.",
    ),
    "remaining": ("This leaves {name} with {w}.", "{Name} brings home the remaining {w}.", "The rest, {w}, is {name}."),
    "points": (
        "{Name} can earn at most {t} points.",
        "{Name} will be graded out of {t} points.",
        "{t} points are given for {name}.",
        "You collect {t} points in {name}.",
    ),
    "points_each": (
        "{n} times in the term there is one of the {name}, for {p} points each.",
        "The {n} {name} bring {p} points each ({t} altogether).",
        "All of the {n} {name} are marked out of {p} points.",
        "{Name} ({n}): {p} points each.",
    ),
    "drop": (
        "Of all {name}, the {k} with the lowest scores are thrown out.",
        "Your final score in {name} leaves out the {k} lowest.",
        "I do not count the {k} lowest {name}.",
        "The {k} worst {name} are on me: they are not counted.",
    ),
    "drop_one": (
        "The worst of the {name} is on me: it is not counted.",
        "Your average in {name} is taken without the lowest score.",
        "I ignore everybody's lowest score in {name}.",
    ),
    "best": (
        "In {name}, your {k} best results make the average.",
        "For {name} only the top {k} matter.",
        "I average the best {k} of {n} {name}.",
    ),
    "extra": (
        "For extra credit you can give a talk, which adds up to {w} to the final grade.",
        "A talk in May is extra credit, worth up to {w} of the final percentage.",
    ),
    "extra_points": (
        "A talk in May counts as extra credit, up to {t} points.",
        "There are {t} bonus points for anyone who gives a talk.",
    ),
    "rounded": (
        ("Before I look up the letter, your final percentage is rounded to a whole percent.", 0),
        ("I never round a final grade up.", None),
        ("Final percentages are given to one decimal, rounded half up.", 1),
        ("No final grade is rounded.", None),
    ),  # type: ignore[dict-item]
    "blanks": (
        "What you have not handed in by the end counts as a zero.",
        "Work that I never receive scores 0.",
        "There are zeros for missing work.",
        "Failing to submit a piece of work earns a zero for it.",
    ),
    "noise": (
        "For each day of delay you lose a tenth of the score.",
        "The wind tunnel runs at 40% power on Mondays.",
        "Read chapters 3 to 7 and 30 pages of your choice.",
        "Half of the readings are short stories.",
        "An absence rate above 20% worries me.",
        "Every poster is read by 3 people and marked on layout (10 points) and argument (15 points).",
        "In 4 of the 12 weeks we meet outside.",
    ),
}
