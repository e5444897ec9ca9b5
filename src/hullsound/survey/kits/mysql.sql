-- Hull Sound: a kit for {client} ({about}).
--
-- It reads INFORMATION_SCHEMA for one database and nothing else: nothing is created or changed, and no row of data is read. The user
-- sees what it has rights on; SHOW VIEW, EVENT, TRIGGER and SHOW_ROUTINE (MariaDB: SELECT on mysql.proc) show texts too.
-- Run it so, and hand back the file OUTPUT:
--
--     {command}
--
-- Each line of OUTPUT is one JSON value; read it before you hand it on. The client stops at the first error.

SET SESSION TRANSACTION READ ONLY;
SET SESSION lock_wait_timeout = 5;
SET SESSION group_concat_max_len = 1000000;
SET NAMES utf8mb4;
START TRANSACTION READ ONLY;

SELECT JSON_OBJECT('hullsound', '{format}', 'engine', '{engine}',
                   'version', SUBSTRING_INDEX(SUBSTRING_INDEX(VERSION(), '-', 1), '.', 2), 'name', DATABASE());

-- each query
-- {name}
{query};
SELECT JSON_OBJECT('end', '{name}');

-- the end
SELECT JSON_OBJECT('end', '');
