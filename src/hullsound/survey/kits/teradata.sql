-- Hull Sound: a kit for {client} ({about}).
--
-- It asks the dictionary for the names of your objects, writes one SHOW statement for each into the file hullsound-show.bteq, and
-- runs that. Nothing is created or changed in the database, and no row of data is read; SELECT on DBC views and the right to SHOW
-- each object are enough. Log on as your shop does, in front of the first line, then run it so, and hand back the file OUTPUT,
-- which is a script that `hullsound survey OUTPUT --from teradata` reads:
--
--     {command}
--
-- Replace DATABASE by the database to be read.

.SET WIDTH 65531
.SET TITLEDASHES OFF
.SET FOLDLINE OFF
.EXPORT REPORT FILE = hullsound-show.bteq

SELECT 'SHOW ' || CASE TableKind WHEN 'V' THEN 'VIEW' WHEN 'M' THEN 'MACRO' WHEN 'P' THEN 'PROCEDURE' WHEN 'G' THEN 'TRIGGER'
                  WHEN 'F' THEN 'SPECIFIC FUNCTION' WHEN 'I' THEN 'JOIN INDEX' ELSE 'TABLE' END
       || ' "' || TRIM(DatabaseName) || '"."' || TRIM(TableName) || '";' (TITLE '')
FROM DBC.TablesV
WHERE DatabaseName = 'DATABASE' AND TableKind IN ('T', 'O', 'V', 'M', 'P', 'G', 'F', 'I')
ORDER BY CASE TableKind WHEN 'T' THEN 0 WHEN 'O' THEN 0 WHEN 'I' THEN 1 WHEN 'V' THEN 2 ELSE 3 END, TableName;

.EXPORT RESET
.SET WIDTH 254
.SET TITLEDASHES OFF
.RUN FILE = hullsound-show.bteq
.LOGOFF
.QUIT
