"""What is said when a collection is opened: why it is only read, which records were lost, which are odd. No Qt here."""

from kesh.store.collection_file import CollectionFile


def state_words(file: CollectionFile) -> tuple[str, str]:
    """(status, sentence); an empty sentence when all is well."""
    if file.read_only:
        return "watch", f"Read-only: {file.read_only}"
    if file.problems:
        more = f" and {len(file.problems) - 1} more" if len(file.problems) > 1 else ""
        return "watch", f"To look at: {file.problems[0]}{more}"
    return "fits", ""
