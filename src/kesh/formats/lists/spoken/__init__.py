"""Lists in the words and figures that people write: sizes in one column, outlines and glazes in free words, holes by count, money in any sign."""
