-- The catalogue of Oracle Database 11.2 to 23ai, for the schemas that are not Oracle's own.
-- Database Reference, part "Static Data Dictionary Views". The queries keep to what standard SQL has. Where the user may not read
-- the views DBA_..., the same views ALL_... are read, which show what the user may use.

-- part: own_schemas
-- since: 12
SELECT username FROM sys.dba_users WHERE oracle_maintained = 'N'

-- part: own_schemas
-- before: 12
-- Database 2 Day + Security Guide 11g Release 2, "Predefined User Accounts Provided by Oracle Database", but for the sample schemas.
SELECT username FROM sys.dba_users
WHERE username NOT IN ('ANONYMOUS', 'APEX_LISTENER', 'APEX_PUBLIC_USER', 'APEX_REST_PUBLIC_USER', 'APPQOSSYS', 'CTXSYS',
                       'DBSNMP', 'DIP', 'EXFSYS', 'FLOWS_FILES', 'LBACSYS', 'MDDATA', 'MDSYS', 'MGMT_VIEW', 'OLAPSYS',
                       'ORACLE_OCM', 'ORDDATA', 'ORDPLUGINS', 'ORDSYS', 'OUTLN', 'OWBSYS', 'OWBSYS_AUDIT',
                       'SI_INFORMTN_SCHEMA', 'SPATIAL_CSW_ADMIN_USR', 'SPATIAL_WFS_ADMIN_USR', 'SYS', 'SYSMAN', 'SYSTEM',
                       'TSMSYS', 'WK_TEST', 'WKPROXY', 'WKSYS', 'WMSYS', 'XDB', 'XS$NULL')
  AND username NOT LIKE 'APEX\_0_____' ESCAPE '\'

-- name: users
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT u.username FROM sys.dba_users u WHERE u.username IN ({own_schemas}) ORDER BY u.username

-- name: types
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, name, type, line, text FROM sys.dba_source
WHERE type IN ('TYPE', 'TYPE BODY') AND owner IN ({own_schemas})
ORDER BY owner, type, name, line

-- name: sequences
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT sequence_owner, sequence_name, min_value, max_value, increment_by, cycle_flag, order_flag, cache_size, last_number
FROM sys.dba_sequences
WHERE sequence_owner IN ({own_schemas}) AND sequence_name NOT LIKE 'ISEQ$$%'
ORDER BY sequence_owner, sequence_name

-- name: tables
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT t.owner, t.table_name, t.temporary, t.duration, t.iot_type, t.tablespace_name
FROM sys.dba_tables t
WHERE t.owner IN ({own_schemas})
  AND t.nested = 'NO' AND t.secondary = 'N' AND t.dropped = 'NO' AND t.table_name NOT LIKE 'MLOG$%'
  AND (t.iot_type IS NULL OR t.iot_type = 'IOT')
  AND NOT EXISTS (SELECT 1 FROM sys.dba_mviews m WHERE m.owner = t.owner AND m.mview_name = t.table_name)
ORDER BY t.owner, t.table_name

-- name: columns
-- since: 12
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT c.owner, c.table_name, c.column_name, c.data_type, c.data_type_owner, c.data_length, c.data_precision, c.data_scale,
       c.char_length, c.char_used, c.nullable, c.default_on_null, c.virtual_column, c.identity_column, c.data_default
FROM sys.dba_tab_cols c
WHERE c.owner IN ({own_schemas}) AND c.hidden_column = 'NO'
ORDER BY c.owner, c.table_name, c.column_id

-- name: columns
-- before: 12
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT c.owner, c.table_name, c.column_name, c.data_type, c.data_type_owner, c.data_length, c.data_precision, c.data_scale,
       c.char_length, c.char_used, c.nullable, 'NO', c.virtual_column, 'NO', c.data_default
FROM sys.dba_tab_cols c
WHERE c.owner IN ({own_schemas}) AND c.hidden_column = 'NO'
ORDER BY c.owner, c.table_name, c.column_id

-- name: identities
-- since: 12
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, table_name, column_name, generation_type, identity_options
FROM sys.dba_tab_identity_cols
WHERE owner IN ({own_schemas})
ORDER BY owner, table_name, column_name

-- name: external_tables
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, table_name, type_name, default_directory_name
FROM sys.dba_external_tables
WHERE owner IN ({own_schemas})
ORDER BY owner, table_name

-- name: divided_tables
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, table_name, partitioning_type, subpartitioning_type, partition_count, interval
FROM sys.dba_part_tables
WHERE owner IN ({own_schemas})
ORDER BY owner, table_name

-- name: division_columns
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, name, column_name, column_position
FROM sys.dba_part_key_columns
WHERE object_type = 'TABLE' AND owner IN ({own_schemas})
ORDER BY owner, name, column_position

-- name: partitions
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT table_owner, table_name, partition_name, partition_position, high_value
FROM sys.dba_tab_partitions
WHERE table_owner IN ({own_schemas})
ORDER BY table_owner, table_name, partition_position

-- name: constraints
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, constraint_name, constraint_type, table_name, r_owner, r_constraint_name, delete_rule, status, "DEFERRABLE", "DEFERRED",
       validated, generated, search_condition
FROM sys.dba_constraints
WHERE constraint_type IN ('P', 'U', 'R', 'C') AND owner IN ({own_schemas})
ORDER BY owner, table_name, constraint_name

-- name: constraint_columns
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, constraint_name, column_name, table_name, position
FROM sys.dba_cons_columns
WHERE owner IN ({own_schemas})
ORDER BY owner, constraint_name, position

-- name: indexes
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT i.owner, i.index_name, i.index_type, i.table_owner, i.table_name, i.uniqueness, i.ityp_owner, i.ityp_name, i.parameters,
       i.partitioned, i.visibility, i.tablespace_name
FROM sys.dba_indexes i
WHERE i.owner IN ({own_schemas})
  AND i.index_type NOT IN ('LOB', 'IOT - TOP', 'CLUSTER')
  AND NOT EXISTS (SELECT 1 FROM sys.dba_constraints c
                  WHERE c.owner = i.table_owner AND c.index_name = i.index_name AND c.constraint_type IN ('P', 'U'))
  AND NOT EXISTS (SELECT 1 FROM sys.dba_mviews m WHERE m.owner = i.table_owner AND m.mview_name = i.table_name)
ORDER BY i.owner, i.index_name

-- name: index_columns
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT index_owner, index_name, column_name, descend, column_position
FROM sys.dba_ind_columns
WHERE index_owner IN ({own_schemas})
ORDER BY index_owner, index_name, column_position

-- name: index_expressions
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT index_owner, index_name, column_position, column_expression
FROM sys.dba_ind_expressions
WHERE index_owner IN ({own_schemas})
ORDER BY index_owner, index_name, column_position

-- name: comments
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, table_name, NULL AS column_name, comments FROM sys.dba_tab_comments
WHERE comments IS NOT NULL AND owner IN ({own_schemas})
UNION ALL
SELECT owner, table_name, column_name, comments FROM sys.dba_col_comments
WHERE comments IS NOT NULL AND owner IN ({own_schemas})

-- name: links
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, db_link, username, host FROM sys.dba_db_links ORDER BY owner, db_link

-- name: directories
-- since: 12
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT d.directory_name, d.directory_path
FROM sys.dba_directories d
WHERE EXISTS (SELECT 1 FROM sys.dba_objects o
              WHERE o.object_type = 'DIRECTORY' AND o.object_name = d.directory_name AND o.oracle_maintained = 'N')
ORDER BY d.directory_name

-- name: directories
-- before: 12
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT d.directory_name, d.directory_path
FROM sys.dba_directories d
WHERE d.directory_name NOT IN ('DATA_PUMP_DIR', 'ORACLE_OCM_CONFIG_DIR', 'ORACLE_OCM_CONFIG_DIR2', 'XMLDIR')
ORDER BY d.directory_name

-- name: views
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, view_name, read_only, text
FROM sys.dba_views
WHERE owner IN ({own_schemas})
ORDER BY owner, view_name

-- name: materialized_views
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, mview_name, refresh_mode, refresh_method, build_mode, rewrite_enabled, query
FROM sys.dba_mviews
WHERE owner IN ({own_schemas})
ORDER BY owner, mview_name

-- name: code
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, name, type, line, text FROM sys.dba_source
WHERE type IN ('FUNCTION', 'PACKAGE', 'PACKAGE BODY', 'PROCEDURE', 'TRIGGER')
  AND owner IN ({own_schemas})
ORDER BY owner, type, name, line

-- name: triggers
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, trigger_name, status FROM sys.dba_triggers
WHERE status = 'DISABLED' AND owner IN ({own_schemas})
ORDER BY owner, trigger_name

-- name: synonyms
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, synonym_name, table_owner, table_name, db_link
FROM sys.dba_synonyms
WHERE owner IN ({own_schemas})
   OR (owner = 'PUBLIC' AND table_owner IN ({own_schemas}))
ORDER BY owner, synonym_name

-- name: grants
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, table_name, privilege, grantee, grantable
FROM sys.dba_tab_privs
WHERE owner IN ({own_schemas})
ORDER BY owner, table_name, grantee, privilege

-- name: jobs
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT owner, job_name, job_type, job_action, repeat_interval, enabled
FROM sys.dba_scheduler_jobs
WHERE owner IN ({own_schemas})
ORDER BY owner, job_name

-- name: policies
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT object_owner, object_name, policy_name, pf_owner, package, function
FROM sys.dba_policies
WHERE object_owner IN ({own_schemas})
ORDER BY object_owner, object_name, policy_name

-- name: sizes
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT t.owner, t.table_name, t.num_rows,
       (SELECT SUM(s.bytes) FROM sys.dba_segments s WHERE s.owner = t.owner AND s.segment_name = t.table_name)
FROM sys.dba_tables t
WHERE t.owner IN ({own_schemas})
ORDER BY t.owner, t.table_name

-- name: settings
SELECT parameter, value FROM sys.nls_database_parameters ORDER BY parameter

-- name: names
-- when: profile
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT c.owner, c.table_name, c.column_name FROM sys.dba_tab_cols c
WHERE c.owner IN ({own_schemas}) AND c.hidden_column = 'NO'
ORDER BY c.owner, c.table_name, c.column_id

-- name: all_schemas
-- when: preflight
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT count(*) FROM sys.dba_users u WHERE u.username IN ({own_schemas})

-- What the server counts of its load: (name, value) as plan/counters.py knows them. Database Reference, "V$SYSSTAT", "V$OSSTAT".

-- name: meter_reads_and_writes
-- when: meter
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT 'read ios' AS name, value FROM v$sysstat WHERE name = 'physical read total IO requests'
UNION ALL SELECT 'read bytes', value FROM v$sysstat WHERE name = 'physical read total bytes'
UNION ALL SELECT 'write ios', value FROM v$sysstat WHERE name = 'physical write total IO requests'
UNION ALL SELECT 'write bytes', value FROM v$sysstat WHERE name = 'physical write total bytes'
UNION ALL SELECT 'log bytes', value FROM v$sysstat WHERE name = 'redo size'

-- name: meter_cpu
-- when: meter
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT 'cpu seconds' AS name, value / 100.0 AS value FROM v$osstat WHERE stat_name = 'BUSY_TIME'

-- name: meter_sessions
-- when: meter
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT 'connections' AS name, count(*) AS value FROM v$session WHERE type = 'USER'

-- name: meter_memory_and_storage
-- when: meter
-- right: GRANT SELECT_CATALOG_ROLE TO {user}
SELECT 'memory bytes' AS name, sum(bytes) AS value FROM v$sgastat
UNION ALL SELECT 'storage bytes', sum(bytes) FROM v$datafile
