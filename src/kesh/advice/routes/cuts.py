"""What a joiner saws: the list of pieces, and what is cut out of each board in turn."""

from collections.abc import Mapping

from kesh.science.making.boards import Piece, Stock

Tables = tuple[tuple[str, tuple[str, ...], tuple[tuple[str, ...], ...]], ...]


def cut_tables(pieces: tuple[Piece, ...], boards: Mapping[float, tuple[Stock, ...]]) -> Tables:
    """Two tables: each piece with its length, width and count; each board with its cuts and what is left."""
    listed = tuple((p.name, f"{p.length_mm:.0f} mm", f"{p.width_mm:.1f} mm", str(p.count)) for p in pieces)
    sawn = tuple(
        (f"{width:g} mm, no {k}", ", ".join(f"{c:.0f}" for _, c in one.cuts), f"{one.left_mm:.0f} mm")
        for width, stocks in boards.items()
        for k, one in enumerate(stocks, start=1)
    )
    return (
        ("Cut list", ("Piece", "Length", "Ripped to", "Count"), listed),
        ("Out of the stock", ("Board", "Cuts in turn", "Left"), sawn),
    )
