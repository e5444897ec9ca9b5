-- Pilots, their licences and the orders they carry out.

CREATE TABLE pilots (
  pilot_id        NUMBER(6)          NOT NULL,
  staff_id        NUMBER(6)          NOT NULL,
  licence_no      VARCHAR2(20)       NOT NULL,
  max_length_m    NUMBER(6,2)        NOT NULL,
  night_allowed   CHAR(1)            DEFAULT 'Y' NOT NULL,
  licensed_until  DATE               NOT NULL,
  CONSTRAINT pilots_pk PRIMARY KEY (pilot_id),
  CONSTRAINT pilots_licence_uk UNIQUE (licence_no)
) TABLESPACE &data_ts;

COMMENT ON TABLE pilots IS 'Pilots with their licence';

CREATE TABLE pilot_orders (
  order_id        NUMBER(10)         NOT NULL,
  call_id         NUMBER(10)         NOT NULL,
  pilot_id        NUMBER(6),
  direction       CHAR(3)            NOT NULL,
  ordered_for     DATE               NOT NULL,
  boarded_at      DATE,
  left_at         DATE,
  waiting_minutes NUMBER(5)          DEFAULT 0 NOT NULL,
  tugs_ordered    NUMBER(2)          DEFAULT 0 NOT NULL,
  status          VARCHAR2(10)       DEFAULT 'OPEN' NOT NULL,
  remarks         VARCHAR2(400),
  CONSTRAINT pilot_orders_pk PRIMARY KEY (order_id),
  CONSTRAINT pilot_orders_dir_ck CHECK (direction IN ('IN', 'OUT', 'SHI')),
  CONSTRAINT pilot_orders_status_ck CHECK (status IN ('OPEN', 'ASSIGNED', 'DONE', 'CANCELLED'))
) TABLESPACE &data_ts;

COMMENT ON TABLE pilot_orders IS 'Orders for pilotage: in, out and shifting';

CREATE TABLE pilot_rosters (
  pilot_id        NUMBER(6)          NOT NULL,
  duty_from       DATE               NOT NULL,
  duty_until      DATE               NOT NULL,
  is_standby      CHAR(1)            DEFAULT 'N' NOT NULL,
  CONSTRAINT pilot_rosters_pk PRIMARY KEY (pilot_id, duty_from)
) TABLESPACE &data_ts;

COMMENT ON TABLE pilot_rosters IS 'When a pilot is on duty';
