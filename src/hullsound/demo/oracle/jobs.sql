-- Nightly work. Jobs belong to the schema owner.
BEGIN
  DBMS_SCHEDULER.CREATE_JOB(
    job_name        => 'NIGHTLY_REMINDERS',
    job_type        => 'STORED_PROCEDURE',
    job_action      => 'HARBOUR.SEND_REMINDERS',
    start_date      => SYSTIMESTAMP,
    repeat_interval => 'FREQ=DAILY;BYHOUR=2;BYMINUTE=30',
    enabled         => TRUE,
    comments        => 'Reminders for overdue invoices');
END;
/

BEGIN
  DBMS_SCHEDULER.CREATE_JOB(
    job_name        => 'REFRESH_STATISTICS',
    job_type        => 'PLSQL_BLOCK',
    job_action      => 'BEGIN DBMS_MVIEW.REFRESH(''MV_MONTHLY_CALLS''); END;',
    repeat_interval => 'FREQ=DAILY;BYHOUR=3',
    enabled         => TRUE);
END;
/

DECLARE
  l_job NUMBER;
BEGIN
  DBMS_JOB.SUBMIT(l_job, 'purge_crew_lists;', SYSDATE + 1, 'TRUNC(SYSDATE) + 1 + 4/24');
  COMMIT;
END;
/
