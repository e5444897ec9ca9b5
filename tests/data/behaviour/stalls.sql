-- Stalls of a market on the quay, with routines as a shop of SQL Server writes them; comments state what each gives by the manual.
-- row bookings: {"bookingid": 1, "guest": "Ann", "bookedat": "2024-01-15 00:00:00", "amount": "100.50", "qty": 3, "status": "NEW", "flag": False}
-- row bookings: {"bookingid": 2, "guest": "Bob", "bookedat": "2024-02-29 13:45:10", "amount": None, "qty": 0, "status": "OLD", "flag": True}
-- row bookings: {"bookingid": 3, "guest": "Cid", "bookedat": "2023-12-31 23:59:59", "amount": "75.25", "qty": None, "status": "NEW", "flag": True}
-- row wares: {"bookingid": 1, "linenum": 1, "ware": "rope", "price": "10.25", "units": 3}
-- row wares: {"bookingid": 1, "linenum": 2, "ware": "buoy", "price": "99.99", "units": 1}
-- row wares: {"bookingid": 2, "linenum": 1, "ware": "rope", "price": "10.25", "units": 10}
CREATE TABLE dbo.Bookings (BookingId INT IDENTITY(1,1) PRIMARY KEY, Guest NVARCHAR(40) NOT NULL, BookedAt DATETIME NOT NULL, Amount DECIMAL(10,2) NULL, Qty INT NULL, Status CHAR(3) NOT NULL DEFAULT 'NEW', Flag BIT NOT NULL DEFAULT 0);
GO
CREATE TABLE dbo.Wares (BookingId INT NOT NULL, LineNum SMALLINT NOT NULL, Ware VARCHAR(20) NOT NULL, Price MONEY NOT NULL, Units INT NOT NULL, CONSTRAINT PK_Wares PRIMARY KEY (BookingId, LineNum));
GO
CREATE TABLE dbo.Notes (NoteId INT IDENTITY PRIMARY KEY, Msg NVARCHAR(200), At DATETIME2 DEFAULT SYSDATETIME());
GO
-- gives fn_initials('john  van berg '): 'JVB'
-- gives fn_initials(None): ''
CREATE FUNCTION dbo.fn_Initials (@name NVARCHAR(100)) RETURNS NVARCHAR(20) AS
BEGIN
  DECLARE @out NVARCHAR(20) = '', @i INT = 1, @prev NCHAR(1) = ' ';
  WHILE @i <= LEN(@name)
  BEGIN
    IF @prev = ' ' AND SUBSTRING(@name, @i, 1) <> ' ' SET @out += UPPER(SUBSTRING(@name, @i, 1));
    SET @prev = SUBSTRING(@name, @i, 1);
    SET @i += 1;
  END
  RETURN @out;
END
GO
-- gives fn_age('2000-02-29','2024-02-28'): 23
-- gives fn_age('2000-02-29','2023-02-28'): 23
-- gives fn_age('2000-03-01','2023-02-28'): 22
CREATE FUNCTION dbo.fn_Age (@born DATE, @on DATE) RETURNS INT AS
BEGIN
  RETURN DATEDIFF(YEAR, @born, @on) - CASE WHEN DATEADD(YEAR, DATEDIFF(YEAR, @born, @on), @born) > @on THEN 1 ELSE 0 END;
END
GO
-- gives fn_bookingtotal(1): '130.74'
-- gives fn_bookingtotal(9): 0
CREATE FUNCTION dbo.fn_BookingTotal (@id INT) RETURNS MONEY AS
BEGIN
  DECLARE @t MONEY;
  SELECT @t = SUM(Price * Units) FROM dbo.Wares WHERE BookingId = @id;
  RETURN ISNULL(@t, 0);
END
GO
-- gives fn_half(7): 3
-- gives fn_half(-7): -3
CREATE FUNCTION dbo.fn_Half (@n INT) RETURNS INT AS BEGIN RETURN @n / 2 END
GO
-- gives fn_avg(): 4
CREATE FUNCTION dbo.fn_Avg () RETURNS INT AS BEGIN DECLARE @a INT; SELECT @a = AVG(Units) FROM dbo.Wares; RETURN @a END
GO
-- gives fn_pad(42, 5): '00042'
-- gives fn_pad(123456, 5): '23456'
CREATE FUNCTION dbo.fn_Pad (@n INT, @w INT) RETURNS VARCHAR(20) AS
BEGIN RETURN RIGHT(REPLICATE('0', @w) + CAST(@n AS VARCHAR(20)), @w) END
GO
-- gives fn_clean('a1-b2 c3'): '123'
CREATE FUNCTION dbo.fn_Clean (@s VARCHAR(100)) RETURNS VARCHAR(100) AS
BEGIN
  WHILE PATINDEX('%[^0-9]%', @s) > 0
    SET @s = STUFF(@s, PATINDEX('%[^0-9]%', @s), 1, '');
  RETURN @s;
END
GO
-- gives fn_names('NEW'): 'Ann, Cid'
-- gives fn_names('new'): 'Ann, Cid'
CREATE FUNCTION dbo.fn_Names (@status CHAR(3)) RETURNS NVARCHAR(200) AS
BEGIN
  DECLARE @l NVARCHAR(200);
  SELECT @l = COALESCE(@l + ', ', '') + Guest FROM dbo.Bookings WHERE Status = @status ORDER BY Guest;
  RETURN @l;
END
GO
-- gives fn_cursor(): 'buoy=1;rope=13;'
CREATE FUNCTION dbo.fn_Cursor () RETURNS VARCHAR(200) AS
BEGIN
  DECLARE @r VARCHAR(200) = '', @item VARCHAR(20), @u INT;
  DECLARE c CURSOR LOCAL FAST_FORWARD FOR SELECT Ware, SUM(Units) FROM dbo.Wares GROUP BY Ware ORDER BY Ware;
  OPEN c;
  FETCH NEXT FROM c INTO @item, @u;
  WHILE @@FETCH_STATUS = 0
  BEGIN
    SET @r = @r + @item + '=' + CONVERT(VARCHAR(10), @u) + ';';
    FETCH NEXT FROM c INTO @item, @u;
  END
  CLOSE c; DEALLOCATE c;
  RETURN @r;
END
GO
-- gives fn_fmt('2024-02-29 13:45:10', 1): '29/02/2024'
-- gives fn_fmt('2024-02-29 13:45:10', 2): '20240229'
-- gives fn_fmt('2024-02-29 13:45:10', 3): '2024-02-29 13:45:10'
-- gives fn_fmt('2024-02-29 13:45:10', 4): '13:45'
-- gives fn_fmt('2024-02-29 13:45:10', 5): 'February 29'
-- gives fn_fmt('2024-02-29 13:45:10', 6): '2024-02'
-- gives fn_fmt('2024-02-29 13:45:10', 7): '29 Feb 2024'
CREATE FUNCTION dbo.fn_Fmt (@d DATETIME, @style INT) RETURNS VARCHAR(40) AS
BEGIN
  RETURN CASE @style WHEN 1 THEN CONVERT(VARCHAR(10), @d, 103) WHEN 2 THEN CONVERT(CHAR(8), @d, 112) WHEN 3 THEN CONVERT(VARCHAR(19), @d, 120) WHEN 4 THEN CONVERT(VARCHAR(5), @d, 108) WHEN 5 THEN DATENAME(MONTH, @d) + ' ' + DATENAME(DAY, @d) WHEN 6 THEN CONVERT(VARCHAR(7), @d, 126) WHEN 7 THEN CONVERT(VARCHAR(12), @d, 106) END;
END
GO
-- gives fn_monthend('2024-02-03 10:00'): '2024-02-29 00:00:00'
CREATE FUNCTION dbo.fn_MonthEnd (@d DATETIME) RETURNS DATETIME AS
BEGIN RETURN DATEADD(DAY, -1, DATEADD(MONTH, DATEDIFF(MONTH, 0, @d) + 1, 0)) END
GO
-- gives fn_week('2021-01-03'): 53
CREATE FUNCTION dbo.fn_Week (@d DATETIME) RETURNS INT AS BEGIN RETURN DATEPART(ISO_WEEK, @d) END
GO
-- gives fn_isnum('123'): 1
-- gives fn_isnum('12x'): 0
-- gives fn_isnum(''): 0
CREATE FUNCTION dbo.fn_IsNum (@s VARCHAR(20)) RETURNS INT AS BEGIN RETURN CASE WHEN @s NOT LIKE '%[^0-9]%' AND LEN(@s) > 0 THEN 1 ELSE 0 END END
GO
-- gives fn_cmp('abc', 'ABC '): 'same'
-- gives fn_cmp('b', 'a'): 'more'
-- gives fn_cmp(None, 'a'): 'less or nu'
CREATE FUNCTION dbo.fn_Cmp (@a VARCHAR(20), @b VARCHAR(20)) RETURNS VARCHAR(10) AS BEGIN IF @a = @b RETURN 'same'; IF @a > @b RETURN 'more'; RETURN 'less or null' END
GO
-- gives fn_iif(4): 'even'
-- gives fn_iif(-3): 'three'
-- gives fn_iif(5): None
CREATE FUNCTION dbo.fn_Iif (@a INT) RETURNS VARCHAR(20) AS BEGIN RETURN IIF(@a % 2 = 0, 'even', CHOOSE(ABS(@a), 'one', 'two', 'three')) END
GO
-- gives fn_xor(6, 3): 5
CREATE FUNCTION dbo.fn_Xor (@a INT, @b INT) RETURNS INT AS BEGIN RETURN (@a ^ @b) | (@a & 4) END
GO
-- gives fn_parts('a.b.txt'): 'txt|a.b'
-- gives fn_parts('abc'): '(none)'
CREATE FUNCTION dbo.fn_Parts (@path VARCHAR(200)) RETURNS VARCHAR(200) AS
BEGIN
  DECLARE @p INT = CHARINDEX('.', REVERSE(@path));
  RETURN CASE WHEN @p = 0 THEN '(none)' ELSE RIGHT(@path, @p - 1) + '|' + LEFT(@path, LEN(@path) - @p) END;
END
GO
-- gives fn_round(12.3456): '12.3000 12.0000 13 12'
-- gives fn_round(-2.5): '-2.5000 -2.0000 -2 -2'
CREATE FUNCTION dbo.fn_Round (@x DECIMAL(10,4)) RETURNS VARCHAR(60) AS
BEGIN RETURN CAST(ROUND(@x, 1) AS VARCHAR(20)) + ' ' + CAST(ROUND(@x, 0, 1) AS VARCHAR(20)) + ' ' + CAST(CEILING(@x) AS VARCHAR(20)) + ' ' + CAST(CAST(@x AS INT) AS VARCHAR(20)) END
GO
CREATE PROCEDURE dbo.usp_AddBooking @cust NVARCHAR(40), @amount DECIMAL(10,2) = 10, @id INT OUTPUT AS
BEGIN
  SET NOCOUNT ON;
  INSERT INTO dbo.Bookings (Guest, BookedAt, Amount, Qty) VALUES (@cust, '20240301', @amount, 1);
  SET @id = SCOPE_IDENTITY();
  INSERT INTO dbo.Notes (Msg) VALUES (N'added ' + CAST(@id AS NVARCHAR(10)) + N' for ' + @cust);
END
GO
-- gives usp_adjust(10): [2, 'ok']
-- gives usp_adjust(200): [2, 'failed: too much: 200 percent']
CREATE PROCEDURE dbo.usp_Adjust @pct INT, @rows INT OUTPUT, @msg VARCHAR(100) OUTPUT AS
BEGIN
  BEGIN TRY
    BEGIN TRANSACTION;
    UPDATE dbo.Bookings SET Amount = Amount + Amount * @pct / 100, Qty = Qty + 1 WHERE Amount IS NOT NULL;
    SET @rows = @@ROWCOUNT;
    IF @pct > 100 RAISERROR('too much: %d percent', 16, 1, @pct);
    IF @pct = 0 SET @rows = 1 / @pct;
    COMMIT TRANSACTION;
    SET @msg = 'ok';
  END TRY
  BEGIN CATCH
    IF @@TRANCOUNT > 0 ROLLBACK TRANSACTION;
    SET @msg = 'failed: ' + ERROR_MESSAGE();
  END CATCH
END
GO
-- gives usp_loop(7): ' 1, 2, 4, 5, 7,'
CREATE PROCEDURE dbo.usp_Loop @n INT, @out VARCHAR(100) OUTPUT AS
BEGIN
  DECLARE @i INT = 0;
  SET @out = '';
  WHILE 1 = 1
  BEGIN
    SET @i = @i + 1;
    IF @i > @n BREAK;
    IF @i % 3 = 0 CONTINUE;
    SET @out = @out + STR(@i, 2) + ',';
  END
END
GO
-- gives usp_temp(): 'rope:133.25'
CREATE PROCEDURE dbo.usp_Temp @out VARCHAR(100) OUTPUT AS
BEGIN
  CREATE TABLE #t (Ware VARCHAR(20), Total MONEY);
  INSERT INTO #t SELECT Ware, SUM(Price * Units) FROM dbo.Wares GROUP BY Ware;
  DELETE FROM #t WHERE Total < 100;
  SELECT TOP 1 @out = Ware + ':' + CAST(Total AS VARCHAR(20)) FROM #t ORDER BY Total DESC;
  DROP TABLE #t;
END
GO
-- gives usp_var(): '1Cid/2Bob/3Ann'
CREATE PROCEDURE dbo.usp_Var @out VARCHAR(100) OUTPUT AS
BEGIN
  DECLARE @t TABLE (Id INT IDENTITY(1,1), Nm NVARCHAR(40));
  INSERT INTO @t (Nm) SELECT Guest FROM dbo.Bookings WHERE BookingId <= 3 ORDER BY Guest DESC;
  SELECT @out = STRING_AGG(CAST(Id AS VARCHAR(5)) + Nm, '/') WITHIN GROUP (ORDER BY Id) FROM @t;
END
GO
-- gives usp_merge('x', 5): 'INSERT'
CREATE PROCEDURE dbo.usp_Merge @item VARCHAR(20), @units INT, @act VARCHAR(20) OUTPUT AS
BEGIN
  DECLARE @o TABLE (a NVARCHAR(10));
  MERGE dbo.Wares AS t USING (SELECT 3 AS BookingId, 1 AS LineNum, @item AS Ware, @units AS Units) AS s ON t.BookingId = s.BookingId AND t.LineNum = s.LineNum
  WHEN MATCHED AND s.Units = 0 THEN DELETE
  WHEN MATCHED THEN UPDATE SET Units = t.Units + s.Units
  WHEN NOT MATCHED THEN INSERT (BookingId, LineNum, Ware, Price, Units) VALUES (s.BookingId, s.LineNum, s.Ware, 1, s.Units)
  OUTPUT $action INTO @o;
  SELECT @act = a FROM @o;
END
GO
CREATE TRIGGER dbo.tr_Bookings ON dbo.Bookings AFTER UPDATE AS
BEGIN
  SET NOCOUNT ON;
  IF UPDATE(Status)
    INSERT INTO dbo.Notes (Msg) SELECT i.Guest + ' ' + d.Status + '>' + i.Status FROM inserted i JOIN deleted d ON d.BookingId = i.BookingId WHERE i.Status <> d.Status;
END
GO
-- leaves usp_status(2, 'NEW'); SELECT msg FROM dbo.notes: [('Bob OLD>NEW',)]
-- leaves usp_status(1, 'NEW'); SELECT msg FROM dbo.notes: []
CREATE PROCEDURE dbo.usp_Status @id INT, @s CHAR(3) AS
UPDATE dbo.Bookings SET Status = @s WHERE BookingId = @id
GO
CREATE FUNCTION dbo.fn_LastNote () RETURNS NVARCHAR(200) AS BEGIN RETURN (SELECT TOP (1) Msg FROM dbo.Notes ORDER BY NoteId DESC) END
GO
CREATE FUNCTION dbo.tvf_Wares (@min INT) RETURNS TABLE AS RETURN (SELECT BookingId, COUNT(*) AS Cnt, SUM(Units) AS Units FROM dbo.Wares GROUP BY BookingId HAVING SUM(Units) >= @min)
GO
CREATE FUNCTION dbo.tvf_Days (@from DATE, @n INT) RETURNS @r TABLE (D DATE, W VARCHAR(10)) AS
BEGIN
  DECLARE @i INT = 0;
  WHILE @i < @n BEGIN INSERT INTO @r VALUES (DATEADD(DAY, @i, @from), DATENAME(WEEKDAY, DATEADD(DAY, @i, @from))); SET @i += 1 END
  RETURN
END
GO
CREATE VIEW dbo.v_Rank AS SELECT Guest, ROW_NUMBER() OVER (ORDER BY Amount DESC) AS rn, ISNULL(Amount, 0) * 1.1 AS taxed, CASE WHEN Flag = 1 THEN 'y' ELSE 'n' END AS f, DATEDIFF(HOUR, '20240101', BookedAt) AS hrs FROM dbo.Bookings WHERE BookingId <= 3
GO
-- gives fn_fib(15): 610
CREATE FUNCTION dbo.fn_Fib (@n INT) RETURNS BIGINT AS
BEGIN
  IF @n < 2 RETURN @n;
  RETURN dbo.fn_Fib(@n - 1) + dbo.fn_Fib(@n - 2);
END
GO
-- gives fn_trim('  ab  '): '[ab]4/6'
CREATE FUNCTION dbo.fn_Trim (@s VARCHAR(30)) RETURNS VARCHAR(60) AS BEGIN RETURN '[' + LTRIM(RTRIM(@s)) + ']' + CAST(LEN(@s) AS VARCHAR(5)) + '/' + CAST(DATALENGTH(@s) AS VARCHAR(5)) END
GO
-- gives fn_guid('0E984725-C51C-4BF4-9960-E1C80E27ABA0'): '1'
-- gives fn_guid('zz'): '0'
CREATE FUNCTION dbo.fn_Guid (@s VARCHAR(40)) RETURNS INT AS BEGIN RETURN CASE WHEN TRY_CONVERT(UNIQUEIDENTIFIER, @s) IS NULL THEN 0 ELSE 1 END END
GO
-- gives fn_nullif(1, 3): '0.33'
-- gives fn_nullif(1, 0): None
CREATE FUNCTION dbo.fn_Nullif (@a INT, @b INT) RETURNS DECIMAL(9,2) AS BEGIN RETURN 1.0 * @a / NULLIF(@b, 0) END
GO
-- gives fn_cte(200): 20100
CREATE FUNCTION dbo.fn_Cte (@n INT) RETURNS INT AS
BEGIN
  DECLARE @r INT;
  WITH x AS (SELECT 1 AS n UNION ALL SELECT n + 1 FROM x WHERE n < @n) SELECT @r = SUM(n) FROM x OPTION (MAXRECURSION 0);
  RETURN @r;
END
GO
-- gives fn_exists('ANN'): True
-- gives fn_exists('zed'): False
CREATE FUNCTION dbo.fn_Exists (@c NVARCHAR(40)) RETURNS BIT AS BEGIN IF EXISTS (SELECT 1 FROM dbo.Bookings WHERE Guest = @c) RETURN 1; RETURN 0 END
GO
