/* Database, types, tables and first rows of the fuel billing. */
use master
go
create database fueldb on datadev = 200 log on logdev = 50
go
sp_dboption fueldb, 'select into/bulkcopy/pllsort', true
go
use fueldb
go
checkpoint
go
sp_addtype grade_t, 'char(4)', 'not null'
go
sp_addlogin fuel_app, 'change-me', fueldb
go
sp_adduser fuel_app
go
sp_addgroup fuel_desk
go
create rule r_grade as @g in ('MGO', 'HFO', 'PETR', 'LNG')
go
create default d_now as getdate()
go
print 'Creating vessel'
create table dbo.vessel
(
    vessel_no int not null,
    vessel_name varchar(40) not null,
    operator_no int null,
    tank_litres numeric(9,1) default 0 not null,
    call_sign char(8) null,
    built smalldatetime null,
    constraint pk_vessel primary key nonclustered (vessel_no)
)
lock allpages on 'default'
go
sp_primarykey vessel, vessel_no
go
grant select on vessel to public
go
print 'Creating operator'
create table dbo.operator
(
    operator_no numeric(8,0) identity,
    operator_name varchar(60) not null,
    is_state bit not null,
    last_delivery datetime null,
    note text null,
    name_u univarchar(60) null,
    primary key clustered (operator_no)
)

go
sp_primarykey operator, operator_no
go
grant select on operator to public
go
print 'Creating fuel_price'
create table dbo.fuel_price
(
    grade char(4) not null,
    valid_from datetime not null,
    price smallmoney not null,
    unique clustered (grade, valid_from)
)

go
sp_primarykey fuel_price, grade
go
grant select on fuel_price to public
go
print 'Creating tank'
create table dbo.tank
(
    tank_no smallint not null,
    grade char(4) not null,
    capacity float not null,
    level float not null,
    changed datetime default getdate() null,
    constraint pk_tank primary key (tank_no)
)

go
sp_primarykey tank, tank_no
go
grant select on tank to public
go
print 'Creating delivery'
create table dbo.delivery
(
    slip_no numeric(10,0) identity,
    vessel_no int not null,
    grade char(4) not null,
    litres numeric(9,1) not null,
    price money not null,
    tank_no smallint null,
    delivered datetime not null,
    invoice_no int null,
    constraint pk_delivery primary key (slip_no), constraint fk_del_vessel foreign key (vessel_no) references vessel (vessel_no)
)
lock datarows with exp_row_size = 60, reservepagegap = 8
go
sp_primarykey delivery, slip_no
go
grant select on delivery to public
go
print 'Creating invoice'
create table dbo.invoice
(
    invoice_no int identity not null,
    operator_no numeric(8,0) not null,
    total money not null,
    printed datetime null,
    due datetime not null,
    paid datetime null,
    letter text null,
    stamp timestamp,
    primary key (invoice_no), check (total >= 0)
)
lock datapages
go
sp_primarykey invoice, invoice_no
go
grant select on invoice to public
go
print 'Creating reminder'
create table dbo.reminder
(
    operator_no numeric(8,0) not null,
    total money not null,
    sent datetime not null
)

go
sp_primarykey reminder, operator_no
go
grant select on reminder to public
go
print 'Creating delivery_log'
create table dbo.delivery_log
(
    who varchar(30) null,
    at datetime not null,
    slip_no numeric(10,0),
    old_litres numeric(9,1) null,
    new_litres numeric(9,1) null
)

go
sp_primarykey delivery_log, who
go
grant select on delivery_log to public
go
print 'Creating price_import'
create table dbo.price_import
(
    grade char(4),
    price_text varchar(20),
    row unsigned int null
)
lock datarows
go
sp_primarykey price_import, grade
go
grant select on price_import to public
go
create table tide_proxy (at datetime, height float) external procedure at 'HARBOUR.tides..p_tide'
go
create existing table port_call (call_id int, vessel varchar(40)) external table at 'HARBOUR.portcalls.dbo.port_call'
go
create unique nonclustered index ux_vessel_sign on vessel (call_sign) with ignore_dup_key, fillfactor = 80
create clustered index cx_delivery on delivery (delivered, slip_no) with allow_dup_row on 'default'
create index ix_tank_grade on tank (grade)
go
alter table operator add phone varchar(30) null, fax varchar(30) null
alter table vessel modify call_sign char(10) null
alter table vessel drop constraint pk_vessel
alter table vessel add constraint pk_vessel primary key nonclustered (vessel_no)
alter table delivery partition 4
go
sp_bindrule r_grade, 'tank.grade'
go
sp_bindefault d_now, 'invoice.due'
go
sp_foreignkey delivery, tank, tank_no
go
exec sp_configure 'number of locks', 20000
go
insert tank values (1, 'MGO', 20500, 9700, null)
insert tank values (2, 'HFO', 21000, 10400, null)
insert tank values (3, 'MGO', 21500, 11100, null)
insert tank values (4, 'LNG', 22000, 11800, null)
insert tank values (5, 'HFO', 22500, 12500, null)
insert tank values (6, 'HFO', 23000, 13200, null)
insert tank values (7, 'MGO', 23500, 13900, null)
insert tank values (8, 'MGO', 24000, 14600, null)
insert tank values (9, 'MGO', 24500, 15300, null)
insert tank values (10, 'MGO', 25000, 16000, null)
insert tank values (11, 'HFO', 25500, 16700, null)
insert tank values (12, 'LNG', 26000, 17400, null)
go
set identity_insert operator on
go
insert into operator (operator_no, operator_name, is_state) values (1, "Bay Lines 1", 1)
insert into operator (operator_no, operator_name, is_state) values (2, "Tern Fishing 2", 0)
insert into operator (operator_no, operator_name, is_state) values (3, "Bay Towing 3", 1)
insert into operator (operator_no, operator_name, is_state) values (4, "Tern Lines 4", 0)
insert into operator (operator_no, operator_name, is_state) values (5, "Bay Lines 5", 1)
insert into operator (operator_no, operator_name, is_state) values (6, "Gull Fishing 6", 0)
insert into operator (operator_no, operator_name, is_state) values (7, "Bay Towing 7", 1)
insert into operator (operator_no, operator_name, is_state) values (8, "Tern Lines 8", 0)
insert into operator (operator_no, operator_name, is_state) values (9, "Bay Towing 9", 1)
insert into operator (operator_no, operator_name, is_state) values (10, "Bay Lines 10", 0)
insert into operator (operator_no, operator_name, is_state) values (11, "Bay Fishing 11", 1)
insert into operator (operator_no, operator_name, is_state) values (12, "North Fishing 12", 0)
insert into operator (operator_no, operator_name, is_state) values (13, "Tern Lines 13", 1)
insert into operator (operator_no, operator_name, is_state) values (14, "Tern Towing 14", 0)
insert into operator (operator_no, operator_name, is_state) values (15, "Bay Lines 15", 1)
insert into operator (operator_no, operator_name, is_state) values (16, "Bay Lines 16", 0)
insert into operator (operator_no, operator_name, is_state) values (17, "Bay Fishing 17", 1)
insert into operator (operator_no, operator_name, is_state) values (18, "Bay Fishing 18", 0)
insert into operator (operator_no, operator_name, is_state) values (19, "Tern Towing 19", 1)
insert into operator (operator_no, operator_name, is_state) values (20, "North Fishing 20", 0)
insert into operator (operator_no, operator_name, is_state) values (21, "Bay Towing 21", 1)
insert into operator (operator_no, operator_name, is_state) values (22, "North Lines 22", 0)
insert into operator (operator_no, operator_name, is_state) values (23, "Tern Towing 23", 1)
insert into operator (operator_no, operator_name, is_state) values (24, "Bay Lines 24", 0)
insert into operator (operator_no, operator_name, is_state) values (25, "Gull Lines 25", 1)
insert into operator (operator_no, operator_name, is_state) values (26, "North Fishing 26", 0)
insert into operator (operator_no, operator_name, is_state) values (27, "Bay Fishing 27", 1)
insert into operator (operator_no, operator_name, is_state) values (28, "North Fishing 28", 0)
insert into operator (operator_no, operator_name, is_state) values (29, "Bay Lines 29", 1)
insert into operator (operator_no, operator_name, is_state) values (30, "Tern Lines 30", 0)
insert into operator (operator_no, operator_name, is_state) values (31, "North Lines 31", 1)
insert into operator (operator_no, operator_name, is_state) values (32, "North Towing 32", 0)
insert into operator (operator_no, operator_name, is_state) values (33, "Tern Towing 33", 1)
insert into operator (operator_no, operator_name, is_state) values (34, "North Fishing 34", 0)
insert into operator (operator_no, operator_name, is_state) values (35, "Bay Fishing 35", 1)
insert into operator (operator_no, operator_name, is_state) values (36, "Tern Towing 36", 0)
insert into operator (operator_no, operator_name, is_state) values (37, "Gull Lines 37", 1)
insert into operator (operator_no, operator_name, is_state) values (38, "Tern Towing 38", 0)
insert into operator (operator_no, operator_name, is_state) values (39, "Tern Lines 39", 1)
insert into operator (operator_no, operator_name, is_state) values (40, "Bay Lines 40", 0)
go
set identity_insert operator off
go
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (1, 'Vessel 1', 2, 512)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (2, 'Vessel 2', 3, 524)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (3, 'Vessel 3', 4, 536)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (4, 'Vessel 4', 5, 548)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (5, 'Vessel 5', 6, 560)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (6, 'Vessel 6', 7, 572)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (7, 'Vessel 7', 8, 584)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (8, 'Vessel 8', 9, 596)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (9, 'Vessel 9', 10, 608)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (10, 'Vessel 10', 11, 620)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (11, 'Vessel 11', 12, 632)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (12, 'Vessel 12', 13, 644)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (13, 'Vessel 13', 14, 656)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (14, 'Vessel 14', 15, 668)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (15, 'Vessel 15', 16, 680)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (16, 'Vessel 16', 17, 692)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (17, 'Vessel 17', 18, 704)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (18, 'Vessel 18', 19, 716)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (19, 'Vessel 19', 20, 728)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (20, 'Vessel 20', 21, 740)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (21, 'Vessel 21', 22, 752)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (22, 'Vessel 22', 23, 764)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (23, 'Vessel 23', 24, 776)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (24, 'Vessel 24', 25, 788)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (25, 'Vessel 25', 26, 800)
go
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (26, 'Vessel 26', 27, 812)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (27, 'Vessel 27', 28, 824)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (28, 'Vessel 28', 29, 836)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (29, 'Vessel 29', 30, 848)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (30, 'Vessel 30', 31, 860)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (31, 'Vessel 31', 32, 872)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (32, 'Vessel 32', 33, 884)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (33, 'Vessel 33', 34, 896)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (34, 'Vessel 34', 35, 908)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (35, 'Vessel 35', 36, 920)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (36, 'Vessel 36', 37, 932)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (37, 'Vessel 37', 38, 944)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (38, 'Vessel 38', 39, 956)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (39, 'Vessel 39', 40, 968)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (40, 'Vessel 40', 1, 980)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (41, 'Vessel 41', 2, 992)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (42, 'Vessel 42', 3, 1004)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (43, 'Vessel 43', 4, 1016)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (44, 'Vessel 44', 5, 1028)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (45, 'Vessel 45', 6, 1040)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (46, 'Vessel 46', 7, 1052)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (47, 'Vessel 47', 8, 1064)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (48, 'Vessel 48', 9, 1076)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (49, 'Vessel 49', 10, 1088)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (50, 'Vessel 50', 11, 1100)
go
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (51, 'Vessel 51', 12, 1112)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (52, 'Vessel 52', 13, 1124)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (53, 'Vessel 53', 14, 1136)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (54, 'Vessel 54', 15, 1148)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (55, 'Vessel 55', 16, 1160)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (56, 'Vessel 56', 17, 1172)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (57, 'Vessel 57', 18, 1184)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (58, 'Vessel 58', 19, 1196)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (59, 'Vessel 59', 20, 1208)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (60, 'Vessel 60', 21, 1220)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (61, 'Vessel 61', 22, 1232)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (62, 'Vessel 62', 23, 1244)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (63, 'Vessel 63', 24, 1256)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (64, 'Vessel 64', 25, 1268)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (65, 'Vessel 65', 26, 1280)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (66, 'Vessel 66', 27, 1292)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (67, 'Vessel 67', 28, 1304)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (68, 'Vessel 68', 29, 1316)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (69, 'Vessel 69', 30, 1328)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (70, 'Vessel 70', 31, 1340)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (71, 'Vessel 71', 32, 1352)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (72, 'Vessel 72', 33, 1364)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (73, 'Vessel 73', 34, 1376)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (74, 'Vessel 74', 35, 1388)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (75, 'Vessel 75', 36, 1400)
go
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (76, 'Vessel 76', 37, 1412)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (77, 'Vessel 77', 38, 1424)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (78, 'Vessel 78', 39, 1436)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (79, 'Vessel 79', 40, 1448)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (80, 'Vessel 80', 1, 1460)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (81, 'Vessel 81', 2, 1472)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (82, 'Vessel 82', 3, 1484)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (83, 'Vessel 83', 4, 1496)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (84, 'Vessel 84', 5, 1508)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (85, 'Vessel 85', 6, 1520)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (86, 'Vessel 86', 7, 1532)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (87, 'Vessel 87', 8, 1544)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (88, 'Vessel 88', 9, 1556)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (89, 'Vessel 89', 10, 1568)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (90, 'Vessel 90', 11, 1580)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (91, 'Vessel 91', 12, 1592)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (92, 'Vessel 92', 13, 1604)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (93, 'Vessel 93', 14, 1616)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (94, 'Vessel 94', 15, 1628)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (95, 'Vessel 95', 16, 1640)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (96, 'Vessel 96', 17, 1652)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (97, 'Vessel 97', 18, 1664)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (98, 'Vessel 98', 19, 1676)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (99, 'Vessel 99', 20, 1688)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (100, 'Vessel 100', 21, 1700)
go
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (101, 'Vessel 101', 22, 1712)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (102, 'Vessel 102', 23, 1724)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (103, 'Vessel 103', 24, 1736)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (104, 'Vessel 104', 25, 1748)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (105, 'Vessel 105', 26, 1760)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (106, 'Vessel 106', 27, 1772)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (107, 'Vessel 107', 28, 1784)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (108, 'Vessel 108', 29, 1796)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (109, 'Vessel 109', 30, 1808)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (110, 'Vessel 110', 31, 1820)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (111, 'Vessel 111', 32, 1832)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (112, 'Vessel 112', 33, 1844)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (113, 'Vessel 113', 34, 1856)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (114, 'Vessel 114', 35, 1868)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (115, 'Vessel 115', 36, 1880)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (116, 'Vessel 116', 37, 1892)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (117, 'Vessel 117', 38, 1904)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (118, 'Vessel 118', 39, 1916)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (119, 'Vessel 119', 40, 1928)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (120, 'Vessel 120', 1, 1940)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (121, 'Vessel 121', 2, 1952)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (122, 'Vessel 122', 3, 1964)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (123, 'Vessel 123', 4, 1976)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (124, 'Vessel 124', 5, 1988)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (125, 'Vessel 125', 6, 2000)
go
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (126, 'Vessel 126', 7, 2012)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (127, 'Vessel 127', 8, 2024)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (128, 'Vessel 128', 9, 2036)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (129, 'Vessel 129', 10, 2048)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (130, 'Vessel 130', 11, 2060)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (131, 'Vessel 131', 12, 2072)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (132, 'Vessel 132', 13, 2084)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (133, 'Vessel 133', 14, 2096)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (134, 'Vessel 134', 15, 2108)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (135, 'Vessel 135', 16, 2120)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (136, 'Vessel 136', 17, 2132)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (137, 'Vessel 137', 18, 2144)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (138, 'Vessel 138', 19, 2156)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (139, 'Vessel 139', 20, 2168)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (140, 'Vessel 140', 21, 2180)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (141, 'Vessel 141', 22, 2192)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (142, 'Vessel 142', 23, 2204)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (143, 'Vessel 143', 24, 2216)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (144, 'Vessel 144', 25, 2228)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (145, 'Vessel 145', 26, 2240)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (146, 'Vessel 146', 27, 2252)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (147, 'Vessel 147', 28, 2264)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (148, 'Vessel 148', 29, 2276)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (149, 'Vessel 149', 30, 2288)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (150, 'Vessel 150', 31, 2300)
go
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (151, 'Vessel 151', 32, 2312)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (152, 'Vessel 152', 33, 2324)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (153, 'Vessel 153', 34, 2336)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (154, 'Vessel 154', 35, 2348)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (155, 'Vessel 155', 36, 2360)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (156, 'Vessel 156', 37, 2372)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (157, 'Vessel 157', 38, 2384)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (158, 'Vessel 158', 39, 2396)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (159, 'Vessel 159', 40, 2408)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (160, 'Vessel 160', 1, 2420)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (161, 'Vessel 161', 2, 2432)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (162, 'Vessel 162', 3, 2444)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (163, 'Vessel 163', 4, 2456)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (164, 'Vessel 164', 5, 2468)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (165, 'Vessel 165', 6, 2480)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (166, 'Vessel 166', 7, 2492)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (167, 'Vessel 167', 8, 2504)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (168, 'Vessel 168', 9, 2516)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (169, 'Vessel 169', 10, 2528)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (170, 'Vessel 170', 11, 2540)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (171, 'Vessel 171', 12, 2552)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (172, 'Vessel 172', 13, 2564)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (173, 'Vessel 173', 14, 2576)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (174, 'Vessel 174', 15, 2588)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (175, 'Vessel 175', 16, 2600)
go
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (176, 'Vessel 176', 17, 2612)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (177, 'Vessel 177', 18, 2624)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (178, 'Vessel 178', 19, 2636)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (179, 'Vessel 179', 20, 2648)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (180, 'Vessel 180', 21, 2660)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (181, 'Vessel 181', 22, 2672)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (182, 'Vessel 182', 23, 2684)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (183, 'Vessel 183', 24, 2696)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (184, 'Vessel 184', 25, 2708)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (185, 'Vessel 185', 26, 2720)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (186, 'Vessel 186', 27, 2732)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (187, 'Vessel 187', 28, 2744)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (188, 'Vessel 188', 29, 2756)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (189, 'Vessel 189', 30, 2768)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (190, 'Vessel 190', 31, 2780)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (191, 'Vessel 191', 32, 2792)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (192, 'Vessel 192', 33, 2804)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (193, 'Vessel 193', 34, 2816)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (194, 'Vessel 194', 35, 2828)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (195, 'Vessel 195', 36, 2840)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (196, 'Vessel 196', 37, 2852)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (197, 'Vessel 197', 38, 2864)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (198, 'Vessel 198', 39, 2876)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (199, 'Vessel 199', 40, 2888)
insert vessel (vessel_no, vessel_name, operator_no, tank_litres) values (200, 'Vessel 200', 1, 2900)
go
insert fuel_price values ('MGO', 'Jan 1 1998 12:00AM', $0.3100)
insert fuel_price values ('HFO', 'Jan 1 1998 12:00AM', $0.1800)
insert fuel_price values ('PETR', 'Jan 1 1998 12:00AM', $0.6200)
go
insert fuel_price values ('MGO', 'Jan 1 1999 12:00AM', $0.3400)
insert fuel_price values ('HFO', 'Jan 1 1999 12:00AM', $0.2100)
insert fuel_price values ('PETR', 'Jan 1 1999 12:00AM', $0.6500)
go
insert fuel_price values ('MGO', 'Jan 1 2000 12:00AM', $0.3700)
insert fuel_price values ('HFO', 'Jan 1 2000 12:00AM', $0.2400)
insert fuel_price values ('PETR', 'Jan 1 2000 12:00AM', $0.6800)
go
insert fuel_price values ('MGO', 'Jan 1 2001 12:00AM', $0.4000)
insert fuel_price values ('HFO', 'Jan 1 2001 12:00AM', $0.2700)
insert fuel_price values ('PETR', 'Jan 1 2001 12:00AM', $0.7100)
go
insert fuel_price values ('MGO', 'Jan 1 2002 12:00AM', $0.4300)
insert fuel_price values ('HFO', 'Jan 1 2002 12:00AM', $0.3000)
insert fuel_price values ('PETR', 'Jan 1 2002 12:00AM', $0.7400)
go
insert fuel_price values ('MGO', 'Jan 1 2003 12:00AM', $0.4600)
insert fuel_price values ('HFO', 'Jan 1 2003 12:00AM', $0.3300)
insert fuel_price values ('PETR', 'Jan 1 2003 12:00AM', $0.7700)
go
insert fuel_price values ('MGO', 'Jan 1 2004 12:00AM', $0.4900)
insert fuel_price values ('HFO', 'Jan 1 2004 12:00AM', $0.3600)
insert fuel_price values ('PETR', 'Jan 1 2004 12:00AM', $0.8000)
go
insert fuel_price values ('MGO', 'Jan 1 2005 12:00AM', $0.5200)
insert fuel_price values ('HFO', 'Jan 1 2005 12:00AM', $0.3900)
insert fuel_price values ('PETR', 'Jan 1 2005 12:00AM', $0.8300)
go
insert fuel_price values ('MGO', 'Jan 1 2006 12:00AM', $0.5500)
insert fuel_price values ('HFO', 'Jan 1 2006 12:00AM', $0.4200)
insert fuel_price values ('PETR', 'Jan 1 2006 12:00AM', $0.8600)
go
insert fuel_price values ('MGO', 'Jan 1 2007 12:00AM', $0.5800)
insert fuel_price values ('HFO', 'Jan 1 2007 12:00AM', $0.4500)
insert fuel_price values ('PETR', 'Jan 1 2007 12:00AM', $0.8900)
go
insert fuel_price values ('MGO', 'Jan 1 2008 12:00AM', $0.6100)
insert fuel_price values ('HFO', 'Jan 1 2008 12:00AM', $0.4800)
insert fuel_price values ('PETR', 'Jan 1 2008 12:00AM', $0.9200)
go
insert fuel_price values ('MGO', 'Jan 1 2009 12:00AM', $0.6400)
insert fuel_price values ('HFO', 'Jan 1 2009 12:00AM', $0.5100)
insert fuel_price values ('PETR', 'Jan 1 2009 12:00AM', $0.9500)
go
insert fuel_price values ('MGO', 'Jan 1 2010 12:00AM', $0.6700)
insert fuel_price values ('HFO', 'Jan 1 2010 12:00AM', $0.5400)
insert fuel_price values ('PETR', 'Jan 1 2010 12:00AM', $0.9800)
go
insert fuel_price values ('MGO', 'Jan 1 2011 12:00AM', $0.7000)
insert fuel_price values ('HFO', 'Jan 1 2011 12:00AM', $0.5700)
insert fuel_price values ('PETR', 'Jan 1 2011 12:00AM', $1.0100)
go
update statistics delivery
go
update index statistics vessel using 40 values
go
dbcc checktable (delivery)
go
dump database fueldb to '/dumps/fueldb.dmp'
go
