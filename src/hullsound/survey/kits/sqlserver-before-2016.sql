-- Hull Sound: a kit for {client} ({about}).
--
-- It reads the catalogue views of one database, and of the server what belongs to it, and nothing else: nothing is created or
-- changed, and no row of data is read. VIEW DEFINITION on the database shows all texts. Run it so, and hand back the file OUTPUT:
--
--     {command}
--
-- Each line of OUTPUT is one JSON value, put together by REPLACE because these versions have no FOR JSON; read it before you hand
-- it on. A part that is refused is named in it.

SET NOCOUNT ON;
SET LOCK_TIMEOUT 5000;
SET QUOTED_IDENTIFIER ON;

SELECT '{"hullsound": "{format}", "engine": "{engine}", "version": "'
     + CASE LEFT(CAST(SERVERPROPERTY('ProductVersion') AS varchar(40)), 2)
         WHEN '10' THEN '2008' WHEN '11' THEN '2012' WHEN '12' THEN '2014' ELSE '{version}' END
     + '", "name": "' + REPLACE(REPLACE(DB_NAME(), '\', '\\'), '"', '\"') + '"}';
GO

-- each query
-- {name}
BEGIN TRY
{query};
SELECT '{"end": "{name}"}';
END TRY
BEGIN CATCH
SELECT '{"refused": "{name}", "reason": "'
     + REPLACE(REPLACE(REPLACE(REPLACE(ERROR_MESSAGE(), '\', '\\'), '"', '\"'), CHAR(13), ' '), CHAR(10), ' ') + '"}';
END CATCH
GO

-- the end
SELECT '{"end": ""}';
GO
