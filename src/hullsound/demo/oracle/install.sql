REM ---------------------------------------------------------------
REM  Kestrel Bay Harbour Authority - port call and billing system
REM  Run as the schema owner:  sqlplus harbour@kestrel @install.sql
REM ---------------------------------------------------------------
SET ECHO OFF
SET DEFINE ON
SET SERVEROUTPUT ON SIZE UNLIMITED
WHENEVER SQLERROR EXIT SQL.SQLCODE ROLLBACK
SPOOL install.log

DEFINE data_ts = HARBOUR_DATA
DEFINE index_ts = HARBOUR_INDEX

PROMPT Installing the harbour schema. Don't interrupt.

ALTER SESSION SET CURRENT_SCHEMA = HARBOUR;
ALTER SESSION SET NLS_DATE_FORMAT = 'DD.MM.YYYY HH24:MI:SS';

PROMPT ... sequences and types
@@sequences.sql
@@types.sql

PROMPT ... tables
@@tables/reference.sql
@@tables/vessels.sql
@@tables/berths.sql
@@tables/port_calls.sql
@@tables/pilotage.sql
@@tables/tariffs.sql
@@tables/invoices.sql
@@tables/cargo.sql
@@tables/inspections.sql
@@tables/crew.sql
@@tables/customs.sql
@@tables/housekeeping.sql

PROMPT ... constraints and indexes
@@constraints.sql
@@indexes.sql

PROMPT ... views
@@views/operations.sql
@@views/billing.sql
@@views/statistics.sql

PROMPT ... code
@@code/functions.sql
@@code/procedures.sql
@@code/pkg_util.pck
@@code/pkg_tariff.pks
@@code/pkg_tariff.pkb
@@code/pkg_port_call.pks
@@code/pkg_port_call.pkb
@@code/pkg_invoice.pks
@@code/pkg_invoice.pkb
@@code/pkg_customs.pks
@@code/pkg_customs.pkb
@@code/pkg_report.pck
@@code/pkg_planning.pck
@@code/cargo.sql
@@code/triggers.sql

PROMPT ... synonyms, grants, jobs and reference data
@@synonyms.sql
@@grants.sql
@@jobs.sql
@@reference_data.sql

SPOOL OFF
EXIT
