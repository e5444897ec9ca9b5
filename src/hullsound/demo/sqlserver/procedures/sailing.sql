CREATE PROCEDURE ops.usp_AddEvent @SailingId int, @EventCode varchar(10), @Remark nvarchar(400) = NULL, @Payload nvarchar(max) = NULL
AS
INSERT ops.SailingEvent (SailingId, EventCode, Remark, Payload) VALUES (@SailingId, @EventCode, @Remark, @Payload)
GO

CREATE PROCEDURE ops.usp_CreateTimetable @RouteId int, @VesselId int, @First date, @Last date, @Times varchar(200), @Days char(7) = 'YYYYYYY'
AS
BEGIN
    SET NOCOUNT ON
    SET DATEFIRST 1
    CREATE TABLE #Plan (DepartsAt datetime2(0) NOT NULL, ArrivesAt datetime2(0) NULL, IsClash bit NOT NULL DEFAULT (0))
    CREATE CLUSTERED INDEX IX_Plan ON #Plan (DepartsAt)

    INSERT INTO #Plan (DepartsAt, ArrivesAt)
    SELECT CAST(d.[Day] AS datetime) + CAST(c.Code AS datetime),
           DATEADD(minute, DATEDIFF(minute, '00:00', r.CrossingTime), CAST(d.[Day] AS datetime) + CAST(c.Code AS datetime))
    FROM ops.fn_SailingDays(@First, @Last) AS d
    CROSS JOIN dbo.fn_SplitCodes(@Times, N',') AS c
    CROSS JOIN dbo.Route AS r
    WHERE r.RouteId = @RouteId
      AND SUBSTRING(@Days, DATEPART(weekday, d.[Day]), 1) = 'Y'

    UPDATE p SET IsClash = 1
    FROM #Plan p
    WHERE EXISTS (SELECT 1 FROM ops.Sailing s
                  WHERE s.VesselId = @VesselId AND s.[Status] <> 'C'
                    AND p.DepartsAt < s.ArrivesAt AND s.DepartsAt < p.ArrivesAt)

    IF EXISTS (SELECT 1 FROM #Plan WHERE IsClash = 1)
    BEGIN
        SELECT DepartsAt, ArrivesAt FROM #Plan WHERE IsClash = 1
        PRINT CAST(@@ROWCOUNT AS varchar(10)) + ' sailings clash and were left out'
    END

    INSERT INTO ops.Sailing (RouteId, VesselId, SailingDate, DepartsAt, ArrivesAt)
    SELECT @RouteId, @VesselId, CAST(DepartsAt AS date), DepartsAt, ArrivesAt
    FROM #Plan WHERE IsClash = 0

    DROP TABLE #Plan
END
GO

CREATE PROCEDURE ops.usp_Depart @SailingId int, @WindForce tinyint = NULL
AS
BEGIN
    SET NOCOUNT ON
    SET TRANSACTION ISOLATION LEVEL SERIALIZABLE
    DECLARE @Now datetimeoffset(0) = SYSDATETIMEOFFSET(), @Late int, @Message nvarchar(200)
    BEGIN TRAN
    UPDATE ops.Sailing
    SET [Status] = 'D', DepartedAt = @Now, WindForce = @WindForce, @Late = DATEDIFF(minute, DepartsAt, @Now)
    WHERE SailingId = @SailingId AND [Status] IN ('P', 'B')
    IF @@ROWCOUNT <> 1
    BEGIN
        ROLLBACK
        RAISERROR (N'Sailing %d cannot depart.', 16, 1, @SailingId)
        RETURN
    END
    SELECT @Message = FORMATMESSAGE('Departed %d minutes late', @Late)
    EXEC ops.usp_AddEvent @SailingId = @SailingId, @EventCode = 'DEPART', @Remark = @Message
    DELETE q OUTPUT deleted.BookingId, deleted.Gate INTO audit.NoShow (BookingId, Gate)
    FROM ops.CheckInQueue AS q JOIN sales.Booking b ON b.BookingId = q.BookingId
    WHERE b.SailingId = @SailingId
    COMMIT
    IF @Late > 30
        EXEC ('INSERT INTO ops.DelayNotice (SailingId, Minutes) VALUES (' + @SailingId + ', ' + @Late + ')') AT [HARBOURSQL]
END
GO

CREATE PROCEDURE ops.usp_CancelForWeather @PortId int, @From datetime2(0), @Hours int = 12, @DryRun bit = 1
AS
BEGIN
    SET NOCOUNT ON
    DECLARE @SailingId int, @Cancelled int = 0, @cur CURSOR
    SET @cur = CURSOR LOCAL SCROLL STATIC READ_ONLY FOR
        SELECT s.SailingId FROM ops.Sailing s JOIN dbo.Route r ON r.RouteId = s.RouteId
        WHERE (r.FromPortId = @PortId OR r.ToPortId = @PortId)
          AND s.DepartsAt BETWEEN @From AND DATEADD(hour, @Hours, @From) AND s.[Status] = 'P'
    OPEN @cur
    FETCH FIRST FROM @cur INTO @SailingId
    WHILE (@@FETCH_STATUS <> -1)
    BEGIN
        IF (@@FETCH_STATUS <> -2)
        BEGIN
            IF @DryRun = 1
                PRINT 'Would cancel ' + STR(@SailingId)
            ELSE
            BEGIN
                UPDATE ops.Sailing SET [Status] = 'C', CancelReason = 'Weather' WHERE SailingId = @SailingId
                SELECT @Cancelled = @Cancelled + 1
            END
        END
        FETCH NEXT FROM @cur INTO @SailingId
    END
    CLOSE @cur
    DEALLOCATE @cur
    RETURN @Cancelled
END
GO

CREATE PROCEDURE ops.usp_SailingBoard @PortCode char(5), @Rows int = 10
AS
SELECT TOP (@Rows) WITH TIES
       d.DepartsAt, d.ToPort, d.VesselName, d.StatusText,
       CASE WHEN d.PlacesFree <= 0 THEN 'FULL' WHEN d.PlacesFree < 20 THEN 'FEW PLACES' ELSE '' END AS Remark,
       ISNULL(e.Reason, '') Reason
FROM ops.v_Departures d
LEFT JOIN ops.v_LastEvent e ON e.SailingId = d.SailingId
WHERE d.FromPort = (SELECT PortName FROM dbo.Port WHERE PortCode = @PortCode)
ORDER BY d.DepartsAt
FOR XML PATH('sailing'), ROOT('board'), ELEMENTS XSINIL
GO

CREATE PROCEDURE ops.usp_NearestPort @Latitude float, @Longitude float
AS
BEGIN
    DECLARE @Here geography = geography::Point(@Latitude, @Longitude, 4326)
    SELECT TOP (3) PortName, Location.STDistance(@Here) / 1852.0 AS Miles, Location.Lat, Location.Long
    FROM dbo.Port
    WHERE Location.STDistance(@Here) IS NOT NULL
    ORDER BY Location.STDistance(@Here)
END
GO

CREATE PROCEDURE ops.usp_MoveDepartment @Child nvarchar(50), @Parent nvarchar(50)
AS
BEGIN
    DECLARE @OldParent hierarchyid, @NewParent hierarchyid, @Node hierarchyid
    SELECT @Node = Node, @OldParent = Node.GetAncestor(1) FROM dbo.Department WHERE Name = @Child
    SELECT @NewParent = Node FROM dbo.Department WHERE Name = @Parent
    UPDATE dbo.Department SET Node = Node.GetReparentedValue(@OldParent, @NewParent) WHERE Node.IsDescendantOf(@Node) = 1
    SELECT @NewParent = hierarchyid::GetRoot()
END
GO
