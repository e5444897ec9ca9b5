-- What the authority charges, by class, service and date.

CREATE TABLE services (
  service_code    VARCHAR2(10)       NOT NULL,
  name            VARCHAR2(80)       NOT NULL,
  unit_code       VARCHAR2(6)        NOT NULL,
  vat_rate        NUMBER(5,2)        DEFAULT 20 NOT NULL,
  account_no      VARCHAR2(12)       NOT NULL,
  is_active       CHAR(1)            DEFAULT 'Y' NOT NULL,
  CONSTRAINT services_pk PRIMARY KEY (service_code),
  CONSTRAINT services_vat_ck CHECK (vat_rate BETWEEN 0 AND 100)
) TABLESPACE &data_ts;

COMMENT ON TABLE services IS 'Services that can be charged';

CREATE TABLE tariffs (
  tariff_id       NUMBER(8)          NOT NULL,
  service_code    VARCHAR2(10)       NOT NULL,
  tariff_class    CHAR(1)            NOT NULL,
  valid_from      DATE               NOT NULL,
  valid_until     DATE,
  unit_price      NUMBER(12,4)       NOT NULL,
  minimum_amount  NUMBER(12,2)       DEFAULT 0 NOT NULL,
  currency_code   CHAR(3)            DEFAULT 'KBD' NOT NULL,
  formula         VARCHAR2(400),
  CONSTRAINT tariffs_pk PRIMARY KEY (tariff_id),
  CONSTRAINT tariffs_uk UNIQUE (service_code, tariff_class, valid_from),
  CONSTRAINT tariffs_dates_ck CHECK (valid_until IS NULL OR valid_until > valid_from)
) TABLESPACE &data_ts;

COMMENT ON TABLE tariffs IS 'Prices by service, class and date';
COMMENT ON COLUMN tariffs.formula IS 'Expression over gt, loa and days, where a price alone is not enough';

CREATE TABLE discounts (
  discount_id     NUMBER(8)          NOT NULL,
  agent_id        NUMBER(8),
  type_code       VARCHAR2(8),
  service_code    VARCHAR2(10),
  calls_per_year  NUMBER(4),
  percent_off     NUMBER(5,2)        NOT NULL,
  valid_from      DATE               NOT NULL,
  valid_until     DATE               DEFAULT DATE '2099-12-31' NOT NULL,
  CONSTRAINT discounts_pk PRIMARY KEY (discount_id),
  CONSTRAINT discounts_percent_ck CHECK (percent_off > 0 AND percent_off <= 100)
) TABLESPACE &data_ts;

COMMENT ON TABLE discounts IS 'Reductions for agents, kinds of vessels and frequent callers';
