-- Crane bookings, release 7 (SQL Server 2017)
SET ANSI_NULLS ON
SET QUOTED_IDENTIFIER ON
GO
CREATE SCHEMA crane AUTHORIZATION dbo
GO
CREATE TYPE crane.Phone FROM varchar(20) NULL
GO
CREATE SEQUENCE crane.BookingNo AS bigint START WITH 1000 INCREMENT BY 1 CACHE 50
GO
CREATE TABLE crane.Machine (
  MachineID int IDENTITY(1,1) NOT NULL CONSTRAINT PK_Machine PRIMARY KEY CLUSTERED,
  Code nvarchar(10) NOT NULL,
  MaxTons decimal(8,2) NOT NULL CONSTRAINT CK_Machine_Tons CHECK (MaxTons > 0 AND MaxTons < 2000),
  Active bit NOT NULL CONSTRAINT DF_Machine_Active DEFAULT (1),
  Serviced date NULL,
  Notes nvarchar(max) NULL,
  RowVer rowversion,
  CONSTRAINT UQ_Machine_Code UNIQUE NONCLUSTERED (Code)
)
GO
CREATE TABLE crane.Customer (
  CustomerID int IDENTITY PRIMARY KEY, [Name] nvarchar(80) NOT NULL, Phone crane.Phone, Email varchar(120) NULL,
  CreditLimit money NOT NULL DEFAULT 0, Joined datetime2(0) NOT NULL DEFAULT SYSUTCDATETIME()
)
GO
CREATE TABLE crane.Booking (
  BookingID bigint NOT NULL CONSTRAINT DF_Booking DEFAULT (NEXT VALUE FOR crane.BookingNo) PRIMARY KEY,
  MachineID int NOT NULL REFERENCES crane.Machine (MachineID),
  CustomerID int NOT NULL REFERENCES crane.Customer (CustomerID) ON DELETE CASCADE,
  StartsAt datetime NOT NULL, EndsAt datetime NOT NULL,
  Hours AS (DATEDIFF(minute, StartsAt, EndsAt) / 60.0),
  Tons decimal(8,2) NULL, Rate smallmoney NOT NULL,
  Amount AS (CONVERT(money, Rate * DATEDIFF(hour, StartsAt, EndsAt))) PERSISTED,
  Status char(1) NOT NULL DEFAULT 'N' CHECK (Status IN ('N','C','X')),
  CONSTRAINT CK_Booking_Times CHECK (EndsAt > StartsAt)
)
GO
CREATE INDEX IX_Booking_Machine ON crane.Booking (MachineID, StartsAt DESC) INCLUDE (Status, Tons) WHERE Status <> 'X'
GO
CREATE TABLE crane.Audit (AuditID int IDENTITY, At datetime DEFAULT GETDATE(), Who sysname DEFAULT SUSER_SNAME(), What nvarchar(400), OldVal sql_variant NULL)
GO
CREATE FUNCTION crane.fnOverlap (@machine int, @from datetime, @to datetime) RETURNS int
WITH SCHEMABINDING
AS
BEGIN
  RETURN (SELECT COUNT(*) FROM crane.Booking WHERE MachineID = @machine AND Status <> 'X' AND StartsAt < @to AND EndsAt > @from)
END
GO
CREATE FUNCTION crane.fnFree (@day date) RETURNS TABLE AS RETURN
  SELECT m.MachineID, m.Code, x.NextStart
  FROM crane.Machine m
  OUTER APPLY (SELECT TOP (1) b.StartsAt AS NextStart FROM crane.Booking b WHERE b.MachineID = m.MachineID AND b.StartsAt >= @day ORDER BY b.StartsAt) x
  WHERE m.Active = 1 AND NOT EXISTS (SELECT * FROM crane.Booking b2 WHERE b2.MachineID = m.MachineID AND CAST(b2.StartsAt AS date) = @day)
GO
CREATE FUNCTION crane.fnSlots (@from datetime, @n int) RETURNS @t TABLE (Slot int PRIMARY KEY, StartsAt datetime, Label varchar(20))
AS
BEGIN
  DECLARE @i int = 0
  WHILE @i < @n
  BEGIN
    INSERT @t (Slot, StartsAt, Label) VALUES (@i, DATEADD(hh, @i * 2, @from), 'S' + RIGHT('00' + CONVERT(varchar(3), @i), 2))
    SET @i += 1
  END
  RETURN
END
GO
CREATE VIEW crane.vUse WITH SCHEMABINDING AS
SELECT m.Code, YEAR(b.StartsAt) AS Yr, MONTH(b.StartsAt) AS Mon, COUNT_BIG(*) AS Cnt, SUM(ISNULL(b.Tons, 0)) AS Tons
FROM crane.Booking b INNER JOIN crane.Machine m ON m.MachineID = b.MachineID
GROUP BY m.Code, YEAR(b.StartsAt), MONTH(b.StartsAt)
GO
CREATE VIEW crane.vQuarter AS
SELECT Code, [1] AS Q1, [2] AS Q2, [3] AS Q3, [4] AS Q4
FROM (SELECT m.Code, DATEPART(q, b.StartsAt) AS Q, b.Tons FROM crane.Booking b JOIN crane.Machine m ON m.MachineID = b.MachineID) s
PIVOT (SUM(Tons) FOR Q IN ([1],[2],[3],[4])) p
GO
CREATE VIEW crane.vRank AS
SELECT TOP 100 PERCENT CustomerID, Total, RANK() OVER (ORDER BY Total DESC) AS Pos, 
  Total * 100.0 / NULLIF(SUM(Total) OVER (), 0) AS Pct, Total - LAG(Total, 1, 0) OVER (ORDER BY Total) AS Gap,
  IIF(Total > 1000, N'gross', N'klein') AS Size
FROM (SELECT CustomerID, SUM(Rate) AS Total FROM crane.Booking WHERE Status IN ('N', 'C') GROUP BY CustomerID) q
ORDER BY Total DESC
GO
CREATE PROCEDURE crane.Book
  @machine int, @customer int, @from datetime, @to datetime, @tons decimal(8,2) = NULL, @rate smallmoney = 85.50,
  @id bigint = NULL OUTPUT, @msg nvarchar(200) = N'' OUTPUT
AS
SET NOCOUNT, XACT_ABORT ON
DECLARE @limit money, @used money
IF NOT EXISTS (SELECT 1 FROM crane.Machine WHERE MachineID = @machine AND Active = 1)
BEGIN
  RAISERROR (N'Machine %d is not there', 16, 1, @machine)
  RETURN -1
END
IF crane.fnOverlap(@machine, @from, @to) > 0
BEGIN
  SET @msg = N'Taken between ' + CONVERT(nvarchar(16), @from, 120) + N' and ' + CONVERT(nvarchar(16), @to, 120)
  RETURN 1
END
SELECT @limit = CreditLimit FROM crane.Customer WHERE CustomerID = @customer
SELECT @used = ISNULL(SUM(Amount), 0) FROM crane.Booking WHERE CustomerID = @customer AND Status = 'N'
IF @limit IS NULL OR @limit - @used < @rate * DATEDIFF(hour, @from, @to)
BEGIN
  SET @msg = CONCAT(N'Limit ', @limit, N' used ', @used)
  RETURN 2
END
BEGIN TRY
  BEGIN TRANSACTION
  SET @id = NEXT VALUE FOR crane.BookingNo
  INSERT INTO crane.Booking (BookingID, MachineID, CustomerID, StartsAt, EndsAt, Tons, Rate)
  VALUES (@id, @machine, @customer, @from, @to, @tons, @rate)
  INSERT INTO crane.Audit (What, OldVal) VALUES (N'Booked ' + CAST(@id AS nvarchar(20)), @tons)
  COMMIT
END TRY
BEGIN CATCH
  IF XACT_STATE() <> 0 ROLLBACK TRANSACTION
  SET @msg = ERROR_MESSAGE() + N' (' + CAST(ERROR_NUMBER() AS nvarchar(10)) + N')'
  INSERT INTO crane.Audit (What) VALUES (LEFT(@msg, 400))
  RETURN ERROR_NUMBER()
END CATCH
RETURN 0
GO
CREATE PROCEDURE crane.CancelLate @days int AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @gone TABLE (BookingID bigint, Tons decimal(8,2), OldStatus char(1), NewStatus char(1));
  UPDATE b SET b.Status = 'X', b.Tons = b.Tons * 0.5
  OUTPUT inserted.BookingID, deleted.Tons, deleted.Status, inserted.Status INTO @gone
  FROM crane.Booking AS b JOIN crane.Customer c ON c.CustomerID = b.CustomerID
  WHERE b.Status = 'N' AND b.StartsAt < DATEADD(day, -@days, GETDATE()) AND c.Email IS NOT NULL;
  INSERT INTO crane.Audit (What)
  SELECT CONCAT('Cancelled ', g.BookingID, ' of ', FORMAT(g.Tons, 'N2')) FROM @gone AS g WHERE g.OldStatus <> g.NewStatus;
  SELECT COUNT(*) AS Gone, MAX(Tons) AS Heaviest FROM @gone;
  IF @@ROWCOUNT = 0 PRINT 'nothing';
END
GO
CREATE PROC crane.Sync @xml xml AS
BEGIN
  MERGE crane.Machine AS tgt
  USING (SELECT n.value('@code', 'nvarchar(10)') AS Code, n.value('@tons', 'decimal(8,2)') AS Tons FROM @xml.nodes('/m/c') AS t(n)) AS src
  ON tgt.Code = src.Code
  WHEN MATCHED AND tgt.MaxTons <> src.Tons THEN UPDATE SET MaxTons = src.Tons, Serviced = CAST(GETDATE() AS date)
  WHEN NOT MATCHED BY TARGET THEN INSERT (Code, MaxTons) VALUES (src.Code, src.Tons);
END
GO
CREATE PROCEDURE crane.Search @name nvarchar(80) = NULL, @minTons decimal(8,2) = NULL, @sort sysname = N'Name', @page int = 1, @size int = 20 AS
BEGIN
  SET NOCOUNT ON
  DECLARE @sql nvarchar(max) = N'SELECT c.CustomerID, c.[Name], COUNT(b.BookingID) AS N FROM crane.Customer c LEFT JOIN crane.Booking b ON b.CustomerID = c.CustomerID WHERE 1 = 1'
  IF @name IS NOT NULL SET @sql += N' AND c.[Name] LIKE @n'
  IF @minTons IS NOT NULL SET @sql += N' AND b.Tons >= @t'
  SET @sql += N' GROUP BY c.CustomerID, c.[Name] ORDER BY ' + QUOTENAME(@sort) + N' OFFSET ' + CAST((@page - 1) * @size AS nvarchar(10)) + N' ROWS FETCH NEXT ' + CAST(@size AS nvarchar(10)) + N' ROWS ONLY'
  EXEC sp_executesql @sql, N'@n nvarchar(80), @t decimal(8,2)', @n = @name, @t = @minTons
END
GO
CREATE PROCEDURE crane.Tree @root int AS
WITH chain AS (
  SELECT MachineID, Code, 0 AS lvl, CAST(Code AS nvarchar(400)) AS path FROM crane.Machine WHERE MachineID = @root
  UNION ALL
  SELECT m.MachineID, m.Code, c.lvl + 1, CAST(c.path + N'/' + m.Code AS nvarchar(400)) FROM crane.Machine m JOIN chain c ON m.MachineID = c.MachineID + 1
  WHERE c.lvl < 5
)
SELECT MachineID, Code, lvl, path FROM chain ORDER BY path OPTION (MAXRECURSION 10)
GO
CREATE TRIGGER crane.trBooking ON crane.Booking AFTER INSERT, UPDATE AS
BEGIN
  IF @@ROWCOUNT = 0 RETURN
  SET NOCOUNT ON
  IF UPDATE(Status)
    INSERT INTO crane.Audit (What, OldVal)
    SELECT N'Status ' + i.Status, d.Status FROM inserted i LEFT JOIN deleted d ON d.BookingID = i.BookingID WHERE ISNULL(d.Status, '') <> i.Status
  IF EXISTS (SELECT 1 FROM inserted i JOIN crane.Machine m ON m.MachineID = i.MachineID WHERE i.Tons > m.MaxTons)
  BEGIN
    RAISERROR('Too heavy', 16, 1)
    ROLLBACK TRANSACTION
    RETURN
  END
END
GO
CREATE TRIGGER crane.trCustomerDel ON crane.Customer INSTEAD OF DELETE AS
BEGIN
  SET NOCOUNT ON
  DELETE c FROM crane.Customer c JOIN deleted d ON d.CustomerID = c.CustomerID
  WHERE NOT EXISTS (SELECT 1 FROM crane.Booking b WHERE b.CustomerID = c.CustomerID AND b.Status = 'N')
END
GO
CREATE PROCEDURE crane.Nightly AS
BEGIN
  SET NOCOUNT ON
  DECLARE @id int, @code nvarchar(10), @cnt int, @txt nvarchar(max) = N''
  IF OBJECT_ID('tempdb..#load') IS NOT NULL DROP TABLE #load
  CREATE TABLE #load (MachineID int NOT NULL PRIMARY KEY, Cnt int NULL, Tons decimal(12,2) DEFAULT 0)
  CREATE INDEX ix ON #load (Cnt)
  INSERT #load (MachineID, Cnt) SELECT MachineID, COUNT(*) FROM crane.Booking GROUP BY MachineID HAVING COUNT(*) > 1
  UPDATE l SET Tons = s.T FROM #load l CROSS APPLY (SELECT SUM(b.Tons) AS T FROM crane.Booking b WHERE b.MachineID = l.MachineID) s
  DECLARE m CURSOR LOCAL STATIC READ_ONLY FORWARD_ONLY FOR SELECT m.MachineID, m.Code FROM crane.Machine m WHERE m.Active = 1 ORDER BY m.Code
  OPEN m
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM m INTO @id, @code
    IF @@FETCH_STATUS <> 0 BREAK
    SELECT @cnt = Cnt FROM #load WHERE MachineID = @id
    IF @cnt IS NULL CONTINUE
    SET @txt = @txt + CASE WHEN LEN(@txt) > 0 THEN N'; ' ELSE N'' END + @code + N'=' + CAST(@cnt AS nvarchar(12))
    SELECT @cnt = NULL
  END
  CLOSE m
  DEALLOCATE m
  SELECT @txt AS Summary, (SELECT STRING_AGG(Code, ',') WITHIN GROUP (ORDER BY Code) FROM crane.Machine) AS Codes
  DELETE TOP (100) FROM crane.Audit WHERE At < DATEADD(month, -6, GETDATE())
  TRUNCATE TABLE #load
END
GO
CREATE PROCEDURE crane.Copy @from int, @n int OUT AS
BEGIN
  SET IDENTITY_INSERT crane.Machine ON
  INSERT INTO crane.Machine (MachineID, Code, MaxTons) SELECT MachineID + 1000, LEFT(Code, 8) + '_2', MaxTons FROM crane.Machine WHERE MachineID = @from
  SET @n = @@ROWCOUNT
  SET IDENTITY_INSERT crane.Machine OFF
  DECLARE @new TABLE (id int)
  INSERT INTO crane.Customer (Name) OUTPUT inserted.CustomerID INTO @new VALUES (N'Copy'), (N'Copy 2')
  SELECT @n = @n + COUNT(*), @from = SCOPE_IDENTITY() FROM @new
  DECLARE @r int
  EXEC @r = crane.CancelLate @days = 3
  EXEC crane.Book 1, 2, '20240101 10:00', '20240101 12:00', @id = @n OUTPUT
  IF @r <> 0 GOTO fail
  WAITFOR DELAY '00:00:01'
  RETURN 0
fail:
  PRINT 'failed ' + CAST(@r AS varchar(10))
  RETURN 1
END
GO
INSERT INTO crane.Machine (Code, MaxTons) VALUES (N'K1', 40), (N'K2', 120.5)
GO
GRANT EXECUTE ON crane.Book TO public
GO
EXEC sys.sp_addextendedproperty @name = N'MS_Description', @value = N'Cranes of the yard', @level0type = N'SCHEMA', @level0name = N'crane', @level1type = N'TABLE', @level1name = N'Machine'
GO
