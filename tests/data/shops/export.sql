--------------------------------------------------------
--  File created - Monday-November-23-2026
--------------------------------------------------------
--------------------------------------------------------
--  DDL for Sequence GATE_SEQ
--------------------------------------------------------

   CREATE SEQUENCE  "QUAY"."GATE_SEQ"  MINVALUE 1 MAXVALUE 9999999999999999999999999999 INCREMENT BY 1 START WITH 4121 CACHE 20 NOORDER  NOCYCLE  NOKEEP  NOSCALE  GLOBAL ;
--------------------------------------------------------
--  DDL for Table GATES
--------------------------------------------------------

  CREATE TABLE "QUAY"."GATES"
   (	"GATE_ID" NUMBER(*,0),
	"CODE" VARCHAR2(10 BYTE) COLLATE "USING_NLS_COMP",
	"OPENED" DATE DEFAULT sysdate,
	"WIDTH" FLOAT(126),
	"STATE" CHAR(1 BYTE) DEFAULT 'O',
	"REMARK" CLOB,
	"USER" VARCHAR2(30 BYTE),
	"LIMIT" NUMBER(5,0)
   )  DEFAULT COLLATION "USING_NLS_COMP" SEGMENT CREATION IMMEDIATE
  PCTFREE 10 PCTUSED 40 INITRANS 1 MAXTRANS 255
 NOCOMPRESS LOGGING
  STORAGE(INITIAL 65536 NEXT 1048576 MINEXTENTS 1 MAXEXTENTS 2147483645
  PCTINCREASE 0 FREELISTS 1 FREELIST GROUPS 1
  BUFFER_POOL DEFAULT FLASH_CACHE DEFAULT CELL_FLASH_CACHE DEFAULT)
  TABLESPACE "USERS"
 LOB ("REMARK") STORE AS SECUREFILE (
  TABLESPACE "USERS" ENABLE STORAGE IN ROW 4000 CHUNK 8192
  NOCACHE LOGGING  NOCOMPRESS  KEEP_DUPLICATES
  STORAGE(INITIAL 106496 NEXT 1048576 MINEXTENTS 1 MAXEXTENTS 2147483645)) ;

   COMMENT ON COLUMN "QUAY"."GATES"."CODE" IS 'Code on the sign';
REM INSERTING into QUAY.GATES
SET DEFINE OFF;
Insert into QUAY.GATES (GATE_ID,CODE,OPENED,WIDTH,STATE) values (1,'N1',to_date('01-JAN-20','DD-MON-RR'),4.5,'O');
Insert into QUAY.GATES (GATE_ID,CODE,OPENED,WIDTH,STATE) values (2,'N2',to_date('2020-01-05','YYYY-MM-DD'),3,'C');
--------------------------------------------------------
--  DDL for Index GATES_PK
--------------------------------------------------------

  CREATE UNIQUE INDEX "QUAY"."GATES_PK" ON "QUAY"."GATES" ("GATE_ID")
  PCTFREE 10 INITRANS 2 MAXTRANS 255 COMPUTE STATISTICS
  STORAGE(INITIAL 65536 NEXT 1048576 MINEXTENTS 1 MAXEXTENTS 2147483645) TABLESPACE "USERS" ;
  CREATE INDEX "QUAY"."GATES_FX" ON "QUAY"."GATES" (UPPER("CODE"), NVL("STATE",'O')) ;
--------------------------------------------------------
--  DDL for Trigger GATES_TRG
--------------------------------------------------------

  CREATE OR REPLACE EDITIONABLE TRIGGER "QUAY"."GATES_TRG"
   before insert on "QUAY"."GATES"
   for each row
begin
   if inserting then
      if :NEW."GATE_ID" is null then
         select GATE_SEQ.nextval into :NEW."GATE_ID" from dual;
      end if;
   end if;
end;

/
ALTER TRIGGER "QUAY"."GATES_TRG" ENABLE;
--------------------------------------------------------
--  DDL for Procedure OPEN_GATE
--------------------------------------------------------
set define off;

  CREATE OR REPLACE EDITIONABLE PROCEDURE "QUAY"."OPEN_GATE" (p_gate in number, p_force in boolean default false)
is
  cursor cur_gate (pc_id number) is
    select g.*, rowid rid from gates g where g.gate_id = pc_id for update of state;
  rec cur_gate%rowtype;
  v_msg varchar2(4000);
  v_cnt pls_integer;
  ex_busy exception;
  pragma exception_init (ex_busy, -54);
begin
  open cur_gate (p_gate);
  fetch cur_gate into rec;
  if cur_gate%notfound then
    close cur_gate;
    raise_application_error (-20500, 'Gate '||p_gate||' not found');
  end if;
  close cur_gate;
  select count(1) into v_cnt from gates where state='O' and opened >= trunc(sysdate)-30 and opened < trunc(sysdate, 'MONTH');
  v_msg := case when v_cnt > 0 then v_cnt || ' open' else null end;
  if p_force or rec.state != 'O' then
     update gates set state = 'O', opened = sysdate where gate_id = rec.gate_id;
     dbms_output.put_line (substr (v_msg, 1, 255));
  end if;
exception
  when ex_busy then
    v_msg := sqlerrm;
    dbms_output.put_line ('busy: ' || v_msg);
  when others then
    dbms_output.put_line (dbms_utility.format_error_backtrace);
    raise;
end open_gate;

/
--------------------------------------------------------
--  DDL for Function GATE_AGE
--------------------------------------------------------

  CREATE OR REPLACE EDITIONABLE FUNCTION "QUAY"."GATE_AGE" (p_id gates.gate_id%type) return number deterministic as
  v_days number;
begin
  select round(sysdate - opened) into v_days from gates where gate_id = p_id;
  return nvl(v_days,-1);
exception when no_data_found then return null;
end;

/
--------------------------------------------------------
--  Constraints for Table GATES
--------------------------------------------------------

  ALTER TABLE "QUAY"."GATES" MODIFY ("CODE" NOT NULL ENABLE);
  ALTER TABLE "QUAY"."GATES" MODIFY ("GATE_ID" CONSTRAINT "NN1" NOT NULL ENABLE);
  ALTER TABLE "QUAY"."GATES" ADD CONSTRAINT "GATES_PK" PRIMARY KEY ("GATE_ID")
  USING INDEX PCTFREE 10 INITRANS 2 MAXTRANS 255 COMPUTE STATISTICS
  STORAGE(INITIAL 65536 NEXT 1048576 MINEXTENTS 1 MAXEXTENTS 2147483645
  PCTINCREASE 0 FREELISTS 1 FREELIST GROUPS 1
  BUFFER_POOL DEFAULT FLASH_CACHE DEFAULT CELL_FLASH_CACHE DEFAULT)
  TABLESPACE "USERS"  ENABLE;
  ALTER TABLE "QUAY"."GATES" ADD CONSTRAINT "GATES_CK" CHECK ("STATE" in ('O','C')) ENABLE;
  CREATE OR REPLACE FORCE EDITIONABLE VIEW "QUAY"."V_GATES" ("GATE_ID", "LABEL", "USER") DEFAULT COLLATION "USING_NLS_COMP"  AS
  select g.gate_id, g.code||'-'||to_char(g.opened,'DD.MM.YYYY'), g."USER"
from gates g
where g.limit is null or g.limit > 5
/
  GRANT SELECT ON "QUAY"."V_GATES" TO "READER";
  CREATE OR REPLACE NONEDITIONABLE SYNONYM "QUAY"."TORE" FOR "QUAY"."GATES";
