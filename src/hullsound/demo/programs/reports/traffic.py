"""Monthly traffic of the harbour, for the board. Made up."""

import oracledb

BY_TYPE = """
    SELECT t.name, COUNT(*) calls, LISTAGG(v.name, ', ') WITHIN GROUP (ORDER BY v.name) ships
    FROM port_calls c
    JOIN vessels v ON v.vessel_id = c.vessel_id
    JOIN vessel_types t ON t.type_code = v.type_code
    WHERE c.eta >= ADD_MONTHS(TRUNC(SYSDATE, 'MM'), -1)
    GROUP BY t.name
"""


def staff_chain(cursor, name):
    cursor.execute(
        "SELECT LEVEL, full_name FROM staff START WITH full_name = :name CONNECT BY PRIOR staff_id = manager_id",
        {"name": name},
    )
    return cursor.fetchall()


def count(cursor, table):
    cursor.execute(f"SELECT COUNT(*) FROM {table}")
    return cursor.fetchone()[0]


def write(cursor, month):
    cursor.execute(
        "MERGE INTO settings s USING (SELECT 'TRAFFIC' n FROM dual) d ON (s.setting_name = d.n) "
        "WHEN MATCHED THEN UPDATE SET s.setting_value = :month",
        {"month": month},
    )
    print("Select the report from the folder of the month")
