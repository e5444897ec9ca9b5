-- The dictionary of Teradata 16.20 to 17.20: the names of a database's objects. Their texts come from SHOW, one for each object, since
-- the dictionary keeps only the last statement that changed an object. Data Dictionary, "TablesV", "ColumnsV" and "TableSizeV".

-- name: objects
-- right: GRANT SELECT ON DBC.TablesV TO {user}
SELECT TRIM(t.DatabaseName), t.TableKind, TRIM(t.TableName), t.CommentString
FROM DBC.TablesV t
WHERE t.DatabaseName = DATABASE AND t.TableKind IN ('T', 'O', 'V', 'M', 'P', 'G', 'F', 'I')
ORDER BY 1, 2, 3

-- name: sizes
-- right: GRANT SELECT ON DBC.TableSizeV TO {user}
SELECT TRIM(s.DatabaseName), TRIM(s.TableName), NULL, SUM(s.CurrentPerm)
FROM DBC.TableSizeV s
WHERE s.DatabaseName = DATABASE
GROUP BY 1, 2
ORDER BY 1, 2

-- name: names
-- when: profile
SELECT TRIM(c.DatabaseName), TRIM(c.TableName), TRIM(c.ColumnName) FROM DBC.ColumnsV c
WHERE c.DatabaseName = DATABASE ORDER BY 1, 2, c.ColumnId
