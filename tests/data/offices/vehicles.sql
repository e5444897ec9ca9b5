SET ANSI_NULLS ON
GO
SET QUOTED_IDENTIFIER ON
GO
IF OBJECT_ID('dbo.Vehicle', 'U') IS NOT NULL DROP TABLE dbo.Vehicle
GO
CREATE TABLE [dbo].[Vehicle](
	[VehicleID] [int] IDENTITY(1,1) NOT NULL,
	[Plate] [nvarchar](12) NOT NULL,
	[ModelYear] [smallint] NULL,
	[Mileage] [decimal](10, 1) NOT NULL CONSTRAINT [DF_Vehicle_Mileage] DEFAULT ((0)),
	[PurchasedOn] [date] NULL,
	[RetiredOn] [date] NULL,
	[IsActive] AS (case when [RetiredOn] is null then (1) else (0) end),
	[RowGuid] [uniqueidentifier] ROWGUIDCOL NOT NULL CONSTRAINT [DF_Vehicle_Guid] DEFAULT (newsequentialid()),
	[Stamp] [timestamp] NOT NULL,
	[Notes] [nvarchar](max) NULL,
 CONSTRAINT [PK_Vehicle] PRIMARY KEY CLUSTERED ([VehicleID] ASC) WITH (PAD_INDEX = OFF, FILLFACTOR = 90) ON [PRIMARY],
 CONSTRAINT [UQ_Vehicle_Plate] UNIQUE NONCLUSTERED ([Plate] ASC)
) ON [PRIMARY] TEXTIMAGE_ON [PRIMARY]
GO
CREATE TABLE dbo.Trip (
  TripID bigint IDENTITY(1000,1) PRIMARY KEY,
  VehicleID int NOT NULL REFERENCES dbo.Vehicle(VehicleID) ON DELETE CASCADE,
  DriverCode char(6) NOT NULL,
  StartedAt datetime NOT NULL DEFAULT GETDATE(),
  EndedAt datetime NULL,
  Km decimal(8,2) NULL CHECK (Km >= 0),
  FuelCost smallmoney NULL,
  Purpose varchar(50) NOT NULL DEFAULT 'delivery',
  INDEX IX_Trip_Driver NONCLUSTERED (DriverCode, StartedAt DESC) INCLUDE (Km)
)
GO
CREATE NONCLUSTERED INDEX IX_Trip_Open ON dbo.Trip (VehicleID) WHERE EndedAt IS NULL
GO
CREATE TABLE dbo.TripAudit (AuditID int IDENTITY PRIMARY KEY, TripID bigint, Action char(1), ChangedBy sysname DEFAULT SUSER_SNAME(), ChangedAt datetime2 DEFAULT SYSUTCDATETIME(), OldKm decimal(8,2), NewKm decimal(8,2))
GO
CREATE TYPE dbo.IdList AS TABLE (Id int NOT NULL PRIMARY KEY)
GO
CREATE VIEW dbo.vwTripSummary WITH SCHEMABINDING AS
SELECT t.VehicleID, v.Plate, COUNT_BIG(*) AS Trips, SUM(ISNULL(t.Km, 0)) AS TotalKm,
       CONVERT(varchar(10), MAX(t.StartedAt), 120) AS LastTrip,
       DATEDIFF(DAY, MIN(t.StartedAt), MAX(t.StartedAt)) AS SpanDays,
       CAST(SUM(t.Km) / NULLIF(COUNT(DISTINCT t.DriverCode), 0) AS decimal(12,2)) AS KmPerDriver
FROM dbo.Trip AS t INNER JOIN dbo.Vehicle AS v ON v.VehicleID = t.VehicleID
WHERE t.EndedAt IS NOT NULL
GROUP BY t.VehicleID, v.Plate
GO
CREATE FUNCTION dbo.ufn_FiscalYear (@d datetime) RETURNS int
WITH SCHEMABINDING
AS
BEGIN
	DECLARE @y int
	SELECT @y = CASE WHEN MONTH(@d) >= 4 THEN YEAR(@d) ELSE YEAR(@d) - 1 END
	RETURN(@y)
END
GO
CREATE FUNCTION dbo.ufn_PadLeft(@s varchar(50), @n int, @c char(1) = '0') RETURNS varchar(50) AS
BEGIN
  RETURN RIGHT(REPLICATE(@c, @n) + @s, @n)
END
GO
CREATE FUNCTION dbo.ufn_LastDayOfMonth(@d date) RETURNS date AS
BEGIN
  RETURN DATEADD(dd, -1, DATEADD(mm, DATEDIFF(mm, 0, @d) + 1, 0))
END
GO
CREATE FUNCTION dbo.ufn_Split(@list nvarchar(max), @sep nchar(1))
RETURNS @t TABLE (Pos int IDENTITY(1,1), Item nvarchar(200))
AS
BEGIN
  DECLARE @i int, @piece nvarchar(200)
  SET @list = @list + @sep
  SET @i = CHARINDEX(@sep, @list)
  WHILE @i > 0
  BEGIN
    SET @piece = LTRIM(RTRIM(LEFT(@list, @i - 1)))
    IF @piece <> '' INSERT INTO @t (Item) VALUES (@piece)
    SET @list = SUBSTRING(@list, @i + 1, LEN(@list))
    SET @i = CHARINDEX(@sep, @list)
  END
  RETURN
END
GO
CREATE FUNCTION dbo.ufn_TripsOf(@vid int, @from date = NULL, @to date = NULL) RETURNS TABLE AS RETURN
(
  SELECT TripID, StartedAt, EndedAt, Km,
         ROW_NUMBER() OVER (ORDER BY StartedAt) AS rn,
         SUM(Km) OVER (ORDER BY StartedAt ROWS UNBOUNDED PRECEDING) AS RunningKm,
         LAG(Km, 1, 0) OVER (ORDER BY StartedAt) AS PrevKm
  FROM dbo.Trip
  WHERE VehicleID = @vid AND (@from IS NULL OR StartedAt >= @from) AND (@to IS NULL OR StartedAt < DATEADD(day, 1, @to))
)
GO
CREATE PROCEDURE dbo.usp_StartTrip
  @VehicleID int, @DriverCode char(6), @Purpose varchar(50) = 'delivery', @TripID bigint = NULL OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  IF NOT EXISTS (SELECT * FROM dbo.Vehicle WITH (NOLOCK) WHERE VehicleID = @VehicleID AND IsActive = 1)
  BEGIN
    RAISERROR(N'Vehicle %d is not active.', 16, 1, @VehicleID);
    RETURN 50001;
  END;
  IF EXISTS (SELECT 1 FROM dbo.Trip WHERE VehicleID = @VehicleID AND EndedAt IS NULL)
    THROW 50002, 'Vehicle is already on the road.', 1;
  INSERT INTO dbo.Trip (VehicleID, DriverCode, Purpose) VALUES (@VehicleID, UPPER(@DriverCode), @Purpose);
  SET @TripID = SCOPE_IDENTITY();
  RETURN 0;
END
GO
CREATE PROCEDURE dbo.usp_EndTrip @TripID bigint, @Km decimal(8,2), @FuelCost smallmoney = NULL AS
BEGIN
  SET NOCOUNT, XACT_ABORT ON;
  BEGIN TRY
    BEGIN TRANSACTION;
    UPDATE dbo.Trip SET EndedAt = GETDATE(), Km = @Km, FuelCost = COALESCE(@FuelCost, FuelCost)
    WHERE TripID = @TripID AND EndedAt IS NULL;
    IF @@ROWCOUNT <> 1
    BEGIN
      ROLLBACK TRANSACTION;
      THROW 50010, 'No open trip with this number.', 1;
    END
    UPDATE v SET v.Mileage += @Km FROM dbo.Vehicle v JOIN dbo.Trip t ON t.VehicleID = v.VehicleID WHERE t.TripID = @TripID;
    COMMIT TRANSACTION;
  END TRY
  BEGIN CATCH
    IF XACT_STATE() <> 0 ROLLBACK TRANSACTION;
    DECLARE @msg nvarchar(2048) = ERROR_MESSAGE(), @sev int = ERROR_SEVERITY(), @state int = ERROR_STATE();
    RAISERROR(@msg, @sev, @state);
  END CATCH
END
GO
CREATE PROC dbo.usp_TripReport @From datetime, @To datetime, @GroupBy varchar(10) = 'day', @TopN int = 100 AS
SET NOCOUNT ON
IF @GroupBy = 'day'
  SELECT TOP (@TopN) CAST(StartedAt AS date) AS TripDay, COUNT(*) AS Trips, SUM(Km) AS Km, AVG(FuelCost) AS AvgFuel
  FROM dbo.Trip WHERE StartedAt BETWEEN @From AND @To GROUP BY CAST(StartedAt AS date) ORDER BY TripDay DESC
ELSE IF @GroupBy = 'month'
  SELECT YEAR(StartedAt) AS Y, MONTH(StartedAt) AS M, DATENAME(month, MIN(StartedAt)) AS MonthName, COUNT(*) AS Trips
  FROM dbo.Trip WHERE StartedAt >= @From AND StartedAt < @To GROUP BY YEAR(StartedAt), MONTH(StartedAt) ORDER BY 1, 2
ELSE
BEGIN
  PRINT 'Unknown grouping: ' + @GroupBy
  RETURN -1
END
GO
CREATE PROC dbo.usp_RetireOld @Years int = 10, @DryRun bit = 1 AS
BEGIN
  DECLARE @cnt int, @id int, @plate nvarchar(12), @log nvarchar(max) = N''
  CREATE TABLE #old (VehicleID int PRIMARY KEY, Plate nvarchar(12), Age int)
  INSERT #old SELECT VehicleID, Plate, DATEDIFF(year, PurchasedOn, GETDATE()) FROM dbo.Vehicle
  WHERE RetiredOn IS NULL AND PurchasedOn < DATEADD(year, -@Years, GETDATE())
  SELECT @cnt = COUNT(*) FROM #old
  IF @cnt = 0 RETURN
  DECLARE cur CURSOR LOCAL FAST_FORWARD FOR SELECT VehicleID, Plate FROM #old ORDER BY Age DESC
  OPEN cur
  FETCH NEXT FROM cur INTO @id, @plate
  WHILE @@FETCH_STATUS = 0
  BEGIN
    IF @DryRun = 0
      UPDATE dbo.Vehicle SET RetiredOn = CONVERT(date, GETDATE()), Notes = ISNULL(Notes + CHAR(13) + CHAR(10), '') + N'Retired by job' WHERE VehicleID = @id
    SET @log = @log + @plate + N', '
    FETCH NEXT FROM cur INTO @id, @plate
  END
  CLOSE cur
  DEALLOCATE cur
  IF LEN(@log) > 0 SET @log = LEFT(@log, LEN(@log) - 1)
  SELECT @cnt AS Retired, @log AS Plates
  DROP TABLE #old
END
GO
CREATE PROC dbo.usp_UpsertVehicle @Plate nvarchar(12), @Year smallint, @Mileage decimal(10,1) AS
BEGIN
  SET NOCOUNT ON
  MERGE dbo.Vehicle WITH (HOLDLOCK) AS tgt
  USING (SELECT @Plate AS Plate, @Year AS ModelYear, @Mileage AS Mileage) AS src ON tgt.Plate = src.Plate
  WHEN MATCHED AND tgt.Mileage < src.Mileage THEN UPDATE SET Mileage = src.Mileage, ModelYear = COALESCE(src.ModelYear, tgt.ModelYear)
  WHEN NOT MATCHED BY TARGET THEN INSERT (Plate, ModelYear, Mileage) VALUES (src.Plate, src.ModelYear, src.Mileage)
  OUTPUT $action, inserted.VehicleID, deleted.Mileage AS OldMileage;
END
GO
CREATE PROC dbo.usp_DeleteTrips @Ids dbo.IdList READONLY AS
BEGIN
  DECLARE @gone TABLE (TripID bigint, Km decimal(8,2))
  DELETE t OUTPUT deleted.TripID, deleted.Km INTO @gone FROM dbo.Trip t JOIN @Ids i ON i.Id = t.TripID
  INSERT INTO dbo.TripAudit (TripID, Action, OldKm) SELECT TripID, 'D', Km FROM @gone
  SELECT COUNT(*) AS Deleted, SUM(Km) AS Km FROM @gone
END
GO
CREATE PROC dbo.usp_Search @Plate nvarchar(12) = NULL, @MinKm decimal(8,2) = NULL, @Sort sysname = N'StartedAt', @Page int = 1, @Size int = 25 AS
BEGIN
  DECLARE @sql nvarchar(max) = N'SELECT t.TripID, v.Plate, t.Km FROM dbo.Trip t JOIN dbo.Vehicle v ON v.VehicleID = t.VehicleID WHERE 1 = 1'
  IF @Plate IS NOT NULL SET @sql += N' AND v.Plate LIKE @p + N''%'''
  IF @MinKm IS NOT NULL SET @sql += N' AND t.Km >= @k'
  SET @sql += N' ORDER BY t.TripID OFFSET (@pg - 1) * @sz ROWS FETCH NEXT @sz ROWS ONLY'
  EXEC sp_executesql @sql, N'@p nvarchar(12), @k decimal(8,2), @pg int, @sz int', @p = @Plate, @k = @MinKm, @pg = @Page, @sz = @Size
END
GO
CREATE TRIGGER dbo.trg_Trip_Audit ON dbo.Trip AFTER INSERT, UPDATE, DELETE AS
BEGIN
  IF @@ROWCOUNT = 0 RETURN
  SET NOCOUNT ON
  IF EXISTS (SELECT 1 FROM inserted) AND EXISTS (SELECT 1 FROM deleted)
    INSERT INTO dbo.TripAudit (TripID, Action, OldKm, NewKm)
    SELECT i.TripID, 'U', d.Km, i.Km FROM inserted i JOIN deleted d ON d.TripID = i.TripID WHERE ISNULL(i.Km, -1) <> ISNULL(d.Km, -1)
  ELSE IF EXISTS (SELECT 1 FROM inserted)
    INSERT INTO dbo.TripAudit (TripID, Action, NewKm) SELECT TripID, 'I', Km FROM inserted
  ELSE
    INSERT INTO dbo.TripAudit (TripID, Action, OldKm) SELECT TripID, 'D', Km FROM deleted
END
GO
CREATE TRIGGER dbo.trg_Vehicle_NoDelete ON dbo.Vehicle INSTEAD OF DELETE AS
BEGIN
  UPDATE v SET RetiredOn = GETDATE() FROM dbo.Vehicle v INNER JOIN deleted d ON d.VehicleID = v.VehicleID
END
GO
CREATE PROC dbo.usp_MonthMatrix @Year int AS
SELECT Plate, ISNULL([1],0) AS Jan, ISNULL([2],0) AS Feb, ISNULL([3],0) AS Mar
FROM (SELECT v.Plate, MONTH(t.StartedAt) AS m, t.Km FROM dbo.Trip t JOIN dbo.Vehicle v ON v.VehicleID = t.VehicleID WHERE YEAR(t.StartedAt) = @Year) s
PIVOT (SUM(Km) FOR m IN ([1],[2],[3])) p
ORDER BY Plate
GO
CREATE PROC dbo.usp_Gaps AS
;WITH ordered AS (
  SELECT VehicleID, StartedAt, EndedAt, LEAD(StartedAt) OVER (PARTITION BY VehicleID ORDER BY StartedAt) AS NextStart FROM dbo.Trip
), gaps AS (SELECT VehicleID, DATEDIFF(MINUTE, EndedAt, NextStart) AS GapMin FROM ordered WHERE EndedAt IS NOT NULL AND NextStart IS NOT NULL)
SELECT g.VehicleID, MAX(g.GapMin) AS Longest, AVG(1.0 * g.GapMin) AS Mean,
  STUFF((SELECT ',' + CAST(x.GapMin AS varchar(10)) FROM gaps x WHERE x.VehicleID = g.VehicleID ORDER BY x.GapMin DESC FOR XML PATH('')), 1, 1, '') AS AllGaps
FROM gaps g GROUP BY g.VehicleID HAVING MAX(g.GapMin) > 60
GO
CREATE PROC dbo.usp_Json @VehicleID int AS
SELECT v.VehicleID AS id, v.Plate AS plate, (SELECT t.TripID AS id, t.Km AS km FROM dbo.Trip t WHERE t.VehicleID = v.VehicleID FOR JSON PATH) AS trips
FROM dbo.Vehicle v WHERE v.VehicleID = @VehicleID FOR JSON PATH, WITHOUT_ARRAY_WRAPPER
GO
CREATE PROC dbo.usp_Renumber AS
BEGIN
  DECLARE @n int = 0
  UPDATE dbo.Vehicle SET @n = ModelYear = @n + 1
END
GO
CREATE PROC dbo.usp_Batch @Size int = 500 AS
BEGIN
  DECLARE @rows int = 1, @total int = 0
  WHILE @rows > 0
  BEGIN
    DELETE TOP (@Size) FROM dbo.TripAudit WHERE ChangedAt < DATEADD(MONTH, -6, SYSUTCDATETIME())
    SET @rows = @@ROWCOUNT
    SET @total += @rows
    WAITFOR DELAY '00:00:01'
  END
  PRINT CONCAT('Deleted ', @total, ' rows')
END
GO
CREATE PROC dbo.usp_ParseXml @x xml AS
INSERT INTO dbo.Trip (VehicleID, DriverCode, Km)
SELECT n.value('@vehicle', 'int'), n.value('(driver)[1]', 'char(6)'), n.value('(km/text())[1]', 'decimal(8,2)')
FROM @x.nodes('/trips/trip') AS t(n)
GO
CREATE PROC dbo.usp_Stats AS
SELECT Purpose, COUNT(*) n, MIN(Km) mn, MAX(Km) mx, STDEV(Km) sd, VAR(Km) vr,
  PERCENTILE_CONT(0.5) WITHIN GROUP (ORDER BY Km) OVER (PARTITION BY Purpose) med
FROM dbo.Trip GROUP BY Purpose, Km
GO
CREATE PROC dbo.usp_Cube AS
SELECT GROUPING(Purpose) g, ISNULL(Purpose, 'ALL') p, DriverCode, SUM(Km) km FROM dbo.Trip GROUP BY GROUPING SETS ((Purpose, DriverCode), (Purpose), ())
SELECT Purpose, DriverCode, SUM(Km) FROM dbo.Trip GROUP BY Purpose, DriverCode WITH ROLLUP
GO
CREATE SYNONYM dbo.Journeys FOR dbo.Trip
GO
CREATE SEQUENCE dbo.TicketNo AS int START WITH 1000 INCREMENT BY 10 MINVALUE 1000 NO MAXVALUE CACHE 50
GO
CREATE PROC dbo.usp_Ticket @No int OUTPUT, @Text varchar(20) OUTPUT AS
BEGIN
  SELECT @No = NEXT VALUE FOR dbo.TicketNo
  SELECT @Text = 'T-' + RIGHT('000000' + CONVERT(varchar(6), @No), 6) + '-' + FORMAT(GETDATE(), 'yyyyMMdd')
END
GO
CREATE PROC dbo.usp_Exists @Plate nvarchar(12), @Found bit OUTPUT AS
  SELECT @Found = CASE WHEN EXISTS (SELECT 1 FROM dbo.Vehicle WHERE Plate = @Plate) THEN 1 ELSE 0 END
  IF @Found = 1 PRINT 'yes' ELSE PRINT 'no'
GO
GRANT EXECUTE ON dbo.usp_StartTrip TO fleet_app
GO
GRANT SELECT, INSERT, UPDATE ON dbo.Trip TO fleet_app
GO
