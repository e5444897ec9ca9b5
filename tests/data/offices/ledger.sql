/* Old style SQL Server 2000/2005 ledger */
if exists (select * from dbo.sysobjects where id = object_id(N'[dbo].[GL_Post]') and OBJECTPROPERTY(id, N'IsProcedure') = 1)
drop procedure [dbo].[GL_Post]
GO
CREATE TABLE [dbo].[Account] (
	[AccNo] [char] (10) COLLATE Latin1_General_CI_AS NOT NULL ,
	[AccName] [varchar] (60) NOT NULL ,
	[AccType] [tinyint] NOT NULL ,
	[ParentNo] [char] (10) NULL ,
	[Balance] [money] NOT NULL CONSTRAINT [DF_Acc_Bal] DEFAULT (0) ,
	[Opened] [smalldatetime] NOT NULL CONSTRAINT [DF_Acc_Opened] DEFAULT (getdate()) ,
	[Closed] [bit] NOT NULL DEFAULT (0)
) ON [PRIMARY]
GO
ALTER TABLE [dbo].[Account] WITH NOCHECK ADD CONSTRAINT [PK_Account] PRIMARY KEY  CLUSTERED ([AccNo]) WITH FILLFACTOR = 90 ON [PRIMARY]
GO
CREATE TABLE dbo.Journal (
  JournalID int IDENTITY (1, 1) NOT NULL PRIMARY KEY NONCLUSTERED, PostDate datetime NOT NULL, Period as (datepart(yyyy, PostDate) * 100 + datepart(mm, PostDate)),
  AccNo char(10) NOT NULL REFERENCES dbo.Account (AccNo), Amount money NOT NULL, Descr varchar(80) NULL, BatchNo int NULL, UserName varchar(30) NOT NULL DEFAULT (suser_sname())
)
CREATE CLUSTERED INDEX IX_Journal ON dbo.Journal (AccNo, PostDate)
GO
CREATE TABLE dbo.Batch (BatchNo int NOT NULL PRIMARY KEY, Status char(1) NOT NULL CHECK (Status in ('O','P','X')), Created datetime NULL, Posted datetime NULL, Total money NULL)
GO
create function dbo.fn_Period (@d datetime) returns int as begin return year(@d) * 100 + month(@d) end
GO
create function dbo.fn_AccTree (@root char(10)) returns @tree table (AccNo char(10), Lvl int) as
begin
  declare @lvl int
  select @lvl = 0
  insert @tree select @root, @lvl
  while @@rowcount > 0
  begin
    select @lvl = @lvl + 1
    insert @tree select a.AccNo, @lvl from Account a inner join @tree t on a.ParentNo = t.AccNo where t.Lvl = @lvl - 1
  end
  return
end
GO
create function dbo.fn_BalanceAt (@acc char(10), @d datetime) returns money as
begin
  declare @b money
  select @b = sum(Amount) from dbo.Journal where AccNo = @acc and PostDate <= @d
  return isnull(@b, 0)
end
GO
create procedure dbo.GL_Post @BatchNo int, @Force bit = 0 as
set nocount on
declare @err int, @total money, @cnt int, @msg varchar(255)
select @total = sum(Amount), @cnt = count(*) from Journal where BatchNo = @BatchNo
if @cnt = 0
begin
  raiserror('Batch %d is empty', 16, 1, @BatchNo)
  return 1
end
if @total <> 0 and @Force = 0
begin
  select @msg = 'Batch ' + convert(varchar(10), @BatchNo) + ' does not balance: ' + convert(varchar(20), @total, 1)
  raiserror(@msg, 16, 1)
  return 2
end
begin tran
update Account set Balance = Balance + j.Amt
from Account a inner join (select AccNo, sum(Amount) as Amt from Journal where BatchNo = @BatchNo group by AccNo) j on a.AccNo = j.AccNo
select @err = @@error
if @err <> 0 goto rollback_it
update Batch set Status = 'P', Posted = getdate(), Total = @total where BatchNo = @BatchNo and Status = 'O'
if @@error <> 0 or @@rowcount = 0 goto rollback_it
commit tran
return 0
rollback_it:
  rollback tran
  return -1
GO
create procedure dbo.GL_NewBatch @BatchNo int output as
begin tran
  select @BatchNo = isnull(max(BatchNo), 0) + 1 from Batch with (tablockx, holdlock)
  insert into Batch (BatchNo, Status, Created) values (@BatchNo, 'O', getdate())
commit
GO
create procedure dbo.GL_TrialBalance @AsOf datetime = null, @Level int = 99 as
if @AsOf is null select @AsOf = convert(char(8), getdate(), 112)
select a.AccNo, a.AccName, 'Debit' = case when sum(j.Amount) > 0 then sum(j.Amount) else 0 end, 'Credit' = case when sum(j.Amount) < 0 then -sum(j.Amount) else 0 end
from Account a left outer join Journal j on j.AccNo = a.AccNo and j.PostDate <= @AsOf
where len(rtrim(a.AccNo)) <= @Level
group by a.AccNo, a.AccName
having sum(j.Amount) <> 0
order by a.AccNo
compute_done:
GO
create procedure dbo.GL_Ageing @AccNo char(10), @Today datetime as
declare @b30 money, @b60 money, @b90 money, @old money
select @b30 = sum(case when datediff(dd, PostDate, @Today) between 0 and 30 then Amount else 0 end),
       @b60 = sum(case when datediff(dd, PostDate, @Today) between 31 and 60 then Amount else 0 end),
       @b90 = sum(case when datediff(dd, PostDate, @Today) between 61 and 90 then Amount else 0 end),
       @old = sum(case when datediff(dd, PostDate, @Today) > 90 then Amount else 0 end)
from Journal where AccNo = @AccNo
select AccNo = @AccNo, b30 = isnull(@b30, 0), b60 = isnull(@b60, $0), b90 = isnull(@b90, 0.0), old = isnull(@old, 0)
GO
create procedure dbo.GL_Import @File varchar(200) as
create table #imp (line int identity, raw varchar(500))
exec('bulk insert #imp from ''' + @File + '''')
select * from #imp
GO
create procedure dbo.GL_Cursor as
declare @acc char(10), @bal money, @calc money, @diffs int
set @diffs = 0
declare acc_cur cursor for select AccNo, Balance from Account where Closed = 0 for read only
open acc_cur
fetch acc_cur into @acc, @bal
while (@@fetch_status = 0)
begin
  exec dbo.GL_Check @acc, @bal, @calc out
  if abs(@bal - @calc) > 0.005
  begin
    set @diffs = @diffs + 1
    print 'Account ' + rtrim(@acc) + ' differs by ' + cast(@bal - @calc as varchar(20))
  end
  fetch next from acc_cur into @acc, @bal
end
close acc_cur
deallocate acc_cur
return @diffs
GO
create procedure dbo.GL_Check @acc char(10), @bal money, @calc money out as
select @calc = dbo.fn_BalanceAt(@acc, getdate())
if @calc = @bal return 0 else return 1
GO
create trigger dbo.tr_Journal_iu on dbo.Journal for insert, update as
if update(Amount) or update(AccNo)
begin
  if exists (select 1 from inserted i join Account a on a.AccNo = i.AccNo where a.Closed = 1)
  begin
    raiserror('Account is closed', 16, 1)
    rollback transaction
    return
  end
end
if exists (select * from inserted where PostDate > dateadd(yy, 1, getdate())) begin rollback tran raiserror('Too late', 16, 1) end
GO
create trigger tr_Account_del on Account for delete as
declare @n int
select @n = count(*) from deleted d, Journal j where d.AccNo = j.AccNo
if @n > 0 begin
  raiserror('%d postings exist', 16, -1, @n)
  rollback
end
GO
create view dbo.vw_Monthly as
select AccNo, Period, sum(Amount) Amount, count(*) Lines, max(isnull(Descr, '')) LastDescr, convert(char(7), max(PostDate), 120) Ym,
 cast(datename(mm, max(PostDate)) as varchar(3)) + ' ' + cast(year(max(PostDate)) as char(4)) Label, avg(Amount) AvgAmt
from dbo.Journal group by AccNo, Period
GO
create view dbo.vw_Last as select top 100 percent j.* from Journal j where PostDate = (select max(PostDate) from Journal x where x.AccNo = j.AccNo) order by AccNo
GO
create procedure dbo.GL_Search @where varchar(8000) as
declare @s varchar(8000)
set @s = 'select JournalID, AccNo, Amount from Journal where ' + @where
execute (@s)
GO
create procedure dbo.GL_Xp as
exec master..xp_cmdshell 'dir c:\'
GO
create proc dbo.GL_Fix as
update Journal set Descr = replace(ltrim(rtrim(Descr)), char(9), ' '), UserName = lower(substring(UserName, charindex('\', UserName) + 1, 30))
where patindex('%[^a-z0-9 ]%', Descr) > 0 or Descr like '[0-9][0-9]%' or isnumeric(Descr) = 1
select 'fixed' = @@rowcount, soundex('a'), difference('a','b'), stuff('abc', 2, 1, 'x'), reverse('abc'), space(3), quotename('x'), str(12.345, 8, 2), ascii('a'), char(65), unicode(N'a'), nchar(65)
GO
insert Account (AccNo, AccName, AccType) values ('1000', 'Cash', 1)
insert Account (AccNo, AccName, AccType) select '2000', 'Bank', 1 union all select '3000', 'O''Neill', 2
GO
