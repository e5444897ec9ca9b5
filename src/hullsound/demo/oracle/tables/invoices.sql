-- Invoices, their lines and payments.

CREATE TABLE invoices (
  invoice_id      NUMBER(10)         NOT NULL,
  invoice_no      VARCHAR2(20),
  agent_id        NUMBER(8)          NOT NULL,
  call_id         NUMBER(10),
  status          VARCHAR2(10)       DEFAULT 'DRAFT' NOT NULL,
  issued_on       DATE,
  due_on          DATE,
  currency_code   CHAR(3)            DEFAULT 'KBD' NOT NULL,
  net_amount      NUMBER(14,2)       DEFAULT 0 NOT NULL,
  vat_amount      NUMBER(14,2)       DEFAULT 0 NOT NULL,
  gross_amount    NUMBER(14,2)       GENERATED ALWAYS AS (net_amount + vat_amount) VIRTUAL,
  paid_amount     NUMBER(14,2)       DEFAULT 0 NOT NULL,
  reminder_level  NUMBER(1)          DEFAULT 0 NOT NULL,
  remarks         VARCHAR2(1000)     DEFAULT '',
  created_at      DATE               DEFAULT SYSDATE NOT NULL,
  created_by      VARCHAR2(30)       DEFAULT USER NOT NULL,
  CONSTRAINT invoices_pk PRIMARY KEY (invoice_id) USING INDEX TABLESPACE &index_ts,
  CONSTRAINT invoices_no_uk UNIQUE (invoice_no),
  CONSTRAINT invoices_status_ck CHECK (status IN ('DRAFT', 'ISSUED', 'PAID', 'CANCELLED', 'WRITTEN')),
  CONSTRAINT invoices_level_ck CHECK (reminder_level BETWEEN 0 AND 3)
) TABLESPACE &data_ts;

COMMENT ON TABLE invoices IS 'Invoices to agents';
COMMENT ON COLUMN invoices.invoice_no IS 'Number on paper, given when issued: year and running number';
COMMENT ON COLUMN invoices.reminder_level IS '0 none, 3 handed to collection';

CREATE TABLE invoice_lines (
  line_id         NUMBER(12)         NOT NULL,
  invoice_id      NUMBER(10)         NOT NULL,
  line_no         NUMBER(4)          NOT NULL,
  service_code    VARCHAR2(10)       NOT NULL,
  description     VARCHAR2(200)      NOT NULL,
  quantity        NUMBER(12,3)       DEFAULT 1 NOT NULL,
  unit_price      NUMBER(12,4)       NOT NULL,
  discount_pct    NUMBER(5,2)        DEFAULT 0 NOT NULL,
  net_amount      NUMBER(14,2)       NOT NULL,
  vat_rate        NUMBER(5,2)        NOT NULL,
  CONSTRAINT invoice_lines_pk PRIMARY KEY (line_id),
  CONSTRAINT invoice_lines_uk UNIQUE (invoice_id, line_no)
) TABLESPACE &data_ts;

COMMENT ON TABLE invoice_lines IS 'Lines of invoices';

CREATE TABLE payments (
  payment_id      NUMBER(10)         NOT NULL,
  invoice_id      NUMBER(10)         NOT NULL,
  paid_on         DATE               NOT NULL,
  amount          NUMBER(14,2)       NOT NULL,
  bank_reference  VARCHAR2(40),
  booked_by       VARCHAR2(30)       DEFAULT USER NOT NULL,
  CONSTRAINT payments_pk PRIMARY KEY (payment_id)
) TABLESPACE &data_ts;

COMMENT ON TABLE payments IS 'Money received';

CREATE TABLE ledger_entries (
  entry_id        NUMBER             GENERATED ALWAYS AS IDENTITY,
  booked_on       DATE               NOT NULL,
  account_no      VARCHAR2(12)       NOT NULL,
  debit           NUMBER(16,2),
  credit          NUMBER(16,2),
  invoice_id      NUMBER(10),
  text            VARCHAR2(200),
  CONSTRAINT ledger_entries_pk PRIMARY KEY (entry_id),
  CONSTRAINT ledger_entries_side_ck CHECK (debit IS NULL OR credit IS NULL) DISABLE
) TABLESPACE &data_ts;
