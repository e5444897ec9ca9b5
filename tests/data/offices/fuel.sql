create table tank (tank_id int identity, name varchar(30) not null, litres numeric(10,1) default 0, filled datetime null, kind char(1) check (kind in ('D','P')), constraint tank_pk primary key (tank_id))
go
create table fill_log (tank_id int not null, litres numeric(10,1) null, at_time datetime default getdate() not null, who varchar(30) default user_name() null)
go
create procedure fill_tank @tank int, @litres numeric(10,1), @rest numeric(10,1) output as
begin
  declare @now numeric(10,1), @msg varchar(100)
  select @now = litres from tank where tank_id = @tank
  if @@rowcount = 0
  begin
    raiserror 20001 "no such tank"
    return -1
  end
  if @now + @litres > 5000
  begin
    select @msg = "tank " + convert(varchar(10), @tank) + " would run over"
    print @msg
    return -2
  end
  begin tran
  update tank set litres = litres + @litres, filled = getdate() where tank_id = @tank
  if @@error != 0 begin rollback tran return -3 end
  insert fill_log (tank_id, litres) values (@tank, @litres)
  commit tran
  select @rest = 5000 - litres from tank where tank_id = @tank
  select name, litres from tank where tank_id = @tank
  return 0
end
go
create procedure monthly @year int, @month int as
select t.name, sum(l.litres) total, datepart(mm, l.at_time) m, convert(char(8), l.at_time, 112) d from tank t, fill_log l where l.tank_id =* t.tank_id and datepart(yy, l.at_time) = @year group by t.name, datepart(mm, l.at_time), convert(char(8), l.at_time, 112) order by 1
compute sum(sum(l.litres))
go
create procedure weekly as
begin
  set rowcount 100
  select tank_id, name, isnull(litres, 0) l, str(litres, 8, 1) s, dateadd(dd, 7, filled) nxt, datename(dw, filled) dn, patindex('%a%', name) p, char_length(name) cl, substring(name, 1, 3) n3, right(name, 2) r2, upper(name) u into #w from tank where filled is not null
  set rowcount 0
  select * from #w where l > 0 order by nxt desc
  drop table #w
end
go
create trigger fill_ins on fill_log for insert as
if exists (select 1 from inserted where litres <= 0)
begin
  raiserror 20002 "litres must be positive"
  rollback transaction
end
go
create procedure walk as
begin
  declare @id int, @l numeric(10,1), @n int
  declare c cursor for select tank_id, litres from tank for read only
  select @n = 0
  open c
  fetch c into @id, @l
  while (@@sqlstatus = 0)
  begin
    if @l < 100 select @n = @n + 1
    fetch c into @id, @l
  end
  close c
  deallocate cursor c
  return @n
end
go
