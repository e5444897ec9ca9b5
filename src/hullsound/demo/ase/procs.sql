/*
** Old fuel billing of the harbour authority, ASE 12.5 and later; loaded with isql.
*/
use fueldb
go
set nocount on
set quoted_identifier off
go
if exists (select 1 from sysobjects where name = 'p_deliver' and type = 'P')
    drop procedure p_deliver
go
create procedure p_deliver
    @vessel_no int,
    @grade     char(4) = "MGO",
    @litres    numeric(9,1),
    @slip_no   int output
as
declare @price money, @err int, @tank smallint, @msg varchar(255)

if @litres <= 0
begin
    raiserror 20001 "Litres must be positive, got %1!", @litres
    return -1
end

begin transaction deliver

select @price = price from fuel_price holdlock
where grade = @grade and valid_from = (select max(valid_from) from fuel_price p where p.grade = @grade and p.valid_from <= getdate())
if @@rowcount = 0
begin
    rollback transaction deliver
    select @msg = "No price for " + @grade + " on " + convert(char(10), getdate(), 104)
    raiserror 20002 @msg
    return -2
end

select @tank = min(tank_no) from tank (index ix_tank_grade prefetch 4 lru) where grade = @grade and level >= @litres at isolation serializable

insert delivery (vessel_no, grade, litres, price, tank_no, delivered)
values (@vessel_no, @grade, @litres, @litres * @price, @tank, getdate())
select @err = @@error, @slip_no = @@identity
if @err != 0
begin
    rollback transaction
    return @err
end

update tank set level = level - @litres, changed = getdate() where tank_no = @tank
if @@error != 0 goto failed
commit transaction deliver
return 0

failed:
rollback tran
return 1
go
sp_procxmode 'p_deliver', 'anymode'
go
grant execute on p_deliver to fuel_desk, fuel_night
go

create proc p_statement @vessel_no int, @from datetime = null, @to datetime = null with recompile
as
begin
    if @from is null select @from = dateadd(mm, -1, getdate())
    select @to = isnull(@to, getdate())

    select v.vessel_name, d.delivered, d.grade, d.litres, d.price, o.operator_name
    from vessel v, delivery d, operator o
    where v.vessel_no = @vessel_no
      and v.vessel_no *= d.vessel_no
      and v.operator_no =* o.operator_no
      and d.delivered between @from and @to
    order by d.delivered
    compute sum(d.litres), sum(d.price)

    select grade, sum(litres) "Litres", sum(price) 'Price', count(*) n
    from delivery where vessel_no = @vessel_no group by grade having sum(litres) > 100
    for read only
end
go

create procedure p_month_close @month int, @year int
as
    declare @operator int, @total money, @invoice int, @status int
    declare c_operator cursor for
        select o.operator_no, sum(d.price) from operator o, vessel v, delivery d
        where o.operator_no = v.operator_no and v.vessel_no = d.vessel_no
          and datepart(mm, d.delivered) = @month and datepart(yy, d.delivered) = @year and d.invoice_no = null
        group by o.operator_no
    for read only

    set chained off
    set transaction isolation level 3
    open c_operator
    fetch c_operator into @operator, @total
    while (@@sqlstatus = 0)
    begin
        if @total < $50.00
        begin
            fetch c_operator into @operator, @total
            continue
        end
        begin tran
            insert into invoice (operator_no, total, printed, due) values (@operator, @total, null, dateadd(dd, 30, getdate()))
            select @invoice = @@identity
            update delivery set invoice_no = @invoice
            from delivery d, vessel v
            where v.vessel_no = d.vessel_no and v.operator_no = @operator and d.invoice_no is null
            exec @status = p_print_invoice @invoice, @copies = 2
            if @status != 0
                print "Invoice %1! was not printed, status %2!", @invoice, @status
        commit tran
        fetch c_operator into @operator, @total
    end
    close c_operator
    deallocate cursor c_operator

    select operator_no, total into #late from invoice where due < getdate() and paid is null
    select count(*) from #late
    delete #late from #late l, operator o where o.operator_no = l.operator_no and o.is_state = 1
    insert reminder select operator_no, total, getdate() from #late
    drop table #late
    dump transaction fueldb with truncate_only
go

create procedure p_print_invoice @invoice int, @copies int = 1
as
    declare @text varchar(255), @ptr varbinary(16)
    select @ptr = textptr(letter) from invoice where invoice_no = @invoice
    readtext invoice.letter @ptr 0 200
    writetext invoice.letter @ptr with log "Printed again"
    select @text = "lp -n " + convert(varchar, @copies) + " /fuel/invoice" + str_replace(convert(varchar, @invoice), " ", "0")
    exec xp_cmdshell @text
    waitfor delay "0:00:02"
    return 0
go

create trigger t_delivery_iu on delivery for insert, update
as
    declare @n int
    select @n = @@rowcount
    if @n = 0 return
    if update(litres)
    begin
        if exists (select * from inserted i, vessel v where i.vessel_no = v.vessel_no and i.litres > v.tank_litres)
        begin
            rollback trigger with raiserror 20010 "More than the vessel's tanks hold"
            return
        end
    end
    update operator set last_delivery = getdate()
    from operator o, vessel v, inserted i
    where o.operator_no = v.operator_no and v.vessel_no = i.vessel_no
    insert delivery_log select user_name(), getdate(), i.slip_no, d.litres, i.litres from inserted i, deleted d where i.slip_no *= d.slip_no
go

create trigger t_tank_d on tank for delete as
if (select count(*) from deleted) > 1
begin
    print "Only one tank at a time"
    rollback transaction
end
go

create view v_tank_level (tank, grade, litres, percent_full) as
select tank_no, grade, level, convert(int, level / capacity * 100) from tank where level > 0
go
create view v_debtor as
select o.operator_name, sum(i.total) owed from operator o, invoice i where o.operator_no = i.operator_no and i.paid = null group by o.operator_name
union all select 'TOTAL', sum(total) from invoice where paid is null
go
create proc p_dynamic @col varchar(30), @val varchar(30) as
declare @s varchar(500)
select @s = "select vessel_no, vessel_name from vessel where " + @col + " = '" + @val + "'"
exec (@s)
execute ("select count(*) from vessel")
go
