use cargo
go
create table dbo.consignee (
  cons_id    numeric(8,0) identity,
  cons_name  varchar(60) not null,
  region     char(2) null,
  credit     money default 0 null,
  is_blocked bit default 0,
  created    datetime default getdate() not null,
  primary key nonclustered (cons_id)
)
lock datarows
go
create table dbo.bill (
  bill_no   char(12) not null,
  cons_id   numeric(8,0) not null references consignee(cons_id),
  weight_kg float null,
  gross     numeric(14,2) default 0 not null,
  paid      numeric(14,2) default 0 not null,
  due_date  smalldatetime null,
  status    char(1) default 'O' not null check (status in ('O','P','X')),
  remark    text null,
  constraint bill_pk primary key clustered (bill_no)
) on 'default'
go
create table dbo.bill_log (log_id int identity, bill_no char(12), what varchar(30), who varchar(30) default user_name(), at datetime default getdate())
go
create nonclustered index ix_bill_cons on dbo.bill(cons_id, status)
go
create unique index ix_cons_name on consignee(cons_name, region) with ignore_dup_key
go
create view dbo.v_open_bill as
select b.bill_no, c.cons_name, open_amount = b.gross - b.paid, days = datediff(dd, b.due_date, getdate()),
       cat = case when b.gross > 10000 then 'big' when b.gross > 1000 then 'mid' else 'small' end
from bill b, consignee c
where b.cons_id *= c.cons_id and b.status = 'O'
go
create view dbo.v_region_sum as
select region = isnull(c.region, '??'), n = count(*), total = sum(b.gross), mean = convert(numeric(12,2), avg(b.gross))
from consignee c, bill b where c.cons_id = b.cons_id
group by isnull(c.region, '??') having count(*) > 0
go
create proc dbo.sp_pay_bill @bill_no char(12), @amount numeric(14,2), @left numeric(14,2) output
as
begin
  declare @paid numeric(14,2), @gross numeric(14,2)
  if @amount <= 0
  begin
    raiserror 20001 'amount must be positive'
    return -1
  end
  begin tran
  select @paid = paid, @gross = gross from bill holdlock where bill_no = @bill_no
  if @@rowcount = 0
  begin
    rollback tran
    print 'no bill %1!', @bill_no
    return -2
  end
  update bill set paid = paid + @amount, status = case when paid + @amount >= gross then 'P' else status end
   where bill_no = @bill_no
  if @@error != 0
  begin
    rollback tran
    return -3
  end
  insert bill_log (bill_no, what) values (@bill_no, 'paid ' + convert(varchar(20), @amount))
  commit tran
  select @left = @gross - @paid - @amount
  return 0
end
go
create procedure sp_list_overdue @region char(2) = null, @days int = 30 as
  set nocount on
  select b.bill_no, c.cons_name, b.due_date, late = datediff(day, b.due_date, getdate())
  from bill b join consignee c on c.cons_id = b.cons_id
  where b.status = 'O' and (@region is null or c.region = @region)
    and b.due_date < dateadd(dd, -@days, getdate())
  order by 4 desc, 1
go
create procedure sp_close_month @yr int, @mo int as
declare @b char(12), @g numeric(14,2), @p numeric(14,2), @n int, @from datetime, @to datetime
select @n = 0
select @from = convert(datetime, str(@yr,4) + right('0' + ltrim(str(@mo,2)), 2) + '01')
select @to = dateadd(mm, 1, @from)
declare cb cursor for select bill_no, gross, paid from bill where due_date >= @from and due_date < @to and status = 'O' for read only
open cb
fetch cb into @b, @g, @p
while (@@sqlstatus = 0)
begin
  if @g - @p < 1
  begin
    update bill set status = 'X' where bill_no = @b
    select @n = @n + 1
  end
  else if @g - @p > 100000
    insert into bill_log(bill_no, what) values (@b, 'review')
  fetch cb into @b, @g, @p
end
close cb
deallocate cursor cb
select closed = @n
return @n
go
create procedure sp_stats as
begin
  create table #s (region char(2) null, n int, total numeric(16,2) null)
  insert into #s select c.region, count(*), sum(b.gross) from consignee c, bill b where c.cons_id = b.cons_id group by c.region
  update #s set region = '--' where region is null
  select * from #s order by total desc
  select top 3 c.cons_name, sum(b.gross) tot into #t from bill b, consignee c where b.cons_id = c.cons_id group by c.cons_name order by 2 desc
  select cons_name, tot from #t
  drop table #s
  drop table #t
end
go
create procedure sp_rename @id numeric(8,0), @name varchar(60) as
  if exists (select 1 from consignee where upper(cons_name) = upper(@name) and cons_id <> @id)
  begin
    raiserror 20010 'name %1! is taken', @name
    return 1
  end
  update consignee set cons_name = ltrim(rtrim(@name)) where cons_id = @id
  if @@rowcount <> 1 raiserror 20011 'no such consignee'
go
create trigger tr_bill_u on bill for update as
begin
  if update(gross)
  begin
    insert bill_log(bill_no, what)
    select i.bill_no, 'gross ' + convert(varchar, d.gross) + ' -> ' + convert(varchar, i.gross)
    from inserted i, deleted d where i.bill_no = d.bill_no and i.gross <> d.gross
  end
  if exists (select * from inserted where paid < 0)
  begin
    raiserror 20002 'paid below zero'
    rollback transaction
  end
end
go
create trigger tr_cons_d on consignee for delete as
  if (select count(*) from bill b, deleted d where b.cons_id = d.cons_id) > 0
  begin
    rollback trigger with raiserror 20003 'consignee has bills'
  end
go
create procedure sp_batch @maxn int = 100 as
  declare @done int, @err int
  select @done = 0
  set rowcount @maxn
  while 1 = 1
  begin
    delete bill where status = 'X' and due_date < dateadd(yy, -7, getdate())
    select @err = @@error, @done = @done + @@rowcount
    if @err <> 0 or @done >= @maxn break
    if @done = 0 goto fin
    select @maxn = @maxn - 1
  end
fin:
  set rowcount 0
  return @done
go
create procedure sp_next_no @out char(12) output as
  declare @n int
  select @n = isnull(max(convert(int, substring(bill_no, 2, 11))), 0) + 1 from bill where bill_no like 'B[0-9]%'
  select @out = 'B' + replicate('0', 11 - char_length(convert(varchar(11), @n))) + convert(varchar(11), @n)
go
create function dbo.f_grade (@gross numeric(14,2)) returns varchar(10) as
begin
  declare @r varchar(10)
  if @gross is null select @r = 'none'
  else if @gross > 1000 select @r = 'A'
  else select @r = 'B'
  return @r
end
go
create procedure sp_search @pat varchar(30) as
declare @sql varchar(500)
select @sql = 'select bill_no, gross from bill where remark like ''%' + @pat + '%'''
exec (@sql)
go
create procedure sp_merge_cons @keep numeric(8,0), @gone numeric(8,0) as
begin
  save tran m
  update bill set cons_id = @keep where cons_id = @gone
  if @@error <> 0 begin rollback tran m return 1 end
  delete from consignee where cons_id = @gone
  select patindex('%x%', cons_name), charindex('a', cons_name), stuff(cons_name, 1, 1, 'Z'), reverse(cons_name), datename(mm, created), datepart(dw, created), convert(char(8), created, 112), convert(varchar(10), created, 103), str(credit, 10, 2), space(3), coalesce(region, 'x'), nullif(region, 'KB')
  from consignee where cons_id = @keep
end
go
