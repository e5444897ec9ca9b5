-- The harbour: basins, quays and berths as one tree, and what can be moored where.

CREATE TABLE berths (
  berth_id        NUMBER(6)          NOT NULL,
  parent_id       NUMBER(6),
  code            VARCHAR2(10)       NOT NULL,
  name            VARCHAR2(60)       NOT NULL,
  kind            VARCHAR2(10)       DEFAULT 'BERTH' NOT NULL,
  length_m        NUMBER(6,2),
  depth_m         NUMBER(5,2),
  max_loa_m       NUMBER(6,2),
  has_crane       CHAR(1)            DEFAULT 'N' NOT NULL,
  has_power       CHAR(1)            DEFAULT 'N' NOT NULL,
  sort_order      NUMBER(4)          DEFAULT 0 NOT NULL,
  is_open         CHAR(1)            DEFAULT 'Y' NOT NULL,
  CONSTRAINT berths_pk PRIMARY KEY (berth_id) USING INDEX TABLESPACE &index_ts,
  CONSTRAINT berths_code_uk UNIQUE (code),
  CONSTRAINT berths_kind_ck CHECK (kind IN ('BASIN', 'QUAY', 'BERTH', 'BUOY'))
) TABLESPACE &data_ts;

COMMENT ON TABLE berths IS 'Basins hold quays, quays hold berths';
COMMENT ON COLUMN berths.parent_id IS 'The basin or quay it belongs to';
COMMENT ON COLUMN berths.depth_m IS 'Depth at lowest tide';

CREATE TABLE berth_shapes (
  berth_id        NUMBER(6)          NOT NULL,
  shape           SDO_GEOMETRY,
  CONSTRAINT berth_shapes_pk PRIMARY KEY (berth_id)
) TABLESPACE &data_ts;

CREATE TABLE berth_restrictions (
  berth_id        NUMBER(6)          NOT NULL,
  type_code       VARCHAR2(8)        NOT NULL,
  reason          VARCHAR2(200),
  CONSTRAINT berth_restrictions_pk PRIMARY KEY (berth_id, type_code)
) TABLESPACE &data_ts;

COMMENT ON TABLE berth_restrictions IS 'Kinds of vessels that may not use a berth';

CREATE TABLE berth_closures (
  berth_id        NUMBER(6)          NOT NULL,
  closed_from     DATE               NOT NULL,
  closed_until    DATE               NOT NULL,
  reason          VARCHAR2(200)      NOT NULL,
  CONSTRAINT berth_closures_pk PRIMARY KEY (berth_id, closed_from),
  CONSTRAINT berth_closures_ck CHECK (closed_until > closed_from)
) TABLESPACE &data_ts;

CREATE TABLE tide_readings (
  gauge_code      VARCHAR2(6)        NOT NULL,
  read_at         TIMESTAMP(3)       NOT NULL,
  level_m         BINARY_FLOAT       NOT NULL,
  quality         NUMBER(1)          DEFAULT 0 NOT NULL,
  CONSTRAINT tide_readings_pk PRIMARY KEY (gauge_code, read_at)
)
TABLESPACE &data_ts
COMPRESS
PARTITION BY RANGE (read_at) INTERVAL (NUMTOYMINTERVAL(1, 'MONTH'))
(
  PARTITION tide_start VALUES LESS THAN (TIMESTAMP '2020-01-01 00:00:00')
);

COMMENT ON TABLE tide_readings IS 'Tide gauges, every minute';
