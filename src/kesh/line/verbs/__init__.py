"""What the `kesh` command can be asked: one file a verb, and its name is the word. A file laid here is a verb."""
