-- Cargo manifests and what stands on the quays.

CREATE TABLE manifests (
  manifest_id     NUMBER(10)         NOT NULL,
  call_id         NUMBER(10)         NOT NULL,
  direction       CHAR(1)            NOT NULL,
  received_at     TIMESTAMP WITH LOCAL TIME ZONE DEFAULT SYSTIMESTAMP NOT NULL,
  total_tons      NUMBER(12,3)       DEFAULT 0 NOT NULL,
  is_complete     CHAR(1)            DEFAULT 'N' NOT NULL,
  source_xml      XMLTYPE,
  CONSTRAINT manifests_pk PRIMARY KEY (manifest_id),
  CONSTRAINT manifests_dir_ck CHECK (direction IN ('I', 'O'))
) TABLESPACE &data_ts;

COMMENT ON TABLE manifests IS 'Lists of cargo, inward and outward';

CREATE TABLE manifest_items (
  manifest_id     NUMBER(10)         NOT NULL,
  item_no         NUMBER(5)          NOT NULL,
  cargo_code      VARCHAR2(8)        NOT NULL,
  description     VARCHAR2(200)      NOT NULL,
  packages        NUMBER(8),
  gross_tons      NUMBER(12,3)       NOT NULL,
  container_no    VARCHAR2(11),
  consignee       VARCHAR2(100),
  un_number       VARCHAR2(4),
  CONSTRAINT manifest_items_pk PRIMARY KEY (manifest_id, item_no),
  CONSTRAINT manifest_items_tons_ck CHECK (gross_tons >= 0)
) TABLESPACE &data_ts;

COMMENT ON TABLE manifest_items IS 'Items of a manifest';

CREATE TABLE quay_stock (
  stock_id        NUMBER(12)         NOT NULL,
  berth_id        NUMBER(6)          NOT NULL,
  cargo_code      VARCHAR2(8)        NOT NULL,
  tons            NUMBER(12,3)       NOT NULL,
  since           DATE               DEFAULT SYSDATE NOT NULL,
  "COMMENT"       VARCHAR2(200),
  CONSTRAINT quay_stock_pk PRIMARY KEY (stock_id)
) TABLESPACE &data_ts;

CREATE TABLE manifest_import (
  line_text       VARCHAR2(4000),
  line_no         NUMBER
)
ORGANIZATION EXTERNAL (
  TYPE ORACLE_LOADER
  DEFAULT DIRECTORY edi_in
  ACCESS PARAMETERS (RECORDS DELIMITED BY NEWLINE FIELDS TERMINATED BY ';')
  LOCATION ('manifest.edi')
)
REJECT LIMIT UNLIMITED;
