CREATE TABLE dbo.Tug (TugID int IDENTITY(1,1) NOT NULL CONSTRAINT PK_Tug PRIMARY KEY CLUSTERED, TugName nvarchar(60) NOT NULL, BollardPull decimal(8,2) NULL, IsActive bit NOT NULL CONSTRAINT DF_Tug_IsActive DEFAULT (1), RowGuid uniqueidentifier NOT NULL DEFAULT NEWID(), CreatedUtc datetime2(3) NOT NULL DEFAULT SYSUTCDATETIME(), Notes nvarchar(max) NULL, HomeBerth char(4) NULL)
GO
CREATE TABLE dbo.TugJob (JobID bigint IDENTITY PRIMARY KEY, TugID int NOT NULL REFERENCES dbo.Tug(TugID) ON DELETE CASCADE, StartAt datetime NOT NULL, EndAt datetime NULL, Status tinyint NOT NULL DEFAULT 0, Amount money NULL, Minutes AS DATEDIFF(MINUTE, StartAt, EndAt), Tags varchar(200) NULL, CONSTRAINT CK_TugJob CHECK (EndAt IS NULL OR EndAt >= StartAt))
GO
CREATE NONCLUSTERED INDEX IX_TugJob_Tug ON dbo.TugJob (TugID, StartAt DESC) INCLUDE (Status) WHERE Status < 9
GO
CREATE TABLE dbo.TugAudit (AuditID int IDENTITY, TugID int, What varchar(20), OldName nvarchar(60), NewName nvarchar(60), ByWhom sysname DEFAULT SUSER_SNAME(), AtTime datetime DEFAULT GETDATE())
GO
CREATE TABLE dbo.Rate (RateCode varchar(10) PRIMARY KEY, PerHour smallmoney NOT NULL, ValidFrom date NOT NULL, ValidTo date NULL)
GO
CREATE VIEW dbo.vTugLoad WITH SCHEMABINDING AS
SELECT t.TugID, t.TugName, COUNT_BIG(*) AS Jobs, SUM(ISNULL(j.Amount, 0)) AS Total
FROM dbo.Tug t INNER JOIN dbo.TugJob j ON j.TugID = t.TugID
GROUP BY t.TugID, t.TugName
GO
CREATE VIEW dbo.vOpenJobs AS
SELECT TOP 100 PERCENT j.JobID, [Tug] = t.TugName, j.StartAt, DATEDIFF(hh, j.StartAt, GETDATE()) HoursOpen,
 CASE j.Status WHEN 0 THEN 'New' WHEN 1 THEN 'Running' ELSE 'Other' END AS StatusText,
 CONVERT(varchar(10), j.StartAt, 103) AS StartDay, CONVERT(char(8), j.StartAt, 112) AS StartKey
FROM dbo.TugJob j WITH (NOLOCK) LEFT OUTER JOIN dbo.Tug t ON t.TugID = j.TugID
WHERE j.EndAt IS NULL ORDER BY j.StartAt
GO
CREATE FUNCTION dbo.fnHours (@from datetime, @to datetime) RETURNS decimal(9,2) AS
BEGIN
  DECLARE @m int
  SET @m = DATEDIFF(mi, @from, @to)
  IF @m < 0 RETURN NULL
  RETURN CAST(@m AS decimal(9,2)) / 60
END
GO
CREATE FUNCTION dbo.fnSplit (@list varchar(8000), @sep char(1)) RETURNS @out TABLE (Pos int IDENTITY(1,1), Item varchar(200)) AS
BEGIN
  DECLARE @at int, @item varchar(200)
  WHILE LEN(@list) > 0
  BEGIN
    SET @at = CHARINDEX(@sep, @list)
    IF @at > 0
    BEGIN
      SET @item = SUBSTRING(@list, 1, @at - 1)
      SET @list = SUBSTRING(@list, @at + 1, LEN(@list))
    END
    ELSE
    BEGIN
      SET @item = @list
      SET @list = ''
    END
    INSERT INTO @out (Item) VALUES (LTRIM(RTRIM(@item)))
  END
  RETURN
END
GO
CREATE FUNCTION dbo.fnJobsOf (@tug int, @since datetime = NULL) RETURNS TABLE AS RETURN
(SELECT JobID, StartAt, EndAt, dbo.fnHours(StartAt, EndAt) AS Hours FROM dbo.TugJob WHERE TugID = @tug AND (@since IS NULL OR StartAt >= @since))
GO
CREATE FUNCTION dbo.fnAge(@born date) RETURNS int WITH RETURNS NULL ON NULL INPUT AS
BEGIN
  RETURN DATEDIFF(YEAR, @born, GETDATE()) - CASE WHEN DATEADD(YEAR, DATEDIFF(YEAR, @born, GETDATE()), @born) > GETDATE() THEN 1 ELSE 0 END
END
GO
CREATE FUNCTION dbo.fnProper(@t varchar(200)) RETURNS varchar(200) AS
BEGIN
  DECLARE @i int = 1, @c char(1), @r varchar(200) = '', @up bit = 1
  WHILE @i <= LEN(@t)
  BEGIN
    SET @c = SUBSTRING(@t, @i, 1)
    SET @r += CASE WHEN @up = 1 THEN UPPER(@c) ELSE LOWER(@c) END
    SET @up = CASE WHEN @c IN (' ', '-') THEN 1 ELSE 0 END
    SET @i += 1
  END
  RETURN @r
END
GO
CREATE PROCEDURE dbo.uspTugAdd @TugName nvarchar(60), @Pull decimal(8,2) = NULL, @TugID int OUTPUT AS
SET NOCOUNT ON
BEGIN TRY
  BEGIN TRAN
  IF EXISTS (SELECT 1 FROM dbo.Tug WHERE TugName = @TugName)
    RAISERROR('Tug %s is there already', 16, 1, @TugName)
  INSERT dbo.Tug (TugName, BollardPull) VALUES (@TugName, @Pull)
  SELECT @TugID = SCOPE_IDENTITY()
  COMMIT TRAN
END TRY
BEGIN CATCH
  IF @@TRANCOUNT > 0 ROLLBACK TRAN
  DECLARE @msg nvarchar(2048) = ERROR_MESSAGE(), @sev int = ERROR_SEVERITY(), @st int = ERROR_STATE()
  RAISERROR(@msg, @sev, @st)
  RETURN -1
END CATCH
RETURN 0
GO
CREATE PROCEDURE dbo.uspJobClose @JobID bigint, @EndAt datetime = NULL, @Amount money OUTPUT AS
BEGIN
  SET NOCOUNT, XACT_ABORT ON;
  DECLARE @changed TABLE (JobID bigint, Amount money);
  IF @EndAt IS NULL SET @EndAt = GETDATE();
  UPDATE j SET EndAt = @EndAt, Status = 9, Amount = ROUND(dbo.fnHours(j.StartAt, @EndAt) * r.PerHour, 2)
  OUTPUT inserted.JobID, inserted.Amount INTO @changed (JobID, Amount)
  FROM dbo.TugJob AS j CROSS JOIN (SELECT TOP (1) PerHour FROM dbo.Rate WHERE ValidTo IS NULL ORDER BY ValidFrom DESC) AS r
  WHERE j.JobID = @JobID AND j.EndAt IS NULL;
  IF @@ROWCOUNT = 0
  BEGIN
    ;THROW 50010, N'No open job', 1;
  END
  SELECT @Amount = Amount FROM @changed;
END
GO
CREATE PROCEDURE dbo.uspJobList @TugID int = NULL, @Page int = 1, @Size int = 20, @SortBy varchar(20) = 'StartAt' AS
BEGIN
  SET NOCOUNT ON;
  WITH n AS (
    SELECT j.JobID, t.TugName, j.StartAt, j.Status,
      ROW_NUMBER() OVER (ORDER BY CASE WHEN @SortBy = 'StartAt' THEN j.StartAt END DESC, CASE WHEN @SortBy = 'Tug' THEN t.TugName END, j.JobID) AS rn,
      COUNT(*) OVER () AS total
    FROM dbo.TugJob j JOIN dbo.Tug t ON t.TugID = j.TugID
    WHERE (@TugID IS NULL OR j.TugID = @TugID))
  SELECT JobID, TugName, StartAt, Status, total FROM n
  WHERE rn BETWEEN (@Page - 1) * @Size + 1 AND @Page * @Size
  ORDER BY rn;
END
GO
CREATE PROC dbo.uspJobSearch @Name nvarchar(60) = NULL, @From date = NULL, @To date = NULL AS
BEGIN
  DECLARE @sql nvarchar(max), @p nvarchar(500)
  SET @sql = N'SELECT j.JobID, t.TugName FROM dbo.TugJob j JOIN dbo.Tug t ON t.TugID = j.TugID WHERE 1 = 1'
  IF @Name IS NOT NULL SET @sql = @sql + N' AND t.TugName LIKE @Name + ''%'''
  IF @From IS NOT NULL SET @sql = @sql + N' AND j.StartAt >= @From'
  IF @To IS NOT NULL SET @sql = @sql + N' AND j.StartAt < DATEADD(day, 1, @To)'
  SET @p = N'@Name nvarchar(60), @From date, @To date'
  EXEC sp_executesql @sql, @p, @Name, @From, @To
END
GO
CREATE PROCEDURE dbo.uspNightly AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @id int, @name nvarchar(60), @n int, @log varchar(max) = '';
  DECLARE cur CURSOR LOCAL FAST_FORWARD FOR SELECT TugID, TugName FROM dbo.Tug WHERE IsActive = 1 ORDER BY TugName;
  OPEN cur;
  FETCH NEXT FROM cur INTO @id, @name;
  WHILE @@FETCH_STATUS = 0
  BEGIN
    SELECT @n = COUNT(*) FROM dbo.TugJob WHERE TugID = @id AND StartAt >= DATEADD(dd, -1, CAST(GETDATE() AS date));
    IF @n = 0
    BEGIN
      PRINT 'idle: ' + @name;
      FETCH NEXT FROM cur INTO @id, @name;
      CONTINUE;
    END
    SET @log = @log + @name + ':' + CAST(@n AS varchar) + CHAR(13) + CHAR(10);
    FETCH NEXT FROM cur INTO @id, @name;
  END
  CLOSE cur; DEALLOCATE cur;
  INSERT INTO dbo.TugAudit (What, NewName) VALUES ('NIGHT', LEFT(@log, 60));
END
GO
CREATE PROCEDURE dbo.uspRateSync @xml xml AS
BEGIN
  SELECT T.c.value('@code', 'varchar(10)') AS RateCode, T.c.value('(price/text())[1]', 'money') AS PerHour
  INTO #in FROM @xml.nodes('/rates/rate') AS T(c);
  MERGE dbo.Rate AS d USING #in AS s ON d.RateCode = s.RateCode
  WHEN MATCHED AND d.PerHour <> s.PerHour THEN UPDATE SET PerHour = s.PerHour
  WHEN NOT MATCHED BY TARGET THEN INSERT (RateCode, PerHour, ValidFrom) VALUES (s.RateCode, s.PerHour, GETDATE())
  WHEN NOT MATCHED BY SOURCE THEN DELETE
  OUTPUT $action, inserted.RateCode, deleted.RateCode;
  DROP TABLE #in;
END
GO
CREATE PROCEDURE dbo.uspJsonIn @json nvarchar(max) AS
BEGIN
  INSERT INTO dbo.Tug (TugName, BollardPull)
  SELECT name, pull FROM OPENJSON(@json) WITH (name nvarchar(60) '$.name', pull decimal(8,2) '$.pull');
  SELECT JSON_VALUE(@json, '$[0].name') AS firstName;
END
GO
CREATE TRIGGER dbo.trTugAudit ON dbo.Tug AFTER INSERT, UPDATE, DELETE AS
BEGIN
  IF @@ROWCOUNT = 0 RETURN;
  SET NOCOUNT ON;
  DECLARE @what varchar(20);
  IF EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) SET @what = 'UPDATE'
  ELSE IF EXISTS (SELECT * FROM inserted) SET @what = 'INSERT'
  ELSE SET @what = 'DELETE';
  INSERT INTO dbo.TugAudit (TugID, What, OldName, NewName)
  SELECT COALESCE(i.TugID, d.TugID), @what, d.TugName, i.TugName FROM inserted i FULL OUTER JOIN deleted d ON d.TugID = i.TugID;
END
GO
CREATE TRIGGER dbo.trJobNoDelete ON dbo.TugJob INSTEAD OF DELETE AS
BEGIN
  UPDATE j SET Status = 99 FROM dbo.TugJob j INNER JOIN deleted d ON d.JobID = j.JobID;
END
GO
CREATE TRIGGER trJobStatus ON dbo.TugJob FOR UPDATE AS
IF UPDATE(Status)
BEGIN
  IF EXISTS (SELECT 1 FROM inserted i JOIN deleted d ON i.JobID = d.JobID WHERE d.Status = 9 AND i.Status < 9)
  BEGIN
    RAISERROR ('A closed job stays closed', 16, 1)
    ROLLBACK TRANSACTION
    RETURN
  END
END
GO
CREATE PROCEDURE dbo.uspReport @year int AS
BEGIN
  SELECT TugName, ISNULL([1],0) AS Jan, ISNULL([2],0) AS Feb, ISNULL([3],0) AS Mar
  FROM (SELECT t.TugName, MONTH(j.StartAt) AS m, j.Amount FROM dbo.TugJob j JOIN dbo.Tug t ON t.TugID=j.TugID WHERE YEAR(j.StartAt)=@year) AS s
  PIVOT (SUM(Amount) FOR m IN ([1],[2],[3])) AS p
  ORDER BY TugName;
  SELECT DATENAME(month, StartAt) AS MonthName, DATEPART(weekday, StartAt) AS wd, SUM(Amount) AS s
  FROM dbo.TugJob WHERE YEAR(StartAt) = @year GROUP BY DATENAME(month, StartAt), DATEPART(weekday, StartAt) WITH ROLLUP;
END
GO
CREATE PROCEDURE dbo.uspTagList @JobID bigint AS
SELECT STUFF((SELECT ',' + s.Item FROM dbo.TugJob j CROSS APPLY dbo.fnSplit(j.Tags, ';') s WHERE j.JobID = @JobID ORDER BY s.Item FOR XML PATH(''), TYPE).value('.', 'nvarchar(max)'), 1, 1, '') AS Tags,
 (SELECT value FROM STRING_SPLIT('a,b', ',') FOR JSON PATH) AS j
GO
CREATE PROCEDURE dbo.uspFree @tug int, @from datetime, @to datetime, @free bit = 0 OUT AS
BEGIN
  IF NOT EXISTS (SELECT * FROM dbo.TugJob WHERE TugID = @tug AND StartAt < @to AND ISNULL(EndAt, '99991231') > @from)
    SET @free = 1
  ELSE
    SET @free = 0
  RETURN CASE WHEN @free = 1 THEN 0 ELSE 1 END
END
GO
CREATE PROCEDURE dbo.uspPurge @days int = 365, @batch int = 1000 AS
BEGIN
  DECLARE @rows int = 1, @total int = 0;
  WHILE @rows > 0
  BEGIN
    DELETE TOP (@batch) FROM dbo.TugAudit WHERE AtTime < DATEADD(day, -@days, GETDATE());
    SET @rows = @@ROWCOUNT;
    SET @total += @rows;
    WAITFOR DELAY '00:00:01';
  END
  PRINT CONCAT('purged ', @total, ' rows at ', CONVERT(varchar(19), GETDATE(), 120));
  RETURN @total;
END
GO
CREATE PROCEDURE dbo.uspCallAll AS
BEGIN
  DECLARE @id int, @rc int, @amt money
  EXEC @rc = dbo.uspTugAdd @TugName = N'Gannet', @TugID = @id OUTPUT
  IF @rc <> 0 GOTO failed
  EXEC dbo.uspJobClose 7, DEFAULT, @amt OUTPUT
  IF @@ERROR <> 0 GOTO failed
  CREATE TABLE #t (a int, b varchar(20) COLLATE DATABASE_DEFAULT, c AS a * 2)
  INSERT #t (a, b) EXEC dbo.uspPair
  SELECT * FROM #t
  RETURN 0
failed:
  RAISERROR('failed', 16, 1)
  RETURN 1
END
GO
CREATE PROCEDURE dbo.uspPair AS SELECT TugID, CAST(TugName AS varchar(20)) FROM dbo.Tug
GO
CREATE PROCEDURE dbo.uspTree @root int AS
WITH t (Id, Parent, Lvl, Path) AS (
 SELECT TugID, NULL, 0, CAST(TugName AS varchar(max)) FROM dbo.Tug WHERE TugID = @root
 UNION ALL
 SELECT c.TugID, t.Id, t.Lvl + 1, t.Path + '/' + c.TugName FROM dbo.Tug c JOIN t ON c.TugID = t.Id + 1 WHERE t.Lvl < 5)
SELECT * FROM t OPTION (MAXRECURSION 50)
GO
