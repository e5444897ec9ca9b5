/* Fuel billing in order. */
:r tables.sql
:r procs.sql
