"""Made-up people."""

import random
from dataclasses import dataclass

from vinemark.core.base.names import folded
from vinemark.core.course.course import Student

FAMILY = """
Abara Alcott Ångström Aydın Baptiste Bexley Björk Brandvold Calloway Cato Çelik Cienfuegos Cléirigh D’Amico Đặng
de_la_Cruz Dunmore Eakins Echeverría Eikeland Fenn Ferreira Fontaine Garrow Głowacka Grünwald Hale Haugen Hōshino Ibáñez
Ingram Iwu Jessup Jónsdóttir Kapoor Kerr Kowalczyk Laurent Lindqvist Lund Macháček Marsh Mbeki Møller Nakagawa
Nkemelu Nuñez Ó_Dálaigh O’Rourke Okonjo Oduya Ode Østby Pell Petrović Pham Quispe Quist Radu Rahimi Rask Reyes
Sakellaris Santangelo Şahin Sørensen Solheim Tamm Tanaka Tesfaye Thistlewood Torvald Tran Ubani Vainio
van_der_Meer Vasquez Villaseñor Voss Wachowska Whitlock Winterbourne Wójcik Xu Yamazaki Yoon Žižka Zamora Zeller
"""
GIVEN = """
Ada Adaeze Aino Alma Amara Anders Anselm Arjun Åse Bao Beatriz Benoît Björn Brynn Caio Chiara Corin Dagny Desmond
Dilan Eero Elif Eloïse Emeka Esme Fia Finn Florian Freya Gil Greta Hana Hugo Ilse Imre Ines Ioana Jae Jonas Juno Kaito
Kestrel Kirsi Lars Leona Liên Linus Lucía Maël Mai Malik Maren Marit Mateo Mila Milo Nadia Nils Noor Odette Oisín
Oskar Paavo Petra Priya Quill Rafe Rhea Rónán Rosa Sander Saoirse Selma Silas Solvei Søren Tamsin Teo Thea Tomas
Tuva Ulla Umut Vera Viggo Wren Xenia Yara Yusuf Zoë Zofia
"""


@dataclass
class People:
    """Hands out people, no two with the same name."""

    rng: random.Random
    number: int = 1000

    def __post_init__(self) -> None:
        families = [name.replace("_", " ") for name in FAMILY.split()]
        given = GIVEN.split()
        pairs = [(family, name) for family in families for name in given]
        self.rng.shuffle(pairs)
        self.pairs = iter(pairs)

    def take(self, count: int, one_word: bool = False) -> list[Student]:
        """So many students, by family name; one of them may go by a single name."""
        found = [self._next() for _ in range(count)]
        if one_word:
            mononym = self._next()
            found[-1] = Student(mononym.id, "Suharti", "", "suharti@larkmoor.example")
        return sorted(found, key=lambda s: (folded(s.family_name), folded(s.given_name)))

    def _next(self) -> Student:
        family, given = next(self.pairs)
        self.number += self.rng.randint(3, 40)
        email = f"{folded(given)}.{folded(family)}@larkmoor.example"
        return Student(f"L{self.number:05d}", family, given, email)
