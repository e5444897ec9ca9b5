"""Which objects of a source are wanted."""

from dataclasses import dataclass
from fnmatch import fnmatchcase


@dataclass(frozen=True)
class Choice:
    """Which objects are wanted, by patterns such as `yard.*` or `old_*` on schema.name or the name alone."""

    include: tuple[str, ...] = ()
    exclude: tuple[str, ...] = ()

    def takes(self, schema: str, name: str) -> bool:
        """Whether an object of this name is wanted; case does not count."""
        names = (f"{schema}.{name}".lower(), name.lower())

        def fits(patterns: tuple[str, ...]) -> bool:
            return any(fnmatchcase(name, pattern.lower()) for name in names for pattern in patterns)

        return (not self.include or fits(self.include)) and not fits(self.exclude)
