"""Handing a design over: for a potter, a printer, a joiner, for pipe, for the drill."""
