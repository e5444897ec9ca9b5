create table Orders (OrderNo int not null identity(1000,1), CustCode varchar(12) not null, OrderDate smalldatetime not null constraint df_od default (getdate()), Total numeric(12,2) null, Flags int not null default 0, Ref uniqueidentifier rowguidcol default newsequentialid(), constraint pk_Orders primary key nonclustered (OrderNo))
go
create table OrderLines (OrderNo int not null references Orders, LineNum smallint not null, Item varchar(30) not null, Qty real not null, Price smallmoney not null, Amount as (Qty * Price) persisted, primary key (OrderNo, LineNum))
go
create table Customers (CustCode varchar(12) primary key, Name nvarchar(80), Region char(2), CreditLimit money default 500, Balance money default 0, LastOrder datetime null, Notes ntext null, RowVer timestamp)
go
create unique index ux_cust_name on Customers(Name) where Name is not null
go
create type dbo.LineList as table (LineNum smallint primary key, Item varchar(30), Qty real, Price smallmoney)
go
create view OpenBalances with encryption as select c.CustCode, c.Name, Balance = isnull(c.Balance,0), DaysSince = datediff(dd, c.LastOrder, getdate()), Rank = rank() over (partition by Region order by Balance desc), Share = c.Balance * 100.0 / nullif(sum(c.Balance) over (), 0) from Customers c where c.Balance <> 0
go
create procedure AddOrder (@Cust varchar(12), @Lines dbo.LineList readonly, @No int = null output)
as
set nocount on
set xact_abort on
declare @err int, @rows int, @limit money, @sum money
if not exists (select * from Customers where CustCode = @Cust)
begin
  raiserror (N'Customer %s unknown (%d lines)', 16, 1, @Cust, 3)
  return 1
end
select @limit = CreditLimit - Balance from Customers with (updlock) where CustCode = @Cust
select @sum = sum(Qty * Price) from @Lines
if @sum > @limit return 2
begin transaction
insert Orders (CustCode, Total) values (@Cust, @sum)
select @No = @@identity, @err = @@error
if @err != 0 goto bad
insert into OrderLines (OrderNo, LineNum, Item, Qty, Price) select @No, LineNum, Item, Qty, Price from @Lines order by LineNum
select @rows = @@rowcount
if @rows = 0 goto bad
update Customers set Balance = Balance + @sum, LastOrder = current_timestamp where CustCode = @Cust
commit transaction
return 0
bad:
if @@trancount > 0 rollback transaction
return 3
go
create function Quarter(@d datetime) returns char(6) as begin return cast(year(@d) as char(4)) + 'Q' + cast(datepart(qq, @d) as char(1)) end
go
create function LastDayOf(@d datetime) returns datetime as begin return dateadd(ms, -3, dateadd(mm, datediff(m, 0, @d) + 1, 0)) end
go
create function dbo.TopItems(@n int) returns @t table (Item varchar(30) not null, Sold float, primary key (Item)) as
begin
  insert @t select top (@n) with ties Item, sum(Qty) from OrderLines group by Item order by sum(Qty) desc
  if @@rowcount = 0 insert @t values ('none', 0)
  update @t set Sold = round(Sold, 1)
  return
end
go
create function dbo.InitCap(@s varchar(max)) returns varchar(max) as
begin
  declare @i int, @ch char(1), @prev char(1), @out varchar(max)
  select @i = 1, @out = lower(@s), @prev = ' '
  while @i <= datalength(@s)
  begin
    set @ch = substring(@out, @i, 1)
    if @prev in (' ', '-', '''') set @out = stuff(@out, @i, 1, upper(@ch))
    select @prev = @ch, @i = @i + 1
  end
  return @out
end
go
create proc MonthEnd @year int, @month tinyint, @dry bit = 1 as
begin
  declare @from datetime = datefromparts(@year, @month, 1), @to datetime
  set @to = dateadd(month, 1, @from)
  declare @tot table (CustCode varchar(12) primary key, Total money, Cnt int)
  insert @tot select CustCode, sum(Total), count(*) from Orders where OrderDate >= @from and OrderDate < @to group by CustCode having sum(Total) > 0
  if @dry = 1
  begin
    select t.*, c.Name, cast(t.Total / t.Cnt as decimal(10,2)) avg_order, choose(@month, 'Jan', 'Feb', 'Mar') m, iif(t.Cnt > 3, 'many', 'few') how, format(@from, 'yyyy-MM') ym, concat(c.Region, '-', t.Cnt) k
    from @tot t inner join Customers c on c.CustCode = t.CustCode order by 2 desc, c.Name offset 0 rows fetch next 50 rows only
    return
  end
  declare c insensitive cursor for select CustCode, Total from @tot
  declare @c varchar(12), @t money, @n int = 0
  open c
  while 1 = 1
  begin
    fetch c into @c, @t
    if @@fetch_status <> 0 break
    begin try
      update Customers set Balance -= @t where CustCode = @c
      set @n += @@rowcount
    end try
    begin catch
      print 'failed for ' + @c + ': ' + error_message() + ' line ' + cast(error_line() as varchar(10))
      if error_number() = 1205 throw
    end catch
  end
  close c
  deallocate c
  select @n as changed
end
go
create trigger tr_lines on OrderLines after insert, update, delete as
begin
  set nocount on
  update o set Total = x.s from Orders o join (select l.OrderNo, sum(l.Amount) s from OrderLines l where l.OrderNo in (select OrderNo from inserted union select OrderNo from deleted) group by l.OrderNo) x on x.OrderNo = o.OrderNo
  if exists (select 1 from inserted where Qty <= 0)
  begin
    rollback tran
    raiserror('Quantity must be positive', 16, 1)
  end
end
go
create trigger tr_cust_audit on Customers for update as
if update(CreditLimit) or update(Balance)
  insert into Orders (CustCode, Total, Flags) select i.CustCode, i.Balance - d.Balance, case when i.CreditLimit > d.CreditLimit then 1 else 2 end from inserted i, deleted d where i.CustCode = d.CustCode and (i.Balance <> d.Balance or i.CreditLimit <> d.CreditLimit)
go
create trigger tr_open on OpenBalances instead of update as
  update c set Name = i.Name from Customers c join inserted i on i.CustCode = c.CustCode
go
create proc SearchAll @term nvarchar(50), @col sysname = 'Name', @max int = 10 as
begin
  declare @sql nvarchar(4000), @cnt int
  set @sql = N'select top (@m) CustCode, ' + quotename(@col) + N' from Customers where ' + quotename(@col) + N' like @t + N''%'' order by 1'
  exec sp_executesql @sql, N'@t nvarchar(50), @m int', @t = @term, @m = @max
  set @sql = N'select @c = count(*) from Customers where Region = @r'
  exec sp_executesql @sql, N'@r char(2), @c int output', @r = 'DE', @c = @cnt output
  if @cnt is null or @cnt = 0 print 'none'
  exec ('delete from Orders where Flags = 9')
end
go
create proc Split2 @csv varchar(500) as
begin
  with n as (select 1 as i union all select i + 1 from n where i < len(@csv)),
  p as (select i, substring(@csv, i, 1) ch from n)
  select i from p where ch = ',' order by i option (maxrecursion 0)
  select value, row_number() over (order by (select null)) rn from string_split(@csv, ',') where ltrim(value) <> ''
  select try_convert(int, value) v, try_cast(value as date) d, isnumeric(value) num, patindex('%[0-9]%', value) p, replicate('x', 3) r, reverse(value) rev, str(12.5, 6, 1) s, charindex('a', value, 2) ci, soundex(value) sx, ascii(value) a, nchar(65) n from string_split(@csv, ';')
end
go
create proc Dedup as
begin
  with d as (select *, rn = row_number() over (partition by CustCode, OrderDate order by OrderNo) from Orders)
  delete from d where rn > 1
  delete o from Orders o left join Customers c on c.CustCode = o.CustCode where c.CustCode is null
  update top (5) Orders set Flags = Flags | 4, Total = case when Total < 0 then 0 else Total end where Flags & 4 = 0
  truncate table OrderLines
  select o.CustCode, sum(case when o.Flags & 1 = 1 then o.Total else 0 end) a, max(o.OrderDate) last, stuff((select '; ' + l.Item from OrderLines l where l.OrderNo = min(o.OrderNo) for xml path('')), 1, 2, '') items from Orders o group by o.CustCode
end
go
