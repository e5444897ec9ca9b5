CREATE VIEW [ops].[v_Departures]
AS
SELECT s.SailingId, s.SailingDate, s.DepartsAt,
       p1.PortName AS FromPort, p2.PortName AS ToPort, v.VesselName,
       CASE s.[Status] WHEN 'P' THEN N'Planned' WHEN 'B' THEN N'Boarding' WHEN 'D' THEN N'Departed'
                       WHEN 'A' THEN N'Arrived' ELSE N'Cancelled' END AS StatusText,
       v.PassengerLimit - s.PlacesSold AS PlacesFree,
       CAST(100.0 * s.PlacesSold / NULLIF(v.PassengerLimit, 0) AS decimal(5, 1)) AS PercentSold
FROM ops.Sailing AS s
    INNER JOIN dbo.Route AS r ON s.RouteId = r.RouteId
    INNER JOIN dbo.Port AS p1 ON r.FromPortId = p1.PortId
    INNER JOIN dbo.Port AS p2 ON r.ToPortId = p2.PortId
    LEFT OUTER JOIN dbo.Vessel AS v ON s.VesselId = v.VesselId
WHERE s.DepartsAt > DATEADD(hour, -2, GETDATE())
GO
CREATE VIEW ops.v_SailingLoad WITH SCHEMABINDING
AS
SELECT b.SailingId, b.SailingDate, COUNT_BIG(*) AS Passengers, SUM(p.Price) AS Revenue
FROM sales.Booking b
JOIN sales.BookingPassenger p ON p.BookingId = b.BookingId
GROUP BY b.SailingId, b.SailingDate
GO
CREATE UNIQUE CLUSTERED INDEX CI_SailingLoad ON ops.v_SailingLoad (SailingId, SailingDate)
GO
CREATE VIEW ops.v_LastEvent
AS
SELECT s.SailingId, e.EventCode, e.EventTime, JSON_VALUE(e.Payload, '$.reason') AS Reason
FROM ops.Sailing s
OUTER APPLY (SELECT TOP 1 * FROM ops.SailingEvent x WHERE x.SailingId = s.SailingId ORDER BY x.EventTime DESC) e
GO
CREATE VIEW ops.v_HarbourCalls
AS
SELECT c.CallId, c.VesselName, c.ArrivedAt
FROM [HARBOURSQL].[PortCalls].[dbo].[PortCall] c
WHERE c.ArrivedAt >= '20240101'
UNION ALL
SELECT CallId, VesselName, ArrivedAt FROM OPENQUERY([HARBOURSQL], 'SELECT CallId, VesselName, ArrivedAt FROM PortCalls.dbo.PortCallArchive')
GO
CREATE VIEW ops.v_TideHigh AS
SELECT t.PortId, p.PortName, t.TideTime, t.HeightM,
       LAG(t.TideTime, 1) OVER (PARTITION BY t.PortId ORDER BY t.TideTime) AS PreviousHigh,
       RANK() OVER (PARTITION BY t.PortId, CAST(t.TideTime AS date) ORDER BY t.HeightM DESC) AS RankOfDay
FROM ops.TideTable t JOIN dbo.Port p ON p.PortId = t.PortId
WHERE t.IsHigh = 1
GO
CREATE VIEW ops.v_ManifestLines AS
SELECT m.SailingId,
       n.c.value('@family', 'nvarchar(80)') AS FamilyName,
       n.c.value('(given/text())[1]', 'nvarchar(80)') AS GivenName,
       n.c.exist('./ramp') AS NeedsRamp
FROM ops.Manifest m
CROSS APPLY m.Content.nodes('/manifest/person') AS n(c)
GO
