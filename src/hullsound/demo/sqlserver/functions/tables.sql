CREATE FUNCTION sales.fn_BookingLines (@BookingId bigint)
RETURNS TABLE
AS
RETURN
(
    SELECT p.LineNumber, p.FamilyName, p.GivenName, f.Description, p.Price
    FROM sales.BookingPassenger p
    INNER JOIN dbo.FareClass f ON f.FareCode = p.FareCode
    WHERE p.BookingId = @BookingId
)
GO
CREATE FUNCTION [sales].[fn_OpenSailings] (@From datetime2(0), @To datetime2(0), @Places int)
RETURNS TABLE WITH SCHEMABINDING
AS RETURN
    SELECT s.SailingId, s.SailingDate, s.DepartsAt, r.RouteName, v.VesselName,
           Free = v.PassengerLimit - s.PlacesSold
    FROM ops.Sailing s
    JOIN dbo.Route r ON r.RouteId = s.RouteId
    JOIN dbo.Vessel v ON v.VesselId = s.VesselId
    WHERE s.DepartsAt >= @From AND s.DepartsAt < @To
      AND s.[Status] IN ('P', 'B')
      AND v.PassengerLimit - s.PlacesSold >= @Places
GO
CREATE FUNCTION dbo.fn_SplitCodes (@List nvarchar(max), @Separator nchar(1) = N',')
RETURNS @Codes TABLE
(
    Position int IDENTITY(1,1) PRIMARY KEY,
    Code     nvarchar(40) NOT NULL
)
AS
BEGIN
    DECLARE @Start int = 1, @End int
    SET @List = @List + @Separator
    SET @End = CHARINDEX(@Separator, @List)
    WHILE @End > 0
    BEGIN
        INSERT INTO @Codes (Code)
        SELECT LTRIM(SUBSTRING(@List, @Start, @End - @Start))
        WHERE SUBSTRING(@List, @Start, @End - @Start) <> N''
        SET @Start = @End + 1
        SET @End = CHARINDEX(@Separator, @List, @Start)
    END
    RETURN
END
GO
CREATE FUNCTION dbo.fn_StaffUnder (@StaffId int)
RETURNS @Tree TABLE (StaffId int NOT NULL, Level int NOT NULL, Path varchar(900) NOT NULL)
AS
BEGIN
    ;WITH Tree AS
    (
        SELECT StaffId, 0 AS Level, CAST('/' + CAST(StaffId AS varchar(10)) AS varchar(900)) AS Path
        FROM dbo.Staff WHERE StaffId = @StaffId
        UNION ALL
        SELECT s.StaffId, t.Level + 1, CAST(t.Path + '/' + CAST(s.StaffId AS varchar(10)) AS varchar(900))
        FROM dbo.Staff s JOIN Tree t ON s.ManagerId = t.StaffId
    )
    INSERT @Tree SELECT StaffId, Level, Path FROM Tree OPTION (MAXRECURSION 20)
    RETURN
END
GO
CREATE FUNCTION ops.fn_SailingDays (@First date, @Last date)
RETURNS TABLE
AS RETURN
WITH Digits AS (SELECT n FROM (VALUES (0),(1),(2),(3),(4),(5),(6),(7),(8),(9)) AS d(n)),
     Numbers AS (SELECT a.n + 10 * b.n + 100 * c.n AS n FROM Digits a CROSS JOIN Digits b CROSS JOIN Digits c)
SELECT DATEADD(day, n, @First) AS [Day], DATENAME(weekday, DATEADD(day, n, @First)) AS DayName
FROM Numbers WHERE n <= DATEDIFF(day, @First, @Last)
GO
