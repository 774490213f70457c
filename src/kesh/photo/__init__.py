"""From a photograph to measures: reading, scale, silhouette, figures with their plus or minus. No Qt here."""
