"""Making pots: clay that shrinks, prints, boxes of boards, tubes, and how much a wall bears (docs/methods.md, "clay")."""
