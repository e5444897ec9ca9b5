-- Hull Sound: a kit for {client} ({about}).
--
-- It reads the catalogue views of one database, and of the server what belongs to it, and nothing else: nothing is created or
-- changed, and no row of data is read. VIEW DEFINITION on the database shows all texts. Run it so, and hand back the file OUTPUT:
--
--     {command}
--
-- Each line of OUTPUT is one JSON value; read it before you hand it on. A part that is refused is named in it.

SET NOCOUNT ON;
SET LOCK_TIMEOUT 5000;
SET QUOTED_IDENTIFIER ON;

SELECT (SELECT '{format}' AS hullsound, '{engine}' AS engine,
        CASE LEFT(CAST(SERVERPROPERTY('ProductVersion') AS varchar(40)), 2)
          WHEN '13' THEN '2016' WHEN '14' THEN '2017' WHEN '15' THEN '2019' WHEN '16' THEN '2022' WHEN '17' THEN '2025' ELSE '' END
          AS version, DB_NAME() AS name FOR JSON PATH, WITHOUT_ARRAY_WRAPPER);
GO

-- each query
-- {name}
BEGIN TRY
{query};
SELECT '{"end": "{name}"}';
END TRY
BEGIN CATCH
SELECT (SELECT '{name}' AS refused, ERROR_MESSAGE() AS reason FOR JSON PATH, WITHOUT_ARRAY_WRAPPER);
END CATCH
GO

-- the end
SELECT '{"end": ""}';
GO
