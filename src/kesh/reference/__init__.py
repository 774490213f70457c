"""Facts that live in tables: species, substrates, materials, schools, cautions."""
