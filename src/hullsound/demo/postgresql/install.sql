-- The visitor app, in the order in which psql takes it.
\set ON_ERROR_STOP on
\timing off
\i dump.sql
\ir functions.sql
\ir views.sql
\echo 'done'
