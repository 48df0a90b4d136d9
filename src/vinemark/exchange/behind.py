"""Loaded first, and only, by the process that readers and makers are forked from: it gives way, loading included."""

from vinemark.exchange.apart import give_way

give_way()
