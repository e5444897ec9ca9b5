create or replace package body quay.pk_moves as
   -- constants
   gc_max constant pls_integer := 100;

   procedure trace (msg in varchar2) is pragma autonomous_transaction; begin insert into log_tab values (sysdate, msg); commit; end;

   function get_rate (p_dt date, p_cur varchar2) return number is
      l_rate number := 1;
   begin
      <<outer_block>>
      declare
         l_tmp number;
      begin
         select max (r.rate) keep (dense_rank last order by r.dt) into l_tmp
           from rates r where r.cur = p_cur and r.dt <= p_dt;
         l_rate := coalesce (l_tmp, l_rate);
      exception when no_data_found then null;
      end outer_block;
      return l_rate;
   end get_rate;

   procedure load (p_file varchar2) is
      type t_lines is table of varchar2 (4000) index by binary_integer;
      l_lines t_lines; i pls_integer := 0;
   begin
      for x in (select column_value c from table (pk_util.split (p_file, ';'))) loop
         i := i + 1; l_lines (i) := x.c;
      end loop;
      forall k in 1 .. l_lines.count
         insert into lines (no, txt) values (k, l_lines (k));
      execute immediate 'alter session set nls_date_format = ''YYYY-MM-DD''';
      execute immediate 'begin pk_moves.trace (:1); end;' using p_file;
      if sql%rowcount > gc_max then raise too_many_rows; end if;
   end;
end pk_moves;
/
select e.name, d.name, e.sal * 12 / nvl(e.days, 1) from emp e, dept d, (select dept_id, max(sal) ms from emp group by dept_id) m
where e.dept_id = d.id (+) and e.dept_id = m.dept_id and e.sal = m.ms and rownum <= 10;
update emp e set (sal, comm) = (select s.sal, s.comm from stage s where s.id = e.id) where exists (select 1 from stage s where s.id = e.id);
delete from emp where hired < add_months (trunc (sysdate), -12 * 10) and status in ('X', 'Y');
select to_char (sum (decode (grp, 'A', amt, 0)), '999G999D99') a, sum (decode (sign (amt - 100), 1, amt, 0)) b from x group by trunc (dt, 'Q') order by 1 desc nulls last;
with t as (select level lvl, trunc (sysdate) - level d from dual connect by level <= 31) select d, count (*) over (partition by to_char (d, 'D')) from t;
select * from (select a.*, row_number () over (partition by k order by dt desc) rn from tab a) where rn = 1;
insert into hist select h.*, sysdate, user from live h where h.upd_dt > (select nvl (max (run_dt), to_date ('01011900', 'DDMMYYYY')) from runs where job = 'HIST');
var x number
exec :x := 5
begin quay.pk_moves.load ('a;b'); commit; end;
/
