"""Water and air in a mix: held, drained, dried, measured."""
