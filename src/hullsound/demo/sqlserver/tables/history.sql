CREATE TABLE [audit].[ChangeLog] (
    [ChangeId]   bigint IDENTITY(1,1) NOT NULL,
    [TableName]  sysname NOT NULL,
    [KeyValue]   nvarchar(200) NOT NULL,
    [Action]     char(1) NOT NULL,
    [ChangedAt]  datetime2(7) NOT NULL CONSTRAINT [DF_ChangeLog_At] DEFAULT (SYSUTCDATETIME()),
    [ChangedBy]  sysname NOT NULL CONSTRAINT [DF_ChangeLog_By] DEFAULT (ORIGINAL_LOGIN()),
    [Before]     xml NULL,
    [After]      xml NULL
) ON [HISTORY]
GO
CREATE CLUSTERED COLUMNSTORE INDEX [CCI_ChangeLog] ON [audit].[ChangeLog] WITH (DROP_EXISTING = OFF)
GO
CREATE TABLE [audit].[ErrorLog] (
    [ErrorId]        int IDENTITY(1,1) NOT NULL PRIMARY KEY,
    [ErrorTime]      datetime NOT NULL DEFAULT (GETDATE()),
    [ErrorNumber]    int NOT NULL,
    [ErrorSeverity]  int NULL,
    [ErrorState]     int NULL,
    [ErrorProcedure] nvarchar(126) NULL,
    [ErrorLine]      int NULL,
    [ErrorMessage]   nvarchar(4000) NOT NULL
)
GO
SELECT TOP (0) SailingId, SailingDate, RouteId, VesselId, PlacesSold, MetresSold
INTO ops.SailingArchive
FROM ops.Sailing
GO
