CREATE PROCEDURE sales.usp_RevenueReport @Year int, @ByRoute bit = 0
AS
BEGIN
    SET NOCOUNT ON
    IF @ByRoute = 1
        SELECT COALESCE(r.RouteName, 'TOTAL') AS Route, DATEPART(quarter, p.PaidAt) AS Quarter, SUM(p.Amount) AS Amount,
               GROUPING(r.RouteName) AS IsTotal
        FROM sales.Payment p
        JOIN sales.Booking b ON b.BookingId = p.BookingId
        JOIN ops.Sailing s ON s.SailingId = b.SailingId AND s.SailingDate = b.SailingDate
        JOIN dbo.Route r ON r.RouteId = s.RouteId
        WHERE YEAR(p.PaidAt) = @Year
        GROUP BY GROUPING SETS ((r.RouteName, DATEPART(quarter, p.PaidAt)), (r.RouteName), ())
        ORDER BY GROUPING(r.RouteName), Route, Quarter
    ELSE
        SELECT [Month], Method, Amount,
               SUM(Amount) OVER (PARTITION BY Method ORDER BY [Month] ROWS UNBOUNDED PRECEDING) AS Running,
               Amount - LAG(Amount) OVER (PARTITION BY Method ORDER BY [Month]) AS Change
        FROM sales.v_Revenue WHERE [Year] = @Year
        FOR JSON PATH, ROOT('revenue'), INCLUDE_NULL_VALUES
END
GO

CREATE PROCEDURE sales.usp_TopCustomers @Count int = 20
AS
WITH Spent AS
(
    SELECT b.CustomerId, SUM(b.TotalPrice) AS Total, COUNT(*) AS Trips
    FROM sales.Booking b
    WHERE b.[Status] BETWEEN 2 AND 8
    GROUP BY b.CustomerId
),
Ranked AS
(
    SELECT *, ROW_NUMBER() OVER (ORDER BY Total DESC) AS Place, NTILE(10) OVER (ORDER BY Total) AS Decile FROM Spent
)
SELECT r.Place, c.FullName, r.Total, r.Trips, AVG(r.Total) OVER () AS Mean
FROM Ranked r JOIN sales.Customer c ON c.CustomerId = r.CustomerId
WHERE r.Place <= @Count
ORDER BY r.Place
GO

CREATE PROCEDURE sales.usp_Occupancy @From date, @To date
AS
BEGIN
    SET NOCOUNT ON
    DECLARE @columns nvarchar(max), @sql nvarchar(max)
    SELECT @columns = STRING_AGG(QUOTENAME(VesselName), N', ') FROM dbo.Vessel
    SET @sql = N'SELECT SailingDate, ' + @columns + N'
FROM (SELECT s.SailingDate, v.VesselName, s.PlacesSold FROM ops.Sailing s JOIN dbo.Vessel v ON v.VesselId = s.VesselId
      WHERE s.SailingDate BETWEEN @a AND @b) q
PIVOT (SUM(PlacesSold) FOR VesselName IN (' + @columns + N')) p'
    EXEC sys.sp_executesql @stmt = @sql, @params = N'@a date, @b date', @a = @From, @b = @To
END
GO

CREATE PROCEDURE sales.usp_AgeProfile
AS
SELECT CASE WHEN Age < 12 THEN 'child' WHEN Age < 65 THEN 'adult' ELSE 'senior' END AS Band, COUNT(*) AS People
FROM (SELECT dbo.fn_AgeOn(BirthDate, GETDATE()) AS Age FROM sales.Customer WHERE BirthDate IS NOT NULL) a
GROUP BY CASE WHEN Age < 12 THEN 'child' WHEN Age < 65 THEN 'adult' ELSE 'senior' END
GO
