CREATE TABLE "Odd Names" (
  id NUMBER GENERATED ALWAYS AS IDENTITY (START WITH 100 CACHE 20),
  "order" VARCHAR2(10 CHAR) DEFAULT 'x' NOT NULL,
  limit NUMBER(5,2),
  total NUMBER(7,2) AS (limit * 2),
  seen DATE DEFAULT SYSDATE + 1,
  CONSTRAINT odd_pk PRIMARY KEY (id),
  CONSTRAINT odd_ck CHECK (NVL(limit, 0) < 100)
);
COMMENT ON TABLE "Odd Names" IS 'It''s odd';
CREATE INDEX odd_ix ON "Odd Names" (UPPER("order"), limit DESC) TABLESPACE x;
CREATE SEQUENCE big MAXVALUE 9999999999999999999999999999 ORDER;
CREATE SYNONYM boats FOR vessels;
-- becomes ----------------------------------------------------------
-- sequence.big: drafted
CREATE SEQUENCE big MAXVALUE 9223372036854775807;

-- table.Odd Names: drafted
CREATE TABLE "Odd Names" (
  id bigint GENERATED ALWAYS AS IDENTITY (START WITH 100 CACHE 20),
  "order" varchar(10) DEFAULT 'x' NOT NULL,
  "limit" numeric(5,2),
  total numeric(7,2) GENERATED ALWAYS AS ("limit" * 2) STORED,
  seen timestamp(0) DEFAULT clock_timestamp()::timestamp(0) + interval '1 day'
);
COMMENT ON TABLE "Odd Names" IS 'It''s odd';

-- synonym.boats: confirm
CREATE OR REPLACE VIEW boats AS
SELECT * FROM vessels;

-- constraint.odd_pk: as-is
ALTER TABLE "Odd Names" ADD CONSTRAINT odd_pk PRIMARY KEY (id);

-- constraint.odd_ck: as-is
ALTER TABLE "Odd Names" ADD CONSTRAINT odd_ck CHECK (COALESCE("limit", 0) < 100);

-- index.odd_ix: drafted
CREATE INDEX odd_ix ON "Odd Names" ((UPPER("order")), "limit" DESC);
