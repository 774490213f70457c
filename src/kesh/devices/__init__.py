"""Calliper and scale on a serial line: one small protocol, its port, and stand-ins on a pseudo-terminal. No Qt here."""
