use yard
go
create table dbo.vehicle (id numeric(8,0) identity, plate varchar(12) not null, kind char(1) default 'T' not null, load_t decimal(7,2) null, seen datetime default getdate() not null, note text null, constraint pk_vehicle primary key clustered (id)) lock datarows
go
create table dbo.trip (trip_no int not null, veh numeric(8,0) not null, started datetime not null, ended datetime null, km int null, driver varchar(40) null, primary key (trip_no), foreign key (veh) references dbo.vehicle (id))
go
create unique index ux_plate on dbo.vehicle (plate) with ignore_dup_key
go
create default d_zero as 0
go
sp_bindefault d_zero, 'trip.km'
go
create rule r_kind as @k in ('T','L','V')
go
sp_bindrule r_kind, 'vehicle.kind'
go
create view dbo.v_open as select v.plate, t.trip_no, datediff(hh, t.started, getdate()) hours_out, convert(char(10), t.started, 103) started_on from vehicle v, trip t where v.id = t.veh and t.ended is null
go
create view dbo.v_sum as select driver, count(*) trips, sum(isnull(km, 0)) km, avg(km) avg_km, max(datepart(mm, started)) last_month from trip group by driver having count(*) > 0
go
create procedure dbo.start_trip @plate varchar(12), @driver varchar(40) = null, @no int output as
declare @veh numeric(8,0), @err int, @n int
select @veh = id from vehicle where plate = @plate
if @@rowcount = 0
begin
  raiserror 20101 'No vehicle %1!', @plate
  return -1
end
begin transaction
select @no = isnull(max(trip_no), 0) + 1 from trip holdlock
insert trip (trip_no, veh, started, driver) values (@no, @veh, getdate(), upper(@driver))
select @err = @@error, @n = @@rowcount
if @err != 0 or @n != 1
begin
  rollback transaction
  print "failed with %1!", @err
  return @err
end
commit transaction
return 0
go
create procedure dbo.end_trips @hours int as
begin
  declare @no int, @start datetime, @cnt int
  declare c cursor for select trip_no, started from trip where ended is null for update of ended, km
  select @cnt = 0
  open c
  fetch c into @no, @start
  while (@@sqlstatus = 0)
  begin
    if datediff(hour, @start, getdate()) >= @hours
    begin
      update trip set ended = getdate(), km = 40 * datediff(hour, @start, getdate()) where current of c
      select @cnt = @cnt + 1
    end
    fetch c into @no, @start
  end
  close c
  deallocate cursor c
  select @cnt as ended_trips
end
go
create procedure dbo.report @from datetime, @to datetime = null as
  if @to is null select @to = dateadd(dd, 1, @from)
  select plate, km = sum(km), trips = count(*) into #r from vehicle v, trip t where v.id = t.veh and t.started between @from and @to group by plate
  update #r set km = 0 where km is null
  delete #r from #r, vehicle v where v.plate = #r.plate and v.kind = 'V'
  select plate, km, trips, str(km * 1.0 / trips, 8, 1) per_trip, case when km > 500 then 'far' else 'near' end how from #r order by km desc
  drop table #r
go
create function dbo.full_name (@a varchar(30), @b varchar(30)) returns varchar(61) as
begin
  declare @r varchar(61)
  select @r = rtrim(@a) + ' ' + ltrim(@b)
  if char_length(@r) = 1 select @r = null
  return @r
end
go
create trigger dbo.trip_iu on dbo.trip for insert, update as
begin
  if update(ended)
  begin
    if exists (select 1 from inserted where ended < started)
    begin
      raiserror 20102 'Trip ends before it starts'
      rollback trigger
      return
    end
  end
  update vehicle set seen = getdate(), load_t = isnull(load_t, 0) + 1 from vehicle v, inserted i where v.id = i.veh
end
go
set nocount on
if not exists (select 1 from vehicle) insert into vehicle (plate, kind, load_t) select 'KB 1001', 'T', 12.5
go
grant execute on dbo.start_trip to public
go
