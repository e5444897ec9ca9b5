-- Reference tables: small, seldom changed, read by everything.

CREATE TABLE countries (
  country_code   CHAR(2)            NOT NULL,
  name           VARCHAR2(60)       NOT NULL,
  is_member      CHAR(1)            DEFAULT 'N' NOT NULL,
  CONSTRAINT countries_pk PRIMARY KEY (country_code),
  CONSTRAINT countries_member_ck CHECK (is_member IN ('Y', 'N'))
) TABLESPACE &data_ts;

COMMENT ON TABLE countries IS 'Countries, with the flag for members of the customs union';
COMMENT ON COLUMN countries.is_member IS 'Y for members of the customs union';

CREATE TABLE currencies (
  currency_code  CHAR(3)            NOT NULL,
  name           VARCHAR2(40)       NOT NULL,
  decimals       NUMBER(1)          DEFAULT 2 NOT NULL,
  CONSTRAINT currencies_pk PRIMARY KEY (currency_code)
) TABLESPACE &data_ts;

COMMENT ON TABLE currencies IS 'Currencies in which invoices may be written';

CREATE TABLE exchange_rates (
  currency_code  CHAR(3)            NOT NULL,
  valid_from     DATE               NOT NULL,
  rate           NUMBER(18,8)       NOT NULL,
  source_note    VARCHAR2(200 BYTE),
  CONSTRAINT exchange_rates_pk PRIMARY KEY (currency_code, valid_from),
  CONSTRAINT exchange_rates_rate_ck CHECK (rate > 0)
) TABLESPACE &data_ts PCTFREE 5 STORAGE (INITIAL 64K NEXT 64K);

COMMENT ON TABLE exchange_rates IS 'Daily rates against the authority''s own currency';
COMMENT ON COLUMN exchange_rates.rate IS 'Units of own currency for one unit';

CREATE TABLE vessel_types (
  type_code      VARCHAR2(8)        NOT NULL,
  name           VARCHAR2(60)       NOT NULL,
  tariff_class   CHAR(1)            NOT NULL,
  needs_pilot    CHAR(1)            DEFAULT 'Y' NOT NULL,
  CONSTRAINT vessel_types_pk PRIMARY KEY (type_code),
  CONSTRAINT vessel_types_class_ck CHECK (tariff_class IN ('A', 'B', 'C', 'X')),
  CONSTRAINT vessel_types_pilot_ck CHECK (needs_pilot IN ('Y', 'N'))
) TABLESPACE &data_ts;

COMMENT ON TABLE vessel_types IS 'Kinds of vessels';
COMMENT ON COLUMN vessel_types.tariff_class IS 'Class under which dues are computed';

CREATE TABLE cargo_types (
  cargo_code     VARCHAR2(8)        NOT NULL,
  name           VARCHAR2(80)       NOT NULL,
  is_dangerous   CHAR(1)            DEFAULT 'N' NOT NULL,
  hazard_class   VARCHAR2(6),
  dues_per_ton   NUMBER(10,4)       DEFAULT 0 NOT NULL,
  CONSTRAINT cargo_types_pk PRIMARY KEY (cargo_code),
  CONSTRAINT cargo_types_hazard_ck CHECK (is_dangerous = 'N' OR hazard_class IS NOT NULL)
) ORGANIZATION INDEX;

COMMENT ON TABLE cargo_types IS 'Kinds of cargo with dues by ton';

CREATE TABLE staff (
  staff_id       NUMBER(6)          NOT NULL,
  login          VARCHAR2(30)       NOT NULL,
  full_name      VARCHAR2(80 CHAR)  NOT NULL,
  email          VARCHAR2(120),
  role_code      VARCHAR2(10)       NOT NULL,
  manager_id     NUMBER(6),
  hired_on       DATE               DEFAULT TRUNC(SYSDATE) NOT NULL,
  left_on        DATE,
  home_address   address_t,
  CONSTRAINT staff_pk PRIMARY KEY (staff_id),
  CONSTRAINT staff_login_uk UNIQUE (login),
  CONSTRAINT staff_dates_ck CHECK (left_on IS NULL OR left_on >= hired_on)
) TABLESPACE &data_ts;

COMMENT ON TABLE staff IS 'Staff of the authority';
COMMENT ON COLUMN staff.manager_id IS 'Whom the person reports to';
COMMENT ON COLUMN staff.left_on IS 'Last day of work, empty while employed';

CREATE TABLE agents (
  agent_id       NUMBER(8)          NOT NULL,
  name           VARCHAR2(100 CHAR) NOT NULL,
  short_name     VARCHAR2(12)       NOT NULL,
  vat_number     VARCHAR2(20),
  credit_limit   NUMBER(12,2)       DEFAULT 0 NOT NULL,
  payment_days   NUMBER(3)          DEFAULT 30 NOT NULL,
  status         CHAR(1)            DEFAULT 'A' NOT NULL,
  remarks        VARCHAR2(2000),
  created_at     DATE               DEFAULT SYSDATE NOT NULL,
  created_by     VARCHAR2(30)       DEFAULT USER NOT NULL,
  CONSTRAINT agents_pk PRIMARY KEY (agent_id),
  CONSTRAINT agents_short_uk UNIQUE (short_name),
  CONSTRAINT agents_status_ck CHECK (status IN ('A', 'S', 'C')),
  CONSTRAINT agents_credit_ck CHECK (credit_limit >= 0)
) TABLESPACE &data_ts;

COMMENT ON TABLE agents IS 'Ship agents, who pay the dues';
COMMENT ON COLUMN agents.status IS 'A active, S stopped, C closed';
COMMENT ON COLUMN agents.payment_days IS 'Days until an invoice is due';

CREATE TABLE settings (
  setting_name   VARCHAR2(40)       NOT NULL,
  setting_value  VARCHAR2(400),
  changed_at     TIMESTAMP(6)       DEFAULT SYSTIMESTAMP NOT NULL,
  changed_by     VARCHAR2(30)       DEFAULT USER NOT NULL,
  CONSTRAINT settings_pk PRIMARY KEY (setting_name)
) TABLESPACE &data_ts;

COMMENT ON TABLE settings IS 'Settings of the system by name';
