-- The ship chandlery of Kestrel Bay in Transact-SQL, as a shop wrote it over the years.
-- Each case stands before its routine: what it gives, leaves or refuses on SQL Server.
-- row customer: {"customerid": 1, "code": "MOE001", "firstname": "Moe", "lastname": "Lund", "email": "moe@kestrel.bay", "creditlimit": 6000}
-- row customer: {"customerid": 2, "code": "IDA001", "firstname": "Ida", "lastname": "Aske", "creditlimit": 1500}
-- row customer: {"customerid": 3, "code": "DAG001", "firstname": None, "lastname": "Dahl", "creditlimit": 10}
-- row item: {"sku": "A1", "title": "Rope", "price": "2.50", "cost": "1.00", "stock": 10}
-- row item: {"sku": "B2", "title": "Buoy", "price": "19.99", "cost": "11.00", "stock": 1, "reorderat": 4}
-- row saleorder: {"orderid": 1000, "customerid": 1, "orderedon": "2024-05-01 10:00:00", "total": 26}
-- row saleorder: {"orderid": 1001, "customerid": 1, "orderedon": "2024-05-02 11:30:00", "total": "39.98", "status": "P"}
-- row saleorder: {"orderid": 1002, "customerid": 2, "orderedon": "2023-12-31 23:59:59", "total": 5}
-- row orderline: {"orderid": 1000, "lineno": 1, "sku": "A1", "qty": 10, "unitprice": "2.50"}
-- row orderline: {"orderid": 1000, "lineno": 2, "sku": "B2", "qty": 1, "unitprice": "19.99"}
-- row orderline: {"orderid": 1001, "lineno": 1, "sku": "B2", "qty": 2, "unitprice": "19.99"}
-- row orderline: {"orderid": 1002, "lineno": 1, "sku": "A1", "qty": 2, "unitprice": "2.50"}
-- row staff: {"staffid": 1, "staffname": "Ann", "bossid": None, "wage": 100}
-- row staff: {"staffid": 2, "staffname": "Bo", "bossid": 1, "wage": 50}
-- row staff: {"staffid": 3, "staffname": "Cy", "bossid": 1, "wage": 40}
-- row staff: {"staffid": 4, "staffname": "Di", "bossid": 2}
-- row setting: {"name": "mode", "value": "test"}
SET ANSI_NULLS ON
GO
SET QUOTED_IDENTIFIER ON
GO
CREATE TABLE [dbo].[Customer](
    [CustomerId] [int] IDENTITY(1,1) NOT NULL,
    [Code] [char](6) NOT NULL,
    [FirstName] [nvarchar](50) NULL,
    [LastName] [nvarchar](50) NOT NULL,
    [Email] [varchar](120) NULL,
    [CreditLimit] [money] NOT NULL CONSTRAINT [DF_Customer_CreditLimit] DEFAULT ((0)),
    [IsBlocked] [bit] NOT NULL CONSTRAINT [DF_Customer_IsBlocked] DEFAULT ((0)),
    [CreatedOn] [datetime] NOT NULL CONSTRAINT [DF_Customer_CreatedOn] DEFAULT (getdate()),
    [RowGuid] [uniqueidentifier] NOT NULL CONSTRAINT [DF_Customer_RowGuid] DEFAULT (newid()),
 CONSTRAINT [PK_Customer] PRIMARY KEY CLUSTERED ([CustomerId] ASC)
) ON [PRIMARY]
GO
CREATE UNIQUE NONCLUSTERED INDEX [UX_Customer_Code] ON [dbo].[Customer] ([Code] ASC)
    WITH (PAD_INDEX = OFF, FILLFACTOR = 90) ON [PRIMARY]
GO
CREATE TABLE [dbo].[Item](
    [Sku] [varchar](20) NOT NULL PRIMARY KEY,
    [Title] [nvarchar](100) NOT NULL,
    [Price] [decimal](10, 2) NOT NULL,
    [Cost] [decimal](10, 2) NULL,
    [Stock] [int] NOT NULL DEFAULT (0),
    [ReorderAt] [smallint] NULL,
    [Margin] AS ([Price] - ISNULL([Cost], 0)),
    [Discontinued] [bit] NOT NULL DEFAULT (0),
    CONSTRAINT [CK_Item_Price] CHECK ([Price] >= (0))
)
GO
CREATE TABLE [dbo].[SaleOrder](
    [OrderId] [int] IDENTITY(1000,1) NOT NULL PRIMARY KEY,
    [CustomerId] [int] NOT NULL CONSTRAINT FK_SaleOrder_Customer REFERENCES dbo.Customer (CustomerId),
    [OrderedOn] [datetime2](0) NOT NULL DEFAULT (sysdatetime()),
    [Status] [char](1) NOT NULL DEFAULT ('N') CHECK ([Status] IN ('N','P','S','X')),
    [Total] [money] NULL,
    [Note] [nvarchar](max) NULL
)
GO
CREATE TABLE [dbo].[OrderLine](
    [OrderId] [int] NOT NULL REFERENCES dbo.SaleOrder (OrderId) ON DELETE CASCADE,
    [LineNo] [int] NOT NULL,
    [Sku] [varchar](20) NOT NULL REFERENCES dbo.Item (Sku),
    [Qty] [int] NOT NULL,
    [UnitPrice] [decimal](10, 2) NOT NULL,
    PRIMARY KEY ([OrderId], [LineNo])
)
GO
CREATE TABLE [dbo].[Staff](
    [StaffId] [int] NOT NULL PRIMARY KEY,
    [StaffName] [nvarchar](60) NOT NULL,
    [BossId] [int] NULL REFERENCES dbo.Staff (StaffId),
    [Wage] [decimal](9, 2) NULL,
    [StartedOn] [date] NULL
)
GO
CREATE TABLE [dbo].[AuditLog](
    [AuditId] [bigint] IDENTITY(1,1) NOT NULL PRIMARY KEY,
    [What] [nvarchar](400) NOT NULL,
    [KeyValue] [nvarchar](60) NULL,
    [At] [datetime] NOT NULL DEFAULT (getdate())
)
GO
CREATE TABLE [dbo].[Setting]([Name] [sysname] NOT NULL PRIMARY KEY, [Value] [nvarchar](200) NULL)
GO
CREATE TYPE [dbo].[OrderLineList] AS TABLE([Sku] [varchar](20) NOT NULL, [Qty] [int] NOT NULL)
GO
CREATE TYPE [dbo].[IdList] AS TABLE([Id] [int] NOT NULL PRIMARY KEY)
GO
CREATE TYPE [dbo].[ShortName] FROM [nvarchar](20) NOT NULL
GO

-- functions

-- gives fnFullName('Moe', 'Lund'): 'Moe Lund'
-- gives fnFullName(None, 'Lund'): 'Lund'
CREATE FUNCTION dbo.fnFullName (@First nvarchar(50), @Last nvarchar(50))
RETURNS nvarchar(101)
AS
BEGIN
    RETURN LTRIM(RTRIM(ISNULL(@First + ' ', '') + @Last))
END
GO
-- gives fnWithTax('10.00', '0.25'): '12.5000'
-- gives fnWithTax(None, '0.25'): None
CREATE FUNCTION [dbo].[fnWithTax](@Net money, @Rate decimal(5,4) = 0.25) RETURNS money
WITH SCHEMABINDING
AS BEGIN
    DECLARE @Gross money;
    SET @Gross = @Net * (1 + @Rate);
    RETURN @Gross;
END
GO
-- gives fnTaxDefault('100'): '125.0000'
CREATE FUNCTION dbo.fnTaxDefault(@Net money) RETURNS money AS
BEGIN
    RETURN dbo.fnWithTax(@Net, DEFAULT)
END
GO
-- gives fnGrade(5): 'poor'
-- gives fnGrade(50): 'fair'
-- gives fnGrade(500): 'good'
-- gives fnGrade(None): 'good'
CREATE FUNCTION dbo.fnGrade(@Points int) RETURNS varchar(10)
AS
BEGIN
    DECLARE @g varchar(10)
    IF @Points < 10
        SET @g = 'poor'
    ELSE IF @Points BETWEEN 10 AND 99
        SET @g = 'fair'
    ELSE
        SET @g = 'good'
    RETURN @g
END
GO
-- gives fnSplitNth('a,b,c', 2): 'b'
-- gives fnSplitNth('a,b,c', 4): None
-- gives fnSplitNth('', 1): ''
CREATE FUNCTION dbo.fnSplitNth(@List varchar(8000), @N int) RETURNS varchar(100)
AS
BEGIN
    DECLARE @Pos int = 1, @Next int, @I int = 1
    SET @List = @List + ','
    WHILE 1 = 1
    BEGIN
        SET @Next = CHARINDEX(',', @List, @Pos)
        IF @Next = 0 BREAK
        IF @I = @N RETURN SUBSTRING(@List, @Pos, @Next - @Pos)
        SET @Pos = @Next + 1
        SET @I += 1
    END
    RETURN NULL
END
GO
-- gives fnDigits('a1b22-c3'): '1223'
CREATE FUNCTION dbo.fnDigits(@s varchar(200)) RETURNS varchar(200) AS
BEGIN
    WHILE PATINDEX('%[^0-9]%', @s) > 0
        SET @s = STUFF(@s, PATINDEX('%[^0-9]%', @s), 1, '')
    RETURN @s
END
GO
-- gives fnProper('sHIP CHANDLER'): 'Ship Chandler'
CREATE FUNCTION dbo.fnProper(@Text varchar(200)) RETURNS varchar(200)
AS
BEGIN
    DECLARE @Index int, @Char char(1), @Out varchar(200), @Prev char(1)
    SET @Out = LOWER(@Text)
    SET @Index = 1
    WHILE @Index <= LEN(@Text)
    BEGIN
        SET @Char = SUBSTRING(@Text, @Index, 1)
        SET @Prev = CASE WHEN @Index = 1 THEN ' ' ELSE SUBSTRING(@Text, @Index - 1, 1) END
        IF @Prev IN (' ', ';', ':', '-')
            SET @Out = STUFF(@Out, @Index, 1, UPPER(@Char))
        SET @Index = @Index + 1
    END
    RETURN @Out
END
GO
-- gives fnFactorial(5): 120
-- gives fnFactorial(0): 1
CREATE FUNCTION dbo.fnFactorial(@n int) RETURNS bigint AS
BEGIN
    IF @n <= 1 RETURN 1
    RETURN @n * dbo.fnFactorial(@n - 1)
END
GO
-- gives fnAgeOn('2000-05-10', '2024-05-09'): 23
-- gives fnAgeOn('2000-05-10', '2024-05-10'): 24
CREATE FUNCTION dbo.fnAgeOn(@Born date, @On date) RETURNS int
AS
BEGIN
    RETURN DATEDIFF(yy, @Born, @On)
        - CASE WHEN (MONTH(@Born) > MONTH(@On)) OR (MONTH(@Born) = MONTH(@On) AND DAY(@Born) > DAY(@On)) THEN 1 ELSE 0 END
END
GO
-- gives fnStartOfDay('2024-05-06 17:08:09'): '2024-05-06 00:00:00'
CREATE FUNCTION dbo.fnStartOfDay(@When datetime) RETURNS datetime AS
BEGIN
    RETURN DATEADD(dd, DATEDIFF(dd, 0, @When), 0)
END
GO
-- gives fnStartOfMonth('2024-05-16 17:08:09'): '2024-05-01 00:00:00'
CREATE FUNCTION dbo.fnStartOfMonth(@When datetime) RETURNS datetime AS
BEGIN
    RETURN DATEADD(mm, DATEDIFF(mm, 0, @When), 0)
END
GO
-- gives fnQuarter('2024-05-16'): '2024-Q2'
CREATE FUNCTION dbo.fnQuarter(@d date) RETURNS char(7) AS
BEGIN
    RETURN CAST(YEAR(@d) AS char(4)) + '-Q' + CAST(DATEPART(quarter, @d) AS char(1))
END
GO
-- gives fnStamp('2024-05-06 07:08:09'): '06/05/2024 07:08:09'
CREATE FUNCTION dbo.fnStamp(@When datetime) RETURNS varchar(30) AS
BEGIN
    RETURN CONVERT(varchar(10), @When, 103) + ' ' + CONVERT(varchar(8), @When, 108)
END
GO
-- gives fnMinutesText(135): '2:15'
CREATE FUNCTION dbo.fnMinutesText(@m int) RETURNS varchar(12) AS
BEGIN
    RETURN CONVERT(varchar(8), @m / 60) + ':' + RIGHT('0' + CONVERT(varchar(2), @m % 60), 2)
END
GO
-- gives fnIsMail('moe@kestrel.bay'): True
-- gives fnIsMail('moe kestrel.bay'): False
-- gives fnIsMail(None): False
CREATE FUNCTION dbo.fnIsMail(@Mail varchar(120)) RETURNS bit AS
BEGIN
    IF @Mail IS NULL OR @Mail NOT LIKE '%_@_%._%' OR CHARINDEX(' ', LTRIM(RTRIM(@Mail))) <> 0
        RETURN 0
    RETURN 1
END
GO
-- gives fnTryInt('12'): 12
-- gives fnTryInt('twelve'): -1
CREATE FUNCTION dbo.fnTryInt(@s varchar(20)) RETURNS int AS
BEGIN
    RETURN COALESCE(TRY_CAST(@s AS int), -1)
END
GO
-- gives fnChoose(2): 'gold'
-- gives fnChoose(9): None
CREATE FUNCTION dbo.fnChoose(@n int) RETURNS varchar(10) AS
BEGIN
    RETURN CHOOSE(@n, 'silver', 'gold', 'amber')
END
GO
-- gives fnConcat('a', None): 'a-/'
CREATE FUNCTION dbo.fnConcat(@a varchar(10), @b varchar(10)) RETURNS varchar(40) AS
BEGIN
    RETURN CONCAT(@a, '-', @b, '/')
END
GO
-- gives fnFormatMoney('1234.5'): '1,234.50'
CREATE FUNCTION dbo.fnFormatMoney(@m money) RETURNS varchar(30) AS
BEGIN
    RETURN CONVERT(varchar(30), @m, 1)
END
GO
-- gives fnCustomerName(1): 'Moe Lund'
-- gives fnCustomerName(77): '(unknown)'
CREATE FUNCTION dbo.fnCustomerName(@Id int) RETURNS nvarchar(101) AS
BEGIN
    DECLARE @Name nvarchar(101)
    SELECT @Name = dbo.fnFullName(FirstName, LastName) FROM dbo.Customer WITH (NOLOCK) WHERE CustomerId = @Id
    IF @@ROWCOUNT = 0 SET @Name = '(unknown)'
    RETURN @Name
END
GO
-- gives fnOpenTotal(1): '84.9700'
-- gives fnOpenTotal(3): '0.0000'
CREATE FUNCTION dbo.fnOpenTotal(@CustomerId int) RETURNS money AS
BEGIN
    DECLARE @t money
    SELECT @t = SUM(l.Qty * l.UnitPrice)
    FROM SaleOrder o
    INNER JOIN OrderLine l ON l.OrderId = o.OrderId
    WHERE o.CustomerId = @CustomerId AND o.Status IN ('N', 'P')
    RETURN ISNULL(@t, 0)
END
GO
-- gives fnLineList(1000): 'A1x10; B2x1'
CREATE FUNCTION dbo.fnLineList(@OrderId int) RETURNS varchar(max) AS
BEGIN
    DECLARE @List varchar(max)
    SELECT @List = COALESCE(@List + '; ', '') + Sku + 'x' + CAST(Qty AS varchar(10))
    FROM dbo.OrderLine WHERE OrderId = @OrderId
    ORDER BY [LineNo]
    RETURN @List
END
GO
-- gives fnLineXml(1000): 'A1,B2'
CREATE FUNCTION dbo.fnLineXml(@OrderId int) RETURNS varchar(max) AS
BEGIN
    RETURN STUFF((SELECT ',' + Sku FROM dbo.OrderLine WHERE OrderId = @OrderId ORDER BY Sku FOR XML PATH('')), 1, 1, '')
END
GO
-- gives fnLineXmlTyped(1000): 'A1,B2'
CREATE FUNCTION dbo.fnLineXmlTyped(@OrderId int) RETURNS nvarchar(max) AS
BEGIN
    RETURN (SELECT STUFF((SELECT ',' + l.Sku FROM dbo.OrderLine AS l WHERE l.OrderId = @OrderId ORDER BY l.Sku
                          FOR XML PATH(''), TYPE).value('.', 'nvarchar(max)'), 1, 1, ''))
END
GO
-- gives fnDepth(4): 2
-- gives fnDepth(1): 0
CREATE FUNCTION dbo.fnDepth(@StaffId int) RETURNS int AS
BEGIN
    DECLARE @d int = -1
    WHILE @StaffId IS NOT NULL
    BEGIN
        SELECT @StaffId = BossId FROM Staff WHERE StaffId = @StaffId
        SET @d = @d + 1
    END
    RETURN @d
END
GO
-- asks SELECT StaffName, Lvl FROM fnTeam(1) ORDER BY StaffName: [('Ann', 0), ('Bo', 1), ('Cy', 1), ('Di', 2)]
CREATE FUNCTION dbo.fnTeam(@Root int) RETURNS TABLE AS RETURN
(
    WITH team AS (
        SELECT StaffId, StaffName, 0 AS Lvl FROM dbo.Staff WHERE StaffId = @Root
        UNION ALL
        SELECT s.StaffId, s.StaffName, t.Lvl + 1 FROM dbo.Staff s JOIN team t ON s.BossId = t.StaffId
    )
    SELECT StaffId, StaffName, Lvl FROM team
)
GO
-- asks SELECT Part FROM fnSplit('x;y;z', ';') ORDER BY Pos: [('x',), ('y',), ('z',)]
CREATE FUNCTION dbo.fnSplit(@Text nvarchar(max), @Sep nchar(1))
RETURNS @Parts TABLE (Pos int IDENTITY(1,1) PRIMARY KEY, Part nvarchar(200))
AS
BEGIN
    DECLARE @p int
    SET @p = CHARINDEX(@Sep, @Text)
    WHILE @p > 0
    BEGIN
        INSERT INTO @Parts (Part) VALUES (LEFT(@Text, @p - 1))
        SET @Text = SUBSTRING(@Text, @p + 1, LEN(@Text))
        SET @p = CHARINDEX(@Sep, @Text)
    END
    INSERT @Parts (Part) SELECT @Text
    RETURN
END
GO
-- asks SELECT * FROM fnDays('2024-02-28', '2024-03-01') ORDER BY 1: [('2024-02-28',), ('2024-02-29',), ('2024-03-01',)]
CREATE FUNCTION dbo.fnDays(@From date, @To date) RETURNS @Days TABLE ([Day] date NOT NULL) AS
BEGIN
    WHILE @From <= @To
    BEGIN
        INSERT INTO @Days VALUES (@From);
        SELECT @From = DATEADD(day, 1, @From);
    END
    RETURN;
END
GO

-- views

-- asks SELECT LastName, Orders, Spent FROM vCustomerSpend ORDER BY CustomerId: [('Lund', 2, '65.9800'), ('Aske', 1, '5.0000'), ('Dahl', 0, '0.0000')]
CREATE VIEW dbo.vCustomerSpend AS
SELECT c.CustomerId, c.LastName, COUNT(o.OrderId) AS Orders, ISNULL(SUM(o.Total), 0) Spent
FROM dbo.Customer AS c
LEFT OUTER JOIN dbo.SaleOrder o ON o.CustomerId = c.CustomerId AND o.Status <> 'X'
GROUP BY c.CustomerId, c.LastName
GO
-- asks SELECT Sku FROM vBest ORDER BY 1: [('A1',), ('B2',)]
CREATE VIEW vBest AS
SELECT TOP (100) PERCENT Sku, 'Sold' = SUM(Qty)
FROM OrderLine
GROUP BY Sku
HAVING SUM(Qty) > 0
ORDER BY SUM(Qty) DESC
GO
-- asks SELECT * FROM vByStatus: [(2, 1, 0)]
CREATE VIEW dbo.vByStatus AS
SELECT ISNULL([N], 0) AS IsNew, ISNULL([P], 0) AS IsPaid, ISNULL([X], 0) AS IsOff
FROM (SELECT OrderId, Status FROM dbo.SaleOrder) AS s
PIVOT (COUNT(OrderId) FOR Status IN ([N], [P], [X])) AS p
GO
-- asks SELECT Sku, Kind, Amount FROM vAmounts WHERE Sku = 'A1' ORDER BY Kind: [('A1', 'Cost', '1.00'), ('A1', 'Price', '2.50')]
CREATE VIEW dbo.vAmounts AS
SELECT Sku, Kind, Amount
FROM dbo.Item
UNPIVOT (Amount FOR Kind IN (Price, Cost)) AS u
GO
-- asks SELECT Sku, Rnk FROM vRanked WHERE OrderId = 1000 ORDER BY Rnk: [('A1', 1), ('B2', 2)]
CREATE VIEW dbo.vRanked AS
SELECT OrderId, Sku, ROW_NUMBER() OVER (PARTITION BY OrderId ORDER BY Qty * UnitPrice DESC, Sku) AS Rnk,
       SUM(Qty) OVER (PARTITION BY OrderId) AS OrderQty
FROM dbo.OrderLine
GO

-- procedures

-- gives uspGetCustomer(2): [] [[(2, 'Ida', 'Aske', None)]]
-- gives uspGetCustomer(99): [] [[]]
CREATE PROCEDURE [dbo].[uspGetCustomer]
    @CustomerId int
AS
BEGIN
    SET NOCOUNT ON;
    SELECT c.CustomerId, c.FirstName, c.LastName, c.Email
    FROM dbo.Customer c
    WHERE c.CustomerId = @CustomerId;
END
GO
-- gives uspFindCustomers('L', None): [] [[('Lund',)]]
-- gives uspFindCustomers(None, None): [] [[('Aske',), ('Dahl',), ('Lund',)]]
CREATE PROC dbo.uspFindCustomers @Name nvarchar(50) = NULL, @MinCredit money = NULL
AS
SET NOCOUNT ON
SELECT LastName FROM Customer
WHERE (@Name IS NULL OR LastName LIKE @Name + '%')
  AND (@MinCredit IS NULL OR CreditLimit >= @MinCredit)
ORDER BY LastName
GO
-- gives uspAddCustomer('LX01', 'Eli', 'Holm', None): [4]
-- leaves uspAddCustomer('LX01', 'Eli', 'Holm', None); SELECT code, lastname FROM customer WHERE customerid > 3: [('LX01  ', 'Holm')]
-- fails uspAddCustomer('MOE001', 'Eli', 'Holm', None): taken
CREATE PROCEDURE dbo.uspAddCustomer
    @Code char(6), @First nvarchar(50), @Last nvarchar(50), @NewId int OUTPUT
AS
BEGIN
    SET NOCOUNT ON
    IF EXISTS (SELECT 1 FROM dbo.Customer WHERE Code = @Code)
    BEGIN
        RAISERROR('Code %s is taken', 16, 1, @Code)
        RETURN -1
    END
    INSERT INTO dbo.Customer (Code, FirstName, LastName) VALUES (@Code, @First, @Last)
    SET @NewId = SCOPE_IDENTITY()
    RETURN 0
END
GO
-- leaves uspRename(1, 'Lind'); SELECT lastname FROM customer WHERE customerid = 1: [('Lind',)]
-- leaves uspRename(1, 'Lind'); SELECT what, keyvalue FROM auditlog: [('renamed Lund', '1')]
CREATE PROCEDURE dbo.uspRename @Id int, @Name nvarchar(50) AS
BEGIN
    DECLARE @Old TABLE (Id int, OldName nvarchar(50))
    UPDATE dbo.Customer SET LastName = @Name
    OUTPUT deleted.CustomerId, deleted.LastName INTO @Old
    WHERE CustomerId = @Id
    INSERT INTO dbo.AuditLog (What, KeyValue) SELECT N'renamed ' + OldName, CAST(Id AS nvarchar(60)) FROM @Old
END
GO
-- leaves uspAddLine(1001, 'B2', 3); SELECT lineno, qty, unitprice FROM orderline WHERE orderid = 1001: [(1, 2, '19.99'), (2, 3, '19.99')]
-- leaves uspAddLine(1001, 'B2', 3); SELECT stock FROM item WHERE sku = 'B2': [(-2,)]
CREATE PROCEDURE dbo.uspAddLine @OrderId int, @Sku varchar(20), @Qty int
AS
BEGIN
    SET NOCOUNT, XACT_ABORT ON;
    DECLARE @Line int;
    SELECT @Line = ISNULL(MAX([LineNo]), 0) + 1 FROM dbo.OrderLine WITH (UPDLOCK, HOLDLOCK) WHERE OrderId = @OrderId;
    INSERT dbo.OrderLine (OrderId, [LineNo], Sku, Qty, UnitPrice)
    SELECT @OrderId, @Line, i.Sku, @Qty, i.Price FROM dbo.Item i WHERE i.Sku = @Sku;
    UPDATE dbo.Item SET Stock -= @Qty WHERE Sku = @Sku;
END
GO
-- gives uspTotals(): [3]
-- leaves uspTotals(None); SELECT orderid, total FROM saleorder ORDER BY orderid: [(1000, '44.9900'), (1001, '39.9800'), (1002, '5.0000')]
CREATE PROCEDURE dbo.uspTotals @Changed int = NULL OUTPUT AS
BEGIN
    UPDATE o
    SET o.Total = x.Total
    FROM dbo.SaleOrder o
    JOIN (SELECT OrderId, SUM(Qty * UnitPrice) AS Total FROM dbo.OrderLine GROUP BY OrderId) x ON x.OrderId = o.OrderId
    SET @Changed = @@ROWCOUNT
END
GO
-- leaves uspPurge('2024-01-01'); SELECT orderid FROM saleorder ORDER BY 1: [(1000,), (1001,)]
CREATE PROCEDURE dbo.uspPurge @Before date AS
BEGIN
    SET NOCOUNT ON
    WHILE (1 = 1)
    BEGIN
        DELETE TOP (1) FROM dbo.SaleOrder WHERE OrderedOn < @Before
        IF @@ROWCOUNT < 1 BREAK
    END
END
GO
-- gives uspPlaceOrder(1, 'A1', 4, None, None): [1003, 'fine']
-- gives uspPlaceOrder(1, 'B2', 4, None, None): [None, 'not enough of B2']
-- leaves uspPlaceOrder(1, 'A1', 4, None, None); SELECT total FROM saleorder WHERE orderid = 1003: [('10.0000',)]
-- leaves uspPlaceOrder(1, 'B2', 4, None, None); SELECT count(*) FROM saleorder: [(3,)]
CREATE PROCEDURE dbo.uspPlaceOrder
    @CustomerId int, @Sku varchar(20), @Qty int, @OrderId int OUTPUT, @Message nvarchar(200) OUTPUT
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Price decimal(10,2), @Stock int;
    BEGIN TRY
        SELECT @Price = Price, @Stock = Stock FROM dbo.Item WHERE Sku = @Sku;
        IF @Stock < @Qty
            RAISERROR(N'not enough of %s', 16, 1, @Sku);
        INSERT INTO dbo.SaleOrder (CustomerId, Total) VALUES (@CustomerId, @Price * @Qty);
        SELECT @OrderId = SCOPE_IDENTITY();
        INSERT INTO dbo.OrderLine VALUES (@OrderId, 1, @Sku, @Qty, @Price);
        SET @Message = 'fine';
    END TRY
    BEGIN CATCH
        SET @Message = ERROR_MESSAGE();
        SET @OrderId = NULL;
    END CATCH
END
GO
-- gives uspBulkAdd(): [] [[(3,)]]
-- leaves uspBulkAdd(); SELECT sku, stock FROM item WHERE sku > 'C' ORDER BY 1: [('X1', 1), ('X2', 2), ('X3', 3)]
CREATE PROCEDURE uspBulkAdd AS
BEGIN
    SET NOCOUNT ON
    CREATE TABLE #new (Id int IDENTITY(1,1), Sku varchar(20) COLLATE DATABASE_DEFAULT, Price decimal(10,2))
    INSERT INTO #new (Sku, Price) VALUES ('X1', 1), ('X2', 2), ('X3', 3)
    INSERT INTO Item (Sku, Title, Price, Stock) SELECT n.Sku, 'New ' + n.Sku, n.Price, n.Id FROM #new n
    SELECT COUNT(*) FROM #new
    DROP TABLE #new
END
GO
-- gives uspIntoTemp(): [] [[('B2', 1)]]
CREATE PROCEDURE uspIntoTemp AS
    IF OBJECT_ID('tempdb..#low') IS NOT NULL DROP TABLE #low
    SELECT Sku, Stock INTO #low FROM Item WHERE Stock < ISNULL(ReorderAt, 5)
    SELECT Sku, Stock FROM #low ORDER BY Sku
GO
-- leaves uspCursor(); SELECT what FROM auditlog ORDER BY auditid: [('Lund: 84.97',), ('Aske: 5.00',), ('Dahl: 0.00',)]
CREATE PROCEDURE dbo.uspCursor
AS
BEGIN
    DECLARE @Id int, @Name nvarchar(50), @Sum decimal(12,2)
    DECLARE cur CURSOR LOCAL FAST_FORWARD FOR
        SELECT CustomerId, LastName FROM dbo.Customer ORDER BY CustomerId
    OPEN cur
    FETCH NEXT FROM cur INTO @Id, @Name
    WHILE @@FETCH_STATUS = 0
    BEGIN
        SELECT @Sum = SUM(l.Qty * l.UnitPrice) FROM OrderLine l JOIN SaleOrder o ON o.OrderId = l.OrderId WHERE o.CustomerId = @Id
        IF @Sum IS NULL
            SET @Sum = 0
        INSERT INTO AuditLog (What) VALUES (@Name + ': ' + CONVERT(varchar(20), @Sum))
        FETCH NEXT FROM cur INTO @Id, @Name
    END
    CLOSE cur
    DEALLOCATE cur
END
GO
-- leaves uspRaise('5'); SELECT staffname, wage FROM staff ORDER BY staffid: [('Ann', '105.00'), ('Bo', '52.50'), ('Cy', '42.00'), ('Di', None)]
CREATE PROCEDURE dbo.uspRaise @Percent decimal(5,2) AS
    UPDATE dbo.Staff SET Wage = ROUND(Wage * (1 + @Percent / 100), 2) WHERE Wage IS NOT NULL
GO
-- gives uspSearch('cost > 5'): [] [[('B2',)]]
-- gives uspSearch(None): [] [[('A1',), ('B2',)]]
CREATE PROCEDURE dbo.uspSearch @Filter nvarchar(200) = NULL AS
BEGIN
    DECLARE @sql nvarchar(max)
    SET @sql = N'SELECT Sku FROM dbo.Item WHERE Discontinued = 0'
    IF @Filter IS NOT NULL
        SET @sql = @sql + N' AND ' + @Filter
    SET @sql = @sql + N' ORDER BY Sku'
    EXEC (@sql)
END
GO
-- gives uspSearchBound('B', None): [] [[('B2', '19.99')]]
-- gives uspSearchBound(None, '3'): [] [[('A1', '2.50')]]
CREATE PROCEDURE dbo.uspSearchBound @Prefix varchar(20) = NULL, @MaxPrice decimal(10,2) = NULL AS
BEGIN
    SET NOCOUNT ON
    DECLARE @sql nvarchar(4000), @params nvarchar(400)
    SELECT @sql = N'SELECT Sku, Price FROM dbo.Item WHERE 1 = 1'
    IF @Prefix IS NOT NULL SELECT @sql = @sql + N' AND Sku LIKE @pPrefix + ''%'''
    IF @MaxPrice IS NOT NULL SELECT @sql = @sql + N' AND Price <= @pMax'
    SET @params = N'@pPrefix varchar(20), @pMax decimal(10,2)'
    EXEC sp_executesql @sql, @params, @pPrefix = @Prefix, @pMax = @MaxPrice
END
GO
-- gives uspCountOf('Customer', None): [3]
CREATE PROCEDURE dbo.uspCountOf @Table sysname, @Rows int OUTPUT AS
BEGIN
    DECLARE @sql nvarchar(500) = N'SELECT @n = COUNT(*) FROM dbo.' + QUOTENAME(@Table)
    EXEC sp_executesql @sql, N'@n int OUTPUT', @n = @Rows OUTPUT
END
GO
-- leaves uspUpsertItem('A1', 'Line', '3.00'); SELECT title, price FROM item WHERE sku = 'A1': [('Line', '3.00')]
-- leaves uspUpsertItem('C3', 'Net', '7.00'); SELECT title, price, stock FROM item WHERE sku = 'C3': [('Net', '7.00', 0)]
CREATE PROCEDURE dbo.uspUpsertItem @Sku varchar(20), @Title nvarchar(100), @Price decimal(10,2) AS
BEGIN
    MERGE dbo.Item WITH (HOLDLOCK) AS t
    USING (SELECT @Sku AS Sku, @Title AS Title, @Price AS Price) AS s ON t.Sku = s.Sku
    WHEN MATCHED AND (t.Title <> s.Title OR t.Price <> s.Price) THEN UPDATE SET Title = s.Title, Price = s.Price
    WHEN NOT MATCHED BY TARGET THEN INSERT (Sku, Title, Price) VALUES (s.Sku, s.Title, s.Price);
END
GO
-- leaves uspSetSetting('colour', 'blue'); SELECT name, value FROM setting ORDER BY 1: [('colour', 'blue'), ('mode', 'test')]
-- leaves uspSetSetting('mode', 'live'); SELECT name, value FROM setting ORDER BY 1: [('mode', 'live')]
CREATE PROCEDURE dbo.uspSetSetting @Name sysname, @Value nvarchar(200) AS
BEGIN
    UPDATE dbo.Setting SET Value = @Value WHERE Name = @Name
    IF @@ROWCOUNT = 0
        INSERT dbo.Setting (Name, Value) VALUES (@Name, @Value)
END
GO
-- gives uspGetSetting('mode', None): ['test']
-- gives uspGetSetting('none', None): ['unset']
CREATE PROCEDURE dbo.uspGetSetting @Name sysname, @Value nvarchar(200) = NULL OUTPUT AS
    SET @Value = (SELECT Value FROM dbo.Setting WHERE Name = @Name)
    IF @Value IS NULL SET @Value = 'unset'
GO
-- gives uspCallOthers(None): ['test/unset']
CREATE PROCEDURE dbo.uspCallOthers @Out nvarchar(100) OUTPUT AS
BEGIN
    DECLARE @a nvarchar(200), @b nvarchar(200), @rc int
    EXEC @rc = dbo.uspGetSetting @Name = N'mode', @Value = @a OUTPUT
    EXECUTE dbo.uspGetSetting 'none', @b OUT
    SET @Out = @a + N'/' + @b
END
GO
-- gives uspStatusOf(1000, None): ['new']
-- gives uspStatusOf(1, None): ['missing']
CREATE PROCEDURE dbo.uspStatusOf @OrderId int, @Word varchar(20) OUTPUT AS
BEGIN
    SET @Word = NULL
    SELECT @Word = CASE Status WHEN 'N' THEN 'new' WHEN 'P' THEN 'paid' ELSE 'other' END FROM SaleOrder WHERE OrderId = @OrderId
    IF @@ROWCOUNT = 0 BEGIN SET @Word = 'missing' END
END
GO
-- gives uspPaged(1, 1): [] [[('B2', 2)]]
CREATE PROCEDURE dbo.uspPaged @Page int, @Size int AS
BEGIN
    ;WITH numbered AS (
        SELECT Sku, ROW_NUMBER() OVER (ORDER BY Sku) AS rn FROM dbo.Item
    )
    SELECT Sku, rn FROM numbered WHERE rn BETWEEN @Page * @Size + 1 AND (@Page + 1) * @Size
    ORDER BY rn
END
GO
-- gives uspTop(1): [] [[('B2',)]]
CREATE PROCEDURE dbo.uspTop @n int AS
    SELECT TOP (@n) Sku FROM Item ORDER BY Price DESC, Sku
GO
-- gives uspTryMoney('12.50', None): ['12.5000']
-- gives uspTryMoney('abc', None): ['0.0000']
CREATE PROCEDURE dbo.uspTryMoney @Text varchar(20), @Value money OUTPUT AS
BEGIN
    BEGIN TRY
        SET @Value = CAST(@Text AS money)
    END TRY
    BEGIN CATCH
        SET @Value = 0
    END CATCH
END
GO
-- leaves uspTransfer('A1', 'B2', 4); SELECT sku, stock FROM item ORDER BY sku: [('A1', 6), ('B2', 5)]
-- leaves uspTransferSafe('A1', 'B2', 400); SELECT sku, stock FROM item ORDER BY sku: [('A1', 10), ('B2', 1)]
-- leaves uspTransferSafe('A1', 'B2', 400); SELECT what FROM auditlog: [('failed: short of A1',)]
-- fails uspTransfer('A1', 'B2', 400): short of A1
CREATE PROCEDURE dbo.uspTransfer @From varchar(20), @To varchar(20), @Qty int AS
BEGIN
    SET NOCOUNT ON
    BEGIN TRY
        BEGIN TRANSACTION
            UPDATE Item SET Stock = Stock - @Qty WHERE Sku = @From
            UPDATE Item SET Stock = Stock + @Qty WHERE Sku = @To
            IF (SELECT Stock FROM Item WHERE Sku = @From) < 0
            BEGIN
                DECLARE @m nvarchar(100) = 'short of ' + @From;
                THROW 50001, @m, 1;
            END
        COMMIT TRANSACTION
    END TRY
    BEGIN CATCH
        IF @@TRANCOUNT > 0 ROLLBACK TRANSACTION
        DECLARE @msg nvarchar(4000), @sev int, @state int
        SELECT @msg = ERROR_MESSAGE(), @sev = ERROR_SEVERITY(), @state = ERROR_STATE()
        RAISERROR(@msg, @sev, @state)
    END CATCH
END
GO
CREATE PROCEDURE dbo.uspTransferSafe @From varchar(20), @To varchar(20), @Qty int AS
BEGIN TRY
    EXEC dbo.uspTransfer @From, @To, @Qty
END TRY
BEGIN CATCH
    INSERT INTO AuditLog (What) VALUES (N'failed: ' + ERROR_MESSAGE())
END CATCH
GO
-- gives uspAddLines(): [] [[(3,)]]
-- leaves uspAddLines(); SELECT sku, qty FROM orderline WHERE orderid = 1002 ORDER BY lineno: [('A1', 2), ('A1', 7), ('B2', 1)]
CREATE PROCEDURE dbo.uspTakeLines @OrderId int, @Lines dbo.OrderLineList READONLY AS
BEGIN
    SET NOCOUNT ON
    INSERT INTO dbo.OrderLine (OrderId, [LineNo], Sku, Qty, UnitPrice)
    SELECT @OrderId, (SELECT COUNT(*) FROM dbo.OrderLine x WHERE x.OrderId = @OrderId) + ROW_NUMBER() OVER (ORDER BY l.Sku, l.Qty),
           l.Sku, l.Qty, i.Price
    FROM @Lines l JOIN dbo.Item i ON i.Sku = l.Sku
END
GO
CREATE PROCEDURE dbo.uspAddLines AS
BEGIN
    SET NOCOUNT ON
    DECLARE @l dbo.OrderLineList
    INSERT INTO @l (Sku, Qty) VALUES ('A1', 7)
    INSERT INTO @l (Sku, Qty) VALUES ('B2', 1)
    EXEC dbo.uspTakeLines 1002, @l
    SELECT COUNT(*) FROM dbo.OrderLine WHERE OrderId = 1002
END
GO
-- gives uspTableVariable(): [] [[('Aske', 1), ('Lund', 2)]]
CREATE PROCEDURE dbo.uspTableVariable AS
BEGIN
    DECLARE @t TABLE (CustomerId int PRIMARY KEY, n int DEFAULT 0)
    INSERT INTO @t (CustomerId, n) SELECT CustomerId, COUNT(*) FROM SaleOrder GROUP BY CustomerId
    SELECT c.LastName, t.n FROM @t t INNER JOIN Customer c ON c.CustomerId = t.CustomerId ORDER BY c.LastName
END
GO
-- gives uspInsertExec(): [] [[('Aske',), ('Dahl',), ('Lund',)]]
CREATE PROCEDURE dbo.uspInsertExec AS
BEGIN
    SET NOCOUNT ON
    CREATE TABLE #names (LastName nvarchar(50))
    INSERT INTO #names (LastName) EXEC dbo.uspFindCustomers NULL, NULL
    SELECT LastName FROM #names ORDER BY LastName
END
GO
-- gives uspReturnStatus(None): [7]
CREATE PROCEDURE dbo.uspReturnsSeven AS
    IF EXISTS (SELECT * FROM Customer) RETURN 7
    RETURN 0
GO
CREATE PROCEDURE dbo.uspReturnStatus @Got int OUTPUT AS
BEGIN
    EXEC @Got = dbo.uspReturnsSeven
END
GO
-- gives uspWhileTree(): [] [[('Ann', 0), ('Bo', 1), ('Cy', 1), ('Di', 2)]]
CREATE PROCEDURE dbo.uspWhileTree AS
BEGIN
    SET NOCOUNT ON
    DECLARE @level int = 0
    DECLARE @tree TABLE (StaffId int, Lvl int)
    INSERT INTO @tree SELECT StaffId, 0 FROM Staff WHERE BossId IS NULL
    WHILE @@ROWCOUNT > 0
    BEGIN
        SET @level = @level + 1
        INSERT INTO @tree
        SELECT s.StaffId, @level FROM Staff s JOIN @tree t ON t.StaffId = s.BossId
        WHERE t.Lvl = @level - 1 AND NOT EXISTS (SELECT 1 FROM @tree x WHERE x.StaffId = s.StaffId)
    END
    SELECT s.StaffName, t.Lvl FROM @tree t JOIN Staff s ON s.StaffId = t.StaffId ORDER BY t.Lvl, s.StaffName
END
GO
-- gives uspErrorInfo(None, None): ['divided', 8134]
CREATE PROCEDURE dbo.uspErrorInfo @What varchar(50) OUTPUT, @Number int OUTPUT AS
BEGIN
    DECLARE @zero int
    SET @zero = 0
    BEGIN TRY
        SELECT @Number = 1 / @zero
    END TRY
    BEGIN CATCH
        SELECT @What = CASE ERROR_NUMBER() WHEN 8134 THEN 'divided' ELSE 'other' END, @Number = ERROR_NUMBER()
    END CATCH
END
GO
-- leaves uspOldErrors('A1'); SELECT what FROM auditlog: [('no error',)]
CREATE PROCEDURE dbo.uspOldErrors @Sku varchar(20) AS
BEGIN
    DECLARE @err int
    UPDATE Item SET Stock = Stock WHERE Sku = @Sku
    SELECT @err = @@ERROR
    IF @err <> 0
    BEGIN
        ROLLBACK TRAN
        RETURN @err
    END
    INSERT AuditLog (What) VALUES ('no error')
END
GO
-- leaves uspCrossApply(); SELECT what FROM auditlog ORDER BY what: [('Aske', ), ('Lund',)]
CREATE PROCEDURE dbo.uspCrossApply AS
    INSERT INTO dbo.AuditLog (What, KeyValue)
    SELECT c.LastName, CAST(o.OrderId AS varchar(10))
    FROM dbo.Customer c
    CROSS APPLY (SELECT TOP 1 s.OrderId FROM dbo.SaleOrder s WHERE s.CustomerId = c.CustomerId ORDER BY s.OrderedOn DESC) o
GO
-- leaves uspDedupe(); SELECT count(*) FROM auditlog: [(2,)]
CREATE PROCEDURE dbo.uspDedupe AS
BEGIN
    INSERT INTO AuditLog (What) VALUES ('a'), ('a'), ('b');
    WITH d AS (SELECT AuditId, ROW_NUMBER() OVER (PARTITION BY What ORDER BY AuditId) AS rn FROM AuditLog)
    DELETE FROM AuditLog WHERE AuditId IN (SELECT AuditId FROM d WHERE rn > 1);
END
GO
-- leaves uspDedupeCte(); SELECT what FROM auditlog ORDER BY what: [('a',), ('b',)]
CREATE PROCEDURE dbo.uspDedupeCte AS
BEGIN
    INSERT INTO AuditLog (What) VALUES ('a'), ('a'), ('b');
    WITH d AS (SELECT *, ROW_NUMBER() OVER (PARTITION BY What ORDER BY AuditId) AS rn FROM AuditLog)
    DELETE FROM d WHERE rn > 1;
END
GO
-- leaves uspWaitPrint('x'); SELECT what FROM auditlog: [('x',)]
CREATE PROCEDURE dbo.uspWaitPrint @Text nvarchar(50) AS
BEGIN
    PRINT 'Logging ' + @Text
    WAITFOR DELAY '00:00:00.010'
    INSERT INTO AuditLog (What) VALUES (@Text)
END
GO
-- leaves uspMove(1000, 2); SELECT orderid FROM saleorder WHERE customerid = 2 ORDER BY 1: [(1000,), (1002,)]
CREATE PROCEDURE dbo.uspMove (@OrderId int, @To int) AS
BEGIN
    SET TRANSACTION ISOLATION LEVEL READ COMMITTED
    BEGIN TRAN
    UPDATE SaleOrder SET CustomerId = @To WHERE OrderId = @OrderId
    IF @@ERROR <> 0 BEGIN ROLLBACK TRAN RETURN 1 END
    COMMIT TRAN
    RETURN 0
END
GO
-- gives uspString(): [] [[('2024-05', 'AB', 3, 'c', 'No:   7', "x'y")]]
CREATE PROCEDURE dbo.uspString AS
    SELECT CONVERT(char(7), CAST('20240506' AS datetime), 120), UPPER('ab'), CHARINDEX('c', 'abc'), RIGHT('abc', 1),
           'No:' + STR(7, 4), 'x' + CHAR(39) + 'y'
GO
-- gives uspScalarSub(): [] [[('Lund', 2, 'Y'), ('Aske', 1, 'N'), ('Dahl', 0, 'N')]]
CREATE PROCEDURE dbo.uspScalarSub AS
    SELECT c.LastName, (SELECT COUNT(*) FROM SaleOrder o WHERE o.CustomerId = c.CustomerId) AS n,
           CASE WHEN EXISTS (SELECT 1 FROM SaleOrder o WHERE o.CustomerId = c.CustomerId AND o.Status = 'P') THEN 'Y' ELSE 'N' END
    FROM Customer c ORDER BY n DESC
GO
-- gives uspExcept(): [] [[(3,)]]
CREATE PROCEDURE dbo.uspExcept AS
    SELECT CustomerId FROM Customer EXCEPT SELECT CustomerId FROM SaleOrder
GO
-- gives uspRollup(): [] [[(1, '65.9800'), (2, '5.0000'), (None, '70.9800')]]
CREATE PROCEDURE dbo.uspRollup AS
    SELECT CustomerId, SUM(Total) AS s FROM SaleOrder GROUP BY CustomerId WITH ROLLUP
    ORDER BY CASE WHEN CustomerId IS NULL THEN 1 ELSE 0 END, CustomerId
GO
-- gives uspNullIf(0): [] [[(None,)]]
-- gives uspNullIf(4): [] [[(25,)]]
CREATE PROCEDURE dbo.uspNullIf @n int AS SELECT 100 / NULLIF(@n, 0) AS Share
GO
-- gives uspJson(): [] [[('Tern', 3)]]
CREATE PROCEDURE dbo.uspJson AS
BEGIN
    DECLARE @doc nvarchar(max) = N'{"ship": "Tern", "pilots": [1, 2, 3]}'
    SELECT JSON_VALUE(@doc, '$.ship'), CAST(JSON_VALUE(@doc, '$.pilots[2]') AS int)
END
GO
-- gives uspStringSplit('4,5,6'): [] [[(4,), (5,), (6,)]]
CREATE PROCEDURE dbo.uspStringSplit @Ids varchar(200) AS
    SELECT CAST(value AS int) AS Id FROM STRING_SPLIT(@Ids, ',') ORDER BY 1
GO
-- gives uspGoto(3): [] [[(6,)]]
CREATE PROCEDURE dbo.uspGoto @n int AS
BEGIN
    DECLARE @sum int = 0
again:
    SET @sum = @sum + @n
    SET @n = @n - 1
    IF @n > 0 GOTO again
    SELECT @sum
END
GO
-- gives uspContinue(): [] [[(25,)]]
CREATE PROCEDURE dbo.uspContinue AS
BEGIN
    DECLARE @i int = 0, @s int = 0
    WHILE @i < 10
    BEGIN
        SET @i += 1
        IF @i % 2 = 0 CONTINUE
        SET @s += @i
    END
    SELECT @s AS s
END
GO

-- triggers

-- leaves uspFirePrice(); SELECT what, keyvalue FROM auditlog ORDER BY what: [('price 2.50 to 5.00', 'A1')]
CREATE TRIGGER dbo.trItemPrice ON dbo.Item AFTER UPDATE AS
BEGIN
    SET NOCOUNT ON
    IF NOT UPDATE(Price) RETURN
    INSERT INTO dbo.AuditLog (What, KeyValue)
    SELECT 'price ' + CAST(d.Price AS varchar(12)) + ' to ' + CAST(i.Price AS varchar(12)), i.Sku
    FROM inserted i INNER JOIN deleted d ON d.Sku = i.Sku
    WHERE i.Price <> d.Price
END
GO
CREATE PROCEDURE dbo.uspFirePrice AS
BEGIN
    UPDATE Item SET Price = 5 WHERE Sku = 'A1'
    UPDATE Item SET Stock = 0
END
GO
-- leaves uspFireDelete(); SELECT lastname, isblocked FROM customer WHERE isblocked: [('Dahl', True)]
CREATE TRIGGER trCustomerDelete ON dbo.Customer INSTEAD OF DELETE AS
BEGIN
    UPDATE c SET IsBlocked = 1 FROM dbo.Customer c JOIN deleted d ON d.CustomerId = c.CustomerId
END
GO
CREATE PROCEDURE dbo.uspFireDelete AS
    DELETE FROM Customer WHERE LastName = 'Dahl'
GO
-- fails uspFireCredit(): too much credit
CREATE TRIGGER dbo.trCredit ON dbo.Customer FOR INSERT, UPDATE AS
IF EXISTS (SELECT * FROM inserted WHERE CreditLimit > 100000)
BEGIN
    RAISERROR ('too much credit', 16, 1)
    ROLLBACK TRANSACTION
    RETURN
END
GO
CREATE PROCEDURE dbo.uspFireCredit AS UPDATE Customer SET CreditLimit = 200000
GO

-- rows as JSON, and row versions

-- gives uspItemsAsJson('A1'): [] [[('[{"Sku" : "A1", "Price" : 2.50}]',)]]
-- gives uspItemsAsJson('none'): [] [[(None,)]]
CREATE PROCEDURE dbo.uspItemsAsJson @sku varchar(10) AS
    SELECT Sku, Price FROM dbo.Item WHERE Sku = @sku FOR JSON PATH
GO
-- gives uspCountAsJson(): [] [[('{"counts" : [{"n":1,"none":null}]}',)]]
CREATE PROCEDURE dbo.uspCountAsJson AS
    SELECT COUNT(*) AS n, NULL AS none FROM dbo.Item WHERE Sku = 'A1' FOR JSON PATH, ROOT('counts'), INCLUDE_NULL_VALUES
GO
CREATE TABLE dbo.Draught (DraughtId int NOT NULL PRIMARY KEY, Metres decimal(5, 2), Version rowversion NOT NULL)
GO
-- gives uspVersions(): [] [[(1,)]]
CREATE PROCEDURE dbo.uspVersions AS
BEGIN
    DECLARE @before binary(8), @after binary(8)
    INSERT INTO dbo.Draught (DraughtId, Metres) VALUES (1, 2.5), (2, 3)
    SELECT @before = Version FROM dbo.Draught WHERE DraughtId = 1
    UPDATE dbo.Draught SET Metres = 4 WHERE DraughtId = 1
    SELECT @after = Version FROM dbo.Draught WHERE DraughtId = 1
    SELECT CASE WHEN @after > @before AND DATALENGTH(@after) = 8 THEN 1 ELSE 0 END AS grown
END
GO
