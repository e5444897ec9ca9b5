-- The catalogue of one database of SQL Server 2008 to 2022, and what the server keeps for it.
-- Transact-SQL reference, "System catalog views". Who has VIEW DEFINITION on the database sees the text of all modules.

-- name: schemas
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name FROM sys.schemas s WHERE s.schema_id > 4 AND s.schema_id < 16384 ORDER BY s.name

-- name: assemblies
-- right: GRANT VIEW DEFINITION TO {user}
SELECT a.name, a.permission_set_desc FROM sys.assemblies a WHERE a.is_user_defined = 1 ORDER BY a.name

-- name: types
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS type_schema, t.name, b.name AS base, t.max_length, t.precision, t.scale, t.is_nullable
FROM sys.types t
JOIN sys.schemas s ON s.schema_id = t.schema_id
JOIN sys.types b ON b.user_type_id = t.system_type_id
WHERE t.is_user_defined = 1 AND t.is_table_type = 0
ORDER BY s.name, t.name

-- name: table_types
-- since: 2014
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS type_schema, t.name, t.type_table_object_id, t.is_memory_optimized
FROM sys.table_types t
JOIN sys.schemas s ON s.schema_id = t.schema_id
WHERE t.is_user_defined = 1
ORDER BY s.name, t.name

-- name: table_types
-- before: 2014
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS type_schema, t.name, t.type_table_object_id, 0
FROM sys.table_types t
JOIN sys.schemas s ON s.schema_id = t.schema_id
WHERE t.is_user_defined = 1
ORDER BY s.name, t.name

-- name: sequences
-- since: 2012
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS sequence_schema, q.name, y.name AS type_name, CAST(q.start_value AS varchar(40)), CAST(q.increment AS varchar(40)),
       CAST(q.minimum_value AS varchar(40)), CAST(q.maximum_value AS varchar(40)), q.is_cycling,
       q.is_cached, q.cache_size
FROM sys.sequences q
JOIN sys.schemas s ON s.schema_id = q.schema_id
JOIN sys.types y ON y.user_type_id = q.user_type_id
ORDER BY s.name, q.name

-- name: partition_functions
-- right: GRANT VIEW DEFINITION TO {user}
SELECT f.name, y.name AS type_name, p.max_length, f.boundary_value_on_right, f.function_id
FROM sys.partition_functions f
JOIN sys.partition_parameters p ON p.function_id = f.function_id
JOIN sys.types y ON y.user_type_id = p.user_type_id
ORDER BY f.name

-- name: partition_values
-- right: GRANT VIEW DEFINITION TO {user}
SELECT v.function_id, v.boundary_id, CAST(v.value AS nvarchar(100)) AS value FROM sys.partition_range_values v ORDER BY v.function_id, v.boundary_id

-- name: partition_schemes
-- right: GRANT VIEW DEFINITION TO {user}
SELECT h.name, f.name AS function_name
FROM sys.partition_schemes h
JOIN sys.partition_functions f ON f.function_id = h.function_id
ORDER BY h.name

-- name: tables
-- since: 2017
-- right: GRANT VIEW DEFINITION TO {user}
SELECT t.object_id, s.name AS table_schema, t.name, t.temporal_type, t.is_memory_optimized, t.durability_desc, t.is_node, t.is_edge,
       t.is_external, t.is_filetable, hs.name AS history_schema, h.name AS history_name
FROM sys.tables t
JOIN sys.schemas s ON s.schema_id = t.schema_id
LEFT JOIN sys.tables h ON h.object_id = t.history_table_id
LEFT JOIN sys.schemas hs ON hs.schema_id = h.schema_id
WHERE t.is_ms_shipped = 0
ORDER BY s.name, t.name

-- name: tables
-- since: 2016
-- before: 2017
-- right: GRANT VIEW DEFINITION TO {user}
SELECT t.object_id, s.name AS table_schema, t.name, t.temporal_type, t.is_memory_optimized, t.durability_desc, 0, 0,
       t.is_external, t.is_filetable, hs.name AS history_schema, h.name AS history_name
FROM sys.tables t
JOIN sys.schemas s ON s.schema_id = t.schema_id
LEFT JOIN sys.tables h ON h.object_id = t.history_table_id
LEFT JOIN sys.schemas hs ON hs.schema_id = h.schema_id
WHERE t.is_ms_shipped = 0
ORDER BY s.name, t.name

-- name: tables
-- since: 2014
-- before: 2016
-- right: GRANT VIEW DEFINITION TO {user}
SELECT t.object_id, s.name AS table_schema, t.name, 0, t.is_memory_optimized, t.durability_desc, 0, 0, 0, t.is_filetable, NULL, NULL
FROM sys.tables t
JOIN sys.schemas s ON s.schema_id = t.schema_id
WHERE t.is_ms_shipped = 0
ORDER BY s.name, t.name

-- name: tables
-- since: 2012
-- before: 2014
-- right: GRANT VIEW DEFINITION TO {user}
SELECT t.object_id, s.name AS table_schema, t.name, 0, 0, NULL, 0, 0, 0, t.is_filetable, NULL, NULL
FROM sys.tables t
JOIN sys.schemas s ON s.schema_id = t.schema_id
WHERE t.is_ms_shipped = 0
ORDER BY s.name, t.name

-- name: tables
-- before: 2012
-- right: GRANT VIEW DEFINITION TO {user}
SELECT t.object_id, s.name AS table_schema, t.name, 0, 0, NULL, 0, 0, 0, 0, NULL, NULL
FROM sys.tables t
JOIN sys.schemas s ON s.schema_id = t.schema_id
WHERE t.is_ms_shipped = 0
ORDER BY s.name, t.name

-- name: views
-- right: GRANT VIEW DEFINITION TO {user}
SELECT v.object_id, s.name AS view_schema, v.name
FROM sys.views v
JOIN sys.schemas s ON s.schema_id = v.schema_id
WHERE v.is_ms_shipped = 0
ORDER BY s.name, v.name

-- name: columns
-- since: 2016
-- right: GRANT VIEW DEFINITION TO {user}
SELECT c.object_id, c.name, ys.name AS type_schema, y.name AS type_name, y.is_user_defined, c.max_length, c.precision, c.scale,
       c.is_nullable, c.collation_name, c.is_sparse, c.is_column_set, c.is_filestream, c.is_rowguidcol, c.is_hidden,
       c.generated_always_type, d.name AS default_name, d.is_system_named, d.definition AS default_text, CAST(i.seed_value AS varchar(40)) AS seed, CAST(i.increment_value AS varchar(40)) AS step,
       p.definition AS computed_text, p.is_persisted, m.masking_function
FROM sys.columns c
JOIN sys.types y ON y.user_type_id = c.user_type_id
JOIN sys.schemas ys ON ys.schema_id = y.schema_id
LEFT JOIN sys.default_constraints d ON d.object_id = c.default_object_id
LEFT JOIN sys.identity_columns i ON i.object_id = c.object_id AND i.column_id = c.column_id
LEFT JOIN sys.computed_columns p ON p.object_id = c.object_id AND p.column_id = c.column_id
LEFT JOIN sys.masked_columns m ON m.object_id = c.object_id AND m.column_id = c.column_id
WHERE c.object_id IN (SELECT t.object_id FROM sys.tables t WHERE t.is_ms_shipped = 0)
   OR c.object_id IN (SELECT t.type_table_object_id FROM sys.table_types t)
   OR c.object_id IN (SELECT v.object_id FROM sys.views v WHERE v.is_ms_shipped = 0)
ORDER BY c.object_id, c.column_id

-- name: columns
-- before: 2016
-- right: GRANT VIEW DEFINITION TO {user}
SELECT c.object_id, c.name, ys.name AS type_schema, y.name AS type_name, y.is_user_defined, c.max_length, c.precision, c.scale,
       c.is_nullable, c.collation_name, c.is_sparse, c.is_column_set, c.is_filestream, c.is_rowguidcol, 0,
       0, d.name AS default_name, d.is_system_named, d.definition AS default_text, CAST(i.seed_value AS varchar(40)) AS seed, CAST(i.increment_value AS varchar(40)) AS step,
       p.definition AS computed_text, p.is_persisted, NULL
FROM sys.columns c
JOIN sys.types y ON y.user_type_id = c.user_type_id
JOIN sys.schemas ys ON ys.schema_id = y.schema_id
LEFT JOIN sys.default_constraints d ON d.object_id = c.default_object_id
LEFT JOIN sys.identity_columns i ON i.object_id = c.object_id AND i.column_id = c.column_id
LEFT JOIN sys.computed_columns p ON p.object_id = c.object_id AND p.column_id = c.column_id
WHERE c.object_id IN (SELECT t.object_id FROM sys.tables t WHERE t.is_ms_shipped = 0)
   OR c.object_id IN (SELECT t.type_table_object_id FROM sys.table_types t)
   OR c.object_id IN (SELECT v.object_id FROM sys.views v WHERE v.is_ms_shipped = 0)
ORDER BY c.object_id, c.column_id

-- name: periods
-- since: 2016
-- right: GRANT VIEW DEFINITION TO {user}
SELECT p.object_id, a.name AS start_name, b.name AS end_name
FROM sys.periods p
JOIN sys.columns a ON a.object_id = p.object_id AND a.column_id = p.start_column_id
JOIN sys.columns b ON b.object_id = p.object_id AND b.column_id = p.end_column_id
ORDER BY p.object_id

-- name: indexes
-- right: GRANT VIEW DEFINITION TO {user}
SELECT i.object_id, i.index_id, i.name, i.type_desc, i.is_unique, i.is_primary_key, i.is_unique_constraint, i.filter_definition,
       i.is_disabled, k.is_system_named, d.name AS data_space, d.type AS data_space_type
FROM sys.indexes i
LEFT JOIN sys.key_constraints k ON k.parent_object_id = i.object_id AND k.unique_index_id = i.index_id
LEFT JOIN sys.data_spaces d ON d.data_space_id = i.data_space_id
WHERE i.type_desc IN ('CLUSTERED', 'NONCLUSTERED', 'CLUSTERED COLUMNSTORE', 'NONCLUSTERED COLUMNSTORE', 'NONCLUSTERED HASH')
  AND (i.object_id IN (SELECT t.object_id FROM sys.tables t WHERE t.is_ms_shipped = 0)
       OR i.object_id IN (SELECT v.object_id FROM sys.views v WHERE v.is_ms_shipped = 0)
       OR i.object_id IN (SELECT t.type_table_object_id FROM sys.table_types t))
ORDER BY i.object_id, i.index_id

-- name: index_columns
-- right: GRANT VIEW DEFINITION TO {user}
SELECT x.object_id, x.index_id, c.name, x.is_descending_key, x.is_included_column, x.key_ordinal, x.partition_ordinal
FROM sys.index_columns x
JOIN sys.columns c ON c.object_id = x.object_id AND c.column_id = x.column_id
ORDER BY x.object_id, x.index_id, x.is_included_column, x.key_ordinal, x.index_column_id

-- name: checks
-- right: GRANT VIEW DEFINITION TO {user}
SELECT k.parent_object_id, k.name, k.definition, k.is_system_named, k.is_disabled, k.is_not_trusted
FROM sys.check_constraints k
ORDER BY k.parent_object_id, k.name

-- name: references
-- right: GRANT VIEW DEFINITION TO {user}
SELECT f.parent_object_id, f.name, f.object_id, rs.name AS referenced_schema, r.name AS referenced_table, f.delete_referential_action_desc,
       f.update_referential_action_desc, f.is_system_named, f.is_disabled, f.is_not_trusted
FROM sys.foreign_keys f
JOIN sys.tables r ON r.object_id = f.referenced_object_id
JOIN sys.schemas rs ON rs.schema_id = r.schema_id
ORDER BY f.parent_object_id, f.name

-- name: reference_columns
-- right: GRANT VIEW DEFINITION TO {user}
SELECT x.constraint_object_id, a.name, b.name AS referenced_name
FROM sys.foreign_key_columns x
JOIN sys.columns a ON a.object_id = x.parent_object_id AND a.column_id = x.parent_column_id
JOIN sys.columns b ON b.object_id = x.referenced_object_id AND b.column_id = x.referenced_column_id
ORDER BY x.constraint_object_id, x.constraint_column_id

-- name: modules
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS module_schema, o.name, o.type, m.definition, m.uses_quoted_identifier, t.is_disabled, m.uses_ansi_nulls
FROM sys.sql_modules m
JOIN sys.objects o ON o.object_id = m.object_id
JOIN sys.schemas s ON s.schema_id = o.schema_id
LEFT JOIN sys.triggers t ON t.object_id = o.object_id
WHERE o.is_ms_shipped = 0
ORDER BY CASE o.type WHEN 'FN' THEN 0 WHEN 'IF' THEN 1 WHEN 'TF' THEN 1 WHEN 'V' THEN 2 WHEN 'TR' THEN 4 ELSE 3 END, s.name, o.name

-- name: database_triggers
-- right: GRANT VIEW DEFINITION TO {user}
SELECT t.name, m.definition, t.is_disabled
FROM sys.triggers t
JOIN sys.sql_modules m ON m.object_id = t.object_id
WHERE t.parent_class_desc = 'DATABASE' AND t.is_ms_shipped = 0
ORDER BY t.name

-- name: synonyms
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS synonym_schema, y.name, y.base_object_name
FROM sys.synonyms y
JOIN sys.schemas s ON s.schema_id = y.schema_id
ORDER BY s.name, y.name

-- name: comments
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS table_schema, t.name AS table_name, c.name AS column_name, CAST(e.value AS nvarchar(4000)) AS comment
FROM sys.extended_properties e
JOIN sys.tables t ON t.object_id = e.major_id
JOIN sys.schemas s ON s.schema_id = t.schema_id
LEFT JOIN sys.columns c ON c.object_id = e.major_id AND c.column_id = e.minor_id
WHERE e.class = 1 AND e.name = 'MS_Description'
ORDER BY s.name, t.name, c.column_id

-- name: grants
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS object_schema, o.name, p.permission_name, p.state_desc, u.name AS grantee
FROM sys.database_permissions p
JOIN sys.objects o ON o.object_id = p.major_id
JOIN sys.schemas s ON s.schema_id = o.schema_id
JOIN sys.database_principals u ON u.principal_id = p.grantee_principal_id
WHERE p.class = 1 AND p.minor_id = 0 AND o.is_ms_shipped = 0
ORDER BY s.name, o.name, u.name, p.permission_name

-- name: linked_servers
-- right: GRANT VIEW ANY DEFINITION TO {user}
SELECT v.name, v.product, v.provider, v.data_source FROM sys.servers v WHERE v.is_linked = 1 ORDER BY v.name

-- name: others
-- right: GRANT VIEW DEFINITION TO {user}
SELECT 'QUEUE' AS kind, s.name AS object_schema, q.name FROM sys.service_queues q
JOIN sys.schemas s ON s.schema_id = q.schema_id WHERE q.is_ms_shipped = 0
UNION ALL SELECT 'MESSAGE TYPE', NULL, m.name FROM sys.service_message_types m WHERE m.message_type_id > 65535
UNION ALL SELECT 'CONTRACT', NULL, c.name FROM sys.service_contracts c WHERE c.service_contract_id > 65535
UNION ALL SELECT 'SERVICE', NULL, v.name FROM sys.services v WHERE v.service_id > 65535
UNION ALL SELECT 'XML SCHEMA COLLECTION', s.name, x.name FROM sys.xml_schema_collections x
JOIN sys.schemas s ON s.schema_id = x.schema_id WHERE x.xml_collection_id > 65535
UNION ALL SELECT 'CERTIFICATE', NULL, c.name FROM sys.certificates c WHERE c.name NOT LIKE '##%'
UNION ALL SELECT 'SYMMETRIC KEY', NULL, k.name FROM sys.symmetric_keys k WHERE k.name NOT LIKE '##%'
UNION ALL SELECT 'FULLTEXT CATALOG', NULL, f.name FROM sys.fulltext_catalogs f

-- name: jobs
-- right: USE msdb; GRANT SELECT ON dbo.sysjobs TO {user}; GRANT SELECT ON dbo.sysjobsteps TO {user}
SELECT j.name, j.enabled, t.step_id, t.step_name, t.subsystem, t.database_name, t.command
FROM msdb.dbo.sysjobs j
JOIN msdb.dbo.sysjobsteps t ON t.job_id = j.job_id
WHERE t.database_name = DB_NAME()
ORDER BY j.name, t.step_id

-- name: sizes
-- right: GRANT VIEW DATABASE STATE TO {user}
SELECT s.name AS table_schema, t.name,
       (SELECT SUM(p.rows) FROM sys.partitions p WHERE p.object_id = t.object_id AND p.index_id < 2) AS table_rows,
       (SELECT SUM(a.total_pages) * 8192 FROM sys.partitions p JOIN sys.allocation_units a ON a.container_id = p.partition_id
        WHERE p.object_id = t.object_id) AS bytes
FROM sys.tables t
JOIN sys.schemas s ON s.schema_id = t.schema_id
WHERE t.is_ms_shipped = 0
ORDER BY s.name, t.name

-- name: settings
SELECT 'collation' AS setting, d.collation_name AS value FROM sys.databases d WHERE d.name = DB_NAME()
UNION ALL SELECT 'compatibility_level', CAST(d.compatibility_level AS varchar(20)) FROM sys.databases d WHERE d.name = DB_NAME()
UNION ALL SELECT 'is_read_committed_snapshot_on', CAST(d.is_read_committed_snapshot_on AS varchar(20))
FROM sys.databases d WHERE d.name = DB_NAME()
UNION ALL SELECT 'is_broker_enabled', CAST(d.is_broker_enabled AS varchar(20)) FROM sys.databases d WHERE d.name = DB_NAME()
UNION ALL SELECT 'is_cdc_enabled', CAST(d.is_cdc_enabled AS varchar(20)) FROM sys.databases d WHERE d.name = DB_NAME()

-- name: names
-- when: profile
-- right: GRANT VIEW DEFINITION TO {user}
SELECT s.name AS table_schema, t.name AS table_name, c.name AS column_name
FROM sys.tables t
JOIN sys.schemas s ON s.schema_id = t.schema_id
JOIN sys.columns c ON c.object_id = t.object_id
ORDER BY s.name, t.name, c.column_id

-- name: hidden_texts
-- when: preflight
-- right: GRANT VIEW DEFINITION TO {user}
SELECT COUNT(*) FROM sys.sql_modules m WHERE m.definition IS NULL

-- name: may_view_definitions
-- when: rights
SELECT HAS_PERMS_BY_NAME(DB_NAME(), 'DATABASE', 'VIEW DEFINITION')

-- What the server counts of its load: (name, value) as plan/counters.py knows them. Transact-SQL reference,
-- "sys.dm_os_performance_counters", "sys.dm_os_schedulers". A page is 8,192 bytes.

-- name: meter_reads_and_writes
-- when: meter
-- right: GRANT VIEW SERVER STATE TO {user}
SELECT 'read ios' AS name, p.cntr_value AS value FROM sys.dm_os_performance_counters p WHERE p.counter_name = 'Page reads/sec'
UNION ALL SELECT 'read bytes', p.cntr_value * 8192 FROM sys.dm_os_performance_counters p WHERE p.counter_name = 'Page reads/sec'
UNION ALL SELECT 'write ios', p.cntr_value FROM sys.dm_os_performance_counters p WHERE p.counter_name = 'Page writes/sec'
UNION ALL SELECT 'write bytes', p.cntr_value * 8192 FROM sys.dm_os_performance_counters p WHERE p.counter_name = 'Page writes/sec'
UNION ALL SELECT 'log bytes', p.cntr_value FROM sys.dm_os_performance_counters p
WHERE p.counter_name = 'Log Bytes Flushed/sec' AND p.instance_name = '_Total'

-- name: meter_cpu
-- when: meter
-- since: 2016
-- right: GRANT VIEW SERVER STATE TO {user}
SELECT 'cpu seconds' AS name, SUM(s.total_cpu_usage_ms) / 1000.0 AS value FROM sys.dm_os_schedulers s

-- name: meter_sessions
-- when: meter
-- right: GRANT VIEW SERVER STATE TO {user}
SELECT 'connections' AS name, p.cntr_value AS value FROM sys.dm_os_performance_counters p WHERE p.counter_name = 'User Connections'
UNION ALL SELECT 'memory bytes', p.cntr_value * 1024 FROM sys.dm_os_performance_counters p
WHERE p.counter_name = 'Total Server Memory (KB)'

-- name: meter_storage
-- when: meter
-- right: GRANT VIEW ANY DEFINITION TO {user}
SELECT 'storage bytes' AS name, SUM(CAST(f.size AS bigint)) * 8192 AS value FROM sys.master_files f

-- name: databases
-- when: databases
SELECT d.name FROM sys.databases d WHERE d.name NOT IN ('master', 'model', 'msdb', 'tempdb') ORDER BY d.name
