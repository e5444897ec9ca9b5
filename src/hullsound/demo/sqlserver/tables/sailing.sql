CREATE TABLE [ops].[Sailing] (
    [SailingId]     int IDENTITY(1, 1) NOT FOR REPLICATION NOT NULL,
    [RouteId]       int NOT NULL,
    [VesselId]      int NOT NULL,
    [SailingDate]   date NOT NULL,
    [DepartsAt]     datetime2(0) NOT NULL,
    [ArrivesAt]     datetime2(0) NULL,
    [DepartedAt]    datetimeoffset(0) NULL,
    [Status]        char(1) NOT NULL CONSTRAINT [DF_Sailing_Status] DEFAULT ('P'),
    [PlacesSold]    smallint NOT NULL CONSTRAINT [DF_Sailing_Sold] DEFAULT ((0)),
    [MetresSold]    real NOT NULL CONSTRAINT [DF_Sailing_Metres] DEFAULT ((0)),
    [WindForce]     tinyint NULL,
    [CancelReason]  varchar(200) NULL,
    CONSTRAINT [PK_Sailing] PRIMARY KEY CLUSTERED ([SailingId], [SailingDate]),
    CONSTRAINT [CK_Sailing_Status] CHECK ([Status] IN ('P', 'B', 'D', 'A', 'C'))
) ON [ps_SailingYear]([SailingDate])
GO

CREATE TABLE [ops].[SailingEvent] (
    [EventId]    bigint IDENTITY(1,1) NOT NULL,
    [SailingId]  int NOT NULL,
    [EventTime]  datetime2(3) NOT NULL DEFAULT (SYSUTCDATETIME()),
    [EventCode]  varchar(10) NOT NULL,
    [Remark]     nvarchar(400) NULL,
    [Payload]    nvarchar(max) NULL CONSTRAINT [CK_Event_Json] CHECK (ISJSON([Payload]) = 1),
    PRIMARY KEY CLUSTERED ([EventId]),
    INDEX [IX_Event_Sailing] NONCLUSTERED ([SailingId], [EventTime])
) WITH (DATA_COMPRESSION = PAGE)
GO

CREATE TABLE ops.TideTable
(
    PortId     int NOT NULL,
    TideTime   datetime NOT NULL,
    HeightM    float(53) NOT NULL,
    IsHigh     bit NOT NULL,
    CONSTRAINT PK_TideTable PRIMARY KEY (PortId, TideTime)
)
GO

CREATE TABLE ops.CheckInQueue
(
    QueueId     bigint IDENTITY(1,1) NOT NULL,
    BookingId   bigint NOT NULL,
    Gate        tinyint NOT NULL,
    EnteredAt   datetime2 NOT NULL,
    CONSTRAINT PK_CheckInQueue PRIMARY KEY NONCLUSTERED HASH (QueueId) WITH (BUCKET_COUNT = 131072),
    INDEX IX_Queue_Gate HASH (Gate) WITH (BUCKET_COUNT = 64)
) WITH (MEMORY_OPTIMIZED = ON, DURABILITY = SCHEMA_AND_DATA)
GO

CREATE TABLE ops.Manifest
(
    ManifestId   uniqueidentifier NOT NULL ROWGUIDCOL UNIQUE DEFAULT NEWID(),
    SailingId    int NOT NULL,
    Document     varbinary(max) FILESTREAM NULL,
    Content      xml NULL,
    SignedBy     nvarchar(80) NULL,
    SignedAt     datetime NULL
)
GO
