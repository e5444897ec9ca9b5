-- A small ferry office, in the ways that shops write Transact-SQL; tests call the drafts and compare with what SQL Server gives.
CREATE TABLE dbo.Vessel (
  VesselId int IDENTITY(1,1) NOT NULL CONSTRAINT PK_Vessel PRIMARY KEY,
  VesselName nvarchar(40) NOT NULL,
  Places int NOT NULL CONSTRAINT DF_Places DEFAULT ((0)),
  IsActive bit NOT NULL CONSTRAINT DF_Active DEFAULT ((1)),
  Tonnage decimal(8,2) NULL,
  BuiltOn date NULL
)
GO
CREATE TABLE dbo.Booking (
  BookingId int IDENTITY(100,1) NOT NULL PRIMARY KEY,
  VesselId int NOT NULL REFERENCES dbo.Vessel (VesselId),
  Passenger varchar(40) NOT NULL,
  Fare money NOT NULL DEFAULT (0),
  BookedAt datetime NULL,
  Paid bit NOT NULL DEFAULT 0
)
GO
CREATE TABLE dbo.EventLog (LogId int IDENTITY NOT NULL PRIMARY KEY, What nvarchar(200) NOT NULL, Amount decimal(12,2) NULL)
GO
CREATE TABLE dbo.Tally (TallyKey varchar(20) NOT NULL PRIMARY KEY, N int NOT NULL DEFAULT 0)
GO
CREATE VIEW dbo.v_Booking AS
SELECT b.BookingId, Name = b.Passenger + ' on ' + v.VesselName, ISNULL(v.Tonnage, 0) AS Tonnage
FROM dbo.Booking b JOIN dbo.Vessel v ON v.VesselId = b.VesselId WHERE v.IsActive = 1
GO
CREATE FUNCTION dbo.f_Add (@A int, @B int) RETURNS int AS BEGIN RETURN @A + @B END
GO
CREATE FUNCTION dbo.f_Divide (@A int, @B int) RETURNS int AS BEGIN RETURN @A / @B END
GO
CREATE FUNCTION dbo.f_Percent (@A int, @B int) RETURNS decimal(9,2) AS BEGIN RETURN 100.0 * @A / @B END
GO
CREATE FUNCTION dbo.f_Text (@A varchar(20), @B varchar(20)) RETURNS varchar(60) AS BEGIN RETURN @A + '-' + @B END
GO
CREATE FUNCTION dbo.f_IsNull (@A varchar(20)) RETURNS varchar(20) AS BEGIN RETURN ISNULL(@A, 'none') END
GO
CREATE FUNCTION dbo.f_Number (@A int) RETURNS varchar(20) AS BEGIN RETURN 'No. ' + CAST(@A AS varchar(10)) END
GO
CREATE FUNCTION dbo.f_Cut (@A decimal(9,3)) RETURNS int AS BEGIN RETURN CAST(@A AS int) END
GO
CREATE FUNCTION dbo.f_Convert (@A varchar(10)) RETURNS int AS BEGIN RETURN CONVERT(int, @A) + 1 END
GO
CREATE FUNCTION dbo.f_Iif (@A int) RETURNS varchar(10) AS BEGIN RETURN IIF(@A > 3, 'big', 'small') END
GO
CREATE FUNCTION dbo.f_Case (@A int) RETURNS varchar(10) AS BEGIN RETURN CASE @A WHEN 1 THEN 'one' WHEN 2 THEN 'two' ELSE 'many' END END
GO
CREATE FUNCTION dbo.f_Len (@A varchar(20)) RETURNS int AS BEGIN RETURN LEN(@A) END
GO
CREATE FUNCTION dbo.f_CharIndex (@A varchar(20), @B varchar(20)) RETURNS int AS BEGIN RETURN CHARINDEX(@A, @B) END
GO
CREATE FUNCTION dbo.f_CharIndexFrom (@A varchar(20), @B varchar(20), @N int) RETURNS int AS BEGIN RETURN CHARINDEX(@A, @B, @N) END
GO
CREATE FUNCTION dbo.f_Substring (@A varchar(20), @N int) RETURNS varchar(20) AS BEGIN RETURN SUBSTRING(@A, @N, 3) END
GO
CREATE FUNCTION dbo.f_Stuff (@A varchar(20)) RETURNS varchar(20) AS BEGIN RETURN STUFF(@A, 2, 3, 'XY') END
GO
CREATE FUNCTION dbo.f_Trim (@A varchar(20)) RETURNS varchar(20) AS BEGIN RETURN UPPER(LTRIM(RTRIM(@A))) END
GO
CREATE FUNCTION dbo.f_Replicate (@N int) RETURNS varchar(20) AS BEGIN RETURN REPLICATE('ab', @N) + SPACE(1) + '.' END
GO
CREATE FUNCTION dbo.f_Pad (@N int) RETURNS varchar(20) AS BEGIN RETURN RIGHT('000000' + CAST(@N AS varchar(6)), 6) END
GO
CREATE FUNCTION dbo.f_Reverse (@A varchar(20)) RETURNS varchar(20) AS BEGIN RETURN REVERSE(REPLACE(@A, 'a', 'o')) END
GO
CREATE FUNCTION dbo.f_AddDays (@D date, @N int) RETURNS date AS BEGIN RETURN DATEADD(day, @N, @D) END
GO
CREATE FUNCTION dbo.f_AddMonths (@D date) RETURNS date AS BEGIN RETURN DATEADD(mm, 1, @D) END
GO
CREATE FUNCTION dbo.f_AddHours (@D datetime, @N int) RETURNS datetime AS BEGIN RETURN DATEADD(hh, @N, @D) END
GO
CREATE FUNCTION dbo.f_DiffDays (@A date, @B date) RETURNS int AS BEGIN RETURN DATEDIFF(dd, @A, @B) END
GO
CREATE FUNCTION dbo.f_DiffMonths (@A date, @B date) RETURNS int AS BEGIN RETURN DATEDIFF(month, @A, @B) END
GO
CREATE FUNCTION dbo.f_DiffYears (@A date, @B date) RETURNS int AS BEGIN RETURN DATEDIFF(yy, @A, @B) END
GO
CREATE FUNCTION dbo.f_DiffHours (@A datetime, @B datetime) RETURNS int AS BEGIN RETURN DATEDIFF(hour, @A, @B) END
GO
CREATE FUNCTION dbo.f_DiffWeeks (@A date, @B date) RETURNS int AS BEGIN RETURN DATEDIFF(week, @A, @B) END
GO
CREATE FUNCTION dbo.f_Parts (@D datetime) RETURNS int AS BEGIN RETURN YEAR(@D) * 100 + MONTH(@D) + DATEPART(dw, @D) + DATEPART(hour, @D) END
GO
CREATE FUNCTION dbo.f_DateName (@D date) RETURNS varchar(30) AS BEGIN RETURN DATENAME(weekday, @D) + ' ' + DATENAME(month, @D) END
GO
CREATE FUNCTION dbo.f_Style112 (@D datetime) RETURNS varchar(20) AS BEGIN RETURN CONVERT(varchar(8), @D, 112) END
GO
CREATE FUNCTION dbo.f_Style120 (@D datetime) RETURNS varchar(20) AS BEGIN RETURN CONVERT(varchar(16), @D, 120) END
GO
CREATE FUNCTION dbo.f_Style104 (@A varchar(10)) RETURNS date AS BEGIN RETURN CONVERT(date, @A, 104) END
GO
CREATE FUNCTION dbo.f_EndOfMonth (@D date) RETURNS date AS BEGIN RETURN EOMONTH(@D) END
GO
CREATE FUNCTION dbo.f_FirstOfMonth (@D date) RETURNS date AS BEGIN RETURN DATEFROMPARTS(YEAR(@D), MONTH(@D), 1) END
GO
CREATE FUNCTION dbo.f_Round (@A decimal(9,3)) RETURNS decimal(9,2) AS BEGIN RETURN ROUND(@A, 2) END
GO
CREATE FUNCTION dbo.f_Maths (@A int) RETURNS int AS BEGIN RETURN ABS(-@A) + SQUARE(@A) + CEILING(2.1) + FLOOR(2.9) + @A % 3 END
GO
CREATE FUNCTION dbo.f_Bits (@A int) RETURNS int AS BEGIN RETURN (@A & 6) | 1 END
GO
CREATE FUNCTION dbo.f_Like (@A varchar(20)) RETURNS bit AS BEGIN IF @A LIKE '[a-c]%[^0-9]' RETURN 1 RETURN 0 END
GO
CREATE FUNCTION dbo.f_Bit (@A int) RETURNS bit AS
BEGIN
  DECLARE @Ok bit = 0
  IF @A > 2 SET @Ok = 1
  IF @Ok = 1 RETURN 1
  RETURN @Ok
END
GO
CREATE FUNCTION dbo.f_While (@N int) RETURNS int AS
BEGIN
  DECLARE @I int = 0, @Total int
  SET @Total = 0
  WHILE @I < @N
  BEGIN
    SET @I += 1
    IF @I = 3 CONTINUE
    IF @I > 5 BREAK
    SET @Total = @Total + @I
  END
  RETURN @Total
END
GO
CREATE FUNCTION dbo.f_ElseIf (@A int) RETURNS varchar(10) AS
BEGIN
  DECLARE @R varchar(10)
  IF @A < 0
    SET @R = 'minus'
  ELSE IF @A = 0
    SET @R = 'zero'
  ELSE
  BEGIN
    IF @A > 100 SET @R = 'huge' ELSE SET @R = 'plus'
  END
  RETURN @R
END
GO
CREATE FUNCTION dbo.f_Nested (@A int, @B int) RETURNS varchar(10) AS
BEGIN
  IF @A = 1
    IF @B = 1 RETURN 'both'
    ELSE RETURN 'a only'
  RETURN 'none'
END
GO
CREATE FUNCTION dbo.f_Name (@Id int) RETURNS nvarchar(40) AS
BEGIN
  DECLARE @Name nvarchar(40) = N'unknown'
  SELECT @Name = VesselName FROM dbo.Vessel WHERE VesselId = @Id
  RETURN @Name
END
GO
CREATE FUNCTION dbo.f_Last () RETURNS varchar(40) AS
BEGIN
  DECLARE @P varchar(40), @F money
  SELECT TOP 1 @P = Passenger, @F = Fare FROM dbo.Booking ORDER BY Fare DESC, BookingId
  RETURN @P + ' ' + CAST(@F AS varchar(20))
END
GO
CREATE FUNCTION dbo.f_Sum (@Id int) RETURNS money AS
BEGIN
  DECLARE @S money
  SELECT @S = SUM(Fare) FROM dbo.Booking WHERE VesselId = @Id
  RETURN ISNULL(@S, 0)
END
GO
CREATE FUNCTION dbo.f_Subquery (@Id int) RETURNS int AS BEGIN RETURN (SELECT COUNT(*) FROM dbo.Booking WHERE VesselId = @Id AND Paid = 1) END
GO
CREATE FUNCTION dbo.f_Cursor () RETURNS varchar(200) AS
BEGIN
  DECLARE @Name nvarchar(40), @All varchar(200) = ''
  DECLARE c CURSOR LOCAL FAST_FORWARD FOR SELECT VesselName FROM dbo.Vessel ORDER BY VesselId
  OPEN c
  FETCH NEXT FROM c INTO @Name
  WHILE @@FETCH_STATUS = 0
  BEGIN
    SET @All = @All + @Name + ';'
    FETCH NEXT FROM c INTO @Name
  END
  CLOSE c
  DEALLOCATE c
  RETURN @All
END
GO
CREATE FUNCTION dbo.t_Inline (@Id int) RETURNS TABLE AS RETURN (SELECT b.BookingId, b.Passenger FROM dbo.Booking b WHERE b.VesselId = @Id)
GO
CREATE FUNCTION dbo.t_Multi (@Min money) RETURNS @R TABLE (Id int PRIMARY KEY, Who varchar(40)) AS
BEGIN
  INSERT INTO @R SELECT BookingId, Passenger FROM dbo.Booking WHERE Fare >= @Min
  UPDATE @R SET Who = UPPER(Who) WHERE Id > 101
  RETURN
END
GO
CREATE PROCEDURE dbo.p_Select @Active bit = 1 AS
BEGIN
  SET NOCOUNT ON
  SELECT VesselName, Places FROM dbo.Vessel WHERE IsActive = @Active ORDER BY VesselName
END
GO
CREATE PROCEDURE dbo.p_TwoResults AS
  SELECT COUNT(*) AS N FROM dbo.Vessel
  SELECT TOP (2) Passenger, Fare FROM dbo.Booking ORDER BY Fare DESC
GO
CREATE PROCEDURE dbo.p_Either @A int AS
IF @A = 1
  SELECT 'one' AS R
ELSE
  SELECT 'other' AS R
GO
CREATE PROCEDURE dbo.p_Out @A int, @B int OUTPUT, @C varchar(20) = 'x' OUTPUT AS
BEGIN
  SET @B = @B + @A
  SET @C = @C + '!'
END
GO
CREATE PROCEDURE dbo.p_Status @A int AS
BEGIN
  IF @A < 0 RETURN -1
  INSERT dbo.EventLog (What) VALUES ('fine')
  RETURN 0
END
GO
CREATE PROCEDURE dbo.p_Calls @R int OUTPUT AS
BEGIN
  DECLARE @Rc int, @X int = 5, @T varchar(20) = 'q'
  EXEC @Rc = dbo.p_Status -5
  EXEC dbo.p_Out 10, @B = @X OUTPUT, @C = @T OUTPUT
  SET @R = @Rc * 100 + @X
END
GO
CREATE PROCEDURE dbo.p_Insert @Name nvarchar(40), @Id int OUTPUT AS
BEGIN
  INSERT INTO dbo.Vessel (VesselName, Places, IsActive) VALUES (@Name, 10, 0)
  SET @Id = SCOPE_IDENTITY()
END
GO
CREATE PROCEDURE dbo.p_RowCount @N int OUTPUT AS
BEGIN
  UPDATE dbo.Booking SET Fare = Fare * 2 WHERE Paid = 0
  SET @N = @@ROWCOUNT
  DELETE FROM dbo.EventLog
  IF @@ROWCOUNT = 0 INSERT dbo.EventLog (What) VALUES (N'nothing')
END
GO
CREATE PROCEDURE dbo.p_UpdateFrom AS
  UPDATE b SET b.Fare = b.Fare + v.Places, Paid = 1 FROM dbo.Booking AS b INNER JOIN dbo.Vessel v ON v.VesselId = b.VesselId WHERE v.VesselName = 'Tern'
GO
CREATE PROCEDURE dbo.p_UpdateLeft AS
  UPDATE v SET v.Places = -1 FROM dbo.Vessel v LEFT JOIN dbo.Booking b ON b.VesselId = v.VesselId WHERE b.BookingId IS NULL
GO
CREATE PROCEDURE dbo.p_DeleteJoin AS
  DELETE b FROM dbo.Booking b JOIN dbo.Vessel v ON v.VesselId = b.VesselId WHERE v.IsActive = 0
GO
CREATE PROCEDURE dbo.p_DeleteTop AS
  DELETE TOP (1) FROM dbo.EventLog
GO
CREATE PROCEDURE dbo.p_Output AS
BEGIN
  DECLARE @Gone TABLE (Id int, Who varchar(40))
  DELETE dbo.Booking OUTPUT deleted.BookingId, deleted.Passenger INTO @Gone (Id, Who) WHERE Paid = 1
  INSERT INTO dbo.EventLog (What, Amount) SELECT Who, Id FROM @Gone
END
GO
CREATE PROCEDURE dbo.p_Temp @N int OUTPUT AS
BEGIN
  CREATE TABLE #heavy (VesselId int NOT NULL PRIMARY KEY, T decimal(8,2))
  INSERT INTO #heavy SELECT VesselId, Tonnage FROM dbo.Vessel WHERE Tonnage > 50
  SELECT VesselName INTO #names FROM dbo.Vessel v WHERE EXISTS (SELECT * FROM #heavy h WHERE h.VesselId = v.VesselId)
  SELECT @N = COUNT(*) FROM #names
  DROP TABLE #heavy
END
GO
CREATE PROCEDURE dbo.p_TryCatch @A int, @M varchar(200) OUTPUT, @E int OUTPUT AS
BEGIN
  SET @E = 0
  BEGIN TRY
    BEGIN TRAN
    INSERT INTO dbo.Tally (TallyKey) VALUES ('try')
    IF @A = 1 RAISERROR('bad %s of %d', 16, 1, 'day', @A)
    IF @A = 2 THROW 50007, 'thrown', 1
    IF @A = 3 INSERT INTO dbo.Tally (TallyKey) VALUES ('there')
    COMMIT
    SET @M = 'fine'
  END TRY
  BEGIN CATCH
    IF @@TRANCOUNT > 0 ROLLBACK
    SELECT @M = CASE WHEN ERROR_NUMBER() = 2627 THEN 'duplicate' ELSE ERROR_MESSAGE() END, @E = ERROR_NUMBER()
  END CATCH
END
GO
CREATE PROCEDURE dbo.p_Throw @A int AS
BEGIN
  IF @A < 0 THROW 50001, 'below zero', 1;
  PRINT 'fine ' + CAST(@A AS varchar(10));
END
GO
CREATE PROCEDURE dbo.p_Rethrow AS
BEGIN TRY
  INSERT INTO dbo.Tally (TallyKey) VALUES ('there')
END TRY
BEGIN CATCH
  THROW
END CATCH
GO
CREATE PROCEDURE dbo.p_Cte AS
BEGIN
  ;WITH n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 4)
  INSERT INTO dbo.EventLog (What, Amount) SELECT 'n', i FROM n OPTION (MAXRECURSION 10)
END
GO
CREATE PROCEDURE dbo.p_Apply AS
  SELECT v.VesselName, x.Passenger FROM dbo.Vessel v OUTER APPLY (SELECT TOP 1 b.Passenger FROM dbo.Booking b WHERE b.VesselId = v.VesselId ORDER BY b.Fare DESC) x ORDER BY v.VesselName
GO
CREATE PROCEDURE dbo.p_NullOrder AS
  SELECT VesselName FROM dbo.Vessel ORDER BY Tonnage, VesselName
GO
CREATE PROCEDURE dbo.p_Page @Skip int, @Take int AS
  SELECT Passenger FROM dbo.Booking ORDER BY BookingId OFFSET @Skip ROWS FETCH NEXT @Take ROWS ONLY
GO
CREATE PROCEDURE dbo.p_Alias AS
  SELECT Who = Passenger, 'Price' = Fare, [The Vessel] = VesselId FROM dbo.Booking WITH (NOLOCK) WHERE BookingId = 100
GO
CREATE PROCEDURE dbo.p_Bits AS
  INSERT INTO dbo.Vessel (VesselName, IsActive) SELECT 'from ' + Passenger, CASE WHEN Fare > 20 THEN 1 ELSE 0 END FROM dbo.Booking WHERE Paid <> 0
GO
CREATE PROCEDURE dbo.p_FireInsert AS
  INSERT INTO dbo.Booking (VesselId, Passenger, Fare) SELECT VesselId, 'crew', 1 FROM dbo.Vessel
GO
CREATE PROCEDURE dbo.p_FireUpdate AS
  UPDATE dbo.Booking SET Fare = Fare + 1 WHERE VesselId = 1
GO
CREATE PROCEDURE dbo.p_FireFull AS
  UPDATE dbo.Vessel SET Places = 5000 WHERE VesselId = 1
GO
CREATE TRIGGER dbo.tr_Booking_Log ON dbo.Booking AFTER INSERT, UPDATE, DELETE AS
BEGIN
  IF @@ROWCOUNT = 0 RETURN
  SET NOCOUNT ON
  INSERT INTO dbo.EventLog (What, Amount)
  SELECT CASE WHEN d.BookingId IS NULL THEN 'new' WHEN i.BookingId IS NULL THEN 'gone' ELSE 'changed' END, ISNULL(i.Fare, 0) - ISNULL(d.Fare, 0)
  FROM inserted i FULL OUTER JOIN deleted d ON d.BookingId = i.BookingId
END
GO
CREATE SEQUENCE dbo.TicketNo AS int START WITH 700
GO
CREATE PROCEDURE dbo.p_next_ticket AS
BEGIN
  DECLARE @First int, @Second int = NEXT VALUE FOR dbo.TicketNo
  SET @First = NEXT VALUE FOR dbo.TicketNo
  INSERT INTO dbo.Tally (TallyKey, N) VALUES ('ticket', @First - @Second)
END
GO
EXEC sp_addmessage @msgnum = 51001, @severity = 16, @msgtext = N'Sailing %d is full: %d asked.', @lang = 'us_english'
GO
CREATE PROCEDURE dbo.p_kept_message @A int AS
BEGIN
  IF @A = 1 RAISERROR (51001, 16, 1, @A, 5)
  IF @A = 2 RAISERROR 51002 'A voucher''s overdrawn.'
END
GO
CREATE PROCEDURE dbo.p_native @Key varchar(20) WITH NATIVE_COMPILATION, SCHEMABINDING AS
BEGIN ATOMIC WITH (TRANSACTION ISOLATION LEVEL = SNAPSHOT, LANGUAGE = N'English')
  DECLARE @N int = 3;
  IF @Key = 'new' SET @N = @N + 1;
  INSERT INTO dbo.Tally (TallyKey, N) VALUES (@Key, @N);
END
GO
CREATE VIEW dbo.v_kept_rows WITH SCHEMABINDING AS
SELECT VesselId, COUNT_BIG(*) AS Bookings, SUM(Fare) AS Fares FROM dbo.Booking GROUP BY VesselId
GO
CREATE TRIGGER dbo.tr_Vessel_Limit ON dbo.Vessel FOR UPDATE AS
IF UPDATE(Places) AND EXISTS (SELECT 1 FROM inserted WHERE Places > 2000)
BEGIN
  RAISERROR('too many places', 16, 1)
  ROLLBACK TRANSACTION
END
GO
