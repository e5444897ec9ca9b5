-- The catalogue of Db2 11.1 to 11.5 for Linux, UNIX and Windows, for the schemas that are not the engine's own.
-- SQL Reference, "Road map to the catalog views". The queries keep to what SQLite reads too.

-- name: schemas
-- right: GRANT DATAACCESS ON DATABASE TO USER {user}
SELECT s.schemaname FROM syscat.schemata s
WHERE s.schemaname NOT LIKE 'SYS%' AND s.schemaname NOT IN ('NULLID', 'SQLJ', 'ST_INFORMTN_SCHEMA') ORDER BY s.schemaname

-- name: types
-- right: GRANT SELECT ON syscat.datatypes TO USER {user}
SELECT t.typeschema, t.typename, t.sourceschema, t.sourcename, t.length, t.scale
FROM syscat.datatypes t
WHERE t.metatype = 'T' AND t.typeschema NOT LIKE 'SYS%' ORDER BY t.typeschema, t.typename

-- name: variables
-- right: GRANT SELECT ON syscat.variables TO USER {user}
SELECT v.varschema, v.varname, v.typename, v.length, v.scale, v."DEFAULT"
FROM syscat.variables v
WHERE v.varschema NOT LIKE 'SYS%' AND v.varmoduleid IS NULL ORDER BY v.varschema, v.varname

-- name: sequences
-- right: GRANT SELECT ON syscat.sequences TO USER {user}
SELECT q.seqschema, q.seqname, t.typename, q."START", q."INCREMENT", q.minvalue, q.maxvalue, q."CYCLE", q.cache, q."ORDER"
FROM syscat.sequences q
LEFT JOIN syscat.datatypes t ON t.typeid = q.datatypeid
WHERE q.seqtype = 'S' AND q.seqschema NOT LIKE 'SYS%' ORDER BY q.seqschema, q.seqname

-- name: tables
-- right: GRANT SELECT ON syscat.tables TO USER {user}
SELECT t.tabschema, t.tabname, t.type, t.remarks
FROM syscat.tables t
WHERE t.type IN ('T', 'G') AND t.tabschema NOT LIKE 'SYS%' ORDER BY t.tabschema, t.tabname

-- name: columns
-- right: GRANT SELECT ON syscat.columns TO USER {user}
SELECT c.tabschema, c.tabname, c.colname, c.typeschema, c.typename, c.length, c.scale, c.nulls, c.codepage, c."DEFAULT", c.generated,
       c."IDENTITY", c.text, c.remarks, i."START", i."INCREMENT"
FROM syscat.columns c
LEFT JOIN syscat.colidentattributes i ON i.tabschema = c.tabschema AND i.tabname = c.tabname AND i.colname = c.colname
WHERE c.tabschema NOT LIKE 'SYS%' ORDER BY c.tabschema, c.tabname, c.colno

-- name: constraints
-- right: GRANT SELECT ON syscat.tabconst TO USER {user}
SELECT k.tabschema, k.tabname, k.constname, k.type, k.enforced
FROM syscat.tabconst k
WHERE k.type IN ('P', 'U') AND k.tabschema NOT LIKE 'SYS%' ORDER BY k.tabschema, k.tabname, k.constname

-- name: constraint_columns
-- right: GRANT SELECT ON syscat.keycoluse TO USER {user}
SELECT u.tabschema, u.tabname, u.constname, u.colname
FROM syscat.keycoluse u
WHERE u.tabschema NOT LIKE 'SYS%' ORDER BY u.tabschema, u.tabname, u.constname, u.colseq

-- name: references
-- right: GRANT SELECT ON syscat."REFERENCES" TO USER {user}
SELECT r.tabschema, r.tabname, r.constname, r.reftabschema, r.reftabname, r.refkeyname, r.deleterule, r.updaterule
FROM syscat."REFERENCES" r
WHERE r.tabschema NOT LIKE 'SYS%' ORDER BY r.tabschema, r.tabname, r.constname

-- name: checks
-- right: GRANT SELECT ON syscat.checks TO USER {user}
SELECT k.tabschema, k.tabname, k.constname, k.text
FROM syscat.checks k
WHERE k.type = 'C' AND k.tabschema NOT LIKE 'SYS%' ORDER BY k.tabschema, k.tabname, k.constname

-- name: indexes
-- right: GRANT SELECT ON syscat.indexes TO USER {user}
SELECT i.indschema, i.indname, i.tabschema, i.tabname, i.uniquerule
FROM syscat.indexes i
WHERE i.system_required = 0 AND i.uniquerule <> 'P' AND i.tabschema NOT LIKE 'SYS%' ORDER BY i.indschema, i.indname

-- name: index_columns
-- right: GRANT SELECT ON syscat.indexcoluse TO USER {user}
SELECT u.indschema, u.indname, u.colname, u.colorder, u.text
FROM syscat.indexcoluse u
WHERE u.indschema NOT LIKE 'SYS%' ORDER BY u.indschema, u.indname, u.colseq

-- name: views
-- right: GRANT SELECT ON syscat.views TO USER {user}
SELECT v.viewschema, v.viewname, v.qualifier, v.text
FROM syscat.views v
WHERE v.viewschema NOT LIKE 'SYS%' ORDER BY v.viewschema, v.viewname

-- name: aliases
-- right: GRANT SELECT ON syscat.tables TO USER {user}
SELECT t.tabschema, t.tabname, t.base_tabschema, t.base_tabname
FROM syscat.tables t
WHERE t.type = 'A' AND t.tabschema NOT LIKE 'SYS%' ORDER BY t.tabschema, t.tabname

-- name: routines
-- right: GRANT SELECT ON syscat.routines TO USER {user}
SELECT r.routineschema, r.routinename, r.routinetype, r.qualifier, r.text, r.specificname
FROM syscat.routines r
WHERE r.origin IN ('Q', 'E') AND r.routineschema NOT LIKE 'SYS%' AND r.routineschema NOT IN ('SQLJ', 'NULLID')
ORDER BY r.routinetype, r.routineschema, r.routinename, r.specificname

-- name: triggers
-- right: GRANT SELECT ON syscat.triggers TO USER {user}
SELECT t.trigschema, t.trigname, t.qualifier, t.text
FROM syscat.triggers t
WHERE t.trigschema NOT LIKE 'SYS%' ORDER BY t.trigschema, t.trigname

-- name: grants
-- right: GRANT SELECT ON syscat.tabauth TO USER {user}
SELECT a.tabschema, a.tabname, a.grantee, a.selectauth, a.insertauth, a.updateauth, a.deleteauth
FROM syscat.tabauth a
WHERE a.tabschema NOT LIKE 'SYS%' AND a.grantor <> 'SYSIBM' ORDER BY a.tabschema, a.tabname, a.grantee

-- name: sizes
-- right: GRANT SELECT ON syscat.tables TO USER {user}
SELECT t.tabschema, t.tabname, t.card, t.npages * 4096 AS bytes
FROM syscat.tables t
WHERE t.type = 'T' AND t.tabschema NOT LIKE 'SYS%' ORDER BY t.tabschema, t.tabname

-- name: settings
-- right: GRANT SELECT ON sysibmadm.dbcfg TO USER {user}
SELECT c.name, c.value FROM sysibmadm.dbcfg c
WHERE c.name IN ('codepage', 'codeset', 'territory', 'string_units', 'varchar2_compat', 'number_compat', 'date_compat', 'pagesize')
ORDER BY c.name

-- name: names
-- when: profile
SELECT c.tabschema, c.tabname, c.colname FROM syscat.columns c
WHERE c.tabschema NOT LIKE 'SYS%' ORDER BY c.tabschema, c.tabname, c.colno

-- What the server counts of its load: (name, value) as plan/counters.py knows them. SQL reference, "MON_GET_DATABASE", of 11.5.

-- name: meter_reads_and_writes
-- when: meter
-- right: GRANT EXECUTE ON FUNCTION SYSPROC.MON_GET_DATABASE TO USER {user}
SELECT 'read ios' AS name, SUM(pool_data_p_reads + pool_index_p_reads) AS value FROM TABLE(MON_GET_DATABASE(-1)) AS m
UNION ALL SELECT 'write ios', SUM(pool_data_writes + pool_index_writes) FROM TABLE(MON_GET_DATABASE(-1)) AS m
UNION ALL SELECT 'cpu seconds', SUM(total_cpu_time) / 1000000.0 FROM TABLE(MON_GET_DATABASE(-1)) AS m
UNION ALL SELECT 'connections', SUM(appls_cur_cons) FROM TABLE(MON_GET_DATABASE(-1)) AS m
