-- classic PL/SQL of an older shop
create table items (item_no number(8) not null, descr varchar2(80), uom char(3) default 'PCE', qoh number(12,3) default 0, std_cost number(14,4), class_cd varchar2(4), last_move date, active char(1) default 'Y' check (active in ('Y','N')));
alter table items add constraint items_pk primary key (item_no);
create unique index items_descr_ux on items (lower(descr));
create table moves (move_id number(12), item_no number(8) references items, qty number(12,3), mtype varchar2(3), mdate date default sysdate, ref varchar2(30), userid varchar2(30) default user);
alter table moves add (constraint moves_pk primary key (move_id), constraint moves_type_ck check (mtype in ('REC','ISS','ADJ')));
create table classes (class_cd varchar2(4) primary key, parent_cd varchar2(4), title varchar2(40), markup number(5,2));
create table errors (err_no number, err_text varchar2(2000), err_when date, err_where varchar2(60));
create sequence moves_s start with 1 nocache;
create or replace procedure log_error(p_where in varchar2, p_text in varchar2) is
  pragma autonomous_transaction;
begin
  insert into errors values (sqlcode, substr(p_text, 1, 2000), sysdate, p_where);
  commit;
end log_error;
/
create or replace function qty_on_hand(p_item in items.item_no%type) return number is
  v_qty items.qoh%type;
begin
  select qoh into v_qty from items where item_no = p_item;
  return nvl(v_qty, 0);
exception
  when no_data_found then
    return null;
end qty_on_hand;
/
create or replace procedure post_move(
  p_item   in number,
  p_qty    in number,
  p_type   in varchar2,
  p_ref    in varchar2 default null,
  p_result out varchar2)
is
  v_item items%rowtype;
  v_sign number(1);
  bad_type exception;
  cursor c_item is select * from items where item_no = p_item for update of qoh nowait;
begin
  p_result := 'OK';
  if p_type = 'REC' then v_sign := 1;
  elsif p_type = 'ISS' then v_sign := -1;
  elsif p_type = 'ADJ' then v_sign := sign(p_qty);
  else raise bad_type;
  end if;
  open c_item;
  fetch c_item into v_item;
  if c_item%notfound then
    close c_item;
    p_result := 'NO ITEM ' || to_char(p_item);
    return;
  end if;
  if v_item.qoh + v_sign * abs(p_qty) < 0 then
    close c_item;
    raise_application_error(-20100, 'Stock of ' || v_item.descr || ' would be negative', true);
  end if;
  update items set qoh = qoh + v_sign * abs(p_qty), last_move = sysdate where current of c_item;
  close c_item;
  insert into moves (move_id, item_no, qty, mtype, ref) values (moves_s.nextval, p_item, v_sign * abs(p_qty), p_type, p_ref);
exception
  when bad_type then
    p_result := 'BAD TYPE ' || p_type;
  when others then
    if c_item%isopen then close c_item; end if;
    raise;
end post_move;
/
create or replace function class_path(p_class varchar2, p_sep varchar2 default '>') return varchar2 is
  v_path varchar2(400);
begin
  for r in (select title, level lv from classes start with class_cd = p_class connect by class_cd = prior parent_cd order by level desc) loop
    v_path := v_path || case when v_path is not null then p_sep end || r.title;
  end loop;
  return v_path;
end;
/
create or replace procedure revalue(p_class varchar2, p_pct number, p_count out pls_integer) as
  type num_tab is table of number index by binary_integer;
  v_items num_tab;
  v_cost num_tab;
  i binary_integer := 0;
begin
  for r in (select item_no, std_cost from items where class_cd = p_class and active = 'Y') loop
    i := i + 1;
    v_items(i) := r.item_no;
    v_cost(i) := round(r.std_cost * (1 + p_pct / 100), 4);
  end loop;
  if v_items.count > 0 then
    forall k in v_items.first .. v_items.last
      update items set std_cost = v_cost(k) where item_no = v_items(k);
  end if;
  p_count := v_items.count;
end revalue;
/
create or replace function abc_class(p_item number) return char is
  v_share number;
begin
  select sum(case when m.item_no = p_item then m.qty * i.std_cost else 0 end) / nullif(sum(m.qty * i.std_cost), 0)
    into v_share from moves m, items i where m.item_no = i.item_no and m.mtype = 'ISS' and m.mdate >= add_months(trunc(sysdate, 'mm'), -12);
  if v_share >= .7 then return 'A';
  elsif v_share >= .2 then return 'B';
  end if;
  return 'C';
end;
/
create or replace procedure monthly_totals(p_year number) is
  v_line varchar2(200);
  v_grand number := 0;
begin
  dbms_output.enable(1000000);
  for m in 1 .. 12 loop
    declare
      v_sum number;
    begin
      select nvl(sum(qty), 0) into v_sum from moves where mdate >= to_date('01.' || lpad(m, 2, '0') || '.' || p_year, 'dd.mm.yyyy')
        and mdate < add_months(to_date('01.' || lpad(m, 2, '0') || '.' || p_year, 'dd.mm.yyyy'), 1);
      v_line := rpad(to_char(to_date(m, 'mm'), 'Month'), 12) || to_char(v_sum, '999g999d99');
      dbms_output.put_line(v_line);
      v_grand := v_grand + v_sum;
    end;
  end loop;
  dbms_output.put_line('Total ' || v_grand);
end;
/
create or replace function find_item(p_text varchar2) return sys_refcursor is
  c sys_refcursor;
  v_where varchar2(500) := ' where active = ''Y''';
begin
  if p_text is not null then
    v_where := v_where || ' and lower(descr) like lower(:t) || ''%''';
    open c for 'select item_no, descr from items' || v_where || ' order by descr' using p_text;
  else
    open c for select item_no, descr from items where active = 'Y';
  end if;
  return c;
end;
/
create or replace procedure retry_post(p_item number, p_qty number) is
  v_try number := 0;
  v_res varchar2(100);
begin
  <<again>>
  begin
    v_try := v_try + 1;
    post_move(p_item => p_item, p_qty => p_qty, p_type => 'ISS', p_result => v_res);
    if v_res <> 'OK' then
      log_error('retry_post', v_res);
    end if;
  exception
    when others then
      if v_try < 3 then goto again; end if;
      log_error('retry_post', sqlerrm);
  end;
end;
/
create or replace trigger moves_bi before insert on moves for each row
begin
  if :new.move_id is null then
    :new.move_id := moves_s.nextval;
  end if;
  :new.userid := nvl(:new.userid, sys_context('userenv', 'session_user'));
end;
/
create or replace trigger items_ad after delete on items for each row
declare
  n number;
begin
  select count(*) into n from classes where class_cd = :old.class_cd;
  if n = 0 then
    insert into errors (err_no, err_text, err_when) values (-1, 'item ' || :old.item_no || ' had no class', sysdate);
  end if;
end;
/
create or replace view v_stock as
select i.item_no, i.descr, i.qoh, round(i.qoh * i.std_cost, 2) value, c.title class,
  (select max(mdate) from moves m where m.item_no = i.item_no) last_move,
  case when i.qoh <= 0 then 'OUT' when i.qoh < 10 then 'LOW' end flag, trunc(sysdate) - trunc(i.last_move) days_idle,
  greatest(nvl(i.qoh, 0), 0) pos, substr(i.descr, -5) tail, initcap(i.descr) nice, translate(i.descr, 'äöü', 'aou') plain,
  to_number(substr(i.class_cd, 2)) cls_no, nullif(i.uom, 'PCE') uom, rownum rn, i.rowid rid
from items i left join classes c using (class_cd) where i.active = 'Y' and exists (select null from moves m where m.item_no = i.item_no);
create or replace view v_turn (item_no, y, m, qty) as
select item_no, to_char(mdate, 'yyyy'), to_char(mdate, 'mm'), sum(qty) from moves group by item_no, to_char(mdate, 'yyyy'), to_char(mdate, 'mm')
union all select item_no, 'ALL', null, sum(qty) from moves group by item_no minus select 0, 'x', 'y', 0 from dual;
create or replace package util as
  function is_number(p varchar2) return boolean;
  function split(p_list varchar2, p_n pls_integer, p_sep varchar2 := ',') return varchar2;
  procedure assert(p_cond boolean, p_msg varchar2);
  function nvl_sum(a number, b number := 0, c number := 0) return number;
  function elapsed(t1 timestamp, t2 timestamp) return number;
end util;
/
create or replace package body util as
  function is_number(p varchar2) return boolean is
    n number;
  begin
    n := to_number(p);
    return true;
  exception when value_error or invalid_number then
    return false;
  end;
  function split(p_list varchar2, p_n pls_integer, p_sep varchar2 := ',') return varchar2 is
    b pls_integer; e pls_integer;
  begin
    if p_n = 1 then b := 1; else b := instr(p_list, p_sep, 1, p_n - 1) + length(p_sep); end if;
    e := instr(p_list || p_sep, p_sep, 1, p_n);
    if e = 0 then return null; end if;
    return trim(substr(p_list, b, e - b));
  end;
  procedure assert(p_cond boolean, p_msg varchar2) is
  begin
    if not nvl(p_cond, false) then raise_application_error(-20999, p_msg); end if;
  end;
  function nvl_sum(a number, b number := 0, c number := 0) return number is begin return nvl(a, 0) + nvl(b, 0) + nvl(c, 0); end;
  function elapsed(t1 timestamp, t2 timestamp) return number is
    d interval day to second := t2 - t1;
  begin
    return extract(day from d) * 86400 + extract(hour from d) * 3600 + extract(minute from d) * 60 + extract(second from d);
  end;
end util;
/
create or replace procedure export_items(p_dir varchar2) is
  f utl_file.file_type;
begin
  f := utl_file.fopen(p_dir, 'items.csv', 'w');
  for r in (select item_no, descr from items) loop
    utl_file.put_line(f, r.item_no || ';' || r.descr);
  end loop;
  utl_file.fclose(f);
end;
/
begin
  insert into classes values ('A', null, 'All', 0);
  insert into classes values ('B', 'A', 'Bolts', 12.5);
  commit;
end;
/
