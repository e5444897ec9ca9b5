"""Finds the file that a script means when it calls another."""

from collections.abc import Collection


def _normal(path: str) -> str:
    """Resolve . and .. in a relative path without leaving the root."""
    parts: list[str] = []
    for part in path.split("/"):
        if part == "..":
            parts[-1:] = []
        elif part not in ("", "."):
            parts.append(part)
    return "/".join(parts)


class ScriptNames:
    """The names of the files of a survey, to find called scripts by."""

    def __init__(self, names: Collection[str]) -> None:
        self.names = names
        self._by_last: dict[str, list[str]] = {}
        """Lower-case last part of a path -> the files of that name, in their order."""
        for name in names:
            self._by_last.setdefault(name.lower().rpartition("/")[2], []).append(name)

    def find(self, caller: str, called: str) -> str | None:
        """Find a called script beside its caller, from the root, or by the end of its path."""
        words = called.strip().strip(";").split()
        if not words:
            return None
        if words[0].upper().startswith("FILE"):  # .RUN FILE = name
            words = " ".join(words).replace("=", " ").split()[1:] or words
        wanted = words[0].strip("\"'").replace("\\", "/").removeprefix("./")
        folder = caller.rpartition("/")[0]
        names = [wanted] if "." in wanted.rsplit("/", 1)[-1] else [wanted, f"{wanted}.sql"]
        for name in names:
            for candidate in (_normal(f"{folder}/{name}"), _normal(name)):
                if candidate in self.names:
                    return candidate
        for name in names:
            end = f"/{name.lower()}"
            for file in self._by_last.get(end.rpartition("/")[2], ()):
                if f"/{file.lower()}".endswith(end):
                    return file
        return None
