-- Inspections of vessels and their findings.

CREATE TABLE inspections (
  inspection_id   NUMBER(10)         NOT NULL,
  call_id         NUMBER(10)         NOT NULL,
  inspector_id    NUMBER(6)          NOT NULL,
  kind            VARCHAR2(12)       NOT NULL,
  inspected_at    DATE               DEFAULT SYSDATE NOT NULL,
  result_code     VARCHAR2(10),
  score           NUMBER(4,1),
  report          LONG,
  CONSTRAINT inspections_pk PRIMARY KEY (inspection_id),
  CONSTRAINT inspections_kind_ck CHECK (kind IN ('SAFETY', 'CUSTOMS', 'HEALTH', 'WASTE'))
) TABLESPACE &data_ts;

COMMENT ON TABLE inspections IS 'Inspections on board';

CREATE TABLE deficiencies (
  inspection_id   NUMBER(10)         NOT NULL,
  deficiency_no   NUMBER(3)          NOT NULL,
  code            VARCHAR2(8)        NOT NULL,
  severity        NUMBER(1)          DEFAULT 1 NOT NULL,
  description     VARCHAR2(1000)     NOT NULL,
  to_fix_by       DATE,
  fixed_at        DATE,
  CONSTRAINT deficiencies_pk PRIMARY KEY (inspection_id, deficiency_no),
  CONSTRAINT deficiencies_severity_ck CHECK (severity IN (1, 2, 3))
) TABLESPACE &data_ts;

COMMENT ON TABLE deficiencies IS 'What an inspection found wanting';

CREATE TABLE inspection_photos (
  photo_id        RAW(16)            DEFAULT SYS_GUID() NOT NULL,
  inspection_id   NUMBER(10)         NOT NULL,
  taken_at        TIMESTAMP(9),
  picture         BLOB               NOT NULL,
  CONSTRAINT inspection_photos_pk PRIMARY KEY (photo_id)
) TABLESPACE &data_ts;

CREATE TABLE waste_deliveries (
  call_id         NUMBER(10)         NOT NULL,
  waste_kind      VARCHAR2(10)       NOT NULL,
  cubic_metres    NUMBER(8,2)        NOT NULL,
  delivered_at    DATE               DEFAULT SYSDATE NOT NULL,
  CONSTRAINT waste_deliveries_pk PRIMARY KEY (call_id, waste_kind, delivered_at)
) TABLESPACE &data_ts;
