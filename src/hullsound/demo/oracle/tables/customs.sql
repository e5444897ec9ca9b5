-- Exchange of messages with the customs office.

CREATE TABLE customs_messages (
  message_id      NUMBER(10)         NOT NULL,
  call_id         NUMBER(10),
  direction       CHAR(1)            NOT NULL,
  message_type    VARCHAR2(10)       NOT NULL,
  sent_at         DATE,
  answered_at     DATE,
  answer_code     VARCHAR2(6),
  body            CLOB,
  attempts        NUMBER(2)          DEFAULT 0 NOT NULL,
  last_error      VARCHAR2(400),
  CONSTRAINT customs_messages_pk PRIMARY KEY (message_id)
) TABLESPACE &data_ts;

COMMENT ON TABLE customs_messages IS 'Messages to and from the customs office';

CREATE TABLE customs_holds (
  hold_id         NUMBER(8)          NOT NULL,
  call_id         NUMBER(10)         NOT NULL,
  container_no    VARCHAR2(11),
  placed_at       DATE               DEFAULT SYSDATE NOT NULL,
  lifted_at       DATE,
  officer         VARCHAR2(60),
  CONSTRAINT customs_holds_pk PRIMARY KEY (hold_id)
) TABLESPACE &data_ts;

CREATE DATABASE LINK customs_link CONNECT TO kestrel IDENTIFIED BY "x" USING 'CUSTOMS';

CREATE OR REPLACE DIRECTORY edi_in AS '/srv/edi/in';
CREATE OR REPLACE DIRECTORY edi_out AS '/srv/edi/out';
