-- Hull Sound: a kit for {client} ({about}).
--
-- It lets the engine's own db2look print the statements that make the objects of one database. Nothing is created or changed, and no
-- row of data is read; SELECT on the SYSCAT views is enough. Replace DATABASE by the database to be read, run it so, and hand back
-- the file OUTPUT, which is a script that `hullsound survey OUTPUT --from db2` reads:
--
--     {command}

ECHO --#SET TERMINATOR @;
! db2look -d DATABASE -e -td @;
