"""Loaded first, and only, by the process that readers and makers are forked from: it gives way to those that answer
people, loading included."""

import os

NICE = 10
os.setpriority(os.PRIO_PROCESS, 0, max(NICE, os.getpriority(os.PRIO_PROCESS, 0)))
