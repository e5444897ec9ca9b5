"""Reports of the port."""

import logging

log = logging.getLogger(__name__)
TARIFF = "SELECT code, price FROM tariffs WHERE valid_from <= :day"  # sql


def totals(cursor, year, table, ids):
    cursor.execute("SELECT SUM(amount) FROM invoices WHERE EXTRACT(YEAR FROM issued_at) = %s", (year,))  # sql
    cursor.execute(  # the text is below
        "INSERT INTO audit_trail (what, at) "  # sql
        "VALUES (%(what)s, SYSDATE)",
        {"what": "totals"},
    )
    cursor.execute(f"SELECT count(*) FROM {table}")  # spliced
    marks = ", ".join("?" * len(ids))
    cursor.execute("DELETE FROM mail_queue WHERE mail_id IN (%s)" % marks, ids)  # sql
    log.info("select the right berth from the list of berths")
    query = "SELECT name FROM agents"  # sql
    query += " WHERE agent_id = :id"
    cursor.execute(query, {"id": 3})
    print("Updated %s rows" % cursor.rowcount)
    cursor.execute(
        """
        MERGE INTO settings s
        USING (SELECT 'a' AS n FROM dual) x ON (s.name = x.n)
        WHEN MATCHED THEN UPDATE SET s.value = 1
        """  # sql-above 3
    )
    cursor.callproc("pkg_util.refresh", [1])
    message = "Drop the anchor, then call the pilot"
    text = "truncate"
    return "create or replace the view of the sea"
