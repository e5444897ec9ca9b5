-- A port call is one visit of a vessel, from announcement to departure.

CREATE TABLE port_calls (
  call_id         NUMBER(10)         NOT NULL,
  vessel_id       NUMBER(10)         NOT NULL,
  agent_id        NUMBER(8)          NOT NULL,
  berth_id        NUMBER(6),
  purpose         VARCHAR2(12)       DEFAULT 'CARGO' NOT NULL,
  status          VARCHAR2(12)       DEFAULT 'ANNOUNCED' NOT NULL,
  eta             DATE               NOT NULL,
  etd             DATE,
  arrived_at      DATE,
  departed_at     DATE,
  last_port       VARCHAR2(60),
  next_port       VARCHAR2(60),
  draught_in      NUMBER(5,2),
  draught_out     NUMBER(5,2),
  dangerous_goods CHAR(1)            DEFAULT 'N' NOT NULL,
  crew_count      NUMBER(4),
  passenger_count NUMBER(5)          DEFAULT 0 NOT NULL,
  remarks         VARCHAR2(1000),
  created_at      DATE               DEFAULT SYSDATE NOT NULL,
  created_by      VARCHAR2(30)       DEFAULT USER NOT NULL,
  changed_at      DATE,
  changed_by      VARCHAR2(30),
  CONSTRAINT port_calls_pk PRIMARY KEY (call_id) USING INDEX TABLESPACE &index_ts,
  CONSTRAINT port_calls_status_ck CHECK (status IN ('ANNOUNCED', 'CONFIRMED', 'IN PORT', 'DEPARTED', 'CANCELLED')),
  CONSTRAINT port_calls_purpose_ck CHECK (purpose IN ('CARGO', 'PASSENGER', 'BUNKER', 'REPAIR', 'SHELTER')),
  CONSTRAINT port_calls_dates_ck CHECK (departed_at IS NULL OR departed_at >= arrived_at)
)
TABLESPACE &data_ts
PCTFREE 20 INITRANS 4
ENABLE ROW MOVEMENT;

COMMENT ON TABLE port_calls IS 'Visits of vessels';
COMMENT ON COLUMN port_calls.eta IS 'Announced time of arrival, harbour time';
COMMENT ON COLUMN port_calls.arrived_at IS 'First line ashore';
COMMENT ON COLUMN port_calls.departed_at IS 'Last line off';

CREATE TABLE berth_movements (
  movement_id     NUMBER(12)         NOT NULL,
  call_id         NUMBER(10)         NOT NULL,
  berth_id        NUMBER(6)          NOT NULL,
  moored_at       DATE               NOT NULL,
  unmoored_at     DATE,
  lines_handled   NUMBER(2)          DEFAULT 0 NOT NULL,
  tug_count       NUMBER(2)          DEFAULT 0 NOT NULL,
  CONSTRAINT berth_movements_pk PRIMARY KEY (movement_id)
) TABLESPACE &data_ts;

COMMENT ON TABLE berth_movements IS 'Each stay at a berth within a call';

CREATE TABLE call_documents (
  document_id     NUMBER(12)         NOT NULL,
  call_id         NUMBER(10)         NOT NULL,
  kind            VARCHAR2(20)       NOT NULL,
  received_at     TIMESTAMP WITH TIME ZONE DEFAULT SYSTIMESTAMP NOT NULL,
  content         CLOB,
  original        BFILE,
  CONSTRAINT call_documents_pk PRIMARY KEY (document_id)
) TABLESPACE &data_ts;

COMMENT ON TABLE call_documents IS 'Documents that agents hand in with a call';

CREATE TABLE call_events (
  event_id        NUMBER(14)         NOT NULL,
  call_id         NUMBER(10)         NOT NULL,
  event_code      VARCHAR2(12)       NOT NULL,
  event_at        DATE               DEFAULT SYSDATE NOT NULL,
  details         VARCHAR2(400),
  CONSTRAINT call_events_pk PRIMARY KEY (event_id, event_at)
)
PARTITION BY RANGE (event_at)
(
  PARTITION events_2022 VALUES LESS THAN (DATE '2023-01-01'),
  PARTITION events_2023 VALUES LESS THAN (DATE '2024-01-01'),
  PARTITION events_2024 VALUES LESS THAN (DATE '2025-01-01'),
  PARTITION events_rest VALUES LESS THAN (MAXVALUE)
);

COMMENT ON TABLE call_events IS 'What happened during a call';

CREATE GLOBAL TEMPORARY TABLE gtt_call_selection (
  call_id         NUMBER(10)         NOT NULL,
  sort_key        NUMBER
) ON COMMIT DELETE ROWS;
