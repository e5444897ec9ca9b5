create table hr_dept (dept_no number(4) constraint pk_dept primary key, dname varchar2(30) not null, loc varchar2(30), budget number(12,2) default 0);
create table hr_emp (emp_no number(6) constraint pk_emp primary key, ename varchar2(30) not null, job varchar2(20), mgr number(6) references hr_emp, hired date default trunc(sysdate), sal number(9,2) check (sal >= 0), comm number(9,2), dept_no number(4) references hr_dept on delete set null, pic blob, cv clob, ts timestamp(3) default systimestamp);
create table hr_hist (id number primary key, emp_no number(6), old_sal number, new_sal number, changed date, by_user varchar2(30) default user);
create sequence hr_hist_seq cache 20;
create or replace type num_list as table of number;
/
create or replace package hr as
  subtype money_t is number(12,2);
  type emp_rec is record (emp_no hr_emp.emp_no%type, ename varchar2(60), total money_t := 0);
  type emp_tab is table of emp_rec index by binary_integer;
  type ref_c is ref cursor return hr_emp%rowtype;
  gc_max constant pls_integer := 100;
  g_last_error varchar2(4000);
  no_emp exception;
  pragma exception_init(no_emp, -20100);
  procedure give_raise(p_dept in hr_emp.dept_no%type default null, p_pct in number, p_changed out number);
  function total_comp(p_emp in number) return money_t;
  function total_comp(p_name in varchar2) return money_t;
  function staff(p_dept number) return sys_refcursor;
  procedure hire(p_name varchar2, p_job varchar2 := 'CLERK', p_mgr number := null, p_sal number := 1000, p_emp_no out number);
  procedure list_staff(p_dept number);
  function chain(p_emp number) return varchar2;
  function sum_list(p num_list) return number;
end hr;
/
create or replace package body hr as
  procedure log_error(p_msg in varchar2) is
  begin
    g_last_error := substr(p_msg, 1, 4000);
    dbms_output.put_line(to_char(sysdate, 'HH24:MI:SS') || ' ' || p_msg);
  end log_error;

  procedure give_raise(p_dept in hr_emp.dept_no%type default null, p_pct in number, p_changed out number) is
    cursor c is select e.rowid rid, e.sal, e.emp_no from hr_emp e where (p_dept is null or e.dept_no = p_dept) and nvl(e.comm, 0) < 100 for update;
    l_new hr_emp.sal%type;
  begin
    p_changed := 0;
    for r in c loop
      l_new := least(r.sal * (1 + p_pct / 100), 9999);
      if l_new = r.sal then continue; end if;
      update hr_emp set sal = l_new where current of c;
      insert into hr_hist(id, emp_no, old_sal, new_sal, changed) values (hr_hist_seq.nextval, r.emp_no, r.sal, l_new, sysdate);
      p_changed := p_changed + 1;
    end loop;
  exception
    when value_error then log_error('bad value'); raise;
    when others then
      log_error(sqlerrm);
      if sqlcode = -54 then p_changed := -1; else raise; end if;
  end give_raise;

  function total_comp(p_emp in number) return money_t is l money_t;
  begin
    select sal * 12 + nvl(comm, 0) into l from hr_emp where emp_no = p_emp;
    return l;
  exception when no_data_found then raise no_emp;
  end;

  function total_comp(p_name in varchar2) return money_t is l money_t;
  begin
    select sum(sal * 12 + nvl(comm, 0)) into l from hr_emp where upper(ename) like upper(p_name) || '%';
    return nvl(l, 0);
  end;

  function staff(p_dept number) return sys_refcursor is l_c sys_refcursor; l_sql varchar2(500);
  begin
    if p_dept is null then
      open l_c for select emp_no, ename from hr_emp order by ename;
    else
      l_sql := 'select emp_no, ename from hr_emp where dept_no = :d order by ename';
      open l_c for l_sql using p_dept;
    end if;
    return l_c;
  end;

  procedure hire(p_name varchar2, p_job varchar2 := 'CLERK', p_mgr number := null, p_sal number := 1000, p_emp_no out number) is
    l_cnt pls_integer;
  begin
    select count(*) into l_cnt from hr_emp where ename = p_name and rownum = 1;
    if l_cnt > 0 then raise_application_error(-20101, 'dup ' || p_name); end if;
    select nvl(max(emp_no), 0) + 1 into p_emp_no from hr_emp;
    insert into hr_emp (emp_no, ename, job, mgr, sal, hired) values (p_emp_no, initcap(p_name), p_job, p_mgr, p_sal, trunc(sysdate)) returning emp_no into p_emp_no;
  end;

  procedure list_staff(p_dept number) is
    l_tab emp_tab; l_i binary_integer; l_r emp_rec;
  begin
    for r in (select emp_no, ename, sal, row_number() over (order by sal desc) n from hr_emp where dept_no = p_dept) loop
      l_r.emp_no := r.emp_no; l_r.ename := r.ename; l_r.total := total_comp(r.emp_no);
      l_tab(r.n) := l_r;
    end loop;
    l_i := l_tab.first;
    while l_i is not null loop
      exit when l_i > gc_max;
      dbms_output.put_line(rpad(l_tab(l_i).ename, 20) || to_char(l_tab(l_i).total, '999,990.00'));
      l_i := l_tab.next(l_i);
    end loop;
  end;

  function chain(p_emp number) return varchar2 is l varchar2(1000);
  begin
    for r in (select ename, level lv from hr_emp start with emp_no = p_emp connect by nocycle emp_no = prior mgr order by level) loop
      l := l || case when r.lv > 1 then ' < ' end || r.ename;
    end loop;
    return l;
  end;

  function sum_list(p num_list) return number is l number := 0;
  begin
    if p is null or p.count = 0 then return 0; end if;
    for i in p.first .. p.last loop l := l + nvl(p(i), 0); end loop;
    return l;
  end;
end hr;
/
create or replace trigger hr_emp_biud before insert or update or delete on hr_emp for each row
declare
  l_budget number;
begin
  if deleting then
    if :old.job = 'BOSS' then raise_application_error(-20110, 'no'); end if;
    return;
  end if;
  if inserting and :new.emp_no is null then :new.emp_no := hr_hist_seq.nextval; end if;
  if updating('SAL') and :new.sal > 2 * :old.sal then :new.sal := 2 * :old.sal; end if;
  begin
    select budget into l_budget from hr_dept where dept_no = :new.dept_no;
    if l_budget < :new.sal then raise_application_error(-20111, 'over budget of ' || to_char(:new.dept_no)); end if;
  exception
    when no_data_found then null;
  end;
  :new.ts := systimestamp;
end;
/
create or replace procedure yearly(p_year in pls_integer) as
  type t_names is table of hr_emp.ename%type;
  type t_sals is table of hr_emp.sal%type;
  l_names t_names; l_sals t_sals; l_sum number := 0; l_txt clob;
  cursor c_e is select ename, sal from hr_emp where extract(year from hired) <= p_year order by 1;
begin
  open c_e;
  loop
    fetch c_e bulk collect into l_names, l_sals limit 50;
    for i in 1 .. l_names.count loop
      l_sum := l_sum + l_sals(i);
      l_txt := l_txt || l_names(i) || chr(10);
    end loop;
    exit when c_e%notfound;
  end loop;
  close c_e;
  update hr_dept d set budget = (select nvl(sum(sal), 0) * 1.1 from hr_emp e where e.dept_no = d.dept_no) where exists (select null from hr_emp e where e.dept_no = d.dept_no);
  delete from hr_hist where changed < add_months(trunc(sysdate, 'YYYY'), -12);
  if sql%rowcount > 0 then dbms_output.put_line(sql%rowcount || ' gone'); end if;
  insert into hr_hist (id, new_sal, changed) values (hr_hist_seq.nextval, l_sum, to_date('31.12.' || p_year, 'DD.MM.YYYY'));
  commit;
end;
/
create or replace view emp_view as select e.emp_no, e.ename, d.dname, nvl2(e.comm, 'Y', 'N') has_comm, round(months_between(sysdate, e.hired) / 12, 1) yrs, lag(e.sal) over (partition by e.dept_no order by e.hired) prev_sal, dense_rank() over (order by e.sal desc nulls last) rk, regexp_replace(e.ename, '[^A-Za-z]', '') clean, to_char(e.hired, 'Dy DD-MON-YY') h, instr(e.ename, 'a', 1, 2) i2, case when e.sal between 1 and 10 then 'low' else 'ok' end c, e.sal || '' s, trunc(e.sal, -2) t2, mod(e.emp_no, 7) m7, sign(e.sal - 10) sg, greatest(e.sal, nvl(e.comm, 0), 5) g from hr_emp e left join hr_dept d on e.dept_no = d.dept_no where e.ename not like 'X\_%' escape '\' and (e.mgr, e.dept_no) not in (select 0, 0 from dual) minus select null, null, null, null, null, null, null, null, null, null, null, null, null, null, null, null from dual where 1 = 0;
create or replace function business_days(p_from date, p_to date) return number is
  l_n number := 0; l_d date := p_from;
begin
  <<days>>
  loop
    exit days when l_d > p_to;
    if to_char(l_d, 'D') not in ('1', '7') then l_n := l_n + 1; end if;
    l_d := l_d + 1;
  end loop days;
  return l_n;
end business_days;
/
create or replace procedure swap(a in out nocopy number, b in out nocopy number) is t number; begin t := a; a := b; b := t; end;
/
create or replace procedure call_all is
  x number := 1; y number := 2; n number; c sys_refcursor; v_no hr_emp.emp_no%type; v_nm hr_emp.ename%type;
begin
  swap(x, y);
  hr.give_raise(p_pct => 3, p_changed => n);
  hr.hire('ada', p_emp_no => n);
  c := hr.staff(null);
  loop
    fetch c into v_no, v_nm;
    exit when c%notfound;
    if hr.total_comp(v_no) > 10 and hr.total_comp(p_name => v_nm) > 5 then dbms_output.put_line(hr.chain(v_no)); end if;
  end loop;
  close c;
  n := hr.sum_list(num_list(1, 2, 3));
  yearly(extract(year from sysdate));
  if business_days(sysdate, sysdate + 7) > 5 then null; end if;
exception when hr.no_emp then dbms_output.put_line(hr.g_last_error);
end;
/
