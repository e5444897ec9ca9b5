"""What expressions give in engines that do not run here: Python functions that say what the engine's manual says."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from itertools import product
from typing import Final, TypeAlias

Value: TypeAlias = str | int | Decimal | datetime | date | None


@dataclass(frozen=True, slots=True)
class Stated:
    """An expression with places for arguments, and what it gives for each choice of them."""

    expression: str
    """With `{0}`, `{1}` ... for the arguments."""
    gives: Callable[..., Value]
    kinds: tuple[str, ...]
    """The kind of each argument: `text`, `whole`, `number`, `moment` or `day`."""
    arguments: tuple[tuple[Value, ...], ...]
    """The rows of arguments."""
    result: str
    """The kind of what it gives."""
    source: str
    """The manual and the place in it."""
    has_literals: bool
    """Whether it is tried with literals, which may be of another type than columns: NULL has none, and 2.5 has one decimal."""

    def rows(self) -> Iterator[tuple[tuple[Value, ...], Value]]:
        """Yield each row of arguments and what the expression gives for it."""
        for row in self.arguments:
            yield row, self.gives(*row)


class Manual:
    """What one engine's manual says of its expressions."""

    def __init__(self, name: str) -> None:
        self.name = name
        self.stated: list[Stated] = []

    def says(
        self,
        place: str,
        expressions: str | Sequence[str],
        kinds: str,
        result: str,
        *choices: Sequence[Value],
        has_literals: bool = True,
    ) -> Callable[[Callable[..., Value]], Callable[..., Value]]:
        """Register a function as what expressions give; every choice of each argument is combined with every other."""
        forms = [expressions] if isinstance(expressions, str) else list(expressions)

        def register(gives: Callable[..., Value]) -> Callable[..., Value]:
            source = f"{self.name}, {place}"
            rows = tuple(product(*choices))
            self.stated.extend(
                Stated(form, gives, tuple(kinds.split()), rows, result, source, has_literals) for form in forms
            )
            return gives

        return register


WHOLE_MANY: Final = (-7, -1, 0, 1, 2, 100, None)
NUMBERS: Final = (*map(Decimal, ("-2.5", "-0.05", "0", "0.5", "1.25", "2.5", "70.5", "1234.5678")), None)
MOMENTS: Final = (
    datetime(2024, 2, 29, 6, 7, 8),
    datetime(2023, 12, 31, 23, 59, 59),
    datetime(2024, 1, 1),
    datetime(1999, 3, 31, 12),
    datetime(2024, 7, 16, 12, 30),
    datetime(2021, 1, 3, 0, 0, 1),
    None,
)
DAYS: Final = (
    date(2024, 2, 29),
    date(2023, 12, 31),
    date(2024, 1, 1),
    date(1999, 3, 31),
    date(2024, 7, 16),
    date(2021, 1, 3),
    None,
)
