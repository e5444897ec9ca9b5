CREATE PROCEDURE ops.usp_Archive @Before date, @Batch int = 5000
AS
BEGIN
    SET NOCOUNT ON
    SET ROWCOUNT 0
    SET IDENTITY_INSERT ops.SailingArchive ON
    DECLARE @Rows int = 1
    WHILE @Rows > 0
    BEGIN
        BEGIN TRAN
        DELETE TOP (@Batch) FROM ops.Sailing
        OUTPUT deleted.SailingId, deleted.SailingDate, deleted.RouteId, deleted.VesselId, deleted.PlacesSold, deleted.MetresSold
        INTO ops.SailingArchive (SailingId, SailingDate, RouteId, VesselId, PlacesSold, MetresSold)
        WHERE SailingDate < @Before
        SET @Rows = @@ROWCOUNT
        COMMIT TRAN
        CHECKPOINT
    END
    SET IDENTITY_INSERT ops.SailingArchive OFF
    TRUNCATE TABLE ops.TideTable
    DBCC CHECKIDENT ('ops.SailingEvent', RESEED, 0) WITH NO_INFOMSGS
END
GO

CREATE PROCEDURE dbo.usp_RebuildIndexes @MinFragmentation float = 30.0
AS
BEGIN
    DECLARE @schema sysname, @table sysname, @index sysname, @sql nvarchar(1000)
    DECLARE fragmented CURSOR FOR
        SELECT OBJECT_SCHEMA_NAME(s.object_id), OBJECT_NAME(s.object_id), i.name
        FROM sys.dm_db_index_physical_stats(DB_ID(), NULL, NULL, NULL, 'LIMITED') s
        JOIN sys.indexes i ON i.object_id = s.object_id AND i.index_id = s.index_id
        WHERE s.avg_fragmentation_in_percent > @MinFragmentation AND i.name IS NOT NULL
    OPEN fragmented
    WHILE 1 = 1
    BEGIN
        FETCH NEXT FROM fragmented INTO @schema, @table, @index
        IF @@FETCH_STATUS <> 0 BREAK
        SET @sql = N'ALTER INDEX ' + QUOTENAME(@index) + N' ON ' + QUOTENAME(@schema) + N'.' + QUOTENAME(@table) + N' REBUILD WITH (ONLINE = ON)'
        EXEC sp_executesql @sql
        PRINT @sql
    END
    CLOSE fragmented; DEALLOCATE fragmented
    UPDATE STATISTICS ops.Sailing WITH FULLSCAN
    EXEC sp_updatestats
END
GO

CREATE PROCEDURE dbo.usp_SetSetting @Name sysname, @Value sql_variant
AS
IF EXISTS (SELECT 1 FROM dbo.Setting WHERE Name = @Name)
    UPDATE dbo.Setting SET Value = @Value, ChangedAt = DEFAULT, ChangedBy = DEFAULT WHERE Name = @Name
ELSE
    INSERT INTO dbo.Setting (Name, Value) VALUES (@Name, @Value)
GO

CREATE PROCEDURE dbo.usp_Backup WITH RECOMPILE
AS
BEGIN
    DECLARE @file nvarchar(300) = N'D:\Backup\ferry_' + FORMAT(GETDATE(), 'yyyyMMdd_HHmm') + N'.bak'
    BACKUP DATABASE FerryTicketing TO DISK = @file WITH COMPRESSION, INIT, STATS = 10
    IF SUSER_SID('ferry_app') IS NOT NULL
        EXECUTE AS USER = 'ferry_app'
    SELECT COUNT(*) AS OpenBookings FROM sales.Booking WHERE [Status] < 3
    REVERT
END
GO

CREATE PROCEDURE dbo.usp_Search @Words nvarchar(200)
AS
BEGIN
    SELECT r.RouteId, r.Notes, k.RANK
    FROM dbo.Route r
    INNER JOIN CONTAINSTABLE(dbo.Route, Notes, @Words) AS k ON k.[KEY] = r.RouteId
    WHERE CONTAINS(r.Notes, @Words) OR FREETEXT(r.Notes, @Words)
    ORDER BY k.RANK DESC
    OPTION (RECOMPILE, MAXDOP 1)
END
GO

CREATE PROCEDURE dbo.usp_WhoIsOn
AS
SELECT s.session_id, s.login_name, s.host_name, r.command, t.text
FROM sys.dm_exec_sessions AS s
LEFT JOIN sys.dm_exec_requests AS r ON r.session_id = s.session_id
OUTER APPLY sys.dm_exec_sql_text(r.sql_handle) AS t
WHERE s.is_user_process = 1 AND s.session_id <> @@SPID
GO
