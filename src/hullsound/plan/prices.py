"""A price list: sizes of servers with what they hold and cost, as the user gives it."""

from pathlib import Path
from typing import Final

import msgspec

from hullsound.errors import SourceError
from hullsound.tables import LINE, Column, amount, read_table, text

PRICE_COLUMNS: Final = (
    Column("size", text, is_required=True, also=("name", "type", "instance", "class")),
    Column("currency", text, is_required=True),
    Column("hour", amount, is_required=True, also=("price per hour", "hourly", "hourly price")),
    Column("cores", amount, is_required=True, also=("vcpu", "vcpus", "cpu", "cpus")),
    Column("memory gb", amount, is_required=True, also=("memory", "ram gb", "ram")),
    Column("iops", amount, also=("max iops",)),
    Column("mb/s", amount, also=("throughput", "max mb/s")),
    Column("connections", amount, also=("max connections",)),
    Column("storage gb", amount, also=("max storage gb", "max storage")),
    Column("storage gb month", amount, also=("price per gb month", "storage price")),
    Column("backup gb month", amount, also=("backup price",)),
    Column("licence core month", amount, also=("license core month", "licence price")),
    Column("licence least cores", amount, also=("license least cores", "minimum licensed cores")),
    Column("licence cores per core", amount, also=("license cores per core",)),
)


class Price(msgspec.Struct, frozen=True):
    """One size of a server. What is None has no limit, or costs nothing."""

    size: str
    hour: float
    """Price of one server for an hour."""
    cores: float
    memory_gb: float
    iops: float | None
    mb_s: float | None
    connections: float | None
    storage_gb: float | None
    """The most that it can hold."""
    storage_gb_month: float
    backup_gb_month: float
    licence_core_month: float
    """Price of the licence of one core for a month; 0 where the price of the hour holds it, or none is needed."""
    licence_least_cores: float
    """Cores that must be licensed at least."""
    licence_cores_per_core: float
    """Licensed cores that one core of this size needs."""


class PriceList(msgspec.Struct, frozen=True):
    currency: str
    sizes: list[Price]
    """As they stand in the file."""


def read_prices(path: Path) -> PriceList:
    """Read a price list. Raises SourceError, with lines, where it is wrong, names a size twice or mixes currencies."""
    rows = read_table(path, PRICE_COLUMNS, "the price list")
    if not rows:
        raise SourceError("holds no size", where=str(path), hint="Each line is a size of server with its price.")
    currency = rows[0]["currency"]
    seen: set[str] = set()
    for row in rows:
        if row["currency"] != currency:
            raise SourceError(
                f"line {row[LINE]}, column currency: {row['currency']}, where the lines before have {currency}", where=str(path),
                hint="Give one list for each currency.",
            )  # fmt: skip
        if row["size"] in seen:
            raise SourceError(f"line {row[LINE]}, column size: {row['size']} is named twice", where=str(path))
        if not row["cores"] or not row["memory gb"]:
            raise SourceError(f"line {row[LINE]}: {row['size']} has no cores or no memory", where=str(path))
        seen.add(row["size"])
    return PriceList(currency, [_price(row) for row in rows])


def _price(row: dict[str, object]) -> Price:
    def number(name: str, otherwise: float) -> float:
        value = row.get(name)
        return float(value) if isinstance(value, float) else otherwise

    def limit(name: str) -> float | None:
        value = row.get(name)
        return value if isinstance(value, float) else None

    return Price(
        str(row["size"]), number("hour", 0.0), number("cores", 0.0), number("memory gb", 0.0), limit("iops"), limit("mb/s"),
        limit("connections"), limit("storage gb"), number("storage gb month", 0.0), number("backup gb month", 0.0),
        number("licence core month", 0.0), number("licence least cores", 0.0), number("licence cores per core", 1.0),
    )  # fmt: skip
