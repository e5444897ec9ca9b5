-- Crew lists, kept for the border police for ninety days.

CREATE TABLE crew_lists (
  crew_list_id    NUMBER(10)         NOT NULL,
  call_id         NUMBER(10)         NOT NULL,
  received_at     DATE               DEFAULT SYSDATE NOT NULL,
  checked_by      NUMBER(6),
  checked_at      DATE,
  CONSTRAINT crew_lists_pk PRIMARY KEY (crew_list_id)
) TABLESPACE &data_ts;

CREATE TABLE crew_members (
  crew_list_id    NUMBER(10)         NOT NULL,
  member_no       NUMBER(4)          NOT NULL,
  family_name     NVARCHAR2(60)      NOT NULL,
  given_names     NVARCHAR2(80),
  rank_code       VARCHAR2(10),
  nationality     CHAR(2)            NOT NULL,
  birth_date      DATE               NOT NULL,
  document_no     VARCHAR2(20)       ENCRYPT USING 'AES256',
  CONSTRAINT crew_members_pk PRIMARY KEY (crew_list_id, member_no)
) TABLESPACE &data_ts;

COMMENT ON TABLE crew_members IS 'Persons on a crew list';
