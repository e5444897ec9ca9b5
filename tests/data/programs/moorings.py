"""Moorings and their lines."""

from textwrap import dedent

from sqlalchemy import text

MOORINGS = "moorings"
FIELDS = ["mooring_id", "name", "depth_m"]
OPEN = dedent("""\
    SELECT mooring_id, name
    FROM moorings
    WHERE closed_at IS NULL
""")  # sql-above 3
BY_NAME = ("SELECT name FROM moorings "  # sql
           "WHERE name LIKE :name")
RATES = {
    "day": "SELECT rate FROM mooring_rates WHERE unit = 'D'",  # sql
    "week": "SELECT rate FROM mooring_rates WHERE unit = 'W'",  # sql
    "help": "select the unit from day or week",
}


class Moorings:
    """SELECT is not meant here: lists from the moorings."""

    table = "moorings"

    def all(self, session):
        return session.execute(text("SELECT * FROM moorings WHERE depth_m > :depth"), {"depth": 3})  # sql

    def formatted(self, cursor, name):
        cursor.execute("SELECT {} FROM {} WHERE name = '{}'".format(", ".join(FIELDS), MOORINGS, name))  # sql

    def percent(self, cursor, table):
        cursor.execute("DELETE FROM %s WHERE closed_at < SYSDATE" % table)  # sql

    def joined(self, cursor):
        parts = ["SELECT name", "FROM moorings", "WHERE depth_m > 4"]
        cursor.execute(" ".join(parts))
        cursor.execute(" ".join(["SELECT name", "FROM old_moorings", "WHERE depth_m > 4"]))  # sql

    def branches(self, cursor, deep):
        where = "depth_m > 4" if deep else "depth_m <= 4"
        cursor.execute(f"SELECT name FROM moorings WHERE {where} ORDER BY name")  # sql
        sql = "SELECT name FROM moorings" if deep else "SELECT name FROM old_moorings"  # sql
        cursor.execute(sql)

    def many(self, cursor, rows):
        cursor.executemany(
            # rows of three
            "INSERT INTO moorings VALUES (:1, :2, :3)",  # sql
            rows,
        )
        cursor.execute("BEGIN pkg_moorings.refresh; END;")  # sql
        cursor.execute("ALTER SESSION SET NLS_DATE_FORMAT = 'YYYY-MM-DD'")  # sql
        raise ValueError("Select one of the moorings, from 1 to 9")

    def raw(self):
        return r"SELECT name FROM moorings WHERE REGEXP_LIKE(name, '^M\d+$')"  # sql

    def words(self, log):
        log.warning("update %s: set the depth before", self.table)
        log.info("delete from cache: %s", self.table)
        log.info("With lines as (planned), the mooring is safe.")
        return "create index of moorings"
