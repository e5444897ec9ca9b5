-- The catalogue of SQLite 3: the engine keeps the statements themselves. Tables that hold the parts of virtual ones are left out.

-- name: objects
SELECT '', type, name, sql
FROM sqlite_master AS m
WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite\_%' ESCAPE '\'
  AND NOT EXISTS (SELECT 1 FROM sqlite_master AS v WHERE v.sql LIKE 'CREATE VIRTUAL TABLE%' AND m.name LIKE v.name || '\_%' ESCAPE '\'
                  AND m.name <> v.name AND m.type = 'table' AND (m.sql LIKE 'CREATE TABLE ''%' OR m.sql LIKE 'CREATE TABLE "%'))
ORDER BY CASE type WHEN 'table' THEN 0 WHEN 'index' THEN 1 WHEN 'view' THEN 2 ELSE 3 END, rowid

-- name: settings
SELECT 'encoding', encoding FROM pragma_encoding
UNION ALL SELECT 'foreign_keys', foreign_keys FROM pragma_foreign_keys
UNION ALL SELECT 'page_size', page_size FROM pragma_page_size
UNION ALL SELECT 'page_count', page_count FROM pragma_page_count

-- name: names
-- when: profile
SELECT '', m.name, p.name FROM sqlite_master m, pragma_table_xinfo(m.name) p WHERE m.type = 'table' ORDER BY m.name, p.cid
