USE [Rentals]
GO
CREATE TYPE dbo.Phone FROM varchar(20) NOT NULL
GO
CREATE TYPE dbo.IdList AS TABLE (Id int NOT NULL PRIMARY KEY)
GO
CREATE SEQUENCE dbo.ContractNo AS bigint START WITH 1000 INCREMENT BY 1 CACHE 50
GO
CREATE TABLE dbo.Boat (
  BoatId int IDENTITY(10,5) CONSTRAINT PK_Boat PRIMARY KEY CLUSTERED,
  RowGuid uniqueidentifier ROWGUIDCOL NOT NULL CONSTRAINT DF_Boat_Guid DEFAULT NEWSEQUENTIALID(),
  Name nvarchar(60) NOT NULL, Kind tinyint NOT NULL CONSTRAINT CK_Kind CHECK (Kind BETWEEN 1 AND 5),
  DailyRate smallmoney NOT NULL, Phone dbo.Phone, Tags nvarchar(max) NULL CHECK (ISJSON(Tags) = 1),
  Built date NULL, AgeYears AS DATEDIFF(year, Built, GETDATE()), FullName AS (Name + N' #' + CAST(BoatId AS nvarchar(10))) PERSISTED,
  Stamp rowversion, ModifiedAt datetimeoffset(3) NULL DEFAULT SYSDATETIMEOFFSET()
)
GO
CREATE TABLE dbo.Contract (
  ContractNo bigint NOT NULL DEFAULT (NEXT VALUE FOR dbo.ContractNo) PRIMARY KEY,
  BoatId int NOT NULL FOREIGN KEY REFERENCES dbo.Boat(BoatId) ON DELETE CASCADE ON UPDATE NO ACTION,
  Client nvarchar(80) NOT NULL, FromDate date NOT NULL, ToDate date NOT NULL, Paid bit NOT NULL DEFAULT 0, Total decimal(12,2) NULL,
  INDEX IX_Contract_Dates NONCLUSTERED (FromDate, ToDate) INCLUDE (Client), CONSTRAINT CK_Dates CHECK (ToDate >= FromDate)
)
GO
CREATE NONCLUSTERED INDEX IX_Open ON dbo.Contract (BoatId) WHERE Paid = 0
GO
CREATE TABLE dbo.Audit (AuditId bigint IDENTITY PRIMARY KEY, TableName sysname NOT NULL, Action char(1), OldValue xml NULL, NewValue nvarchar(max) NULL, ByWhom nvarchar(128) DEFAULT SUSER_SNAME(), At datetime2 DEFAULT SYSUTCDATETIME())
GO
CREATE OR ALTER VIEW dbo.vBoat WITH SCHEMABINDING AS
SELECT b.BoatId, b.Name, COUNT_BIG(*) AS Contracts, SUM(ISNULL(c.Total, 0)) AS Revenue
FROM dbo.Boat b INNER JOIN dbo.Contract c ON c.BoatId = b.BoatId GROUP BY b.BoatId, b.Name
GO
CREATE VIEW dbo.vCalendar AS
WITH n AS (SELECT 0 AS i UNION ALL SELECT i + 1 FROM n WHERE i < 30)
SELECT DATEADD(day, n.i, CAST(GETDATE() AS date)) AS d, DATENAME(weekday, DATEADD(day, n.i, GETDATE())) AS wd, EOMONTH(GETDATE(), n.i) AS eom FROM n
GO
CREATE VIEW dbo.vFree AS
SELECT b.Name, x.LastTo, y.tag FROM dbo.Boat b
OUTER APPLY (SELECT TOP (1) c.ToDate AS LastTo FROM dbo.Contract c WHERE c.BoatId = b.BoatId ORDER BY c.ToDate DESC) x
CROSS APPLY (SELECT JSON_VALUE(b.Tags, '$.class') AS tag) y
WHERE NOT EXISTS (SELECT * FROM dbo.Contract c WHERE c.BoatId = b.BoatId AND CAST(GETDATE() AS date) BETWEEN c.FromDate AND c.ToDate)
GO
CREATE FUNCTION dbo.fnDays(@from date, @to date) RETURNS int WITH SCHEMABINDING, RETURNS NULL ON NULL INPUT AS
BEGIN
  RETURN DATEDIFF(DAY, @from, @to) + 1;
END
GO
CREATE FUNCTION dbo.fnContracts(@boat int) RETURNS TABLE AS RETURN (
  SELECT c.ContractNo, c.Client, dbo.fnDays(c.FromDate, c.ToDate) AS Days, LEAD(c.FromDate) OVER (ORDER BY c.FromDate) AS NextFrom
  FROM dbo.Contract c WHERE c.BoatId = @boat)
GO
CREATE FUNCTION dbo.fnSplit(@list nvarchar(max), @sep nchar(1)) RETURNS @t TABLE (pos int IDENTITY(1,1), item nvarchar(100)) AS
BEGIN
  DECLARE @p int = CHARINDEX(@sep, @list);
  WHILE @p > 0
  BEGIN
    INSERT @t (item) SELECT LTRIM(RTRIM(LEFT(@list, @p - 1)));
    SET @list = STUFF(@list, 1, @p, N'');
    SET @p = CHARINDEX(@sep, @list);
  END
  IF LEN(@list) > 0 INSERT INTO @t (item) VALUES (@list);
  RETURN;
END
GO
CREATE OR ALTER PROCEDURE dbo.uspBook @BoatId int, @Client nvarchar(80), @From date, @Days int = 1, @No bigint = NULL OUTPUT
AS
SET NOCOUNT, XACT_ABORT ON;
BEGIN TRY
  BEGIN TRANSACTION;
  IF EXISTS (SELECT 1 FROM dbo.Contract WITH (UPDLOCK, HOLDLOCK) WHERE BoatId = @BoatId AND FromDate <= DATEADD(day, @Days - 1, @From) AND ToDate >= @From)
    THROW 51000, 'Boat is taken.', 1;
  DECLARE @rate smallmoney = (SELECT DailyRate FROM dbo.Boat WHERE BoatId = @BoatId);
  SET @No = NEXT VALUE FOR dbo.ContractNo;
  INSERT dbo.Contract (ContractNo, BoatId, Client, FromDate, ToDate, Total)
  VALUES (@No, @BoatId, @Client, @From, DATEADD(day, @Days - 1, @From), @rate * @Days * CASE WHEN @Days >= 7 THEN 0.9 ELSE 1 END);
  COMMIT;
END TRY
BEGIN CATCH
  IF @@TRANCOUNT > 0 ROLLBACK;
  DECLARE @m nvarchar(2048) = CONCAT('Booking failed: ', ERROR_MESSAGE(), ' (', ERROR_LINE(), ')');
  INSERT dbo.Audit (TableName, Action, NewValue) VALUES (N'Contract', 'E', @m);
  THROW;
END CATCH
GO
CREATE PROCEDURE dbo.uspBulkPay @Ids dbo.IdList READONLY, @Count int OUTPUT AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @done TABLE (ContractNo bigint, Was bit);
  UPDATE c SET Paid = 1 OUTPUT inserted.ContractNo, deleted.Paid INTO @done
  FROM dbo.Contract c JOIN @Ids i ON i.Id = c.ContractNo WHERE c.Paid = 0;
  SELECT @Count = COUNT(*) FROM @done;
  MERGE dbo.Audit AS t USING @done AS s ON t.TableName = N'Contract' AND t.NewValue = CAST(s.ContractNo AS nvarchar(20))
  WHEN NOT MATCHED BY TARGET THEN INSERT (TableName, Action, NewValue) VALUES (N'Contract', 'P', CAST(s.ContractNo AS nvarchar(20)))
  WHEN MATCHED THEN UPDATE SET At = SYSUTCDATETIME();
END
GO
CREATE PROCEDURE dbo.uspReport @Year int, @Sort sysname = N'Revenue' AS
BEGIN
  SET NOCOUNT ON;
  SELECT b.Name, ISNULL([1],0) AS Q1, ISNULL([2],0) AS Q2, ISNULL([3],0) AS Q3, ISNULL([4],0) AS Q4
  FROM (SELECT BoatId, DATEPART(quarter, FromDate) AS q, Total FROM dbo.Contract WHERE YEAR(FromDate) = @Year) s
  PIVOT (SUM(Total) FOR q IN ([1],[2],[3],[4])) p JOIN dbo.Boat b ON b.BoatId = p.BoatId;
  SELECT TOP 5 WITH TIES Client, SUM(Total) AS Spent, GROUPING(Client) AS g, STRING_AGG(CAST(ContractNo AS varchar(20)), ',') WITHIN GROUP (ORDER BY ContractNo) AS Nos
  FROM dbo.Contract WHERE FromDate >= DATEFROMPARTS(@Year, 1, 1) GROUP BY ROLLUP(Client) ORDER BY SUM(Total) DESC;
  IF @Sort = N'Revenue' SELECT * FROM dbo.vBoat ORDER BY Revenue DESC ELSE SELECT * FROM dbo.vBoat ORDER BY Name;
END
GO
CREATE TRIGGER dbo.trBoat ON dbo.Boat AFTER INSERT, UPDATE, DELETE NOT FOR REPLICATION AS
BEGIN
  IF @@ROWCOUNT = 0 RETURN;
  SET NOCOUNT ON;
  DECLARE @a char(1) = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U' WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
  INSERT dbo.Audit (TableName, Action, NewValue)
  SELECT N'Boat', @a, (SELECT i.BoatId, i.Name, i.DailyRate FROM inserted i FOR JSON PATH);
END
GO
CREATE TRIGGER dbo.trContractIO ON dbo.Contract INSTEAD OF DELETE AS
BEGIN
  IF EXISTS (SELECT 1 FROM deleted WHERE Paid = 1) BEGIN RAISERROR(N'Paid contract %d stays', 16, 1, 5); ROLLBACK TRANSACTION; RETURN; END
  DELETE c FROM dbo.Contract c INNER JOIN deleted d ON d.ContractNo = c.ContractNo;
END
GO
CREATE PROC dbo.uspDyn @table sysname, @n int OUTPUT AS
DECLARE @sql nvarchar(400) = N'SELECT @c = COUNT(*) FROM dbo.' + QUOTENAME(@table) + N' WHERE 1 = 1';
EXEC sp_executesql @sql, N'@c int OUTPUT', @c = @n OUTPUT;
GO
CREATE PROC dbo.uspWalk AS
DECLARE @id int, @nm nvarchar(60), @out nvarchar(max) = N'', @i smallint = 0;
DECLARE cur CURSOR LOCAL FAST_FORWARD FOR SELECT BoatId, Name FROM dbo.Boat ORDER BY Name;
OPEN cur;
FETCH NEXT FROM cur INTO @id, @nm;
WHILE @@FETCH_STATUS = 0
BEGIN
  SET @i += 1;
  IF @i % 2 = 0 BEGIN FETCH NEXT FROM cur INTO @id, @nm; CONTINUE; END
  SELECT @out = @out + IIF(@out = N'', N'', N';') + CHOOSE(@i % 3 + 1, N'a', N'b', N'c') + @nm;
  EXEC dbo.uspBook @BoatId = @id, @Client = N'walk-in', @From = '20240101';
  FETCH NEXT FROM cur INTO @id, @nm;
END
CLOSE cur; DEALLOCATE cur;
PRINT @out;
RETURN @i;
GO
DECLARE @x int; EXEC dbo.uspDyn N'Boat', @x OUTPUT; SELECT @x AS n;
GO
INSERT INTO dbo.Boat (Name, Kind, DailyRate, Phone) VALUES (N'Gull', 1, $49.5, '1'), (N'Tern', 2, 80, '2');
GO
GRANT EXECUTE ON dbo.uspBook TO clerks;
GO
