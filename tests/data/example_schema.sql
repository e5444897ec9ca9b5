-- The small schema that the examples of constructs speak of.
CREATE TABLE vessels (
  vessel_id NUMBER(10) NOT NULL,
  name      VARCHAR2(80) NOT NULL,
  status    VARCHAR2(10),
  flag      VARCHAR2(10),
  note      VARCHAR2(2000),
  draft_m   NUMBER(6,2),
  length_m  NUMBER(6,2),
  CONSTRAINT vessels_pk PRIMARY KEY (vessel_id)
);
CREATE TABLE berths (
  berth_id  NUMBER(6) NOT NULL,
  parent_id NUMBER(6),
  name      VARCHAR2(60) NOT NULL,
  CONSTRAINT berths_pk PRIMARY KEY (berth_id)
);
CREATE TABLE port_calls (
  call_id     NUMBER(10) NOT NULL,
  vessel_id   NUMBER(10) NOT NULL,
  berth_id    NUMBER(6),
  status      VARCHAR2(10),
  eta         DATE NOT NULL,
  arrived_at  DATE,
  departed_at DATE,
  CONSTRAINT port_calls_pk PRIMARY KEY (call_id)
);
CREATE TABLE err_vessels (message VARCHAR2(200));
CREATE SEQUENCE call_seq;
CREATE ROLE harbour_clerk;
