"""The `kesh` command."""
