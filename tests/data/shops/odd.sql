set echo on feedback off verify off timing on
set sqlprompt "kb> "
whenever oserror exit 9
prompt =========== "start" ' ===========
column name format a20 heading 'It''s a name'
define p_schema=kb
@@helpers.sql one "two three"
accept answer prompt 'Go on? '
create table &p_schema..t1 (id number, txt varchar2(10)) -- trailing ' quote comment
/
create table &&p_schema..t2 as select * from &p_schema..t1 where 1=0;
/
alter table kb.t1 add (
  c1 date default sysdate, -- it's
  /* don't */ c2 number default 0 not null
);
comment on table kb.t1 is 'semi;colon and -- dashes';
insert into kb.t1 values (1, 'a;b');
insert into kb.t1 values (2, q'!it's; fine!');
create or replace view kb.v1 as
select t.id, -- comment with ; and '
       t.txt
  from kb.t1 t

 where t.id > 0
/
create or replace procedure kb.p1 as
  v varchar2(10) := 'x/y';
begin
  v := 'a
/
b';
  /*
  /
  */
  null;
end;
/
show errors procedure kb.p1
create or replace function kb.w1 wrapped
a000000
1
abcd
abcd
8
3d 75
xYz==
/
create or replace package kb.cc is
$IF $$debug $THEN
  procedure dbg;
$ELSE
  procedure rel;
$END
end;
/
exec kb.p1
execute dbms_output.put_line('x');
variable n number
begin :n := 5; end;
/
print n
grant select on kb.v1 to public;
declare
  l date;
begin
  select max(c1) into l from kb.t1;
  if l is null then raise_application_error(-20001,'x'); end if;
end;
/
spool off
exit success
