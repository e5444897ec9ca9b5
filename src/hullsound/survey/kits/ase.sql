-- Hull Sound: a kit for {client} ({about}).
--
-- It lets the engine's own ddlgen print the statements that make the objects of one database. Nothing is created or changed, and no
-- row of data is read. Replace USER, PASSWORD, HOST:PORT and DATABASE in the line below; to give the password in no file, type that
-- line, without the !!, into a shell instead. Run the kit so, and hand back the file OUTPUT, which is a script that
-- `hullsound survey OUTPUT --from ase` reads:
--
--     {command}
--
-- The Utility Guide, "ddlgen", says which roles it needs. Beside OUTPUT, OUTPUT.errors tells what could not be read.

!! ddlgen -UUSER -PPASSWORD -SHOST:PORT -TDB -NDATABASE -OOUTPUT -EOUTPUT.errors
