-- Audit trail, error log and queue of mails.

CREATE TABLE audit_trail (
  audit_id        NUMBER(14)         NOT NULL,
  table_name      VARCHAR2(30)       NOT NULL,
  row_key         VARCHAR2(80)       NOT NULL,
  action_code     CHAR(1)            NOT NULL,
  old_values      VARCHAR2(4000),
  new_values      VARCHAR2(4000),
  changed_at      TIMESTAMP          DEFAULT SYSTIMESTAMP NOT NULL,
  changed_by      VARCHAR2(30)       DEFAULT USER NOT NULL,
  CONSTRAINT audit_trail_pk PRIMARY KEY (audit_id)
) TABLESPACE &data_ts PARALLEL 2;

COMMENT ON TABLE audit_trail IS 'Who changed what';

CREATE TABLE error_log (
  logged_at       TIMESTAMP          DEFAULT SYSTIMESTAMP NOT NULL,
  module_name     VARCHAR2(60)       NOT NULL,
  error_code      NUMBER,
  error_text      VARCHAR2(2000),
  context_info    VARCHAR2(2000)
) TABLESPACE &data_ts NOLOGGING;

CREATE TABLE mail_queue (
  mail_id         NUMBER(12)         GENERATED ALWAYS AS IDENTITY,
  recipient       VARCHAR2(120)      NOT NULL,
  subject         VARCHAR2(200)      NOT NULL,
  body            CLOB,
  queued_at       DATE               DEFAULT SYSDATE NOT NULL,
  sent_at         DATE,
  CONSTRAINT mail_queue_pk PRIMARY KEY (mail_id)
) TABLESPACE &data_ts;
