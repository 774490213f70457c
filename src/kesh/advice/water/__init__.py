"""Water, cold and heat of a pot over its years."""
