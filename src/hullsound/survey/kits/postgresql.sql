-- Hull Sound: a kit for {client} ({about}).
--
-- It reads the catalogue of one database and nothing else: no table of yours is touched, nothing is created or changed, and no row
-- of data is read. Any user who may connect can run it. Run it so, and hand back the file OUTPUT:
--
--     {command}
--
-- Each line of OUTPUT is one JSON value; read it before you hand it on. Errors that {client} shows do no harm: that part is
-- then missing, and the survey says so.

\set ON_ERROR_STOP off
\pset format unaligned
\pset tuples_only on
\pset pager off
\encoding UTF8
SET default_transaction_read_only = on;
SET statement_timeout = '120s';
SET lock_timeout = '5s';
SET search_path = pg_catalog;

SELECT json_build_object('hullsound', '{format}', 'engine', '{engine}',
                         'version', (current_setting('server_version_num')::int / 10000)::text, 'name', current_database());

-- each query
-- {name}
{query};
\if :ERROR
  SELECT json_build_object('refused', '{name}', 'reason', :'LAST_ERROR_MESSAGE');
\else
  SELECT json_build_object('end', '{name}');
\endif

-- the end
SELECT json_build_object('end', '');
